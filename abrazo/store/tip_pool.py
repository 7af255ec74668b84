"""Pools of tips that were divided, and who has what of them. Append-only."""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.core.states import PoolMeasure
from abrazo.store.db import Connection, record


@dataclass(frozen=True, slots=True)
class PoolShare:
    """What one person has: `weight` in hours or points, a decimal; `amount` in minor units."""

    person: str
    weight: str
    amount: int


@dataclass(frozen=True, slots=True)
class PoolDivision:
    """A pool that was divided; `amount` in minor units."""

    id: int
    day: int
    till: str
    staff: str
    at: str
    measure: PoolMeasure
    amount: int


ADD = "INSERT INTO pool_division (day, till, staff, at, measure, amount) VALUES (?, ?, ?, ?, ?, ?)"
ADD_SHARE = "INSERT INTO pool_share (division, person, weight, amount) VALUES (?, ?, ?, ?)"
ONE = "SELECT id, day, till, staff, at, measure, amount FROM pool_division WHERE id = ?"
ON_DAY = "SELECT id, day, till, staff, at, measure, amount FROM pool_division WHERE day = ? ORDER BY id"
SHARES = "SELECT person, weight, amount FROM pool_share WHERE division = ? ORDER BY rowid"


def add(connection: Connection, new: PoolDivision, shares: list[PoolShare]) -> int:
    """Keep how a pool was divided; the id is given anew."""
    row = connection.execute(ADD, (new.day, new.till, new.staff, new.at, new.measure, new.amount)).lastrowid
    assert row is not None
    connection.executemany(ADD_SHARE, [(row, one.person, one.weight, one.amount) for one in shares])
    return row


def read(connection: Connection, division: int) -> PoolDivision | None:
    """How a pool was divided, None when there is no such."""
    row = connection.execute(ONE, (division,)).fetchone()
    return record(PoolDivision, row) if row else None


def on_day(connection: Connection, day: int) -> list[PoolDivision]:
    """Pools that were divided on a business day."""
    return [record(PoolDivision, row) for row in connection.execute(ON_DAY, (day,))]


def shares_of(connection: Connection, division: int) -> list[PoolShare]:
    """Who has what of a pool that was divided."""
    return [record(PoolShare, row) for row in connection.execute(SHARES, (division,))]
