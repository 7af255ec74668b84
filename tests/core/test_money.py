"""Money: exact reading, writing and rounding."""

from __future__ import annotations

from decimal import ROUND_HALF_UP, Decimal
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from abrazo.core.errors import Refused
from abrazo.core.money import DIGITS, LIMIT, Currency, read_decimal, round_half_up
from tests.refusals import refuses


def test_digits_are_iso_4217s() -> None:
    """Some of the maintenance agency's list one, from memory; gold and codes for tests have no minor unit."""
    some = {"EUR": 2, "USD": 2, "JPY": 0, "KWD": 3, "CLF": 4, "ISK": 0, "TND": 3}
    assert {code: DIGITS[code] for code in some} == some
    assert len(DIGITS) > 150 and not {"XAU", "XTS", "XXX"} & DIGITS.keys()


@given(st.integers(-(10**9), 10**9), st.integers(1, 10_000))
def test_rounds_half_away_from_zero(numerator: int, denominator: int) -> None:
    """Outside: the standard library's decimal with ROUND_HALF_UP, on values that it can hold exactly."""
    whole = Fraction(numerator, 1000)
    assert round_half_up(whole) == int((Decimal(numerator) / 1000).quantize(Decimal(1), ROUND_HALF_UP))
    value = Fraction(numerator, denominator)
    assert abs(round_half_up(value) - value) <= Fraction(1, 2)


@given(st.integers(-LIMIT + 1, LIMIT - 1), st.sampled_from(["EUR", "JPY", "KWD", "CLF"]))
def test_what_was_written_reads_back(amount: int, code: str) -> None:
    currency = Currency.of(code)
    assert currency.read(currency.text(amount)) == amount


@pytest.mark.parametrize(
    "text", ["1,50", "1.", ".5", "+1", "1e2", " 1", "1 ", "NaN", "٣", "", "1.5.0", "--1", 1.5, 2, None, "1\n"]
)
def test_doubtful_figures_are_refused(text: object) -> None:
    with pytest.raises(Refused):
        read_decimal(text)


@pytest.mark.parametrize(
    ("code", "text"), [("EUR", "1.001"), ("JPY", "1.0"), ("EUR", "10000000000.00"), ("EUR", "-10000000000.00")]
)
def test_too_fine_or_too_large(code: str, text: str) -> None:
    with pytest.raises(Refused):
        Currency.of(code).read(text)


@pytest.mark.parametrize("code", ["XYZ", "eur", "XAU", ""])
def test_unknown_currency(code: str) -> None:
    with refuses("ISO 4217"):
        Currency.of(code)
