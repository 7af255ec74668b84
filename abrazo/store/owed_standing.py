"""What is owed to customers at the end of each day: a row for a thing on each day on which it changed. Append-only."""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.store.db import Connection, record


@dataclass(frozen=True, slots=True)
class OwedStanding:
    """Something that a customer can use: its kind, which stored value, job or person, minor units, how many points."""

    kind: str
    ref: int
    amount: int
    points: int = 0


ADD = "INSERT INTO owed_standing (kind, ref, day, amount, points) VALUES (?, ?, ?, ?, ?)"
UNTIL = """
SELECT o.kind, o.ref, o.amount, o.points FROM owed_standing o
WHERE o.day = (SELECT max(n.day) FROM owed_standing n WHERE n.kind = o.kind AND n.ref = o.ref AND n.day <= ?)
ORDER BY o.kind, o.ref
"""
FIRST = "SELECT min(business_date) FROM day WHERE id IN (SELECT day FROM sealed_report WHERE owed_kept)"
LAST_DAY = "SELECT id FROM day WHERE closed_at IS NOT NULL AND business_date <= ? ORDER BY id DESC LIMIT 1"


def add(connection: Connection, day: int, changed: list[OwedStanding]) -> None:
    """Keep what changed until the end of a day."""
    connection.executemany(ADD, [(one.kind, one.ref, day, one.amount, one.points) for one in changed])


def until(connection: Connection, day: int) -> list[OwedStanding]:
    """How everything that ever changed stood at the end of a day; what was used up is there with 0."""
    return [record(OwedStanding, row) for row in connection.execute(UNTIL, (day,))]


def first_date(connection: Connection) -> str | None:
    """The business date from which on it is kept; None when nothing is kept yet."""
    found: str | None = connection.execute(FIRST).fetchone()[0]
    return found


def last_day(connection: Connection, date: str) -> int | None:
    """The last day that was closed with this business date or an earlier one."""
    row = connection.execute(LAST_DAY, (date,)).fetchone()
    return int(row["id"]) if row else None
