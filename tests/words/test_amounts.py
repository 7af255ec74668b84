"""Money as five locales write it. Source: CLDR's patterns and symbols, expected strings from memory."""

from __future__ import annotations

import pytest

from abrazo.core.money import Currency
from abrazo.words.amounts import money_words

THIN, HARD = "\u202f", "\u00a0"


@pytest.mark.parametrize(
    ("locale", "expected"),
    [
        ("en", "−€1,234.50"),
        ("de", f"−1.234,50{HARD}€"),
        ("fr", f"−1{THIN}234,50{HARD}€"),
        ("sv", f"−1{HARD}234,50{HARD}€"),
        ("nl", f"€{HARD}−1.234,50"),
    ],
)
def test_five_locales(locale: str, expected: str) -> None:
    assert money_words(-123450, Currency.of("EUR"), locale) == expected


@pytest.mark.parametrize(("code", "amount", "expected"), [("JPY", 1234, "¥1,234"), ("IQD", 1234567, "1,234.567")])
def test_digits_are_iso_4217s_where_cldr_differs(code: str, amount: int, expected: str) -> None:
    """CLDR writes the Iraqi dinar without decimals; ISO 4217 gives it three."""
    assert expected in money_words(amount, Currency.of(code))
