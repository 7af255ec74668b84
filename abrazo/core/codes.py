"""Check digits of what is scanned.

The formulas are python-stdnum's.

Rules here
- GS1 (EAN-8, UPC-A, EAN-13, ITF-14): weights 3 and 1 from the right. Source: GS1 General Specifications, section 7.9
- card numbers: the Luhn formula. Source: ISO/IEC 7812-1, annex B
"""

from __future__ import annotations

import re

from stdnum import ean, luhn

GS1_LENGTHS = (8, 12, 13, 14)
CARD_LENGTHS = range(12, 20)


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


def holds_card_number(words: str) -> bool:
    """Whether a text holds what may be a card's number, also when written in groups: 15 to 19 digits that check.

    Shorter ones are left out: product codes have up to 14 digits (GS1 General Specifications).
    """
    runs = (re.sub("[ -]", "", run) for run in re.findall(r"(?<![0-9])(?:[0-9][ -]?){14,18}[0-9](?![0-9])", words))
    return any(is_card_number(run) for run in runs)
