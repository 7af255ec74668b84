"""Who works here, and their PIN hashes."""

from __future__ import annotations

import json
from collections.abc import Iterable
from dataclasses import dataclass

from abrazo.core.states import StaffRole
from abrazo.store.db import Connection, record


@dataclass(frozen=True, slots=True)
class WorkHours:
    """When somebody takes bookings on a day of the week: Monday is 1, times are HH:MM."""

    weekday: int
    begins: str
    ends: str


@dataclass(frozen=True, slots=True)
class Staff:
    """A person who signs in; `role` is server, clerk or supervisor."""

    id: str
    name: str
    role: StaffRole
    title: str
    counter_only: bool = False  # works in counter mode only
    pin_digits: int = 4
    takes_bookings: bool = False  # the day of bookings has a column of theirs
    takes_jobs: bool = False  # jobs are given to them
    rights: tuple[tuple[str, bool], ...] = ()  # what the house decided about rights of their role
    hours: tuple[WorkHours, ...] = ()  # when they take bookings; none at all: at any time
    in_training: bool = False  # signs in to practise, and for nothing else
    ended_at: str | None = None  # since when they do not work here any more

    @property
    def initials(self) -> str:
        """First letters of the name's words."""
        return "".join(word[0] for word in self.name.split())[:2]


LIST = """
SELECT id, name, role, title, counter_only, pin_digits, takes_bookings, takes_jobs, in_training, ended_at,
  (SELECT json_group_array(json_array(name, allowed)) FROM role_right WHERE role_right.role = staff.role) AS rights,
  (SELECT json_group_array(json_array(weekday, begins, ends)) FROM (
    SELECT weekday, begins, ends FROM work_hours WHERE staff = staff.id ORDER BY weekday, begins)) AS hours
FROM staff ORDER BY rowid
"""
CLEAR_HOURS = "DELETE FROM work_hours WHERE staff = ?"
ADD_HOURS = "INSERT INTO work_hours (staff, weekday, begins, ends) VALUES (?, ?, ?, ?)"
ROLES = "SELECT role, name, allowed FROM role_right"
SET_ROLE = """
INSERT INTO role_right (role, name, allowed) VALUES (?, ?, ?) ON CONFLICT DO UPDATE SET allowed = excluded.allowed
"""
ADD = """
INSERT INTO staff (id, name, role, title, pin_hash, pin_digits, takes_bookings, takes_jobs)
VALUES (?, ?, ?, ?, ?, ?, ?, ?)
"""
SET_COUNTER_ONLY = "UPDATE staff SET counter_only = ? WHERE id = ?"
END_TRAINING = "UPDATE staff SET in_training = 0"
PUT_ALL_PINS = "UPDATE staff SET pin_hash = ?, pin_digits = ?"
PIN_HASH = "SELECT pin_hash FROM staff WHERE id = ?"


def list_staff(connection: Connection) -> dict[str, Staff]:
    """Everybody who works here, by id."""
    rows = connection.execute(LIST)
    return {row["id"]: record(Staff, row, rights=_decided(row["rights"]), hours=_hours(row["hours"])) for row in rows}


def _hours(kept: str) -> tuple[WorkHours, ...]:
    return tuple(WorkHours(*one) for one in json.loads(kept))


def put_hours(connection: Connection, staff: str, hours: Iterable[WorkHours]) -> None:
    """When somebody takes bookings, in place of what was said before."""
    connection.execute(CLEAR_HOURS, (staff,))
    connection.executemany(ADD_HOURS, [(staff, one.weekday, one.begins, one.ends) for one in hours])


def _decided(kept: str) -> tuple[tuple[str, bool], ...]:
    return tuple((name, bool(allowed)) for name, allowed in json.loads(kept))


def role_rights(connection: Connection) -> dict[tuple[str, str], bool]:
    """What the house decided about rights, by role and right."""
    return {(row["role"], row["name"]): bool(row["allowed"]) for row in connection.execute(ROLES)}


def set_role_right(connection: Connection, role: str, right: str, *, allowed: bool) -> None:
    """A role has a right from now on, or not."""
    connection.execute(SET_ROLE, (role, right, int(allowed)))


def set_counter_only(connection: Connection, staff: str, *, hold: bool) -> None:
    """Hold somebody to counter mode, or no longer."""
    connection.execute(SET_COUNTER_ONLY, (int(hold), staff))


def add(connection: Connection, staff: Staff, pin_hash: str, pin_digits: int) -> None:
    """Somebody new; of their PIN only a hash and the number of digits are kept."""
    facts = (staff.id, staff.name, staff.role, staff.title, pin_hash, pin_digits)
    connection.execute(ADD, (*facts, int(staff.takes_bookings), int(staff.takes_jobs)))


def pin_hash(connection: Connection, staff: str) -> str:
    """The hash of somebody's PIN."""
    return str(connection.execute(PIN_HASH, (staff,)).fetchone()["pin_hash"])


def put_all_pins(connection: Connection, pin_hash: str, digits: int) -> None:
    """Let everybody have one PIN: where nobody's own is to be found out."""
    connection.execute(PUT_ALL_PINS, (pin_hash, digits))


def end_training(connection: Connection) -> None:
    """Nobody is in training any more."""
    connection.execute(END_TRAINING)
