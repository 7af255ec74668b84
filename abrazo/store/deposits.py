"""Deposits: lines that took money for a job or a booking, and what is left of them."""

from __future__ import annotations

import json
from collections.abc import Iterable
from dataclasses import dataclass

from abrazo.core.states import TicketState
from abrazo.store.db import Connection, record


@dataclass(frozen=True, slots=True)
class HeldDeposit:
    """What is left of a deposit in minor units, the line that took it, and that line's ticket.

    It is for a job or for a booking; `label` is the line's, `at` when its ticket was closed, `person` whose it is.
    """

    line: int
    ticket: int
    amount: int
    job: int | None
    booking: int | None
    label: str
    at: str
    person: str


@dataclass(frozen=True, slots=True)
class KeptDeposit:
    """A deposit that its terms let the house keep; `lender` lent the right. Minor units."""

    line: int
    amount: int
    reason: str
    at: str
    day: int
    till: str
    staff: str
    lender: str | None


TAKEN = """
SELECT l.id AS line, l.ticket AS ticket, l.unit_price
  - (SELECT coalesce(sum(p.amount), 0) FROM payment p WHERE p.deposit = l.id AND p.taken_back_at IS NULL)
  - (SELECT coalesce(sum(b.amount), 0) FROM petty_cash b WHERE b.deposit = l.id)
  - (SELECT coalesce(sum(r.amount), 0) FROM refund r WHERE r.deposit = l.id AND r.state <> 'not done')
  - (SELECT coalesce(sum(g.amount), 0) FROM refund_part g JOIN refund r ON r.id = g.refund
     WHERE g.kind = 'line' AND g.ref = l.id AND r.state <> 'not done')
  - (SELECT coalesce(sum(k.amount), 0) FROM deposit_retained k WHERE k.line = l.id) AS amount,
  l.job, l.booking, l.label, coalesce(t.closed_at, '') AS at,
  coalesce((SELECT name FROM person WHERE id = coalesce(j.person, o.person)), o.name, '') AS person
FROM line l JOIN ticket t ON t.id = l.ticket LEFT JOIN job j ON j.id = l.job LEFT JOIN booking o ON o.id = l.booking
WHERE l.role = 'deposit'
"""
HELD = TAKEN + "AND l.removed_at IS NULL AND t.state = 'closed' "
OF_JOBS = HELD + "AND l.job IN (SELECT value FROM json_each(?)) ORDER BY l.id"
OF_BOOKINGS = HELD + "AND l.booking IN (SELECT value FROM json_each(?)) ORDER BY l.id"
MANY = TAKEN + "AND l.id IN (SELECT value FROM json_each(?)) ORDER BY l.id"
ALL = HELD + "ORDER BY l.id"
ASKED = """
SELECT l.ticket, t.number, t.state FROM line l JOIN ticket t ON t.id = l.ticket
WHERE l.booking = ? AND l.role = 'deposit' AND l.removed_at IS NULL AND t.state IN ('open', 'closed')
ORDER BY l.id DESC LIMIT 1
"""
KEPT_OF_BOOKING = """
SELECT EXISTS (SELECT 1 FROM deposit_retained k JOIN line l ON l.id = k.line WHERE l.booking = ?)
"""
CHARGED_FOR_BOOKING = """
SELECT EXISTS (
  SELECT 1 FROM line l JOIN ticket t ON t.id = l.ticket JOIN booking b ON b.id = l.booking
  WHERE l.booking = ? AND b.state = 'absent' AND l.role = 'sale' AND l.removed_at IS NULL
    AND t.state IN ('open', 'closed'))
"""
KEEP = """
INSERT INTO deposit_retained (line, amount, reason, at, day, till, staff, lender) VALUES (?, ?, ?, ?, ?, ?, ?, ?)
"""


def held(connection: Connection, job: int) -> list[HeldDeposit]:
    """A job's deposits with what is left of each (may be 0); a deposit is held from the closing of its ticket on."""
    return held_for(connection, [job])[job]


def held_for(connection: Connection, jobs: Iterable[int]) -> dict[int, list[HeldDeposit]]:
    """The same of several jobs, by job."""
    found: dict[int, list[HeldDeposit]] = {job: [] for job in jobs}
    for row in connection.execute(OF_JOBS, (json.dumps(list(found)),)):
        found[row["job"]].append(record(HeldDeposit, row))
    return found


def held_for_bookings(connection: Connection, bookings: Iterable[int]) -> dict[int, list[HeldDeposit]]:
    """The same of bookings, by booking."""
    found: dict[int, list[HeldDeposit]] = {booking: [] for booking in bookings}
    for row in connection.execute(OF_BOOKINGS, (json.dumps(list(found)),)):
        found[row["booking"]].append(record(HeldDeposit, row))
    return found


@dataclass(frozen=True, slots=True)
class AskedDeposit:
    """On which ticket, and its number, a deposit stands, paid or still to be paid."""

    ticket: int
    number: int
    state: TicketState


def asked_for_booking(connection: Connection, booking: int) -> AskedDeposit | None:
    """Where the deposit of a booking stands, the last one; None when none was asked for."""
    row = connection.execute(ASKED, (booking,)).fetchone()
    return record(AskedDeposit, row) if row else None


def kept_for_booking(connection: Connection, booking: int) -> bool:
    """Whether the house kept something of a booking's deposit."""
    return bool(connection.execute(KEPT_OF_BOOKING, (booking,)).fetchone()[0])


def charged_for_booking(connection: Connection, booking: int) -> bool:
    """Whether somebody who did not come was charged for it."""
    return bool(connection.execute(CHARGED_FOR_BOOKING, (booking,)).fetchone()[0])


def everything(connection: Connection) -> list[HeldDeposit]:
    """Every deposit that was ever held, with what is left of it."""
    return [record(HeldDeposit, row) for row in connection.execute(ALL)]


def read_many(connection: Connection, lines: Iterable[int]) -> list[HeldDeposit]:
    """Deposits by the lines that took them, also such as are not held any more."""
    return [record(HeldDeposit, row) for row in connection.execute(MANY, (json.dumps(list(lines)),))]


def keep(connection: Connection, deposit: KeptDeposit) -> None:
    """What is left of a deposit is the house's."""
    d = deposit
    connection.execute(KEEP, (d.line, d.amount, d.reason, d.at, d.day, d.till, d.staff, d.lender))
