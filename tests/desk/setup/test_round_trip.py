"""A house's lists and people out, into an empty house, and out again: byte for byte the same."""

from __future__ import annotations

from pathlib import Path

from abrazo.core.states import FileKind, TaxMode
from abrazo.desk.context import Actor, Devices, House
from abrazo.desk.doors import file_imports
from abrazo.desk.output import tables
from abrazo.desk.people import people
from abrazo.desk.setup.booking_rules import HOURS
from abrazo.desk.setup.founding import close_house, open_house
from abrazo.desk.setup.goods import TAXES
from abrazo.desk.setup.house_settings import SETTINGS
from abrazo.desk.setup.kinds import IN_ORDER
from abrazo.desk.setup.profiles import MODES, make_house
from abrazo.desk.setup.thing_files import read_in, written
from abrazo.desk.setup.workers import STAFF, TILLS
from abrazo.desk.till.opening import open_day
from abrazo.formats.table_file import written_csv
from tests.desk.conftest import Desk
from tests.desk.setup.test_more_kinds import added, typed
from tests.desk.test_both_houses import somebody

REST = [
    one for id, one in IN_ORDER.items() if id not in (TAXES.id, STAFF.id, HOURS.id, TILLS.id)
]  # PINs are in no file
LISTS = [TAXES, SETTINGS, *REST]  # each after what it names


def out(house: House) -> dict[str, bytes]:
    house.forget()
    lists = {one.id: written_csv(written(house, one)).encode() for one in LISTS}
    return {**lists, "people": tables.table(house, "people").as_file("csv")}


def empty(folder: Path, like: House) -> House:
    """A house of the same kind in which nothing is yet."""
    s = like.settings
    about = {"name": "Nothing yet", "country": s.region, "currency": s.currency.code, "zone": s.zone,
             "prices": MODES[0] if s.tax_mode == TaxMode.INCLUSIVE else MODES[1]}  # fmt: skip
    boss = {"name": "Ada Moor", "role": "supervisor", "pin": "604815"}
    make_house(folder / "empty.db", {"house": about, "staff": [boss], "tills": [{"name": "Bar"}]})
    return open_house(folder / "empty.db", Devices.beside(folder / "empty.db"))


def test_out_in_and_out_again_is_the_same(both: Desk, tmp_path: Path) -> None:
    desk = both
    somebody(desk)
    facts = {"name": "=Ada, Roe", "household": "Roe", "notes": "two 'lines'", "birthday": "1987-04-30", "company": ""}
    people.add_person(desk.house, desk.tamsin, facts, desk.key())
    for name, about in (("Boot size", "person"), ("Kind", "job")):
        added(desk, IN_ORDER["own-fields"], typed(name=name, about=about, choices="", prints="yes"))
    before, house = out(desk.house), empty(tmp_path, desk.house)
    actor = Actor(next(iter(house.staff().values())), next(iter(house.tills().values())))
    for one in LISTS:
        read_in(house, actor, one, before[one.id], f"read {one.id}")
    open_day(house, actor, {}, "open")  # people come in on a day
    file = file_imports.hand_in(house, actor, FileKind.PEOPLE, (before["people"], "people.csv"), "people")
    file_imports.read_next(house, lambda work, *given: work(*given))
    assert file_imports.standing(house, file).refusal is None
    assert people.find_people(house, "Ada")[0].name == "=Ada, Roe"
    after = out(house)
    assert {id: data for id, data in after.items() if data != before[id]} == {}
    close_house(house)
