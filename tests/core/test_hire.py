"""Securing a hire, what it costs for how long, and what a return costs."""

from __future__ import annotations

from datetime import date, datetime, timedelta
from fractions import Fraction
from zoneinfo import ZoneInfo

import networkx
import pytest
from hypothesis import given
from hypothesis import strategies as st

from abrazo.core import hire as core
from abrazo.core.hire import LateTerms, Tariff, Window, last_valid_day, secures


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


DUBLIN = ZoneInfo("Europe/Dublin")
WEEKEND = Window(4, "17:00", 0, "09:00")
TARIFFS = (
    Tariff("half", 3500, 240), Tariff("day", 5500, 1440), Tariff("weekend", 9000, window=WEEKEND),
    Tariff("week", 21000, 10080),
)  # fmt: skip


def at(text: str) -> datetime:
    return datetime.fromisoformat(text).replace(tzinfo=DUBLIN)


def test_a_length_is_elapsed_and_a_window_the_calendars() -> None:
    assert core.due_at(TARIFFS[1], at("2026-06-13T14:20")) == at("2026-06-14T14:20")
    spring = core.due_at(TARIFFS[1], at("2026-03-28T12:00"))  # the clock skips an hour that night
    assert spring == at("2026-03-29T13:00")
    for begins, ends in (
        ("2026-06-12T17:00", "2026-06-15T09:00"), ("2026-06-14T23:59", "2026-06-15T09:00"),
        ("2026-06-12T16:59", None), ("2026-06-15T09:00", None), ("2026-06-17T12:00", None),
    ):  # fmt: skip
        assert core.due_at(TARIFFS[2], at(begins)) == (at(ends) if ends else None), begins
    within = Window(5, "09:00", 5, "18:00")
    assert core.due_at(Tariff("s", 1, window=within), at("2026-06-13T10:00")) == at("2026-06-13T18:00")


@given(st.lists(st.tuples(st.integers(1, 9), st.integers(0, 50)), min_size=1, max_size=4), st.integers(1, 40))
def test_the_cheapest_cover_is_the_one_of_brute_force_and_of_a_graph(drawn: list[tuple[int, int]], long: int) -> None:
    """Outside: `networkx`, shortest path by Dijkstra's method over minutes."""
    tariffs = [Tariff(f"t{n}", price, minutes) for n, (minutes, price) in enumerate(drawn)]
    start = at("2026-06-13T10:00")
    found = core.cheapest(tariffs, start, start + timedelta(minutes=long))
    assert found is not None
    price, pieces = found
    best: dict[int, tuple[int, int]] = {0: (0, 0)}
    for minute in range(1, long + 1):
        best[minute] = min(
            (best[max(0, minute - one)][0] + cost, best[max(0, minute - one)][1] + 1) for one, cost in drawn
        )
    assert (price, len(pieces)) == best[long]
    graph = networkx.DiGraph()
    for minute in range(long):
        for one, cost in drawn:
            to, before = min(long, minute + one), graph.get_edge_data(minute, min(long, minute + one))
            graph.add_edge(minute, to, weight=min(cost, before["weight"] if before else cost))
    assert networkx.dijkstra_path_length(graph, 0, long) == price
    by_id = {tariff.id: tariff for tariff in tariffs}
    assert sum(by_id[one].price for one in pieces) == price
    assert sum(by_id[one].minutes or 0 for one in pieces) >= long


def test_windows_cover_only_what_lies_in_them() -> None:
    friday, monday = at("2026-06-12T17:00"), at("2026-06-15T09:00")
    assert core.cheapest(TARIFFS, friday, monday) == (9000, ("weekend",))
    assert core.cheapest(TARIFFS, at("2026-06-12T15:00"), monday) == (12500, ("half", "weekend"))
    assert core.cheapest(TARIFFS, friday, at("2026-06-15T10:00")) == (12500, ("half", "weekend"))
    assert core.cheapest(TARIFFS[2:3], at("2026-06-15T10:00"), at("2026-06-15T11:00")) is None
    same = (Tariff("two", 100, 2), Tariff("four", 200, 4), Tariff("other", 100, 2))
    start = at("2026-06-13T10:00")
    assert core.cheapest(same, start, start + timedelta(minutes=4)) == (200, ("four",))  # fewer pieces
    assert core.cheapest(same, start, start + timedelta(minutes=2)) == (100, ("two",))  # first in the list


@given(st.integers(0, 600), st.integers(0, 60), st.integers(1, 120), st.integers(0, 5000))
def test_every_started_step_after_grace_costs(minutes: int, grace: int, step: int, price: int) -> None:
    terms = LateTerms(grace, step, price)
    cost = core.late_charge(terms, minutes)
    assert cost == (0 if minutes <= grace else price * sum(1 for _ in range(0, minutes, step)))
    assert cost <= core.late_charge(terms, minutes + 1)


@given(st.integers(0, 10**6), st.integers(0, 10**6), st.integers(0, 10**6))
def test_late_and_damage_are_never_above_the_value(late: int, damage: int, value: int) -> None:
    parts = core.capped(late, damage, value)
    assert sum(parts) == min(late + damage, value) and parts[0] <= late and parts[1] <= damage


def test_times_may_touch_and_not_overlap() -> None:
    assert not core.overlap(("10:00", "12:00"), ("12:00", "13:00"))
    assert core.overlap(("10:00", "12:00"), ("11:59", "13:00")) and core.overlap(("10:00", "12:00"), ("10:30", "11:00"))


@given(st.integers(0, 10**7), st.fractions(0, 100))
def test_the_owners_part_balances(net: int, percent: Fraction) -> None:
    part = core.owners_part(net, percent)
    assert 0 <= part <= net
    assert sum(one.amount for one in core.owners_booked("Creekside Fleet", part).postings) == 0
