"""Phone numbers, by the phonenumbers library (metadata of the ITU's numbering plans)."""

from __future__ import annotations

import functools
from contextlib import suppress

import phonenumbers

from abrazo.core.errors import Code, Refused


@functools.lru_cache(maxsize=64)  # what was just read is asked for again at once
def _parsed(text: str, region: str | None = None) -> phonenumbers.PhoneNumber:
    return phonenumbers.parse(text, region)


def _read(text: str, region: str) -> phonenumbers.PhoneNumber:
    if text.startswith("+"):
        with suppress(phonenumbers.NumberParseException):
            return _parsed(text)
    return _parsed(text, region)


def read_phone(text: str, region: str, where: str = "phone") -> str:
    """A number as typed, as E.164. Refused when it is none; `region` (ISO 3166) reads numbers without country code."""
    try:
        number = _read(text, region)
    except phonenumbers.NumberParseException:
        number = None
    if number is None or not phonenumbers.is_possible_number(number):
        raise Refused(Code.NOT_PHONE, where, text=text.strip())
    return phonenumbers.format_number(number, phonenumbers.PhoneNumberFormat.E164)


def national(phone: str) -> str:
    """An E.164 number as it is dialled at home."""
    return phonenumbers.format_number(_parsed(phone), phonenumbers.PhoneNumberFormat.NATIONAL)


def shown(phone: str, region: str) -> str:
    """An E.164 number as people write it: national inside the region, else international."""
    number = _parsed(phone)
    home = phonenumbers.country_code_for_region(region) == number.country_code
    style = phonenumbers.PhoneNumberFormat.NATIONAL if home else phonenumbers.PhoneNumberFormat.INTERNATIONAL
    return phonenumbers.format_number(number, style)
