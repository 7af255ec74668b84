"""Who works here, and their PIN hashes."""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.core.states import StaffRole
from abrazo.store.db import Connection, record


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

    @property
    def initials(self) -> str:
        """First letters of the name's words."""
        return "".join(word[0] for word in self.name.split())[:2]


@dataclass(frozen=True, slots=True)
class Lock:
    """What the PIN check needs."""

    pin_hash: str
    wrong_pins: int
    locked_until: str | None


LIST = "SELECT id, name, role, title, counter_only, pin_digits, takes_bookings, takes_jobs FROM staff ORDER BY rowid"
ADD = """
INSERT INTO staff (id, name, role, title, pin_hash, pin_digits, takes_bookings, takes_jobs)
VALUES (?, ?, ?, ?, ?, ?, ?, ?)
"""
SET_COUNTER_ONLY = "UPDATE staff SET counter_only = ? WHERE id = ?"
LOCK = "SELECT pin_hash, wrong_pins, locked_until FROM staff WHERE id = ?"
SET_LOCK = "UPDATE staff SET wrong_pins = ?, locked_until = ? WHERE id = ?"


def list_staff(connection: Connection) -> dict[str, Staff]:
    """Everybody who works here, by id."""
    rows = connection.execute(LIST)
    return {row["id"]: record(Staff, row) for row in rows}


def set_counter_only(connection: Connection, staff: str, *, hold: bool) -> None:
    """Hold somebody to counter mode, or no longer."""
    connection.execute(SET_COUNTER_ONLY, (int(hold), staff))


def add(connection: Connection, staff: Staff, pin_hash: str, pin_digits: int) -> None:
    """Somebody new; of their PIN only a hash and the number of digits are kept."""
    facts = (staff.id, staff.name, staff.role, staff.title, pin_hash, pin_digits)
    connection.execute(ADD, (*facts, int(staff.takes_bookings), int(staff.takes_jobs)))


def read_lock(connection: Connection, staff: str) -> Lock | None:
    """What the PIN check of somebody needs, None when there is no such person."""
    row = connection.execute(LOCK, (staff,)).fetchone()
    return record(Lock, row) if row else None


def set_lock(connection: Connection, staff: str, wrong_pins: int, locked_until: str | None) -> None:
    """How many PINs were wrong, and until when nobody can sign in as them."""
    connection.execute(SET_LOCK, (wrong_pins, locked_until, staff))
