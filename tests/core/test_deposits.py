"""Deposits: at most what is due, in their order; the rest stays the customer's."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from abrazo.core.deposits import above_estimate, applied_deposits, over_hold


@given(st.integers(0, 10_000), st.lists(st.integers(0, 5000), max_size=5))
def test_at_most_what_is_due(due: int, held: list[int]) -> None:
    applied = applied_deposits(due, held)
    assert sum(applied) == min(due, sum(held))
    assert all(0 <= part <= whole for part, whole in zip(applied, held, strict=True))
    touched = [part for part in applied if part]
    assert touched == [whole for whole in held if whole][: max(0, len(touched) - 1)] + touched[-1:]


@given(st.integers(0, 10**6), st.integers(0, 10**6))
def test_what_is_above_is_never_negative(one: int, other: int) -> None:
    assert above_estimate(one, other) == over_hold(one, other) == max(one - other, 0)
