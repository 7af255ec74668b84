"""Tax in deposits: whatever is used and given back, in any order, nothing is left at the end; and in the open ledger."""

from __future__ import annotations

from fractions import Fraction

from hypothesis import given
from hypothesis import strategies as st

from abrazo.core.advances import AdvanceTax, advance_taxes, changed, total_tax, while_held, worth_of
from abrazo.core.figures import FigureKind
from abrazo.core.states import TaxMode

RATES = {"full": Fraction("0.23"), "less": Fraction("0.135"), "none": Fraction(0)}
worths = st.lists(
    st.tuples(st.sampled_from(["full", "less", "none", None]), st.integers(0, 90_000).map(Fraction)), max_size=5
)


def test_the_example_of_the_rule() -> None:
    """A deposit of 123.00 at 23 percent contains 23.00 (the base times the rate, Directive 2006/112/EC, article 78)."""
    (one,) = advance_taxes(12_300, [("full", Fraction(50_000))], RATES)
    assert one == AdvanceTax("full", 12_300, 2_300)
    assert worth_of(5000, Fraction(3, 2), Fraction("0.2"), TaxMode.EXCLUSIVE) == 9000
    assert worth_of(5000, Fraction(3, 2), Fraction("0.2"), TaxMode.INCLUSIVE) == 7500


@given(st.integers(1, 90_000), worths)
def test_the_parts_are_the_deposit_and_the_tax_is_inside(
    deposit: int, worth: list[tuple[str | None, Fraction]]
) -> None:
    found = advance_taxes(deposit, worth, RATES)
    assert sum(one.gross for one in found) <= deposit
    for one in found:  # within half a cent of the exact part
        assert abs(one.amount - Fraction(one.gross) * RATES[one.tax] / (1 + RATES[one.tax])) <= Fraction(1, 2)
    if worth and all(tax for tax, _ in worth) and any(amount for _, amount in worth):
        assert sum(one.gross for one in found) == deposit


@given(st.integers(1, 90_000), worths, st.lists(st.integers(0, 90_000), max_size=8))
def test_every_way_to_nothing_leaves_nothing(
    deposit: int, worth: list[tuple[str | None, Fraction]], steps: list[int]
) -> None:
    whole = advance_taxes(deposit, worth, RATES)
    held, posted, figures = [while_held(one, deposit, 0) for one in whole], 0, 0
    assert total_tax(held) == 0
    for standing in (deposit, *(min(step, deposit) for step in steps), 0):
        after = [while_held(one, deposit, standing) for one in whole]
        booked = changed(held, after)
        assert sum(leg.amount for leg in booked.postings) == 0
        posted += sum(leg.amount for leg in booked.postings if leg.account == "liabilities:deposits")
        figures += sum(one.amount for one in booked.figures if one.kind is FigureKind.ADVANCE)
        assert posted == figures == total_tax(after)
        assert all(0 <= one.amount <= full.amount for one, full in zip(after, whole, strict=True))
        if standing == deposit:
            assert after == list(whole)
        held = after
    assert posted == 0
