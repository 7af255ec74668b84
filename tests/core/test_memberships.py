"""Terms of memberships. Outside: `dateutil.relativedelta`, which adds months and clamps at the end of a month."""

from __future__ import annotations

from datetime import date, timedelta

import pytest
from dateutil.relativedelta import relativedelta
from hypothesis import given
from hypothesis import strategies as st

from abrazo.core import memberships as core

DAYS = st.dates(date(2000, 1, 1), date(2120, 12, 31))
ONE = timedelta(days=1)


@given(DAYS, st.integers(1, 60))
def test_a_term_ends_the_day_before_the_same_day(first: date, months: int) -> None:
    last, same = core.last_day(first, months), first + relativedelta(months=months)
    assert last == (same if same.day != first.day else same - ONE)
    assert core.days_of(first, last) >= 28 * months


@pytest.mark.parametrize(("first", "months", "last"), [
    (date(2026, 1, 31), 1, date(2026, 2, 28)), (date(2028, 1, 31), 1, date(2028, 2, 29)),
    (date(2026, 1, 29), 1, date(2026, 2, 28)), (date(2026, 1, 1), 1, date(2026, 1, 31)),
    (date(2024, 2, 29), 12, date(2025, 2, 28)), (date(2026, 6, 13), 12, date(2027, 6, 12)),
])  # fmt: skip
def test_terms_at_the_ends_of_months(first: date, months: int, last: date) -> None:
    assert core.last_day(first, months) == last


@given(DAYS, st.lists(st.integers(1, 13), min_size=1, max_size=6))
def test_renewing_never_loses_a_day_and_keeps_the_anchor(first: date, terms: list[int]) -> None:
    held = core.term(first, terms[0])
    for count, months in enumerate(terms[1:], 2):
        following = core.renewed(held, months)
        assert following.first == held.last + ONE
        assert following.last == core.last_day(first, sum(terms[:count]))
        held = following


@given(DAYS, st.integers(1, 14), st.integers(0, 40), st.integers(0, 40))
def test_a_pause_moves_the_end_by_its_days(first: date, months: int, after: int, long: int) -> None:
    held = core.term(first, months)
    away = (first + timedelta(days=after), first + timedelta(days=after + long))
    last = core.paused(held.last, *away)
    assert (last - held.last).days == core.days_of(*away) == long + 1
    following = core.renewed(core.Term(held.first, last, held.anchor), months)
    assert following.first == last + ONE


@given(st.integers(0, 10**7), DAYS, st.integers(0, 800), st.integers(-3, 803))
def test_days_are_worth_what_was_paid(net: int, first: date, long: int, end: int) -> None:
    last, ends = first + timedelta(days=long), first + timedelta(days=end)
    left = core.worth_left(net, first, last, ends)
    assert (left == net) if end < 0 else (left == 0) if end >= long else 0 <= left <= net
    assert left >= core.worth_left(net, first, last, ends + ONE)
    assert abs(left * (long + 1) - net * max(0, min(long + 1, long - end))) <= (long + 1) * (long + 1)
