"""Ageing: every invoice in one age, nothing lost."""

from __future__ import annotations

from datetime import date, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from abrazo.core.accounts import age_of, aged

TODAY = date(2026, 6, 13)


@pytest.mark.parametrize(
    ("days", "age"),
    [
        (-3, "0-30"),
        (0, "0-30"),
        (30, "0-30"),
        (31, "31-60"),
        (60, "31-60"),
        (61, "61-90"),
        (90, "61-90"),
        (91, "over 90"),
    ],
)
def test_the_edges(days: int, age: str) -> None:
    assert age_of(TODAY - timedelta(days=days), TODAY) == age


@given(st.lists(st.tuples(st.integers(0, 400), st.integers(0, 10**6)), max_size=9))
def test_nothing_is_lost(owed: list[tuple[int, int]]) -> None:
    ages = aged([(TODAY - timedelta(days=days), amount) for days, amount in owed], TODAY)
    assert list(ages) == ["0-30", "31-60", "61-90", "over 90"]
    assert sum(ages.values()) == sum(amount for _, amount in owed)
