"""What people held before the house kept it here: the files it came in with, and whether any of it was used since."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from abrazo.core.states import HeldKind
from abrazo.store.db import Connection, record


@dataclass(frozen=True, slots=True)
class BroughtIn:
    """A file that was brought in: of what, how many, what is owed for it (minor units), when (UTC), by whom, where.

    `day` is the one into whose books it went. One that was taken back says when and by whom.
    """

    id: int
    kind: HeldKind
    name: str
    number: int
    amount: int
    day: int
    at: str
    staff: str
    till: str
    taken_back_at: str | None = None
    taken_back_by: str | None = None


@dataclass(frozen=True, slots=True)
class Known:
    """Somebody of whom something can be brought in: their name, and phone number as E.164 or empty."""

    id: int
    name: str
    phone: str
    company: bool


COLUMNS = "SELECT id, kind, name, number, amount, day, at, staff, till, taken_back_at, taken_back_by FROM brought_in "
ADD = """
INSERT INTO brought_in (kind, name, number, amount, day, at, staff, till) VALUES (?, ?, ?, ?, ?, ?, ?, ?)
"""
LATEST = COLUMNS + "ORDER BY id DESC LIMIT ?"
ONE = COLUMNS + "WHERE id = ?"
TAKE_BACK = "UPDATE brought_in SET taken_back_at = ?, taken_back_by = ? WHERE id = ?"
PEOPLE = "SELECT id, name, phone, company FROM person WHERE erased_at IS NULL AND merged_into IS NULL"
STORED = "SELECT id FROM stored_value WHERE brought = :file"
SERIES = "SELECT id FROM series WHERE brought = :file"
MEMBERSHIPS = "SELECT id FROM membership WHERE brought = :file"
MOVED = "OR EXISTS (SELECT 1 FROM person_merge_row WHERE place = '{place}' AND row IN ({rows}))"  # with their person
USED = {
    HeldKind.STORED_VALUE: f"""
    SELECT EXISTS (SELECT 1 FROM payment WHERE stored IN ({STORED}))
        OR EXISTS (SELECT 1 FROM line WHERE stored IN ({STORED}))
        {MOVED.format(place="stored_value.person", rows=STORED)}
    """,
    HeldKind.SERIES: f"""
    SELECT EXISTS (SELECT 1 FROM series_use WHERE series IN ({SERIES}))
        OR EXISTS (SELECT 1 FROM series_saved WHERE series IN ({SERIES}))
        {MOVED.format(place="series.person", rows=SERIES)}
    """,
    HeldKind.MEMBERSHIPS: f"""
    SELECT EXISTS (SELECT 1 FROM membership_pause WHERE membership IN ({MEMBERSHIPS}))
        {MOVED.format(place="membership.person", rows=MEMBERSHIPS)}
        OR EXISTS (SELECT 1 FROM adjustment a
                   JOIN membership m ON m.person = a.person JOIN benefit b ON b.id = a.benefit
                   WHERE m.brought = :file AND b.kind = m.kind AND a.ended_at IS NULL
                     AND a.at > (SELECT at FROM brought_in WHERE id = :file))
    """,
    HeldKind.POINTS: """
    SELECT EXISTS (SELECT 1 FROM points n JOIN points b ON b.person = n.person AND b.brought = :file
                   WHERE n.id > b.id AND n.points < 0)
    """,
}
REMOVE = {
    HeldKind.STORED_VALUE: "DELETE FROM stored_value WHERE brought = :file",
    HeldKind.SERIES: "DELETE FROM series WHERE brought = :file",
    HeldKind.MEMBERSHIPS: "DELETE FROM membership WHERE brought = :file",
    HeldKind.POINTS: """
    INSERT INTO points (person, points, at, brought)
    SELECT person, -points, (SELECT taken_back_at FROM brought_in WHERE id = :file), brought
    FROM points WHERE brought = :file
    """,
}
AMOUNTS = """
SELECT kind, opening AS amount FROM stored_value WHERE brought = :file
UNION ALL SELECT 'series', net FROM series WHERE brought = :file
"""
POINTS_OF = "SELECT coalesce(sum(points), 0) FROM points WHERE brought = ?"


def add(connection: Connection, one: BroughtIn) -> int:
    """Keep that a file was brought in; gives its id."""
    facts = (one.kind, one.name, one.number, one.amount, one.day, one.at, one.staff, one.till)
    row = connection.execute(ADD, facts).lastrowid
    assert row is not None
    return row


def latest(connection: Connection, most: int) -> list[BroughtIn]:
    """The files that were brought in last, the latest first."""
    return [record(BroughtIn, row) for row in connection.execute(LATEST, (most,))]


def read(connection: Connection, file: int) -> BroughtIn | None:
    """A file that was brought in; None when there is no such."""
    row = connection.execute(ONE, (file,)).fetchone()
    return record(BroughtIn, row) if row else None


def is_used(connection: Connection, one: BroughtIn) -> bool:
    """Whether anything that came with a file was used, spent, changed, or moved to another person since."""
    return bool(connection.execute(USED[one.kind], {"file": one.id}).fetchone()[0])


def amounts(connection: Connection, file: int) -> list[tuple[str, int]]:
    """The stored value that came with a file: its kind, and minor units."""
    return [(row["kind"], row["amount"]) for row in connection.execute(AMOUNTS, {"file": file})]


def points(connection: Connection, file: int) -> int:
    """The points that came with a file."""
    return int(connection.execute(POINTS_OF, (file,)).fetchone()[0])


def take_back(connection: Connection, one: BroughtIn, at: str, staff: str) -> None:
    """Nothing that came with a file is here any more; that it was stays."""
    connection.execute(TAKE_BACK, (at, staff, one.id))
    connection.execute(REMOVE[one.kind], {"file": one.id})


def people(connection: Connection) -> Iterator[Known]:
    """Everybody who is known."""
    for row in connection.execute(PEOPLE):
        yield Known(row["id"], row["name"], row["phone"] or "", bool(row["company"]))
