"""Tills and business days."""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.store.db import Connection, fields


@dataclass(frozen=True, slots=True)
class Till:
    """A till and the card machine that it remembers as its own."""

    id: str
    name: str
    machine: str


@dataclass(frozen=True, slots=True)
class Day:
    """A business day; `floats` in minor units by till."""

    id: int
    business_date: str
    opened_at: str
    opened_by: str
    floats: dict[str, int]


TILLS = "SELECT id, name, machine FROM till ORDER BY rowid"
ADD_TILL = "INSERT INTO till (id, name, machine) VALUES (?, ?, ?)"
OPEN_DAY = "SELECT id, business_date, opened_at, opened_by FROM day WHERE closed_at IS NULL"
FLOATS = "SELECT till, float_amount FROM day_till WHERE day = ?"
DATE_OF = "SELECT business_date FROM day WHERE id = ?"
ADD_DAY = "INSERT INTO day (business_date, opened_at, opened_by) VALUES (?, ?, ?)"
ADD_FLOAT = "INSERT INTO day_till (day, till, float_amount) VALUES (?, ?, ?)"


def list_tills(connection: Connection) -> dict[str, Till]:
    return {row["id"]: Till(*row) for row in connection.execute(TILLS)}


def add_till(connection: Connection, till: Till) -> None:
    connection.execute(ADD_TILL, (till.id, till.name, till.machine))


def open_day(connection: Connection) -> Day | None:
    row = connection.execute(OPEN_DAY).fetchone()
    if row is None:
        return None
    floats = {r["till"]: r["float_amount"] for r in connection.execute(FLOATS, (row["id"],))}
    return Day(**fields(row), floats=floats)


def business_date(connection: Connection, day: int) -> str:
    """The business date of a day, open or closed."""
    return str(connection.execute(DATE_OF, (day,)).fetchone()[0])


def add_day(connection: Connection, business_date: str, at: str, by: str, floats: dict[str, int]) -> int:
    day = connection.execute(ADD_DAY, (business_date, at, by)).lastrowid
    assert day is not None
    connection.executemany(ADD_FLOAT, [(day, till, amount) for till, amount in floats.items()])
    return day
