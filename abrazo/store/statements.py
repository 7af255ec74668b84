"""What moved somebody's account, by business date, as it stands in the books."""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.store.db import Connection, record


@dataclass(frozen=True, slots=True)
class Moved:
    """What one ticket came to on an account on a business date, minor units; below zero: it came in."""

    business_date: str
    at: str
    ticket: int | None
    number: int | None
    amount: int


@dataclass(frozen=True, slots=True)
class Charged:
    """An invoice with the business date on which it was made; minor units, less what was refunded."""

    payment: int
    business_date: str
    amount: int


MOVED = """
SELECT d.business_date, max(j.at) AS at, j.ticket, t.number, sum(p.amount) AS amount
FROM posting p JOIN journal j ON j.number = p.entry JOIN day d ON d.id = j.day LEFT JOIN ticket t ON t.id = j.ticket
WHERE p.account = ? AND d.business_date BETWEEN ? AND ?
GROUP BY d.business_date, j.ticket HAVING sum(p.amount) <> 0 ORDER BY max(j.number)
"""
BEFORE = """
SELECT coalesce(sum(p.amount), 0) FROM posting p JOIN journal j ON j.number = p.entry JOIN day d ON d.id = j.day
WHERE p.account = ? AND d.business_date < ?
"""
CHARGED = """
SELECT p.id AS payment, d.business_date, p.amount + p.tip
  - (SELECT coalesce(sum(r.amount), 0) FROM refund r WHERE r.payment = p.id AND r.state = 'done') AS amount
FROM payment p JOIN ticket t ON t.id = p.ticket JOIN day d ON d.id = p.day
WHERE p.tender = 'account' AND t.person = ? AND p.taken_back_at IS NULL AND d.business_date <= ? ORDER BY p.at, p.id
"""
MEANT = """
SELECT l.invoice, sum(l.unit_price) AS amount FROM line l JOIN ticket t ON t.id = l.ticket JOIN day d ON d.id = t.day
WHERE l.account = ? AND l.invoice IS NOT NULL AND l.removed_at IS NULL AND t.voided_at IS NULL
  AND t.closed_at IS NOT NULL AND d.business_date <= ? GROUP BY l.invoice
"""


def moved(connection: Connection, account: str, start: str, end: str) -> list[Moved]:
    """What moved an account from one business date to another, both counted, the oldest first."""
    return [record(Moved, row) for row in connection.execute(MOVED, (account, start, end))]


def balance_before(connection: Connection, account: str, start: str) -> int:
    """What stood on an account before a business date, minor units."""
    return int(connection.execute(BEFORE, (account, start)).fetchone()[0])


def charged(connection: Connection, person: int, end: str) -> list[Charged]:
    """Somebody's invoices up to a business date, the oldest first."""
    return [record(Charged, row) for row in connection.execute(CHARGED, (person, end))]


def meant(connection: Connection, person: int, end: str) -> dict[str, int]:
    """What came in up to a business date for invoices that were named, in minor units by invoice."""
    return {str(row["invoice"]): row["amount"] for row in connection.execute(MEANT, (person, end))}
