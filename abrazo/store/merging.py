"""Two records of one person as one: what hangs on the second hangs on the first, and knows where it came from."""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.store.db import Connection, record

# What is somebody's and moves with them. What their account is made of stays with it, even: it is even when they merge.
PLACES = (
    "ticket.person", "line.member", "adjustment.person", "booking.person", "walk_in.person", "job.person",
    "card.person", "stored_value.person", "membership.person", "series.person", "hire.person", "points.person",
)  # fmt: skip


@dataclass(frozen=True, slots=True)
class Merge:
    """Who became the same as whom, when and by whom; `facts` are both as they were, as JSON."""

    id: int
    person: int
    into_person: int
    at: str
    staff: str
    facts: str


ADD = "INSERT INTO person_merge (person, into_person, at, staff, facts) VALUES (?, ?, ?, ?, ?)"
STANDING = """
SELECT id, person, into_person, at, staff, facts FROM person_merge
WHERE undone_at IS NULL AND into_person = ? ORDER BY id
"""
ONE = "SELECT id, person, into_person, at, staff, facts FROM person_merge WHERE id = ? AND undone_at IS NULL"
SET_INTO = "UPDATE person SET merged_into = ? WHERE id = ?"
UNDONE = "UPDATE person_merge SET undone_at = ? WHERE id = ?"


def add(connection: Connection, person: int, into: int, at: str, staff: str, facts: str) -> int:
    """Move everything of a person to another one; gives the merge."""
    merge = connection.execute(ADD, (person, into, at, staff, facts)).lastrowid
    assert merge is not None
    for place in PLACES:
        table, _, column = place.partition(".")
        rows = f"INSERT INTO person_merge_row SELECT ?, ?, id FROM {table} WHERE {column} = ?"
        connection.execute(rows, (merge, place, person))
        connection.execute(f"UPDATE {table} SET {column} = ? WHERE {column} = ?", (into, person))
    connection.execute(SET_INTO, (into, person))
    return merge


def undo(connection: Connection, merge: Merge, at: str) -> None:
    """What a merge moved goes back, as far as it is still where it was moved to."""
    for place in PLACES:
        table, _, column = place.partition(".")
        back = f"""
        UPDATE {table} SET {column} = ? WHERE {column} = ?
          AND id IN (SELECT row FROM person_merge_row WHERE merge = ? AND place = ?)
        """
        connection.execute(back, (merge.person, merge.into_person, merge.id, place))
    connection.execute(SET_INTO, (None, merge.person))
    connection.execute(UNDONE, (at, merge.id))


def standing(connection: Connection, into: int) -> list[Merge]:
    """Who became the same as somebody, and was not parted again."""
    return [record(Merge, row) for row in connection.execute(STANDING, (into,))]


def read(connection: Connection, merge: int) -> Merge | None:
    """A merge that was not undone; None when there is no such."""
    row = connection.execute(ONE, (merge,)).fetchone()
    return record(Merge, row) if row else None
