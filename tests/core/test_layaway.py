"""Goods set aside: the first payment, the fee of cancelling, balanced books."""

from __future__ import annotations

from fractions import Fraction

from hypothesis import given
from hypothesis import strategies as st

from abrazo.core import layaway as core

MONEY = st.integers(0, 10**7)
PERCENT = st.fractions(0, 100, max_denominator=100)


@given(MONEY, PERCENT, st.sampled_from([1, 5, 10, 100]))
def test_the_first_payment_is_the_least_sum_that_is_enough(whole: int, percent: Fraction, step: int) -> None:
    first = core.first_payment(whole, percent, step)
    exact = whole * percent / 100
    assert exact <= first <= whole and (first % step == 0 or first == whole)
    assert first - step < exact


@given(MONEY, st.none() | MONEY, PERCENT)
def test_a_fee_is_never_more_than_was_paid(paid: int, amount: int | None, percent: Fraction) -> None:
    fee = core.fee_kept(paid, amount, percent)
    assert 0 <= fee <= paid
    if amount is not None:
        assert fee == min(paid, amount)
    else:
        assert abs(fee - paid * percent / 100) <= Fraction(1, 2)


@given(st.integers(-(10**6), 10**6), st.integers(0, 10**6))
def test_what_is_set_aside_balances_and_comes_back(taken: int, held: int) -> None:
    for booked in (core.set_aside(taken), core.handed_over(held)):
        assert sum(one.amount for one in booked.postings) == 0
    both = [*core.set_aside(held).postings, *core.handed_over(held).postings]
    assert all(sum(one.amount for one in both if one.account == name) == 0 for name in {one.account for one in both})
    assert core.more_taken(held + taken, held) == taken
