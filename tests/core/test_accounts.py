"""Ageing: every invoice in one age, nothing lost."""

from __future__ import annotations

from datetime import date, timedelta
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from abrazo.core import accounts as core
from abrazo.core.accounts import age_of, aged, balances, still_owed

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


@given(st.lists(st.tuples(st.integers(1, 9000), st.integers(0, 9000)), max_size=6), st.integers(-20_000, 20_000))
def test_what_is_received_goes_to_the_chosen_and_then_to_the_oldest(drawn: list[tuple[int, int]], more: int) -> None:
    """`more`: what came in without a choice; below 0, what went back afterwards."""
    invoices = [(f"i{n}", amount) for n, (amount, _) in enumerate(drawn)]
    chosen = {f"i{n}": min(amount, meant) for n, (amount, meant) in enumerate(drawn) if meant}
    received = max(0, sum(chosen.values()) + more)
    total = sum(amount for _, amount in invoices)
    left = still_owed(invoices, total - received, chosen)
    assert sum(left.values()) == max(0, total - received)
    assert all(0 <= left[id] <= amount for id, amount in invoices)
    if more >= 0:
        assert all(left[id] <= amount - chosen.get(id, 0) for id, amount in invoices)
        still = [left[id] for id, _ in invoices]
        paid = [amount - chosen.get(id, 0) - left[id] for id, amount in invoices]
        last = max((n for n, part in enumerate(paid) if part), default=0)
        assert not any(still[:last])  # nothing younger is paid by the rest while an older one is open
    assert more or left == {id: amount - chosen.get(id, 0) for id, amount in invoices}


@given(st.integers(-9000, 9000), st.lists(st.integers(-9000, 9000), max_size=12), st.integers(0, 12))
def test_a_statement_is_the_same_wherever_it_is_cut(opening: int, amounts: list[int], cut: int) -> None:
    whole = balances(opening, amounts)
    first = balances(opening, amounts[:cut])
    assert whole == [*first, *balances(first[-1] if first else opening, amounts[cut:])]
    assert (whole[-1] if whole else opening) == opening + sum(amounts)


LIMITS = st.lists(st.tuples(st.integers(-(10**6), 10**6), st.none() | st.integers(0, 10**6)), max_size=3)


@given(st.integers(0, 10**6), LIMITS)
def test_a_limit_is_on_what_is_owed_after(more: int, limits: list[tuple[int, int | None]]) -> None:
    over = core.above_limits(more, limits)
    assert over >= 0
    assert (over == 0) == all(limit is None or owed + more <= limit for owed, limit in limits)
    assert core.above_limits(max(0, more - over), limits) <= max(0, over - more)


@given(st.integers(1, 10**6), st.data())
def test_parts_take_the_whole_of_the_tax(whole: int, data: st.DataObject) -> None:
    tax = data.draw(st.integers(0, whole))
    cuts = sorted(data.draw(st.sets(st.integers(0, whole), max_size=5)) | {0, whole})
    parts = [core.part_with(whole, tax, one, other - one) for one, other in pairwise(cuts)]
    assert sum(parts) == tax and all(part >= 0 for part in parts)


def test_each_step_is_reminded_of_once() -> None:
    steps = (7, 21, 35)
    assert [core.reminder_due(days, steps, sent) for days, sent in (
        (6, 0), (7, 0), (20, 1), (21, 1), (90, 0), (90, 2), (90, 3)
    )] == [None, 1, None, 2, 1, 3, None]  # fmt: skip


@given(st.lists(st.tuples(st.integers(-500, 10**5), st.none() | st.integers(0, 10**5)), max_size=4))
def test_room_is_what_passes_no_limit(limits: list[tuple[int, int | None]]) -> None:
    room = core.room_left(limits)
    if room is None:
        assert core.above_limits(10**9, limits) == 0
    else:
        assert core.above_limits(room + 1, limits) > 0
        assert room == 0 or core.above_limits(room, limits) == 0
