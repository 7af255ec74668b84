"""What somebody is found by.

Rules here
- searching is blind to case and accents
- a phone number is found by any run of its digits, with or without the country's code
- parts of a question may stand in any order; all of them must fit
"""

from __future__ import annotations

import unicodedata

SHORTEST = 3  # letters that a part needs to be looked up anywhere inside a word


def folded(text: str) -> str:
    """Small letters without accents, words apart by one blank."""
    plain = text
    for _ in range(2):  # what was written in another form may have capitals of its own
        plain = unicodedata.normalize("NFKD", plain.casefold())
    kept = "".join(character for character in plain if not unicodedata.combining(character))
    return " ".join(kept.split())


def search_words(name: str, phone: str | None, email: str | None, national: str = "") -> str:
    """Everything a person is found by, folded. `phone` is E.164; `national` is how it is dialled at home."""
    digits = (phone or "").lstrip("+")
    at_home = "".join(character for character in national if character.isdigit())
    return " ".join(part for part in (folded(name), digits, at_home, folded(email or "")) if part)


def search_parts(question: str) -> list[str]:
    """The parts of a question, folded. Digits, blanks and + ( ) - / alone make one part: a phone number."""
    plain = question.strip()
    digits = "".join(character for character in plain if character.isdigit())
    if digits and all(character.isdigit() or character in " +()-/." for character in plain):
        return [digits.lstrip("0") or digits]
    return folded(plain).split()
