"""Invoices and credit notes as they were made."""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.core.states import InvoiceKind
from abrazo.store.db import Connection, record


@dataclass(frozen=True, slots=True)
class InvoiceRow:
    """An invoice or credit note; `number` is which of its kind, `document` what it says as JSON."""

    id: int
    kind: InvoiceKind
    number: int
    ticket: int
    payer: int
    buyer: int | None
    credits: int | None
    refund: int | None
    at: str
    day: int
    till: str
    staff: str
    document: str


COLUMNS = "id, kind, number, ticket, payer, buyer, credits, refund, at, day, till, staff, document"
ONE = f"SELECT {COLUMNS} FROM invoice WHERE id = ?"
OF_TICKET = f"SELECT {COLUMNS} FROM invoice WHERE ticket = ? ORDER BY id"
OF_BUYER = f"SELECT {COLUMNS} FROM invoice WHERE buyer = ? ORDER BY id DESC LIMIT ?"
ADD = f"""
INSERT INTO invoice ({COLUMNS})
VALUES (NULL, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
"""
NEXT = "SELECT coalesce(max(number), 0) + 1 FROM invoice WHERE kind = ?"


def read(connection: Connection, invoice: int) -> InvoiceRow | None:
    """An invoice or credit note; None when there is none."""
    row = connection.execute(ONE, (invoice,)).fetchone()
    return record(InvoiceRow, row) if row else None


def of_ticket(connection: Connection, ticket: int) -> list[InvoiceRow]:
    """What was made for a ticket, the oldest first."""
    return [record(InvoiceRow, row) for row in connection.execute(OF_TICKET, (ticket,))]


def of_buyer(connection: Connection, person: int, most: int) -> list[InvoiceRow]:
    """What was made to somebody, the newest first."""
    return [record(InvoiceRow, row) for row in connection.execute(OF_BUYER, (person, most))]


def next_number(connection: Connection, kind: InvoiceKind) -> int:
    """The number that the next one of a kind bears."""
    return int(connection.execute(NEXT, (kind,)).fetchone()[0])


def add(connection: Connection, made: InvoiceRow) -> int:
    """Keep an invoice; its id is given anew, its number has to be the next of its kind."""
    m = made
    about = (m.ticket, m.payer, m.buyer, m.credits, m.refund, m.at, m.day, m.till, m.staff, m.document)
    row = connection.execute(ADD, (m.kind, m.number, *about)).lastrowid
    assert row is not None
    return row
