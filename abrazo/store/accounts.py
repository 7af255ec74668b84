"""Invoices on accounts, and what is just being paid on them."""

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
    amount: int


INVOICES = """
SELECT p.id AS payment, t.id AS ticket, t.number, t.person, p.at, p.amount + p.tip
  - (SELECT coalesce(sum(r.amount), 0) FROM refund r WHERE r.payment = p.id AND r.state = 'done') AS amount
FROM payment p JOIN ticket t ON t.id = p.ticket
WHERE p.tender = 'account' AND t.person = ? AND p.taken_back_at IS NULL ORDER BY p.at, p.id
"""
OWING = """
SELECT DISTINCT t.person FROM payment p JOIN ticket t ON t.id = p.ticket
WHERE p.tender = 'account' AND p.taken_back_at IS NULL AND p.at < ?
"""
RECEIVED = """
SELECT l.invoice, l.unit_price - (SELECT coalesce(sum(g.amount), 0) FROM refund_part g JOIN refund r ON r.id = g.refund
   WHERE g.kind = 'line' AND g.ref = l.id AND r.state <> 'not done') AS unit_price,
  t.state = 'open' AS pending FROM line l JOIN ticket t ON t.id = l.ticket
WHERE l.account = ? AND l.removed_at IS NULL AND t.voided_at IS NULL
"""


def invoices_of(connection: Connection, person: int) -> list[OnAccount]:
    """Everything that somebody ever left unpaid, the oldest first."""
    return [record(OnAccount, row) for row in connection.execute(INVOICES, (person,))]


def owing_since(connection: Connection, at: str) -> list[int]:
    """People who left something unpaid before then."""
    return [row["person"] for row in connection.execute(OWING, (at,))]


def received(connection: Connection, person: int) -> list[tuple[int | None, int, bool]]:
    """Of lines that pay an account: the invoice that is named, minor units, whether the ticket is still open."""
    return [
        (row["invoice"], row["unit_price"], bool(row["pending"])) for row in connection.execute(RECEIVED, (person,))
    ]
