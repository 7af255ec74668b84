"""Jobs: estimates, the rack, and pieces that are never handed over twice."""

from __future__ import annotations

from datetime import date, datetime, timedelta
from decimal import ROUND_HALF_UP, Decimal
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from abrazo.core.errors import Code, Refused
from abrazo.core.jobs import beyond_agreed, hand_over, promised, rack_place, surcharge, task_price, worked


def test_a_task_is_rounded_once() -> None:
    assert task_price(1800, Fraction("0.85")) == 1530
    assert task_price(1999, Fraction("0.125")) == 250  # 249.875


@given(st.lists(st.integers(0, 10**8), min_size=1, max_size=5), st.integers(0, 20_000))
def test_a_surcharge_is_rounded_half_up_once_and_shared_by_what_tasks_come_to(
    tasks: list[int], hundredths: int
) -> None:
    """Against exact decimals of the standard library."""
    percent = Decimal(hundredths) / 100
    exact = (sum(tasks) * percent / 100).quantize(Decimal(1), ROUND_HALF_UP)
    cuts = surcharge(tasks, str(percent), None)
    assert sum(cuts) == int(exact)
    assert all(abs(cut - task * percent / 100) <= 1 for cut, task in zip(cuts, tasks, strict=True))
    assert sum(surcharge(tasks, None, 2500)) == 2500


@given(st.dates(date(2000, 1, 1), date(2100, 1, 1)), st.sets(st.integers(1, 7)), st.integers(0, 30))
def test_a_job_is_promised_so_many_open_days_on(first: date, open_days: set[int], days: int) -> None:
    """Against counting every day."""
    coming = (first + timedelta(days=n) for n in range(1, 300))
    counted = [day for day in coming if not open_days or day.isoweekday() in open_days]
    assert promised(first, open_days, days) == (counted[days - 1] if days else first)


@given(st.lists(st.tuples(st.integers(0, 10**6), st.integers(0, 10**5)), max_size=6))
def test_minutes_of_work_add_up(drawn: list[tuple[int, int]]) -> None:
    start = datetime(2026, 6, 13)
    spans = [(start + timedelta(seconds=at), start + timedelta(seconds=at + long)) for at, long in drawn]
    assert worked(spans) == sum(long for _, long in drawn) // 60


@given(st.integers(0, 10**6), st.none() | st.integers(0, 10**6))
def test_what_is_more_than_was_agreed(estimate: int, agreed: int | None) -> None:
    beyond = beyond_agreed(estimate, agreed)
    assert beyond >= 0 and (agreed is None or estimate <= agreed + beyond)
    assert (beyond == 0) == (agreed is None or estimate <= agreed)


@pytest.mark.parametrize(
    ("due", "place"),
    [
        ("2026-06-13T14:19", "late"),
        ("2026-06-13T14:21", "today"),
        ("2026-06-14T00:30", "later"),
        ("2026-06-12T20:00", "late"),
    ],
)
def test_where_a_job_hangs(due: str, place: str) -> None:
    assert rack_place(datetime.fromisoformat(due), datetime(2026, 6, 13, 14, 20), date(2026, 6, 13)) == place


pieces = st.dictionaries(st.integers(1, 4), st.integers(0, 6), min_size=1)


@given(pieces, st.lists(pieces, max_size=6), st.integers(0, 500))
def test_pieces_leave_once_and_the_last_one_not_unpaid(
    here: dict[int, int], visits: list[dict[int, int]], owed: int
) -> None:
    start, gone = dict(here), dict.fromkeys(here, 0)
    for wanted in visits:
        try:
            leaving = hand_over(here, wanted, owed)
        except Refused:
            continue
        assert leaving and all(number > 0 for number in leaving.values())
        for task, number in leaving.items():
            here[task] -= number
            gone[task] += number
        assert owed == 0 or sum(here.values()) > 0
    assert all(start[task] == here[task] + gone[task] and here[task] >= 0 for task in start)


@pytest.mark.parametrize(("wanted", "owed"), [({1: 2}, 0), ({1: 1}, 1)])
def test_the_last_piece_leaves_paid_and_others_before(wanted: dict[int, int], owed: int) -> None:
    assert hand_over({1: 2}, wanted, owed) == wanted
    with pytest.raises(Refused) as refusal:
        hand_over({1: 2}, {1: 2}, 1)
    assert refusal.value.code == Code.JOB_OWED


@pytest.mark.parametrize(
    ("due", "now", "place"),
    [
        ("2026-06-13T14:20", "2026-06-13T14:20", "today"),  # not late before its minute has passed
        ("2026-06-13T14:20", "2026-06-13T14:21", "late"),
        ("2026-06-13T23:59", "2026-06-13T14:20", "today"),
        ("2026-06-14T00:00", "2026-06-13T14:20", "later"),
    ],
)
def test_borders_of_due_times(due: str, now: str, place: str) -> None:
    assert rack_place(datetime.fromisoformat(due), datetime.fromisoformat(now), date(2026, 6, 13)) == place
