"""The floor plan: tables stay inside it, over no other, under names of their own; and only a supervisor moves them."""

from __future__ import annotations

import random

import pytest

from abrazo.core.errors import Code, Refused
from abrazo.desk.overview.room import the_room
from abrazo.desk.payments import closing
from abrazo.desk.setup import floor
from abrazo.desk.setup.floor import Typed
from abrazo.desk.tickets import starting
from abrazo.desk.tickets.change import OnTicket
from tests.desk.conftest import Desk
from tests.desk.payments.test_corrections import odile
from tests.refusals import refuses


def spot(desk: Desk, name: str) -> tuple[int, int, int, int]:
    one = next(one for one in floor.spots(desk.house) if one.name == name)
    return one.x, one.y, one.width, one.height


def test_a_table_is_moved_named_and_turned(desk: Desk) -> None:
    floor.change(desk.house, odile(desk), "P2", Typed(name="P9", x="575", y="201", width="180", seats="6"))
    assert spot(desk, "P9") == (574, 200, 180, 98)
    floor.turn(desk.house, odile(desk), "P2")
    assert spot(desk, "P9") == (614, 158, 98, 180)
    number = starting.seat(desk.house, desk.tamsin, "P2", 2, desk.key())
    assert any(table.spot.name == "P9" and table.ticket == number for table in the_room(desk.house).tables)


@pytest.mark.parametrize(
    ("typed", "where"),
    [
        (Typed(name="D2"), "name"),
        (Typed(name="a table"), "name"),
        (Typed(width="59"), "width"),
        (Typed(height="wide"), "height"),
        (Typed(seats="21"), "seats"),
        (Typed(x="196", y="34"), "x"),  # D2 stands there
    ],
)
def test_what_cannot_be_is_refused_and_nothing_moves(desk: Desk, typed: Typed, where: str) -> None:
    before = floor.spots(desk.house)
    with pytest.raises(Refused) as refused:
        floor.change(desk.house, odile(desk), "D1", typed)
    assert (refused.value.where, floor.spots(desk.house)) == (where, before)
    with pytest.raises(Refused):
        floor.change(desk.house, desk.tamsin, "D1", Typed(seats="3"))


def test_a_table_comes_and_goes_but_not_from_under_its_guests(desk: Desk) -> None:
    boss = odile(desk)
    made = {floor.add(desk.house, boss, "Deck", "one key, pressed twice") for _ in range(2)}
    assert made == {"D7"}
    number = starting.seat(desk.house, desk.tamsin, "D7", 2, desk.key())
    with refuses("Somebody sits"):
        floor.remove(desk.house, boss, "D7")
    closing.free_table(desk.house, desk.tamsin, OnTicket(number, None, desk.key()))
    floor.remove(desk.house, boss, "D7")
    assert "D7" not in {one.name for one in floor.spots(desk.house)}
    assert floor.add(desk.house, boss, "Deck", desk.key()) == "D8"  # old tickets keep the name of the old table


@pytest.mark.parametrize("seed", range(4))
def test_however_they_are_dragged_no_two_tables_overlap(desk: Desk, seed: int) -> None:
    chance, boss = random.Random(seed), odile(desk)
    ends = []
    for _ in range(60):
        one = chance.choice(floor.spots(desk.house))
        x, y = one.x + chance.randint(-90, 90), one.y + chance.randint(-90, 90)
        try:
            floor.change(desk.house, boss, one.id, Typed(x=str(x), y=str(y)))
            ends.append("moved")
        except Refused as refusal:
            ends.append(refusal.code)
    assert set(ends) == {"moved", Code.TABLE_IN_THE_WAY}
    tables = floor.spots(desk.house)
    for one in tables:
        assert 0 <= one.x <= floor.WIDTH - one.width and 0 <= one.y <= floor.HEIGHT - one.height
        for other in tables:
            apart = (one.x + one.width <= other.x or other.x + other.width <= one.x
                     or one.y + one.height <= other.y or other.y + other.height <= one.y)  # fmt: skip
            assert one.id == other.id or apart
