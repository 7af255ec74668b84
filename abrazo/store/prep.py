"""What the places that prepare things were told, and what they have done."""

from __future__ import annotations

import json
from dataclasses import dataclass
from fractions import Fraction

from abrazo.core.states import SlipKind
from abrazo.store.db import Connection, record


@dataclass(frozen=True, slots=True)
class SlipLine:
    """A line of a ticket on a slip: how many of it as text, and what it is in words."""

    line: int
    quantity: str
    words: str


@dataclass(frozen=True, slots=True)
class Slip:
    """A slip for a place; `kind` is make, or stop for what is not wanted any more.

    `course` is the how manieth slip to make something it is for its ticket at this place.
    """

    id: int
    ticket: int
    place: str
    kind: SlipKind
    at: str
    staff: str
    done_at: str | None = None
    done_by: str | None = None
    lines: tuple[SlipLine, ...] = ()
    course: int = 1


COLUMNS = """
SELECT id, ticket, place, kind, at, staff, done_at, done_by,
       max(1, (SELECT count(*) FROM prep_slip o WHERE o.ticket = s.ticket AND o.place = s.place AND o.kind = 'make'
               AND o.id <= s.id)) AS course
FROM prep_slip s
"""
COURSES = "SELECT count(*) AS number FROM prep_slip WHERE ticket = ? AND place = ? AND kind = 'make'"
WAITING = COLUMNS + "WHERE place = ? AND done_at IS NULL ORDER BY at, id LIMIT ?"
LAST_DONE = COLUMNS + "WHERE place = ? AND done_at IS NOT NULL ORDER BY done_at DESC, id DESC LIMIT ?"
ONE = COLUMNS + "WHERE id = ?"
LINES = """
SELECT slip, line, quantity, words FROM prep_slip_line WHERE slip IN (SELECT value FROM json_each(?)) ORDER BY line
"""
COUNTS = "SELECT place, count(*) AS number FROM prep_slip WHERE done_at IS NULL GROUP BY place"
ADD = "INSERT INTO prep_slip (ticket, place, kind, at, staff) VALUES (?, ?, ?, ?, ?)"
ADD_LINE = "INSERT INTO prep_slip_line (slip, line, quantity, words) VALUES (?, ?, ?, ?)"
SET_DONE = "UPDATE prep_slip SET done_at = ?, done_by = ? WHERE id = ?"
TOLD = """
SELECT l.line, l.quantity, s.kind FROM prep_slip_line l JOIN prep_slip s ON s.id = l.slip
JOIN line t ON t.id = l.line WHERE t.ticket = ?
"""
PLACES = """
SELECT l.id, i.place FROM line l JOIN item i ON i.id = l.item
WHERE l.ticket = ? AND i.place <> '' AND l.job IS NULL
"""


def told(connection: Connection, ticket: int) -> dict[int, Fraction]:
    """How many of each line of a ticket its place is to make, by what it was told."""
    found: dict[int, Fraction] = {}
    for line, quantity, kind in connection.execute(TOLD, (ticket,)):
        sign = 1 if kind == SlipKind.MAKE else -1
        found[line] = found.get(line, Fraction(0)) + sign * Fraction(quantity)
    return found


def places(connection: Connection, ticket: int) -> dict[int, str]:
    """The place that prepares each line of a ticket; lines that nobody prepares are left out."""
    return {row["id"]: row["place"] for row in connection.execute(PLACES, (ticket,))}


def add(connection: Connection, slip: Slip) -> int:
    """Keep a slip with its lines; its id is given anew."""
    number = connection.execute(ADD, (slip.ticket, slip.place, slip.kind, slip.at, slip.staff)).lastrowid
    assert number is not None
    connection.executemany(ADD_LINE, [(number, one.line, one.quantity, one.words) for one in slip.lines])
    return number


def _slips(connection: Connection, sql: str, values: tuple[object, ...]) -> list[Slip]:
    rows = connection.execute(sql, values).fetchall()
    lines: dict[int, list[SlipLine]] = {row["id"]: [] for row in rows}
    for slip, *one in connection.execute(LINES, (json.dumps(list(lines)),)):
        lines[slip].append(SlipLine(*one))
    return [record(Slip, row, lines=tuple(lines[row["id"]])) for row in rows]


def waiting(connection: Connection, place: str, most: int = 60) -> list[Slip]:
    """Slips that are not done, oldest first."""
    return _slips(connection, WAITING, (place, most))


def last_done(connection: Connection, place: str, most: int = 6) -> list[Slip]:
    """Slips that were done, the latest first."""
    return _slips(connection, LAST_DONE, (place, most))


def read(connection: Connection, slip: int) -> Slip | None:
    """A slip, None when there is no such."""
    found = _slips(connection, ONE, (slip,))
    return found[0] if found else None


def courses(connection: Connection, ticket: int, place: str) -> int:
    """How often a place was told to make something for a ticket."""
    return int(connection.execute(COURSES, (ticket, place)).fetchone()["number"])


def set_done(connection: Connection, slip: int, at: str | None, by: str | None) -> None:
    """A slip was done, or with None stands in the queue again."""
    connection.execute(SET_DONE, (at, by, slip))


def counts(connection: Connection) -> dict[str, int]:
    """How many slips wait at each place."""
    return {row["place"]: row["number"] for row in connection.execute(COUNTS)}
