"""The spine's geometry: both sides are equally high, bands fill their ports, nothing overlaps."""

from __future__ import annotations

import re
from itertools import pairwise

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from abrazo.desk.payments import closing
from abrazo.desk.tickets import sharing, starting, ticket_lines
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.ticket_lines import Picked
from abrazo.store import room
from abrazo.web.spine import Spine
from abrazo.web.ticket_layout import CARD, ROW, TABLE, strip_of
from tests.desk.conftest import Desk, desk, founded  # noqa: F401 (fixtures)

ITEMS = ("bottle-of-cider", "apple-juice", "lemon-posset", "kelp-butter-bread", "dark-harbour-ale")


def thickness(path: str) -> float:
    """How thick a band begins: from its first point down to its last."""
    numbers = [float(n) for n in re.findall(r"-?[\d.]+", path)]
    return numbers[-1] - numbers[1]


def port_heights(spine: Spine, *, left: bool) -> float:
    return sum(port.height for port in spine.ports if (port.letter == "") == left)


orders = st.lists(st.tuples(st.sampled_from(ITEMS), st.sampled_from(["", "A", "B", "C", "AC", "BC"])), max_size=14)


@given(orders, st.sampled_from(["seat", "equal", "one"]))
@settings(max_examples=25, suppress_health_check=[HealthCheck.function_scoped_fixture, HealthCheck.too_slow])
def test_both_sides_are_equally_high(desk: Desk, drawn: list[tuple[str, str]], way: str) -> None:  # noqa: F811
    house, who = desk.house, desk.tamsin
    for busy in room.seated(house.connection).values():  # the table of the example before
        for line in desk.whole(busy).standing:
            ticket_lines.remove_line(house, who, desk.on(busy), line.id)
        closing.free_table(house, who, OnTicket(busy, None, desk.key()))
    number = starting.seat(house, who, "G2", 3, desk.key())
    for item, letters in drawn:
        choices = ("pint-1",) if item.endswith("ale") else ()
        ticket_lines.add_line(
            house, who, OnTicket(number, None, desk.key()), Picked(item, "1", choices, tuple(letters))
        )
    if way == "seat":
        sharing.by_seat(house, who, desk.on(number))
    elif way == "equal":
        sharing.equal_parts(house, who, desk.on(number), 4)
    whole = desk.whole(number)
    strip = strip_of(house, whole)
    for spine in strip.spines.values():
        assert abs(port_heights(spine, left=True) - port_heights(spine, left=False)) <= 2 * len(spine.ports)
        assert (
            abs(sum(thickness(b.path) for b in spine.bands) - port_heights(spine, left=True)) < 3 * len(spine.bands) + 3
        )
    rows = [row for group in strip.groups for row in group.rows]
    assert sum(row.amount for row in rows) == whole.bill.total == sum(card.total for card in strip.cards)
    assert all(sum(amount for _, amount in row.parts) == row.amount for row in rows)
    assert all(after.top - before.top >= ROW for before, after in pairwise(rows))
    assert all(after.top >= before.top + before.height for before, after in pairwise(strip.cards))
    assert all(place % 4 == 0 for card in strip.cards for place in (card.top, card.height))
    assert all(card.height >= CARD for card in strip.cards)


def test_many_payers_have_one_port_a_guest(desk: Desk) -> None:  # noqa: F811
    """Eight payers: no more bands than guests and those who share; picking for one of them draws that one's alone."""
    house, who = desk.house, desk.tamsin
    number = starting.seat(house, who, "P2", 8, desk.key())
    for letters in ("", "", "ABC", *"ABCDEFGH"):
        picked = Picked("bottle-of-cider", "1", (), tuple(letters))
        ticket_lines.add_line(house, who, OnTicket(number, None, desk.key()), picked)
    sharing.by_seat(house, who, desk.on(number))
    whole = desk.whole(number)
    strip = strip_of(house, whole)
    assert [fold.letter for fold in strip.folds] == [TABLE, *"ABCDEFGH"]
    assert sum(fold.amount for fold in strip.folds) == whole.bill.total
    assert all(sum(part for _, part in fold.parts) == fold.amount for fold in strip.folds)
    assert all(after.top >= before.top + before.height for before, after in pairwise(strip.folds))
    wide = strip.spines["wide"]
    assert len(wide.bands) == 16
    heights = [*(fold.height for fold in strip.folds), *(card.height for card in strip.cards)]
    assert all(port.height <= height for port, height in zip(wide.ports, heights, strict=True))
    chosen = strip_of(house, whole, whole.payers[1].id)
    assert not chosen.folds
    assert {band.letter for band in chosen.spines["wide"].bands} == {"B"}
    assert [card.chosen for card in chosen.cards] == [letter == "B" for letter in "ABCDEFGH"]
