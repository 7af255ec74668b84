"""Tax: parts add up to the whole, inclusive and exclusive are each other's inverse within the cent."""

from __future__ import annotations

from fractions import Fraction

from hypothesis import given
from hypothesis import strategies as st

from abrazo.core.states import TaxMode
from abrazo.core.tax import Tax, TaxPart, rate_text, tax_amount, tax_bill, with_added_tax

rates = st.integers(0, 10_000).map(lambda n: Fraction(n, 10_000))


@given(st.integers(0, 10**9), st.lists(rates.filter(lambda r: r <= Fraction(1, 4)), min_size=1, max_size=4))
def test_parts_add_up(base: int, parts: list[Fraction]) -> None:
    tax = Tax("t", sum(parts, Fraction(0)), "sales tax", tuple(TaxPart(None, rate) for rate in parts))
    bill = tax_bill(tax, base, TaxMode.EXCLUSIVE)
    assert sum(part for _, part in bill.parts) == bill.tax


@given(st.integers(0, 10**8), rates)
def test_contained_in_what_was_added(base: int, rate: Fraction) -> None:
    added = tax_amount(base, rate, TaxMode.EXCLUSIVE)
    assert abs(tax_amount(base + added, rate, TaxMode.INCLUSIVE) - added) <= 1


def test_a_rate_is_written_as_it_was_read() -> None:
    for written in ("0.2", "0.0825", "0", "1", "0.0625"):
        assert rate_text(Fraction(written)) == written


def test_state_and_town() -> None:
    """6.25 % and 2 % on 99.99: 8.25 % is 8.249175, so 8.25, cut 6.25 and 2.00."""
    parts = (TaxPart("state", Fraction("0.0625")), TaxPart("town", Fraction("0.02")))
    bill = tax_bill(Tax("t", Fraction("0.0825"), None, parts), 9999, TaxMode.EXCLUSIVE)
    assert (bill.tax, bill.parts) == (825, (("state", 625), ("town", 200)))


def test_an_estimate_has_the_tax_that_is_added_once_per_tax() -> None:
    """8.25 % on 10.05 + 10.05 is 1.65825, so 1.66; on each alone it would be 0.83 + 0.83."""
    taxes = (Tax("A", Fraction("0.0825")),)
    amounts = [("A", 1005), (None, 300), ("A", 1005)]
    assert with_added_tax(amounts, taxes, TaxMode.EXCLUSIVE) == 2310 + 166
    assert with_added_tax(amounts, taxes, TaxMode.INCLUSIVE) == 2310


def test_a_tax_that_nothing_bears_adds_nothing() -> None:
    taxes = (Tax("std", Fraction(1, 5)), Tax("all of it again", Fraction(1)))
    assert with_added_tax([("std", 100), (None, 7)], taxes, TaxMode.EXCLUSIVE) == 127
    assert with_added_tax([("std", 100), (None, 7)], taxes, TaxMode.INCLUSIVE) == 107
