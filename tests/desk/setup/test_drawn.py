"""What has a page of its own in set-up (tables, rights, ways to pay, hours, terms) is told, undone, and moved by files."""

from __future__ import annotations

import random
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from abrazo.core.errors import Code, Refused
from abrazo.core.states import Does
from abrazo.desk.context import Actor, Devices, House
from abrazo.desk.overview.soundness import soundness
from abrazo.desk.payments import tips
from abrazo.desk.permissions import Right, has
from abrazo.desk.setup import booking_rules, floor, role_rights, tender_types
from abrazo.desk.setup.floor import TABLES, Typed
from abrazo.desk.setup.founding import close_house, open_house
from abrazo.desk.setup.house_settings import THINGS
from abrazo.desk.setup.kinds import DRAWN, KINDS
from abrazo.desk.setup.profiles import Faulty, make_house
from abrazo.desk.setup.tender_types import TENDERS
from abrazo.desk.setup.thing_files import look_at, read_in, written
from abrazo.desk.setup.things import Change, add, change, latest_changes, undo
from abrazo.formats.table_file import written_csv
from tests.desk.conftest import Desk

BOSS = {"name": "Ada Moor", "role": "supervisor", "pin": "604815"}
HAIRCUT = {"id": "haircut", "name": "Haircut", "price": "30", "category": "all", "tax": "full", "report_group": "hair",
           "minutes": "30"}  # fmt: skip
NEW_HOUSE = {
    "house": {"name": "New", "country": "AT", "currency": "EUR", "zone": "Europe/Vienna", "prices": "with tax"},
    "staff": [BOSS, {"name": "Bo Lind", "role": "server", "pin": "2086", "takes_bookings": True}],
    "tills": [{"name": "Bar"}],
    "taxes": [{"id": "full", "label": "VAT", "rate": "20"}],
    "categories": [{"id": "all", "name": "All", "icon": "cup"}],
    "items": [HAIRCUT],
}


@pytest.fixture
def new(tmp_path: Path) -> Iterator[House]:
    """A house in which no day was ever opened."""
    make_house(tmp_path / "new.db", NEW_HOUSE)
    house = open_house(tmp_path / "new.db", Devices.beside(tmp_path / "new.db"))
    yield house
    close_house(house)


def boss_of(house: House) -> Actor:
    return Actor(next(iter(house.staff().values())), next(iter(house.tills().values())))


def state(house: House) -> dict[str, object]:
    house.forget()
    return {thing.id: thing.load(house) for thing in DRAWN} | {"tips": tips.tips_to(house)}


ACTS: list[Callable[[House, Actor], object]] = [
    lambda house, boss: role_rights.set_right(house, boss, "server", Right.REPRINT, allowed=True),
    lambda house, boss: tender_types.switch(house, boss, "cheque", False),
    lambda house, boss: tender_types.move(house, boss, "cheque", earlier=True),
    lambda house, boss: booking_rules.set_hours(house, boss, "bo-lind", {1: "9:00-12:30 13.30-17:00"}),
    lambda house, boss: booking_rules.set_terms(house, boss, "haircut", {"deposit": "10", "fee": "15"}),
    lambda house, boss: tips.share_tips(house, boss, "pool"),
    lambda house, boss: floor.change(house, boss, "T1", Typed(name="W1", x="400", y="301", area="Window", seats="6")),
    lambda house, boss: floor.turn(house, boss, "T1"),
    lambda house, boss: floor.remove(house, boss, "T1"),
]


@pytest.mark.parametrize("act", ACTS)
def test_before_any_day_it_is_changed_told_and_turned_round(new: House, act: Callable[[House, Actor], object]) -> None:
    boss = boss_of(new)
    assert floor.add(new, boss, "Terrace", "the first") == "T1"
    before = state(new)
    act(new, boss)
    assert state(new) != before
    made = latest_changes(new)[0]
    assert (made.staff, made.thing in THINGS) == (boss.staff.id, True)
    undo(new, boss, THINGS, made.id)
    assert state(new) == before
    with pytest.raises(Refused):
        undo(new, boss, THINGS, made.id)


def test_a_table_that_was_added_is_taken_back_unless_somebody_sits_there(both: Desk) -> None:
    house, boss = both.house, both.boss
    ref = floor.add(house, boss, "Jetty", both.key())
    assert (ref, floor.areas(house)[-1]) == ("J1", "Jetty")
    made = latest_changes(house, TABLES, ref)[0].id
    undo(house, boss, THINGS, made)
    assert ref not in {one.id for one in floor.spots(house)}
    undo(house, boss, THINGS, latest_changes(house, TABLES, ref)[0].id)
    assert ref in {one.id for one in floor.spots(house)}
    assert soundness(house) == []


def test_two_supervisors_at_one_thing_the_second_is_told(new: House) -> None:
    boss = boss_of(new)
    seen = latest_changes(new)[0].id
    floor.add(new, boss, "Room", "one")
    shown = latest_changes(new)[0].id
    booking_rules.set_hours(new, boss, "bo-lind", {1: "9:00-12:00"}, seen)
    booking_rules.set_terms(new, boss, "haircut", {"fee": "5"}, seen)
    floor.change(new, boss, "R1", Typed(x="300"), shown)
    tender_types.move(new, boss, "voucher", earlier=True, seen=shown)
    late: list[tuple[str, Callable[[], object]]] = [
        ("hours-bo-lind-1", lambda: booking_rules.set_hours(new, boss, "bo-lind", {2: "9:00-12:00"}, seen)),
        ("deposit", lambda: booking_rules.set_terms(new, boss, "haircut", {"fee": "9"}, seen)),
        ("x", lambda: floor.change(new, boss, "R1", Typed(x="40", y="40"), shown)),
        ("name", lambda: floor.change(new, boss, "R1", Typed(seats="2"), shown)),
        ("x", lambda: floor.turn(new, boss, "R1", shown)),
        ("remove", lambda: floor.remove(new, boss, "R1", shown)),
        ("name", lambda: tender_types.move(new, boss, "cheque", earlier=True, seen=shown)),  # another was moved
    ]
    before = state(new)
    for where, act in late:
        with pytest.raises(Refused) as refused:
            act()
        assert (refused.value.code, refused.value.where) == (Code.CHANGED_MEANWHILE, where)
    assert state(new) == before
    floor.remove(new, boss, "R1")
    for where, act in late[2:-1]:  # also of what is not there any more
        with pytest.raises(Refused) as refused:
            act()
        assert (refused.value.code, refused.value.where) == (Code.CHANGED_MEANWHILE, where)
    assert floor.add(new, boss, "Room", "two") == "R2"
    floor.change(new, boss, "R2", Typed(name="R1"))  # whose name is free again
    with pytest.raises(Refused) as refused:
        undo(new, boss, THINGS, latest_changes(new, TABLES, "R1")[0].id)
    assert refused.value.code is Code.TABLE_NAME_TAKEN


def test_an_area_is_short_by_every_way_in(new: House) -> None:
    boss, long = boss_of(new), "n" * 21
    floor.add(new, boss, "Room", "one")
    ways: tuple[Callable[[], object], ...] = (
        lambda: floor.add(new, boss, long, "two"),
        lambda: floor.change(new, boss, "R1", Typed(area=long)),
        lambda: add(new, boss, TABLES, {"name": ["R2"], "area": [long]}, "three"),
        lambda: change(new, boss, TABLES, Change("R1", {"area": [long]})),
    )
    before = state(new)
    for way in ways:
        with pytest.raises(Refused) as refused:
            way()
        assert (refused.value.code, refused.value.where) == (Code.TOO_LONG, "area")
    assert state(new) == before


@pytest.mark.parametrize("number", [1, 25, 60, 120])
def test_however_many_tables_come_all_have_room(new: House, tmp_path: Path, number: int) -> None:
    """By their names alone, from a file and in a profile, beside one that says where it stands."""
    names = [[f"T{n}"] for n in range(number)]
    read_in(new, boss_of(new), TABLES, written_csv([["name", "x", "y"], ["P", "0", "0"], *names]).encode(), "many")
    make_house(tmp_path / "many.db", NEW_HOUSE | {"tables": [{"name": name} for (name,) in names]})
    other = open_house(tmp_path / "many.db", Devices.beside(tmp_path / "many.db"))
    for house, here in ((new, number + 1), (other, number)):
        found = floor.spots(house)
        assert len(found) == here
        assert house is other or (found[0].x, found[0].y) == (0, 0)
        for n, one in enumerate(found):
            assert 0 <= one.x <= floor.WIDTH - one.width and 0 <= one.y <= floor.HEIGHT - one.height
            assert floor._in_the_way(found[:n], one) is None
    close_house(other)


def test_tables_come_from_a_file_and_find_their_places(new: House) -> None:
    boss, many = boss_of(new), 22
    rows = [
        ["name", "area", "seats"],
        *([f"T{n}", "Room" if n % 2 else "Yard", str(n % 8 + 1)] for n in range(1, many)),
    ]
    read_in(new, boss, TABLES, written_csv(rows).encode(), "file")
    spots = floor.spots(new)
    assert [one.name for one in spots] == [row[0] for row in rows[1:]]
    for one in spots:
        for other in spots:
            apart = (one.x + one.width <= other.x or other.x + other.width <= one.x
                     or one.y + one.height <= other.y or other.y + other.height <= one.y)  # fmt: skip
            assert one.id == other.id or apart
    assert look_at(new, TABLES, written_csv(written(new, TABLES)).encode()).unchanged == many - 1
    before = state(new)
    for rows in (
        [["name", "x", "y"], ["A1", "700", "600"], ["A2", "702", "600"]],  # one upon the other
        [["name"], ["A1"], ["A1"]],
        [["name"], ["T1-2"]],
        [["name", "width"], ["A1", "900"]],
    ):
        with pytest.raises(Refused):
            read_in(new, boss, TABLES, written_csv(rows).encode(), f"file {rows}")
        assert state(new) == before


@pytest.mark.parametrize(
    ("kind", "rows", "where"),
    [
        ("tables", [["name"], ["A"], ["A"]], "id"),
        ("tables", [["name", "area"], ["A", "Room"], ["B", "n" * 21]], "area"),
        ("tables", [["name", "x", "y"], ["A", "200", "200"], ["B", "250", "250"]], "x"),
        ("rights", [["id", "set_up"], ["supervisor", "no"]], "set_up"),
        ("rights", [["id", "set_up"], ["captain", "yes"]], "id"),
        ("hours", [["id", "monday"], ["nobody", "9:00-12:00"]], "id"),
        ("hours", [["id", "monday"], ["bo-lind", "12:00-9:00"]], "monday"),
        ("booking-terms", [["id", "deposit"], ["haircut", "ten"]], "deposit"),
        ("tenders", [["id", "name"], ["cheque", "Draft"]], "name"),
        ("tenders", [["id", "offered"], ["cash", "no"]], "offered"),
        ("tenders", [["name", "reference"], ["Meal ticket", ""]], "reference"),
        ("tenders", [["name", "reference"], ["CHEQUE!", "Its number"]], "name"),
    ],
)
def test_what_a_file_says_wrongly_is_named_and_nothing_is_done(
    new: House, kind: str, rows: list[list[str]], where: str
) -> None:
    before, data = state(new), written_csv(rows).encode()
    assert [(one.number, one.column) for one in look_at(new, KINDS[kind], data).faults] == [(len(rows), where)]
    with pytest.raises(Refused):
        read_in(new, boss_of(new), KINDS[kind], data, "wrong")
    assert state(new) == before


def test_rights_from_a_file_hold_at_once(both: Desk) -> None:
    house, server = both.house, next(one for one in both.house.workers().values() if one.role == "server")
    assert not has(server, Right.REPRINT)
    read_in(house, both.boss, KINDS["rights"], b"id,reprint,comp\nserver,yes,no\n", both.key())
    assert has(house.staff()[server.id], Right.REPRINT) and not has(house.staff()[server.id], Right.COMP)
    marked = {
        row.right: as_it_came
        for row in role_rights.all_rights(house)
        for role, _, as_it_came in row.roles
        if role == "server"
    }
    assert [right for right, as_it_came in marked.items() if not as_it_came] == [Right.REPRINT]
    undo(house, both.boss, THINGS, latest_changes(house)[0].id)
    assert all(as_it_came for row in role_rights.all_rights(house) for _, _, as_it_came in row.roles)


def test_a_profile_says_them_too(tmp_path: Path) -> None:
    more = {
        "rights": [{"id": "server", "reprint": True}],
        "hours": [{"id": "bo-lind", "monday": "9:00-17:00"}],
        "booking-terms": [{"id": "haircut", "deposit": "10"}],
        "tenders": [{"id": "cheque", "offered": False}, {"name": "Meal ticket", "reference": "Its number"}],
        "tables": [{"name": "T1", "seats": 2}, {"name": "T2", "area": "Yard", "shape": "round"}],
        "settings": {"tips_to": "pool"},
    }
    with pytest.raises(Faulty) as faulty:
        make_house(tmp_path / "no.db", NEW_HOUSE | more | {"rights": [{"id": "captain"}], "tables": [{"name": "a b"}]})
    assert [one.where for one in faulty.value.faults] == ["rights 1, id", "tables 1, name"]
    make_house(tmp_path / "house.db", NEW_HOUSE | more)
    house = open_house(tmp_path / "house.db", Devices.beside(tmp_path / "house.db"))
    try:
        assert has(house.staff()["bo-lind"], Right.REPRINT)
        assert booking_rules.hours(house)[0].days[0] == "09:00-17:00"
        assert booking_rules.terms(house)[0][1].deposit == 1000
        offered = [one.id for one in tender_types.tenders_on(house)]
        assert "cheque" not in offered and offered[-1] == "meal ticket"
        assert [(one.name, one.area, one.shape, one.seats) for one in floor.spots(house)] == [
            ("T1", "Room", "square", 2), ("T2", "Yard", "round", 4)]  # fmt: skip
        assert tips.tips_to(house) == "pool"
    finally:
        close_house(house)


@given(st.lists(st.tuples(st.integers(0, 7), st.booleans()), max_size=30), st.integers(0, 99))
def test_ways_to_pay_stand_as_they_were_moved(moves: list[tuple[int, bool]], seed: int) -> None:
    """Against a list in which two change places."""
    now = {f"way {n}": position for n, position in enumerate(sorted(random.Random(seed).choices(range(90), k=8)))}
    names = sorted(now, key=lambda one: (now[one], one))
    for place, earlier in moves:
        to = place + (-1 if earlier else 1)
        if 0 <= to < len(names):
            names[place], names[to] = names[to], names[place]
            now |= tender_types.positions(names, now)
        assert sorted(now, key=lambda one: (now[one], one)) == names


def test_what_a_house_does_not_do_is_not_asked(both: Desk) -> None:
    does = both.house.settings.does.split()
    rights = {row.right for row in role_rights.all_rights(both.house)}
    assert (Right.WORK_ON_JOBS in rights) is (Does.JOBS in does)
    assert TENDERS.id in KINDS
