"""Bookings: the first free time against trying every minute, and what is kept of a deposit."""

from __future__ import annotations

from datetime import datetime, timedelta

from hypothesis import given
from hypothesis import strategies as st

from abrazo.core.bookings import Span, deposit_asked, first_free, free_starts, gaps, in_the_way, inside, no_show

DAY = datetime(2026, 6, 13)
MINUTE = timedelta(minutes=1)
spans = st.tuples(st.integers(0, 600), st.integers(1, 240)).map(
    lambda one: (DAY + one[0] * MINUTE, DAY + (one[0] + one[1]) * MINUTE)
)


@given(
    st.lists(spans, max_size=3), st.lists(spans, max_size=6), st.integers(1, 180), st.integers(-60, 600),
    st.sampled_from([5, 15, 30, 60]),
)  # fmt: skip
def test_the_first_free_time_is_the_first_of_all_that_fit(
    work: list[Span], taken: list[Span], minutes: int, earliest: int, step: int
) -> None:
    from_then = DAY + earliest * MINUTE
    tried = (DAY + n * MINUTE for n in range(-120, 1500, step))
    fitting = [
        start
        for start in tried
        if start >= from_then
        and any(a <= start and start + minutes * MINUTE <= b for a, b in work)
        and not any(a < start + minutes * MINUTE and start < b for a, b in taken)
    ]
    found = first_free(work, taken, minutes, from_then, step)
    assert found == min(fitting, default=None)
    assert free_starts(sorted(work)[:1], taken, minutes, from_then, step) == [
        start for start in fitting if work and sorted(work)[0][0] <= start <= sorted(work)[0][1] - minutes * MINUTE
    ]
    if found is not None:
        visit = (found, found + minutes * MINUTE)
        assert inside(visit, work) and in_the_way(visit, taken) is None


@given(spans, st.lists(spans, max_size=6), st.integers(-60, 600), st.integers(1, 60))
def test_gaps_are_what_is_free(work: Span, taken: list[Span], earliest: int, least: int) -> None:
    from_then = DAY + earliest * MINUTE
    free = [
        DAY + n * MINUTE
        for n in range(-60, 1000)
        if work[0] <= DAY + n * MINUTE < work[1]
        and DAY + n * MINUTE >= from_then
        and not any(a <= DAY + n * MINUTE < b for a, b in taken)
    ]
    found = gaps([work], taken, from_then, 1)
    assert [begins + n * MINUTE for begins, ends in found for n in range((ends - begins) // MINUTE)] == free
    assert gaps([work], taken, from_then, least) == [one for one in found if one[1] - one[0] >= least * MINUTE]


@given(spans, spans)
def test_one_may_begin_when_another_ends(one: Span, other: Span) -> None:
    minutes = {one[0] + n * MINUTE for n in range((one[1] - one[0]) // MINUTE)}
    theirs = {other[0] + n * MINUTE for n in range((other[1] - other[0]) // MINUTE)}
    assert (in_the_way(one, [other]) is not None) == bool(minutes & theirs)


@given(st.integers(0, 10_000), st.integers(1, 99), st.integers(0, 10**6))
def test_a_fee_is_kept_of_the_deposit_first(fee: int, party: int, held: int) -> None:
    kept, owed = no_show(fee, party, held)
    assert kept + owed == fee * party == deposit_asked(fee, party)
    assert 0 <= kept <= held and owed >= 0 and (owed == 0 or kept == held)
