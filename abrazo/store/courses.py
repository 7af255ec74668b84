"""Courses: services on a date with places. A place is a booking."""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.store.db import Connection, record


@dataclass(frozen=True, slots=True)
class Course:
    """A service on a date, led by somebody; times are wall times. `taken` of its `places` are booked.

    One that was called off has when, and a reason.
    """

    id: int
    item: str
    staff: str
    starts_at: str
    ends_at: str
    places: int
    note: str = ""
    cancelled_at: str | None = None
    reason: str = ""
    taken: int = 0


COLUMNS = """
SELECT id, item, staff, starts_at, ends_at, places, note, cancelled_at, reason,
       (SELECT coalesce(sum(party), 0) FROM booking WHERE course = course.id AND state <> 'cancelled') AS taken
FROM course
"""
ONE = COLUMNS + "WHERE id = ?"
BETWEEN = COLUMNS + "WHERE starts_at >= ? AND starts_at < ? ORDER BY starts_at, id LIMIT ?"
OF_ITEM = COLUMNS + "WHERE item = ? AND starts_at > ? AND cancelled_at IS NULL ORDER BY starts_at, id LIMIT ?"
ITEMS = "SELECT DISTINCT item FROM course WHERE starts_at > ? AND cancelled_at IS NULL"
ADD = """
INSERT INTO course (item, staff, starts_at, ends_at, places, note, made_at, made_by) VALUES (?, ?, ?, ?, ?, ?, ?, ?)
"""
CHANGE = "UPDATE course SET staff = ?, starts_at = ?, ends_at = ?, places = ?, note = ? WHERE id = ?"
MOVE_PLACES = "UPDATE booking SET staff = ?, starts_at = ?, ends_at = ? WHERE course = ? AND state <> 'cancelled'"
CALL_OFF = "UPDATE course SET cancelled_at = ?, reason = ? WHERE id = ? AND cancelled_at IS NULL"
GIVE_PLACE = "UPDATE booking SET course = ?, staff = ?, starts_at = ?, ends_at = ? WHERE id = ?"


def add(connection: Connection, course: Course, made_at: str, made_by: str) -> int:
    """Keep a course; the id is given anew, and nobody has a place."""
    c = course
    values = (c.item, c.staff, c.starts_at, c.ends_at, c.places, c.note, made_at, made_by)
    row = connection.execute(ADD, values).lastrowid
    assert row is not None
    return row


def read(connection: Connection, course: int) -> Course | None:
    """A course, None when there is no such."""
    row = connection.execute(ONE, (course,)).fetchone()
    return record(Course, row) if row else None


def between(connection: Connection, start: str, end: str, most: int = 200) -> list[Course]:
    """Courses that start in a span of wall time, also those that were called off, the earliest first."""
    return [record(Course, row) for row in connection.execute(BETWEEN, (start, end, most))]


def of_item(connection: Connection, item: str, after: str, most: int = 12) -> list[Course]:
    """The courses of a service that start after a moment, the earliest first."""
    return [record(Course, row) for row in connection.execute(OF_ITEM, (item, after, most))]


def items_after(connection: Connection, after: str) -> set[str]:
    """Which services have courses that start after a moment."""
    return {row["item"] for row in connection.execute(ITEMS, (after,))}


def change(connection: Connection, course: Course) -> None:
    """Who leads it, when it is, how many can come and the note, from now on; its places go along."""
    c = course
    connection.execute(CHANGE, (c.staff, c.starts_at, c.ends_at, c.places, c.note, c.id))
    connection.execute(MOVE_PLACES, (c.staff, c.starts_at, c.ends_at, c.id))


def call_off(connection: Connection, course: int, at: str, reason: str) -> None:
    """It does not take place."""
    connection.execute(CALL_OFF, (at, reason, course))


def give_place(connection: Connection, booking: int, course: Course) -> None:
    """A booking is a place of this course now."""
    connection.execute(GIVE_PLACE, (course.id, course.staff, course.starts_at, course.ends_at, booking))
