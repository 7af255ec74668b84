"""Which price list holds: at the minute, on the day, past midnight."""

from __future__ import annotations

from datetime import date, datetime, timedelta

from hypothesis import given
from hypothesis import strategies as st

from abrazo.core.prices import Hours, holds, list_now

minutes = st.integers(0, 24 * 60 - 1)


SUNDAY = date(2026, 6, 7)
days_from_monday = [SUNDAY + timedelta(days=shift) for shift in range(1, 8)]  # as weekday() counts them
SATURDAY = days_from_monday[5]


def test_from_its_first_minute_up_to_its_last() -> None:
    late = Hours("late", frozenset(range(7)), 17 * 60, 19 * 60)
    assert [holds(late, SATURDAY, minute) for minute in (1019, 1020, 1139, 1140)] == [False, True, True, False]


def test_past_midnight_it_belongs_to_the_evening_before() -> None:
    small, after = Hours("small", frozenset({5}), 22 * 60, 60), SATURDAY + timedelta(days=1)
    assert holds(small, SATURDAY, 23 * 60) and holds(small, after, 59)
    assert not holds(small, after, 60) and not holds(small, SATURDAY, 59) and not holds(small, after, 23 * 60)


def test_the_first_that_holds_counts() -> None:
    lists = [Hours("a", frozenset({1}), 0, 600), Hours("b", frozenset({1, 2}), 0, 600)]
    assert [list_now(lists, days_from_monday[day], 300) for day in (1, 2, 3)] == ["a", "b", None]


@given(
    st.frozensets(st.integers(0, 6), min_size=1),
    minutes,
    minutes,
    st.integers(0, 21 * 24 * 60 - 1),
    st.tuples(st.none() | st.integers(0, 21), st.none() | st.integers(0, 21)),
)
def test_against_a_calendar(
    days: frozenset[int], begins: int, ends: int, moment: int, season: tuple[int | None, int | None]
) -> None:
    """Outside: the standard library's dates. A list holds when an evening of its days began at most its length ago."""
    monday = datetime(2026, 6, 8)
    first, last = (None if shift is None else (monday + timedelta(days=shift)).date() for shift in season)
    at = monday + timedelta(minutes=moment)
    length = (ends - begins) % (24 * 60) or 24 * 60
    started = [at.replace(hour=0, minute=0) + timedelta(days=shift, minutes=begins) for shift in (-1, 0)]
    began = [
        start for start in started
        if start.weekday() in days and (first is None or first <= start.date()) and (last is None or start.date() <= last)
    ]  # fmt: skip
    expected = any(start <= at < start + timedelta(minutes=length) for start in began)
    assert holds(Hours("x", days, begins, ends, first, last), at.date(), at.hour * 60 + at.minute) == expected
