"""Tills and business days."""

from __future__ import annotations

import json
from collections.abc import Iterable
from dataclasses import dataclass

from abrazo.core.states import Begins, Direction, FloatDifference, Home
from abrazo.core.till import over_short
from abrazo.store.db import Connection, fields, record


@dataclass(frozen=True, slots=True)
class Till:
    """A till, the card machine that it remembers as its own, and what it is for: the room or the desk.

    `counter_only`: locked to counter mode; `anonymous_account`: on which its sales without a customer go.
    """

    id: str
    name: str
    machine: str
    home: Home = Home.ROOM
    counter_only: bool = False
    anonymous_account: str = ""
    ended_at: str | None = None  # since when nobody works at it any more
    begins: Begins = Begins.TODAY


@dataclass(frozen=True, slots=True)
class Day:
    """A business day; `floats` in minor units by till; `latest_at` is the latest moment of its entries."""

    id: int
    business_date: str
    opened_at: str
    opened_by: str
    floats: dict[str, int]
    latest_at: str | None = None


@dataclass(frozen=True, slots=True)
class Count:
    """The latest count of a drawer; `pieces` by denomination as JSON, empty when only a total was typed."""

    till: str
    staff: str
    at: str
    pieces: str
    total: int
    expected: int

    @property
    def over(self) -> int:
        """Counted less expected; negative is short."""
        return over_short(self.total, self.expected)


@dataclass(frozen=True, slots=True)
class Petty:
    """Money paid out of a drawer, or in. `deposit` is the deposit line of which it gives back a rest.

    `takes_back`: the row that it turns round; `id` 0 until it is kept.
    """

    till: str
    staff: str
    at: str
    direction: Direction
    category: str
    note: str
    amount: int
    deposit: int | None = None
    takes_back: int | None = None
    id: int = 0


@dataclass(frozen=True, slots=True)
class FloatRow:
    """With what a drawer begins a day, after what it was left with, and what stays when the day is closed.

    Minor units; `difference` says why the first two differ; `pieces` by denomination as JSON, empty: not known.
    """

    till: str
    amount: int
    pieces: str
    taken_over: int
    difference: FloatDifference | None
    left: int | None = None


@dataclass(frozen=True, slots=True)
class Banked:
    """Cash that went from a drawer to the bank or the safe; `closing`: after the count that closed the drawer."""

    till: str
    staff: str
    at: str
    amount: int
    closing: bool


@dataclass(frozen=True, slots=True)
class TipPaid:
    """Tips of a person, or of the pool, that were paid out of a drawer; minor units."""

    till: str
    staff: str
    at: str
    person: str
    amount: int


@dataclass(frozen=True, slots=True)
class AnyDay:
    """A business day, open or closed."""

    id: int
    business_date: str
    opened_at: str
    opened_by: str
    closed_at: str | None
    closed_by: str | None
    floats: dict[str, int]


TILLS = "SELECT id, name, machine, home, counter_only, anonymous_account, ended_at, begins FROM till ORDER BY rowid"
SET_COUNTER_ONLY = "UPDATE till SET counter_only = ? WHERE id = ?"
SET_ANONYMOUS_ACCOUNT = "UPDATE till SET anonymous_account = ? WHERE id = ?"
ADD_TILL = """
INSERT INTO till (id, name, machine, home, counter_only, anonymous_account, begins, block)
VALUES (?, ?, ?, ?, ?, ?, ?, (SELECT coalesce(max(block), 0) + 1 FROM till))
"""
FLOATS = "(SELECT json_group_object(till, float_amount) FROM day_till WHERE day = day.id) AS floats"
LATEST = "(SELECT max(j.at) FROM journal j WHERE j.day = day.id) AS latest_at"
OPEN_DAY = f"SELECT id, business_date, opened_at, opened_by, {FLOATS}, {LATEST} FROM day WHERE closed_at IS NULL"
PIECES = "SELECT pieces FROM day_till WHERE day = ? AND till = ?"
FLOAT_ROWS = """
SELECT till, float_amount AS amount, float_pieces AS pieces, taken_over, difference, left_amount AS left
FROM day_till WHERE day = ?
"""
ADD_FLOAT = """
INSERT INTO day_till (day, till, float_amount, float_pieces, pieces, taken_over, difference, left_amount)
VALUES (?, ?, ?, ?, ?, ?, ?, ?)
"""
SET_LEFT = "UPDATE day_till SET left_amount = ? WHERE day = ? AND till = ?"
LEFT_BEFORE = """
SELECT till, left_amount, max(day) FROM day_till WHERE day < ? AND left_amount IS NOT NULL GROUP BY till
"""
ADD_BANKED = "INSERT INTO banked (day, till, staff, at, amount, closing) VALUES (?, ?, ?, ?, ?, ?)"
BANKED = "SELECT till, staff, at, amount, closing FROM banked WHERE day = ? ORDER BY id"
BETWEEN = "SELECT id FROM day WHERE business_date BETWEEN ? AND ? ORDER BY id"
DATES = "SELECT id, business_date FROM day"
SET_PIECES = "UPDATE day_till SET pieces = ? WHERE day = ? AND till = ?"
DATE_OF = "SELECT business_date FROM day WHERE id = ?"
ADD_COUNT = "INSERT INTO drawer_count (day, till, staff, at, pieces, total, expected) VALUES (?, ?, ?, ?, ?, ?, ?)"
COUNTS = """
SELECT till, staff, at, pieces, total, expected FROM drawer_count
WHERE id IN (SELECT max(id) FROM drawer_count WHERE day = ? GROUP BY till)
  AND id NOT IN (SELECT count FROM drawer_section)
"""
ADD_PETTY = """
INSERT INTO petty_cash (day, till, staff, at, direction, category, note, amount, deposit, takes_back)
VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
"""
PETTY = """
SELECT day, till, staff, at, direction, category, note, amount, deposit, takes_back, id FROM petty_cash
WHERE day IN (SELECT value FROM json_each(?)) ORDER BY id
"""
ADD_TIP = "INSERT INTO tip_paid (day, till, staff, at, person, amount) VALUES (?, ?, ?, ?, ?, ?)"
TIPS = "SELECT till, staff, at, person, amount FROM tip_paid WHERE day = ? ORDER BY id"
CATEGORIES = "SELECT name FROM petty_category ORDER BY position, name"
DROP_CATEGORIES = "DELETE FROM petty_category"
ADD_CATEGORY = "INSERT INTO petty_category (name, position) VALUES (?, ?)"
CLOSE_DAY = "UPDATE day SET closed_at = ?, closed_by = ? WHERE id = ?"
LAST_CLOSED = "SELECT max(id) AS id FROM day WHERE closed_at IS NOT NULL"
SOME_DAYS = f"""
SELECT id, business_date, opened_at, opened_by, closed_at, closed_by, {FLOATS} FROM day
WHERE id IN (SELECT value FROM json_each(?))
"""
ADD_DAY = "INSERT INTO day (business_date, opened_at, opened_by) VALUES (?, ?, ?)"


def list_tills(connection: Connection) -> dict[str, Till]:
    """All tills by id, in the house's order."""
    return {row["id"]: record(Till, row) for row in connection.execute(TILLS)}


def set_counter_only(connection: Connection, till: str, *, hold: bool) -> None:
    """Lock a till to counter mode, or let it go."""
    connection.execute(SET_COUNTER_ONLY, (hold, till))


def set_anonymous_account(connection: Connection, till: str, account: str) -> None:
    """On which account a till's sales without a customer go."""
    connection.execute(SET_ANONYMOUS_ACCOUNT, (account, till))


def add_till(connection: Connection, till: Till) -> None:
    """Keep a till."""
    connection.execute(
        ADD_TILL, (till.id, till.name, till.machine, till.home, till.counter_only, till.anonymous_account, till.begins)
    )


def open_day(connection: Connection) -> Day | None:
    """The open day, None when there is none."""
    row = connection.execute(OPEN_DAY).fetchone()
    if row is None:
        return None
    return record(Day, row, floats=json.loads(row["floats"]))


def business_date(connection: Connection, day: int) -> str:
    """The business date of a day, open or closed."""
    return str(connection.execute(DATE_OF, (day,)).fetchone()[0])


def add_day(connection: Connection, business_date: str, at: str, by: str) -> int:
    """Open a day; gives its id."""
    day = connection.execute(ADD_DAY, (business_date, at, by)).lastrowid
    assert day is not None
    return day


def add_float(connection: Connection, day: int, row: FloatRow) -> None:
    """With what a till joins an open day."""
    facts = (row.amount, row.pieces, row.pieces, row.taken_over, row.difference, row.left)
    connection.execute(ADD_FLOAT, (day, row.till, *facts))


def floats_of(connection: Connection, day: int) -> dict[str, FloatRow]:
    """The floats of a day by till."""
    return {row["till"]: record(FloatRow, row) for row in connection.execute(FLOAT_ROWS, (day,))}


def left_before(connection: Connection, day: int) -> dict[str, int]:
    """What every drawer was left with when a day before this one was closed, by till; minor units."""
    return {row["till"]: row["left_amount"] for row in connection.execute(LEFT_BEFORE, (day,))}


def set_left(connection: Connection, day: int, till: str, amount: int) -> None:
    """What stays in a drawer when its day is closed, in minor units."""
    connection.execute(SET_LEFT, (amount, day, till))


def add_banked(connection: Connection, day: int, banked: Banked) -> None:
    """Cash of a drawer went to the bank or the safe."""
    b = banked
    connection.execute(ADD_BANKED, (day, b.till, b.staff, b.at, b.amount, b.closing))


def banked_on(connection: Connection, day: int) -> list[Banked]:
    """What went to the bank or the safe on a day."""
    return [record(Banked, row) for row in connection.execute(BANKED, (day,))]


def read_pieces(connection: Connection, day: int, till: str) -> str:
    """The pieces that a drawer should hold, as JSON by denomination; empty when they are not known."""
    row = connection.execute(PIECES, (day, till)).fetchone()
    return str(row["pieces"]) if row else ""


def set_pieces(connection: Connection, day: int, till: str, pieces: str) -> None:
    """Which notes and coins a drawer should hold now."""
    connection.execute(SET_PIECES, (pieces, day, till))


def dates_of(connection: Connection) -> dict[int, str]:
    """The business dates of all days, by their ids."""
    return {row["id"]: row["business_date"] for row in connection.execute(DATES)}


def days_between(connection: Connection, first: str, last: str) -> list[int]:
    """The days whose business date lies between two ISO dates, both included, in their order."""
    return [row["id"] for row in connection.execute(BETWEEN, (first, last))]


def read_day(connection: Connection, day: int) -> AnyDay | None:
    """A day, open or closed."""
    return read_days(connection, [day]).get(day)


def read_days(connection: Connection, days: Iterable[int]) -> dict[int, AnyDay]:
    """Days by their ids, open or closed; those that are not there are left out."""
    rows = connection.execute(SOME_DAYS, (json.dumps(list(days)),))
    return {row["id"]: record(AnyDay, row, floats=json.loads(row["floats"])) for row in rows}


def closed_before(connection: Connection, day: int) -> str:
    """When the day before a day was closed; empty when there is none."""
    row = connection.execute("SELECT coalesce(max(closed_at), '') AS at FROM day WHERE id < ?", (day,)).fetchone()
    return str(row["at"])


def last_closed(connection: Connection) -> int | None:
    """The day that was closed last."""
    day = connection.execute(LAST_CLOSED).fetchone()["id"]
    return None if day is None else int(day)


def last_date(connection: Connection) -> str:
    """The latest business date so far; empty before the first day."""
    return str(connection.execute("SELECT coalesce(max(business_date), '') FROM day").fetchone()[0])


def close_day(connection: Connection, day: int, at: str, by: str) -> None:
    """The day is closed."""
    connection.execute(CLOSE_DAY, (at, by, day))


def add_count(connection: Connection, day: int, count: Count) -> None:
    """Keep a count of a drawer."""
    c = count
    connection.execute(ADD_COUNT, (day, c.till, c.staff, c.at, c.pieces, c.total, c.expected))


def counts_of(connection: Connection, day: int) -> dict[str, Count]:
    """The latest count of every till that was counted on a day, since its drawer was handed over if it was."""
    return {row["till"]: record(Count, row) for row in connection.execute(COUNTS, (day,))}


def add_petty(connection: Connection, day: int, petty: Petty) -> int:
    """Note money paid in or out; gives its row."""
    p = petty
    facts = (p.till, p.staff, p.at, p.direction, p.category, p.note, p.amount, p.deposit, p.takes_back)
    row = connection.execute(ADD_PETTY, (day, *facts)).lastrowid
    assert row is not None
    return row


def add_tip_paid(connection: Connection, day: int, paid: TipPaid) -> None:
    """Tips were paid out."""
    connection.execute(ADD_TIP, (day, paid.till, paid.staff, paid.at, paid.person, paid.amount))


def tips_paid_on(connection: Connection, day: int) -> list[TipPaid]:
    """What tips were paid out on a day."""
    return [record(TipPaid, row) for row in connection.execute(TIPS, (day,))]


def petty_categories(connection: Connection) -> list[str]:
    """What money is paid out for, and in, in the house's order."""
    return [row["name"] for row in connection.execute(CATEGORIES)]


def put_petty_categories(connection: Connection, names: Iterable[str]) -> None:
    """Write the list of what money is paid out for anew."""
    connection.execute(DROP_CATEGORIES)
    connection.executemany(ADD_CATEGORY, [(name, place) for place, name in enumerate(names)])


def petty_on(connection: Connection, day: int) -> list[Petty]:
    """What was paid out of all drawers, and in, on a day."""
    return petty_of_days(connection, [day]).get(day, [])


def petty_of_days(connection: Connection, days: Iterable[int]) -> dict[int, list[Petty]]:
    """The same of several days, by day."""
    found: dict[int, list[Petty]] = {}
    for row in connection.execute(PETTY, (json.dumps(list(days)),)):
        values = fields(row)
        found.setdefault(values.pop("day"), []).append(record(Petty, values))
    return found
