"""Bookings, and the queue of walk-ins."""

from __future__ import annotations

import json
from collections.abc import Iterable
from dataclasses import dataclass

from abrazo.core.states import BookingState, WalkInState
from abrazo.store.db import Connection, Row, record
from abrazo.store.deposits import HELD


@dataclass(frozen=True, slots=True)
class Booking:
    """A service for somebody with somebody. `price` in minor units, None when nobody has set it.

    `state` is booked, here, absent or cancelled, for a `reason`; whether it has ended is the clock's to say. `party` is
    how many come, `deposit` what is left of deposits for it. One with a `course` is a place of that; `sold_on` is the
    ticket that sold it. `paid`: the ticket that it stands on is closed.
    """

    id: int
    uid: str
    person: int | None
    name: str
    service: str
    staff: str
    starts_at: str
    ends_at: str
    price: int | None
    note: str
    state: BookingState
    ticket: int | None
    addons: tuple[str, ...] = ()
    party: int = 1
    reason: str = ""
    deposit: int = 0
    course: int | None = None
    sold_on: int | None = None
    paid: bool = False


@dataclass(frozen=True, slots=True)
class ServiceTerms:
    """What is asked for when a service is booked, and owed by who does not come, for each; minor units, 0: nothing."""

    item: str
    deposit: int
    no_show_fee: int


@dataclass(frozen=True, slots=True)
class WalkIn:
    """Somebody who came without a booking; `wants` in their words."""

    id: int
    name: str
    phone: str | None
    person: int | None
    wants: str
    at: str
    state: WalkInState
    ticket: int | None


COLUMNS = f"""
SELECT id, uid, person, name, service, staff, starts_at, ends_at, price, note, state, ticket, party, reason,
       course, sold_on,
       EXISTS (SELECT 1 FROM ticket t WHERE t.id = booking.ticket AND t.state = 'closed') AS paid,
       (SELECT json_group_array(item) FROM (
         SELECT a.item FROM booking_addon a WHERE a.booking = booking.id ORDER BY a.position)) AS addons,
       (SELECT coalesce(sum(amount), 0) FROM ({HELD} AND l.booking = booking.id)) AS deposit
FROM booking
"""
BETWEEN = COLUMNS + "WHERE starts_at >= ? AND starts_at < ? AND state <> 'cancelled' ORDER BY starts_at, id"
UNSETTLED = (
    COLUMNS + "WHERE starts_at >= ? AND starts_at < ? AND ticket IS NULL AND state NOT IN ('cancelled', 'absent')"
    " ORDER BY starts_at, id"
)
ONE = COLUMNS + "WHERE id = ?"
BY_UID = COLUMNS + "WHERE uid = ?"
BY_UIDS = COLUMNS + "WHERE uid IN (SELECT value FROM json_each(?))"
ON_TICKET = COLUMNS + "WHERE ticket = ? ORDER BY starts_at, id"
OF_PERSON = COLUMNS + "WHERE person = ? AND starts_at >= ? AND state <> 'cancelled' ORDER BY starts_at, id LIMIT ?"
BEFORE = COLUMNS + "WHERE person = ? AND starts_at < ? AND state <> 'cancelled' ORDER BY starts_at DESC LIMIT ?"
ALL = COLUMNS + "ORDER BY starts_at, id"
ADD = """
INSERT INTO booking (
  uid, person, name, service, staff, starts_at, ends_at, price, note, state, party, made_at, course, sold_on)
VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
"""
CHANGE = """
UPDATE booking SET name = ?, person = ?, service = ?, staff = ?, starts_at = ?, ends_at = ?, price = ?, note = ?,
  state = ?, party = ? WHERE id = ?
"""
ADD_ADDON = "INSERT INTO booking_addon (booking, position, item) VALUES (?, ?, ?)"
SET_TICKET = """
UPDATE booking SET sold_on = CASE WHEN sold_on = ticket THEN :ticket ELSE sold_on END, ticket = :ticket
WHERE id = :booking
"""
TAKE_OFF = """
UPDATE booking SET ticket = NULL, state = CASE WHEN sold_on = ticket THEN 'cancelled' ELSE state END WHERE id = ?
"""
OF_COURSE = COLUMNS + "WHERE course = ? ORDER BY state = 'cancelled', id"
CLEAR_ADDONS = "DELETE FROM booking_addon WHERE booking = ?"
SET_STATE = "UPDATE booking SET state = ?, reason = ? WHERE id = ?"
SET_PRICE = "UPDATE booking SET price = ? WHERE id = ?"
TAKEN = """
SELECT starts_at, ends_at FROM booking WHERE staff = :staff AND course IS NULL AND state NOT IN ('cancelled', 'absent')
  AND starts_at < :end AND ends_at > :start AND id <> :booking
UNION ALL SELECT starts_at, ends_at FROM course WHERE staff = :staff AND cancelled_at IS NULL
  AND starts_at < :end AND ends_at > :start AND id <> :course
ORDER BY starts_at
"""
FOR_SHEET = (
    COLUMNS + "WHERE person = ? AND ((starts_at >= ? AND state <> 'cancelled')"
    " OR (state IN ('cancelled', 'absent') AND deposit > 0)) ORDER BY starts_at, id LIMIT ?"
)
OVER = (
    COLUMNS + "WHERE state IN ('cancelled', 'absent') AND EXISTS (SELECT 1 FROM line l WHERE l.booking = booking.id"
    " AND l.role = 'deposit') AND deposit > 0 ORDER BY starts_at, id"
)
TERMS = "SELECT item, deposit, no_show_fee FROM booking_terms ORDER BY item"
PUT_TERMS = """
INSERT INTO booking_terms (item, deposit, no_show_fee) VALUES (?, ?, ?)
ON CONFLICT (item) DO UPDATE SET deposit = excluded.deposit, no_show_fee = excluded.no_show_fee
"""

WAITING = (
    "SELECT id, name, phone, person, wants, at, state, ticket FROM walk_in WHERE state = 'waiting' ORDER BY at, id"
)
ONE_WALK_IN = "SELECT id, name, phone, person, wants, at, state, ticket FROM walk_in WHERE id = ?"
ADD_WALK_IN = "INSERT INTO walk_in (name, phone, person, wants, at) VALUES (?, ?, ?, ?, ?)"
END_WALK_IN = "UPDATE walk_in SET state = ?, ticket = ? WHERE id = ?"


def _bookings(connection: Connection, sql: str, values: tuple[object, ...]) -> list[Booking]:
    return [_booking(row) for row in connection.execute(sql, values)]


def _booking(row: Row) -> Booking:
    return record(Booking, row, addons=tuple(json.loads(row["addons"])))


def between(connection: Connection, start: str, end: str) -> list[Booking]:
    """Bookings that start in a span, cancelled ones left out."""
    return _bookings(connection, BETWEEN, (start, end))


def unsettled(connection: Connection, start: str, end: str) -> list[Booking]:
    """Bookings from one date until before another that nobody has begun to settle; ISO dates, house time."""
    return _bookings(connection, UNSETTLED, (start, end))


def read(connection: Connection, booking: int) -> Booking | None:
    """A booking, None when there is no such."""
    return next(iter(_bookings(connection, ONE, (booking,))), None)


def by_uid(connection: Connection, uid: str) -> Booking | None:
    """The booking of a calendar's entry, None when there is no such."""
    return next(iter(_bookings(connection, BY_UID, (uid,))), None)


def by_uids(connection: Connection, uids: Iterable[str]) -> dict[str, Booking]:
    """The bookings of a calendar's entries that are there, by these."""
    return {one.uid: one for one in _bookings(connection, BY_UIDS, (json.dumps(list(uids)),))}


def on_ticket(connection: Connection, ticket: int) -> list[Booking]:
    """The bookings that a ticket settles."""
    return _bookings(connection, ON_TICKET, (ticket,))


def of_person(connection: Connection, person: int, since: str, most: int = 6) -> list[Booking]:
    """Somebody's bookings from a moment on, the earliest first."""
    return _bookings(connection, OF_PERSON, (person, since, most))


def before(connection: Connection, person: int, until: str, most: int = 8) -> list[Booking]:
    """Somebody's bookings before a moment, the latest first."""
    return _bookings(connection, BEFORE, (person, until, most))


def all_bookings(connection: Connection) -> list[Booking]:
    """Every booking, for a calendar file."""
    return _bookings(connection, ALL, ())


def add(connection: Connection, booking: Booking, made_at: str) -> int:
    """Keep a booking; the id is given anew."""
    b = booking
    facts = (b.uid, b.person, b.name, b.service, b.staff, b.starts_at, b.ends_at, b.price, b.note, b.state, b.party)
    row = connection.execute(ADD, (*facts, made_at, b.course, b.sold_on)).lastrowid
    assert row is not None
    connection.executemany(ADD_ADDON, [(row, place, item) for place, item in enumerate(b.addons)])
    return row


def change(connection: Connection, booking: Booking) -> None:
    """Write what a calendar or somebody says anew; ticket and add-ons stay."""
    b = booking
    facts = (b.name, b.person, b.service, b.staff, b.starts_at, b.ends_at, b.price, b.note, b.state, b.party)
    connection.execute(CHANGE, (*facts, b.id))


def set_ticket(connection: Connection, booking: int, ticket: int) -> None:
    """On which ticket a booking is settled."""
    connection.execute(SET_TICKET, {"ticket": ticket, "booking": booking})


def take_off(connection: Connection, booking: int) -> None:
    """A booking is settled on no ticket; a place that the ticket sold is free again."""
    connection.execute(TAKE_OFF, (booking,))


def of_course(connection: Connection, course: int) -> list[Booking]:
    """The places of a course in the order in which they were booked, those that were cancelled last."""
    return _bookings(connection, OF_COURSE, (course,))


def set_addons(connection: Connection, booking: int, items: Iterable[str]) -> None:
    """What is booked besides the service, in its order."""
    connection.execute(CLEAR_ADDONS, (booking,))
    connection.executemany(ADD_ADDON, [(booking, place, item) for place, item in enumerate(items)])


def set_state(connection: Connection, booking: int, state: BookingState, reason: str = "") -> None:
    """Whether somebody came, or why it was cancelled."""
    connection.execute(SET_STATE, (state, reason, booking))


def set_price(connection: Connection, booking: int, price: int) -> None:
    """The price of a booking, minor units."""
    connection.execute(SET_PRICE, (price, booking))


def taken(
    connection: Connection, staff: str, start: str, end: str, but: int = 0, course: int = 0
) -> list[tuple[str, str]]:
    """When a staff member is booked or leads a course, as (from, until) in wall time; one of each is left out."""
    asked = {"staff": staff, "start": start, "end": end, "booking": but, "course": course}
    return [(row[0], row[1]) for row in connection.execute(TAKEN, asked)]


def for_sheet(connection: Connection, person: int, since: str, most: int = 20) -> list[Booking]:
    """Somebody's bookings from a moment on, and such as are over with a deposit still held, the earliest first."""
    return _bookings(connection, FOR_SHEET, (person, since, most))


def over_with_deposit(connection: Connection) -> list[Booking]:
    """All bookings that nobody will settle and for which something is still held, the earliest first."""
    return _bookings(connection, OVER, ())


def list_terms(connection: Connection) -> dict[str, ServiceTerms]:
    """The terms of services, by item; those without are left out."""
    return {row["item"]: record(ServiceTerms, row) for row in connection.execute(TERMS)}


def put_terms(connection: Connection, terms: ServiceTerms) -> None:
    """The terms of a service, from now on."""
    connection.execute(PUT_TERMS, (terms.item, terms.deposit, terms.no_show_fee))


def waiting(connection: Connection) -> list[WalkIn]:
    """Walk-ins who wait, the longest first."""
    return [record(WalkIn, row) for row in connection.execute(WAITING)]


def read_walk_in(connection: Connection, walk_in: int) -> WalkIn | None:
    """A walk-in, None when there is no such."""
    row = connection.execute(ONE_WALK_IN, (walk_in,)).fetchone()
    return record(WalkIn, row) if row else None


def add_walk_in(connection: Connection, name: str, phone: str | None, person: int | None, wants: str, at: str) -> int:
    """Keep a walk-in; gives its id."""
    row = connection.execute(ADD_WALK_IN, (name, phone, person, wants, at)).lastrowid
    assert row is not None
    return row


def end_walk_in(connection: Connection, walk_in: int, state: WalkInState, ticket: int | None) -> None:
    """A walk-in was served on a ticket, or left."""
    connection.execute(END_WALK_IN, (state, ticket, walk_in))
