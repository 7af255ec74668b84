"""Securing a hire: the last day of the expiry month, and the owner's margin."""

from __future__ import annotations

from datetime import date, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from abrazo.core.hire import last_valid_day, secures


@pytest.mark.parametrize(
    ("returned", "margin", "good"),
    [
        (date(2026, 6, 5), 25, True),  # 30 June, the last day
        (date(2026, 6, 6), 25, False),
        (date(2026, 6, 30), 0, True),
        (date(2026, 7, 1), 0, False),
    ],
)
def test_to_the_day(returned: date, margin: int, good: bool) -> None:
    assert secures(2026, 6, returned, margin) is good


@given(st.dates(date(2000, 1, 1), date(2090, 1, 1)))
def test_the_day_after_the_last_begins_a_month(day: date) -> None:
    last = last_valid_day(day.year, day.month)
    assert last >= day
    assert (last + timedelta(days=1)).day == 1
