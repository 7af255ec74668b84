"""Check digits of what is scanned.

The formulas are python-stdnum's.

Rules here
- GS1 (EAN-8, UPC-A, EAN-13, ITF-14): weights 3 and 1 from the right. Source: GS1 General Specifications, section 7.9
- card numbers: the Luhn formula. Source: ISO/IEC 7812-1, annex B
- payment cards begin with 3 to 6, or 2221 to 2720 (ISO/IEC 7812: issuer identification numbers)
- bank accounts: an IBAN with its check digits (ISO 13616), or a bank's nine-digit routing number with its check digit
  (ABA routing transit number, weights 3, 7 and 1), then the account's 4 to 17 digits
"""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Iterator

from stdnum import ean, iban, luhn
from stdnum.us import rtn

GS1_LENGTHS = (8, 12, 13, 14)
CARD_LENGTHS = range(12, 20)
SHORTEST_CARD, MOST_BETWEEN = 13, 2  # digits of a payment card; other characters between groups of them
DIGITS = re.compile("[0-9]+")


def gs1_check_digit(payload: str) -> int:
    """The check digit that follows these digits; ValueError for anything but digits."""
    if not payload.isascii() or not payload.isdigit():
        raise ValueError("only the digits 0 to 9")
    return int(ean.calc_check_digit(payload))


def is_gs1(code: str) -> bool:
    """Whether this is a GS1 code with the right check digit."""
    return code.isascii() and code.isdigit() and len(code) in GS1_LENGTHS and bool(ean.is_valid(code))


def is_card_number(number: str) -> bool:
    """Whether these are 12 to 19 digits (ISO/IEC 7812-1) with the right check digit; nothing else may stand there."""
    return number.isascii() and number.isdigit() and len(number) in CARD_LENGTHS and bool(luhn.is_valid(number))


def is_bank_account(number: str) -> bool:
    """Whether this is a bank account's number: an IBAN, or routing number and account number, a blank or / between."""
    plain = number.strip()
    if plain[:2].isalpha():
        return plain.isascii() and bool(iban.is_valid(plain, check_country=False))
    parted = re.fullmatch("([0-9]{9})[ /]+([0-9]{4,17})", plain)
    return parted is not None and bool(rtn.is_valid(parted[1]))


def holds_card_number(words: str) -> bool:
    """Whether a text holds what may be a payment card's number, also in groups or in other forms of digits.

    13 to 19 digits with at most two other characters between groups of them, that begin as payment cards do and pass
    the check digit (ISO/IEC 7812-1); 13 that are a valid product code (GS1) are none.
    """
    plain = unicodedata.normalize("NFKC", words)
    if len(plain) < SHORTEST_CARD:
        return False
    groups = [(found.start(), found.end(), found.group()) for found in DIGITS.finditer(plain)]
    return any(_may_be_card(number) for number in _runs(groups))


def _runs(groups: list[tuple[int, int, str]]) -> Iterator[str]:
    """Groups of digits that stand together, from each on, as long as they can be a card's number."""
    for first, (_, end, number) in enumerate(groups):
        yield number
        for start, after, more in groups[first + 1 :]:
            if start - end > MOST_BETWEEN or len(number) > CARD_LENGTHS[-1]:
                break
            number, end = number + more, after
            yield number


def _may_be_card(number: str) -> bool:
    if len(number) < SHORTEST_CARD or not is_card_number(number):
        return False
    issued = number[0] in "3456" or 2221 <= int(number[:4]) <= 2720
    return issued and not (len(number) == SHORTEST_CARD and is_gs1(number))
