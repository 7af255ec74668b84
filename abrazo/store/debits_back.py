"""Charges of bank accounts that came back unpaid. Append-only."""

from __future__ import annotations

import json
from collections.abc import Iterable
from dataclasses import dataclass

from abrazo.store.db import Connection, record


@dataclass(frozen=True, slots=True)
class DebitBack:
    """A charge of a bank account that came back: the service's reference for that, the bank's reason; minor units.

    `besides`: it is owed beside its ticket, whose payment could not be replaced.
    """

    payment: int
    reference: str
    machine: str
    ticket: int
    person: int
    amount: int
    reason: str
    day: int
    at: str
    besides: bool = False


COLUMNS = (
    "SELECT b.payment, b.reference, b.machine, b.ticket, b.person, b.amount, b.reason, b.day, b.at, b.besides "
    "FROM debit_back b "
)
ADD = """
INSERT INTO debit_back (payment, reference, machine, ticket, person, amount, reason, day, at, besides)
VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
"""
OF_TICKET = COLUMNS + "WHERE b.ticket = ? ORDER BY b.at"
CHARGED = (
    "SELECT reference, id FROM payment WHERE tender = 'bank account' AND reference IN (SELECT value FROM json_each(?))"
)
MAY_COME = """
SELECT EXISTS (SELECT 1 FROM payment p WHERE p.tender = 'bank account' AND p.at >= ?
               AND p.id NOT IN (SELECT payment FROM debit_back))
"""
UNSETTLED = (
    COLUMNS
    + """
WHERE NOT EXISTS (SELECT 1 FROM line l JOIN ticket t ON t.id = l.ticket WHERE l.account = b.person
                  AND l.removed_at IS NULL AND t.state = 'closed' AND t.voided_at IS NULL AND t.closed_at > b.at)
  AND NOT EXISTS (SELECT 1 FROM write_off w WHERE w.account = b.person AND w.at > b.at)
ORDER BY b.at
"""
)


def add(connection: Connection, back: DebitBack) -> None:
    """Keep that a charge came back."""
    b = back
    facts = (b.payment, b.reference, b.machine, b.ticket, b.person, b.amount, b.reason, b.day, b.at, b.besides)
    connection.execute(ADD, facts)


def of_ticket(connection: Connection, ticket: int) -> list[DebitBack]:
    """What came back of a ticket's payments."""
    return [record(DebitBack, row) for row in connection.execute(OF_TICKET, (ticket,))]


def charged_under(connection: Connection, references: Iterable[str]) -> dict[str, int]:
    """Our charges of bank accounts by reference: the payment's id; those that are not ours are left out."""
    found = connection.execute(CHARGED, (json.dumps(list(references)),))
    return {row["reference"]: row["id"] for row in found}


def may_come(connection: Connection, since: str) -> bool:
    """Whether a bank account was charged since then, and that has not come back."""
    return bool(connection.execute(MAY_COME, (since,)).fetchone()[0])


def unsettled(connection: Connection) -> list[DebitBack]:
    """What came back, and nothing was paid on the account or written off of it since."""
    return [record(DebitBack, row) for row in connection.execute(UNSETTLED)]
