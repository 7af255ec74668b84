"""Hire: kinds, tariffs and units; who has which from when to when; what their owners were told."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from abrazo.core.states import HireEvent
from abrazo.store.db import Connection, record


@dataclass(frozen=True, slots=True)
class HireKind:
    """What is hired out under an item: owner (empty: the house) with their percent, value and terms (minor units).

    `ended`: not any more.
    """

    item: str
    owner: str
    share: str
    value: int
    grace: int
    late_step: int
    late_price: int
    margin: int = 25
    early: bool = False
    ended: bool = False


@dataclass(frozen=True, slots=True)
class TariffRow:
    """What a length of time costs: elapsed minutes, or a window of the week."""

    id: str
    item: str
    name: str
    price: int
    minutes: int | None = None
    from_day: int | None = None
    from_time: str | None = None
    to_day: int | None = None
    to_time: str | None = None


@dataclass(frozen=True, slots=True)
class Unit:
    """A thing that is hired out, by what stands on it."""

    id: str
    item: str
    code: str | None = None
    note: str = ""


@dataclass(frozen=True, slots=True)
class Hire:
    """A unit for somebody, wall times; late charge and damage in minor units. `item` and `ticket` are of its line."""

    id: int
    number: int
    unit: str
    person: int
    line: int
    tariff: str
    starts_at: str
    due_at: str
    card: int
    returned_at: str | None
    returned_by: str | None
    note: str
    late: int
    damage: int
    charged_on: int | None
    part: int | None
    item: str
    ticket: int
    closed: bool
    kind: str = ""  # the item's name
    prefix: str = "H-"

    @property
    def name(self) -> str:
        """The number with its series, for example H-1021."""
        return f"{self.prefix}{self.number}"


@dataclass(frozen=True, slots=True)
class Told:
    """A file for an owner, JSON text, to be sent once under its reference."""

    id: int
    hire: int
    event: HireEvent
    reference: str
    at: str
    body: str
    owner: str = ""


KINDS = """
SELECT k.item, k.owner, k.share, k.value, k.grace, k.late_step, k.late_price, k.margin, k.early,
       i.ended_at IS NOT NULL AS ended
FROM hire_kind k JOIN item i ON i.id = k.item ORDER BY i.position
"""
TARIFFS = """
SELECT id, item, name, price, minutes, from_day, from_time, to_day, to_time FROM hire_tariff
WHERE ended_at IS NULL OR id = ? ORDER BY item, position
"""
UNITS = "SELECT id, item, code, note FROM hire_unit WHERE ended_at IS NULL ORDER BY id"
ADD_KIND = """
INSERT INTO hire_kind (item, owner, share, value, grace, late_step, late_price, margin, early)
VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)
"""
ADD_TARIFF = """
INSERT INTO hire_tariff (id, item, name, price, minutes, from_day, from_time, to_day, to_time, position)
VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
"""
ADD_UNIT = "INSERT INTO hire_unit (id, item, code, note) VALUES (?, ?, ?, ?)"
SET_NOTE = "UPDATE hire_unit SET note = ? WHERE id = ?"
COLUMNS = """
SELECT h.id, h.number, h.unit, h.person, h.line, h.tariff, h.starts_at, h.due_at, h.card, h.returned_at, h.returned_by,
       h.note, h.late, h.damage, h.charged_on, h.part, l.item, l.ticket, t.state = 'closed' AS closed, i.name AS kind,
       h.prefix
FROM hire h JOIN line l ON l.id = h.line JOIN ticket t ON t.id = l.ticket JOIN item i ON i.id = l.item
"""
STANDS = "l.removed_at IS NULL AND t.state <> 'left' AND t.voided_at IS NULL"
ONE = f"{COLUMNS} WHERE h.id = ? AND {STANDS}"
BY_NUMBER = f"{COLUMNS} WHERE h.number = ? AND rtrim(h.prefix, '-') = ? AND {STANDS}"
OUT = f"{COLUMNS} WHERE h.returned_at IS NULL AND {STANDS} ORDER BY h.due_at, h.id"
BETWEEN = f"{COLUMNS} WHERE h.starts_at < ? AND (h.returned_at IS NULL OR h.due_at > ?) AND {STANDS} ORDER BY h.due_at"
LATE = f"""
SELECT h.* FROM (SELECT 1 FROM hire_kind LIMIT 1)
LEFT JOIN ({COLUMNS} WHERE h.returned_at IS NULL AND h.due_at < ? AND {STANDS}) h ORDER BY h.due_at, h.id
"""
ON_TICKET = f"{COLUMNS} WHERE l.ticket = ? AND {STANDS} ORDER BY h.id"
OF_PERSON = f"{COLUMNS} WHERE h.person = ? AND {STANDS} ORDER BY h.starts_at DESC, h.id DESC"
ADD = """
INSERT INTO hire (number, prefix, unit, person, line, tariff, starts_at, due_at, card)
VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)
"""
SET_PERSON = "UPDATE hire SET person = ? WHERE id = ?"
RETURN = "UPDATE hire SET returned_at = ?, returned_by = ?, note = ?, late = ?, damage = ?, charged_on = ? WHERE id = ?"
SET_PART = "UPDATE hire SET part = ? WHERE id = ?"
END_UNIT = "UPDATE hire_unit SET ended_at = ? WHERE id = ? AND ended_at IS NULL"
CHARGED = "SELECT charged_on FROM hire h JOIN ticket t ON t.id = h.charged_on WHERE t.state = 'open' ORDER BY h.id"
TOLD_OF = "SELECT count(*) FROM hire_told WHERE hire = ?"
TELL = "INSERT OR IGNORE INTO hire_told (hire, event, reference, at, body) VALUES (?, ?, ?, ?, ?)"
WAITING = """
SELECT w.id, w.hire, w.event, w.reference, w.at, w.body, k.owner FROM hire_told w JOIN hire h ON h.id = w.hire
JOIN hire_unit u ON u.id = h.unit JOIN hire_kind k ON k.item = u.item WHERE w.sent_at IS NULL ORDER BY w.id
"""
SENT = "UPDATE hire_told SET sent_at = ? WHERE id = ?"


def list_kinds(connection: Connection) -> list[HireKind]:
    """What the house hires out."""
    return [record(HireKind, row) for row in connection.execute(KINDS)]


def list_tariffs(connection: Connection, also: str = "") -> list[TariffRow]:
    """The tariffs of all kinds, each kind's in its order; `also` one that may be offered no more."""
    return [record(TariffRow, row) for row in connection.execute(TARIFFS, (also,))]


def list_units(connection: Connection) -> list[Unit]:
    """The things that are hired out."""
    return [record(Unit, row) for row in connection.execute(UNITS)]


def add_kind(connection: Connection, kind: HireKind) -> None:
    """Keep what is hired out."""
    k = kind
    terms = (k.value, k.grace, k.late_step, k.late_price, k.margin, k.early)
    connection.execute(ADD_KIND, (k.item, k.owner, k.share, *terms))


def add_tariff(connection: Connection, tariff: TariffRow, position: int) -> None:
    """Keep a tariff at its place."""
    t = tariff
    window = (t.from_day, t.from_time, t.to_day, t.to_time)
    connection.execute(ADD_TARIFF, (t.id, t.item, t.name, t.price, t.minutes, *window, position))


def add_unit(connection: Connection, unit: Unit) -> None:
    """Keep a unit."""
    connection.execute(ADD_UNIT, (unit.id, unit.item, unit.code, unit.note))


def set_unit_note(connection: Connection, unit: str, note: str) -> None:
    """In what condition a unit is."""
    connection.execute(SET_NOTE, (note, unit))


def read(connection: Connection, hire: int) -> Hire | None:
    """A hire by id; None when there is no such, or it was taken off again."""
    row = connection.execute(ONE, (hire,)).fetchone()
    return record(Hire, row) if row else None


def by_number(connection: Connection, letters: str, number: int) -> Hire | None:
    """A hire by its number and the letters before it."""
    row = connection.execute(BY_NUMBER, (number, letters)).fetchone()
    return record(Hire, row) if row else None


def out(connection: Connection) -> list[Hire]:
    """What did not come back yet, and what is booked for later; the one that is due first comes first."""
    return [record(Hire, row) for row in connection.execute(OUT)]


def late(connection: Connection, now: str) -> list[Hire] | None:
    """What should be back already (wall time); None where nothing is hired out."""
    found = connection.execute(LATE, (now,)).fetchall()
    return [record(Hire, row) for row in found if row["id"] is not None] if found else None


def between(connection: Connection, begin: str, end: str) -> list[Hire]:
    """The hires that touch a time (wall), or are out still."""
    return [record(Hire, row) for row in connection.execute(BETWEEN, (end, begin))]


def on_ticket(connection: Connection, ticket: int) -> list[Hire]:
    """The hires that a ticket sells."""
    return [record(Hire, row) for row in connection.execute(ON_TICKET, (ticket,))]


def of_person(connection: Connection, person: int) -> list[Hire]:
    """Somebody's hires, the latest first."""
    return [record(Hire, row) for row in connection.execute(OF_PERSON, (person,))]


def add(connection: Connection, hire: Hire) -> int:
    """Keep a hire; its id is given anew. Gives it."""
    h = hire
    facts = (h.unit, h.person, h.line, h.tariff, h.starts_at, h.due_at, h.card)
    row = connection.execute(ADD, (h.number, h.prefix, *facts)).lastrowid
    assert row is not None
    return row


def set_person(connection: Connection, hire: int, person: int) -> None:
    """Who has it."""
    connection.execute(SET_PERSON, (person, hire))


def set_returned(connection: Connection, hire: Hire) -> None:
    """It came back, or (without a moment) it did not after all."""
    h = hire
    connection.execute(RETURN, (h.returned_at, h.returned_by, h.note, h.late, h.damage, h.charged_on, h.id))


def set_part(connection: Connection, hire: int, part: int | None) -> None:
    """What its owner has of a hire, in minor units; None when its sale is turned round."""
    connection.execute(SET_PART, (part, hire))


def end_unit(connection: Connection, unit: str, at: str) -> None:
    """A unit is not hired out any more."""
    connection.execute(END_UNIT, (at, unit))


def charged(connection: Connection) -> list[int]:
    """The open tickets on which stands what returns cost."""
    return [row["charged_on"] for row in connection.execute(CHARGED)]


def told_of(connection: Connection, hire: int) -> int:
    """How many files its owner was given of a hire."""
    return int(connection.execute(TOLD_OF, (hire,)).fetchone()[0])


def tell(connection: Connection, told: Told) -> None:
    """A file for an owner; one with the same reference is there already."""
    connection.execute(TELL, (told.hire, told.event, told.reference, told.at, told.body))


def waiting(connection: Connection) -> list[Told]:
    """The files that are not in their owner's folder yet."""
    return [record(Told, row) for row in connection.execute(WAITING)]


def mark_sent(connection: Connection, told: int, at: str) -> None:
    """A file lies in its owner's folder."""
    connection.execute(SENT, (at, told))


def owners(kinds: Iterable[HireKind]) -> list[str]:
    """Whose the units are, the house left out."""
    return list(dict.fromkeys(kind.owner for kind in kinds if kind.owner))
