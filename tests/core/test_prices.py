"""Which price list holds: at the minute, on the day, past midnight."""

from __future__ import annotations

from datetime import datetime, timedelta

from hypothesis import given
from hypothesis import strategies as st

from abrazo.core.prices import Hours, holds, list_now

minutes = st.integers(0, 24 * 60 - 1)


def test_from_its_first_minute_up_to_its_last() -> None:
    late = Hours("late", frozenset(range(7)), 17 * 60, 19 * 60)
    assert [holds(late, 5, minute) for minute in (1019, 1020, 1139, 1140)] == [False, True, True, False]


def test_past_midnight_it_belongs_to_the_evening_before() -> None:
    small = Hours("small", frozenset({5}), 22 * 60, 60)  # Saturday
    assert holds(small, 5, 23 * 60) and holds(small, 6, 59)
    assert not holds(small, 6, 60) and not holds(small, 5, 59) and not holds(small, 6, 23 * 60)


def test_the_first_that_holds_counts() -> None:
    lists = [Hours("a", frozenset({1}), 0, 600), Hours("b", frozenset({1, 2}), 0, 600)]
    assert [list_now(lists, day, 300) for day in (1, 2, 3)] == ["a", "b", None]


@given(st.frozensets(st.integers(0, 6), min_size=1), minutes, minutes, st.integers(0, 7 * 24 * 60 - 1))
def test_against_a_calendar(days: frozenset[int], begins: int, ends: int, moment: int) -> None:
    """Outside: the standard library's dates. A list holds when an evening of its days began at most its length ago."""
    monday = datetime(2026, 6, 8)
    at = monday + timedelta(minutes=moment)
    length = (ends - begins) % (24 * 60) or 24 * 60
    started = [at.replace(hour=0, minute=0) + timedelta(days=shift, minutes=begins) for shift in (-1, 0)]
    expected = any(start.weekday() in days and start <= at < start + timedelta(minutes=length) for start in started)
    found = holds(Hours("x", days, begins, ends), at.weekday(), at.hour * 60 + at.minute)
    assert found == expected
