"""Invoices on accounts, what is just being paid on them, and what moved them, by business date."""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.store.db import Connection, record


@dataclass(frozen=True, slots=True)
class OnAccount:
    """What was left unpaid on a ticket, on an account: an invoice. Minor units."""

    payment: int
    ticket: int
    number: int
    person: int
    at: str
    business_date: str
    amount: int


@dataclass(frozen=True, slots=True)
class Moved:
    """What one ticket came to on an account on a business date, minor units; below zero: it came in."""

    business_date: str
    ticket: int | None
    number: int | None
    amount: int


ALWAYS = "9999-12-31"  # a business date after all others
INVOICES = """
SELECT p.id AS payment, t.id AS ticket, t.number, t.person, p.at, d.business_date, p.amount + p.tip
  - (SELECT coalesce(sum(r.amount), 0) FROM refund r WHERE r.payment = p.id AND r.state = 'done') AS amount
FROM payment p JOIN ticket t ON t.id = p.ticket JOIN day d ON d.id = p.day
WHERE p.tender = 'account' AND t.person = ? AND p.taken_back_at IS NULL AND d.business_date <= ? ORDER BY p.at, p.id
"""
OWING = """
SELECT DISTINCT t.person FROM payment p JOIN ticket t ON t.id = p.ticket
WHERE p.tender = 'account' AND p.taken_back_at IS NULL AND p.at < ?
"""
RECEIVED = """
SELECT l.invoice, l.unit_price - (SELECT coalesce(sum(g.amount), 0) FROM refund_part g JOIN refund r ON r.id = g.refund
   WHERE g.kind = 'line' AND g.ref = l.id AND r.state <> 'not done') AS unit_price,
  t.state = 'open' AS pending FROM line l JOIN ticket t ON t.id = l.ticket JOIN day d ON d.id = t.day
WHERE l.account = ? AND l.removed_at IS NULL AND t.voided_at IS NULL AND d.business_date <= ?
"""
MOVED = """
SELECT d.business_date, j.ticket, t.number, sum(p.amount) AS amount
FROM posting p JOIN journal j ON j.number = p.entry JOIN day d ON d.id = j.day LEFT JOIN ticket t ON t.id = j.ticket
WHERE p.account = ? AND d.business_date BETWEEN ? AND ?
GROUP BY d.business_date, j.ticket HAVING sum(p.amount) <> 0 ORDER BY max(j.number)
"""
BEFORE = """
SELECT coalesce(sum(p.amount), 0) FROM posting p JOIN journal j ON j.number = p.entry JOIN day d ON d.id = j.day
WHERE p.account = ? AND d.business_date < ?
"""


def invoices_of(connection: Connection, person: int, until: str = ALWAYS) -> list[OnAccount]:
    """Everything that somebody left unpaid up to a business date, the oldest first."""
    return [record(OnAccount, row) for row in connection.execute(INVOICES, (person, until))]


def owing_since(connection: Connection, at: str) -> list[int]:
    """People who left something unpaid before then."""
    return [row["person"] for row in connection.execute(OWING, (at,))]


def received(connection: Connection, person: int, until: str = ALWAYS) -> list[tuple[int | None, int, bool]]:
    """Of lines that pay an account, on tickets up to a business date: the invoice, minor units, whether still open."""
    return [
        (row["invoice"], row["unit_price"], bool(row["pending"]))
        for row in connection.execute(RECEIVED, (person, until))
    ]


def moved(connection: Connection, account: str, start: str, end: str) -> list[Moved]:
    """What moved an account from one business date to another, both counted, the oldest first."""
    return [record(Moved, row) for row in connection.execute(MOVED, (account, start, end))]


def balance_before(connection: Connection, account: str, start: str) -> int:
    """What stood on an account before a business date, minor units."""
    return int(connection.execute(BEFORE, (account, start)).fetchone()[0])
