"""A house from a profile: a file that says all that it begins with, or the answers of the first page.

Rules here
- a profile is tables of texts, by the same fields that set-up shows; what it leaves out begins as the program comes
- all faults are said at once, each with where it stands and what would do; with any of them there is no house
- nothing about taxes is guessed; a country only proposes currency, language, zone and coins
"""

from __future__ import annotations

import tempfile
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import Any
from zoneinfo import available_timezones

from abrazo.core.errors import Code, Refused
from abrazo.core.money import Currency
from abrazo.core.states import Does, Home, StaffRole, TaxMode
from abrazo.desk.act import Act, acting
from abrazo.desk.context import MACHINES, Actor, Devices, House, Settings
from abrazo.desk.setup.fields import FieldKind, Typed, shown
from abrazo.desk.setup.founding import Plan, close_house, move_house, open_house, set_up
from abrazo.desk.setup.house_settings import ONE, SETTINGS
from abrazo.desk.setup.kinds import IN_ORDER
from abrazo.desk.setup.tender_types import TENDERS
from abrazo.desk.setup.things import Thing, add_now, change_now, everything, given, named_one
from abrazo.desk.setup.workers import STAFF, TILLS
from abrazo.desk.sign_in import check_new_pin
from abrazo.store.staff import Staff
from abrazo.store.till import Till
from abrazo.words.catalogue import languages

SECTIONS = ("house", "settings", *IN_ORDER)
DENOMINATIONS: Mapping[str, tuple[tuple[int, ...], int]] = {  # values in minor units, and the least note
    "EUR": ((1, 2, 5, 10, 20, 50, 100, 200, 500, 1000, 2000, 5000, 10000, 20000), 500),
    "USD": ((1, 5, 10, 25, 50, 100, 200, 500, 1000, 2000, 5000, 10000), 100),
    "GBP": ((1, 2, 5, 10, 20, 50, 100, 200, 500, 1000, 2000, 5000), 500),
    "CHF": ((5, 10, 20, 50, 100, 200, 500, 1000, 2000, 5000, 10000, 20000), 1000),
    "CAD": ((5, 10, 25, 100, 200, 500, 1000, 2000, 5000, 10000), 500),
    "AUD": ((5, 10, 20, 50, 100, 200, 500, 1000, 2000, 5000, 10000), 500),
}  # from memory; of another currency powers of ten with their doubles and halves
MODES = ("with tax", "without tax")  # how prices stand: as a profile says it
Profile = Mapping[str, Any]


@dataclass(frozen=True, slots=True)
class Fault:
    """What is wrong in a profile: the table, which of its entries (from 1, 0: there is one), the field, and why."""

    table: str
    number: int
    field: str
    why: Refused

    @property
    def where(self) -> str:
        """Where it stands, as the file has it."""
        entry = f"{self.table} {self.number}" if self.number else self.table
        return f"{entry}, {self.field}" if self.field else entry


class Faulty(Exception):
    """A profile with faults, all of them."""

    def __init__(self, faults: list[Fault]) -> None:
        super().__init__("; ".join(f"{one.where}: {one.why.code}" for one in faults))
        self.faults = faults


class _Faults:
    def __init__(self) -> None:
        self.found: list[Fault] = []

    @contextmanager
    def at(self, table: str, number: int = 0) -> Iterator[None]:
        try:
            yield
        except Refused as refusal:
            self.found.append(Fault(table, number, refusal.where, refusal))


def make_house(database: Path, profile: Profile) -> None:
    """Make a house of a profile under a path where there is none. Raises Faulty with all that is wrong."""
    faults = _Faults()
    _shape(profile, faults)
    plan = _plan(profile, faults)
    if plan is None or faults.found:
        raise Faulty(faults.found)
    database.parent.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory(dir=database.parent, prefix=".new-house-") as folder:
        draft = Path(folder) / database.name
        set_up(draft, plan)
        house = open_house(draft, Devices.beside(draft))
        try:
            _fill(house, profile, faults)
        finally:
            close_house(house)
        if faults.found:
            raise Faulty(faults.found)
        move_house(draft, database.parent)


def _shape(profile: Profile, faults: _Faults) -> None:
    """Only tables that there are, each of the right shape."""
    for name, table in profile.items():
        with faults.at(name):
            if name not in SECTIONS:
                raise Refused(Code.NO_SUCH_TABLE, known=", ".join(SECTIONS))
            if not isinstance(table, Mapping if name in ("house", "settings") else list):
                raise Refused(Code.TABLE_SHAPE)
    for name in ("house", "staff", "tills"):
        if not profile.get(name):
            with faults.at(name):
                raise Refused(Code.FIELD_MISSING)


def _plan(profile: Profile, faults: _Faults) -> Plan | None:
    """What the house cannot be without: itself, its first supervisor, its first till."""
    settings = _settings(profile.get("house") or {}, faults)
    first, pin = _first_supervisor(profile.get("staff") or [], faults)
    tills = profile.get("tills") or []
    name = str(tills[0].get("name", "")) if tills and isinstance(tills[0], Mapping) else ""
    if settings is None or first is None or not name.strip():
        return None
    till = Till("till-1", name.strip(), MACHINES[0], Home(str(tills[0].get("home", Home.ROOM))))
    values, least = coins_of(settings.currency)
    return Plan(settings, (), tuple((one, one >= least) for one in values), ((first, pin),), (till,), (), (), (), ())


def coins_of(currency: Currency) -> tuple[tuple[int, ...], int]:
    """The notes and coins of a currency, and the least note; minor units."""
    known = DENOMINATIONS.get(currency.code)
    if known is not None:
        return known
    steps = tuple(digit * 10**power for power in range(6) for digit in (1, 2, 5))
    return steps, 5 * 10**currency.digits


def _settings(house: Mapping[str, Any], faults: _Faults) -> Settings | None:
    before = len(faults.found)
    with faults.at("house"):
        if not str(house.get("name", "")).strip():
            raise Refused(Code.FIELD_MISSING, "name")
    currency = Currency.of("EUR")
    with faults.at("house"):
        try:
            currency = Currency.of(str(house.get("currency", "")))
        except Refused as refusal:
            raise refusal.at("currency") from None
    with faults.at("house"):
        if house.get("prices") not in MODES:
            raise Refused(Code.FIELD_CHOICE, "prices", typed=str(house.get("prices", "")), known=", ".join(MODES))
    with faults.at("house"):
        if str(house.get("zone", "")) not in available_timezones():
            raise Refused(
                Code.FIELD_CHOICE, "zone", typed=str(house.get("zone", "")), known="Europe/Vienna, America/Chicago"
            )
    with faults.at("house"):
        country = str(house.get("country", ""))
        if not (len(country) == 2 and country.isascii() and country.isalpha() and country.isupper()):
            raise Refused(Code.NO_COUNTRY, "country", typed=country)
    language = str(house.get("language", "en"))
    with faults.at("house"):
        if language not in languages():
            raise Refused(Code.FIELD_CHOICE, "language", typed=language, known=", ".join(languages()))
    rounding = 1
    with faults.at("house"):
        rounding = currency.read(str(house.get("cash_rounding", currency.text(1))), "cash_rounding")
        if rounding < 1:
            raise Refused(Code.NEGATIVE_TOTAL, "cash_rounding")
    if len(faults.found) > before:
        return None
    mode = TaxMode.INCLUSIVE if house["prices"] == MODES[0] else TaxMode.EXCLUSIVE
    return Settings(
        name=str(house["name"]).strip(), address=str(house.get("address", "")).strip(), message="", currency=currency,
        tax_mode=mode, cash_rounding=rounding, region=country, zone=str(house["zone"]), service_percent="0",
        service_from=99, language=language, country=country, does=" ".join(_does(house, faults)),
    )  # fmt: skip


def _does(house: Mapping[str, Any], faults: _Faults) -> list[str]:
    """What it does; all of it where nothing is said."""
    wanted = house.get("does", list(Does))
    with faults.at("house"):
        for one in wanted if isinstance(wanted, list) else [wanted]:
            if one not in set(Does):
                raise Refused(Code.FIELD_CHOICE, "does", typed=str(one), known=", ".join(Does))
    return [str(one) for one in Does if one in wanted]


def _first_supervisor(staff: list[Any], faults: _Faults) -> tuple[Staff | None, str]:
    for number, one in enumerate(staff, start=1):
        if isinstance(one, Mapping) and one.get("role") == StaffRole.SUPERVISOR:
            person = Staff("supervisor-1", str(one.get("name", "")).strip(), StaffRole.SUPERVISOR, "")
            with faults.at("staff", number):
                if not person.name:
                    raise Refused(Code.FIELD_MISSING, "name")
                check_new_pin(person, str(one.get("pin", "")))
                return person, str(one["pin"])
            return None, ""
    with faults.at("staff"):
        raise Refused(Code.LAST_SUPERVISOR, "role")
    return None, ""


def _fill(house: House, profile: Profile, faults: _Faults) -> None:
    """All the rest, in one transaction that holds only when nothing is wrong."""
    actor = Actor(next(iter(house.staff().values())), next(iter(house.tills().values())))
    try:
        with acting(house, actor, "profile") as act:
            for table, thing in IN_ORDER.items():
                entries = [dict(one) if isinstance(one, Mapping) else one for one in profile.get(table) or []]
                thing.prepare(house, [one for one in entries if isinstance(one, dict)])
                for number, entry in enumerate(entries, start=1):
                    with faults.at(table, number):
                        _one(act, thing, entry, number)
            with faults.at("settings"):
                change_now(act, SETTINGS, ONE, given(house, SETTINGS, _typed(SETTINGS, profile.get("settings") or {})))
            if faults.found:
                raise Refused(Code.FIELD_MISSING)
    except Refused:
        if not faults.found:
            raise


def _one(act: Act, thing: Thing, entry: Any, number: int) -> None:
    """An entry of a table; the first till and supervisor and some ways to pay are there, and get the rest of it."""
    if not isinstance(entry, Mapping):
        raise Refused(Code.TABLE_SHAPE)
    house, typed = act.house, _typed(thing, entry)
    id, name = str(entry.get("id", "")), str(entry.get("name", "")).strip()
    ref = _there(house, thing, number, id, name)
    if ref:
        change_now(act, thing, ref, given(house, thing, {id: one for id, one in typed.items() if id != "pin"}))
        return
    currency = house.settings.currency
    begins = {id: [shown(currency, thing.field(id), one)] for id, one in thing.defaults(house).items()}
    blank = {one.id: [""] for one in thing.fields if one.kind not in (FieldKind.CHOICES, FieldKind.ROWS)}
    add_now(act, thing, given(house, thing, {**blank, **begins, **typed}), id)


def _there(house: House, thing: Thing, number: int, id: str, name: str) -> str:
    """The id of one that is there already; empty for a new one. Refused where nothing can be new."""
    if not thing.adds:
        return named_one(house, thing, id)
    if thing.id == TILLS.id and number == 1:
        return "till-1"
    if thing.id == TENDERS.id:
        return id if id in TENDERS.load(house) else ""
    first = everything(house, STAFF).get("supervisor-1") if thing.id == STAFF.id else None
    return "supervisor-1" if first is not None and first["name"] == name else ""


def _typed(thing: Thing, entry: Mapping[str, Any]) -> Typed:
    """An entry as it would be typed. Refused for a field that there is not."""
    found: dict[str, list[str]] = {}
    for id, value in entry.items():
        if id == "id":
            continue
        field = next((one for one in thing.fields if one.id == id), None)
        if field is None:
            raise Refused(Code.NO_SUCH_FIELD, id, known=", ".join(one.id for one in thing.fields))
        if field.kind is FieldKind.ROWS:
            rows = value if isinstance(value, list) else []
            for place, column in enumerate(field.columns):
                found[f"{id}-{column.id}"] = [str(row[place]) if place < len(row) else "" for row in rows]
        elif isinstance(value, bool):
            found[id] = ["yes" if value else "no"]
        elif isinstance(value, list):
            joined = field.kind in (FieldKind.NAMES, FieldKind.NUMBERS)
            found[id] = ["; ".join(map(str, value))] if joined else [str(one) for one in value]
        else:
            found[id] = [str(value)]
    return found
