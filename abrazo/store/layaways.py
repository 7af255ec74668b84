"""Tickets whose goods are set aside until they are paid."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from abrazo.core.advances import AdvanceTax
from abrazo.store.db import Connection, record


@dataclass(frozen=True, slots=True)
class Layaway:
    """Goods set aside: until when (ISO date), what was paid so far (minor units)."""

    ticket: int
    number: int
    until: str
    held: int
    at: str
    staff: str
    ended_at: str | None = None
    cancelled: bool = False
    prefix: str = "L-"
    taxed: bool = False  # tax on what is paid is owed when it is received

    @property
    def name(self) -> str:
        """The number with its series, for example L-1001."""
        return f"{self.prefix}{self.number}"


COLUMNS = "SELECT ticket, number, until, held, at, staff, ended_at, cancelled, prefix, taxed FROM layaway "
OF_TICKET = COLUMNS + "WHERE ticket = ?"
BY_NUMBER = COLUMNS + "WHERE number = ? AND rtrim(prefix, '-') = ?"
KEPT = COLUMNS + "WHERE ended_at IS NULL ORDER BY until, ticket"
OF_PERSON = """
SELECT y.ticket, y.number, y.until, y.held, y.at, y.staff, y.ended_at, y.cancelled, y.prefix, y.taxed
FROM layaway y JOIN ticket t ON t.id = y.ticket WHERE t.person = ? AND y.ended_at IS NULL ORDER BY y.until, y.ticket
"""
EVERY = COLUMNS + "WHERE held <> 0 ORDER BY ticket"
ADD = """
INSERT INTO layaway (ticket, number, prefix, until, held, at, staff, taxed)
VALUES (?, ?, ?, ?, 0, ?, ?, ?)
"""
HOLD = "UPDATE layaway SET held = ? WHERE ticket = ?"
END = "UPDATE layaway SET ended_at = ?, cancelled = ?, held = 0 WHERE ticket = ?"
TAXES = "SELECT tax, gross, amount FROM layaway_tax WHERE ticket = ? ORDER BY rowid"
CLEAR_TAXES = "DELETE FROM layaway_tax WHERE ticket = ?"
ADD_TAX = "INSERT INTO layaway_tax (ticket, tax, gross, amount) VALUES (?, ?, ?, ?)"
ALL_TAX = "SELECT coalesce(sum(amount), 0) FROM layaway_tax"
RENUMBER = "UPDATE ticket SET number = ? WHERE id = ?"


def of_ticket(connection: Connection, ticket: int) -> Layaway | None:
    """What a ticket sets aside; None when it does not."""
    row = connection.execute(OF_TICKET, (ticket,)).fetchone()
    return record(Layaway, row) if row else None


def by_number(connection: Connection, letters: str, number: int) -> Layaway | None:
    """Goods set aside, by their number and the letters before it."""
    row = connection.execute(BY_NUMBER, (number, letters)).fetchone()
    return record(Layaway, row) if row else None


def kept(connection: Connection) -> list[Layaway]:
    """What is set aside now; what is kept for the shortest time comes first."""
    return [record(Layaway, row) for row in connection.execute(KEPT)]


def of_person(connection: Connection, person: int) -> list[Layaway]:
    """What is set aside for somebody."""
    return [record(Layaway, row) for row in connection.execute(OF_PERSON, (person,))]


def holding(connection: Connection) -> list[Layaway]:
    """All for which money is held."""
    return [record(Layaway, row) for row in connection.execute(EVERY)]


def add(connection: Connection, kept: Layaway) -> None:
    """A ticket's goods are set aside."""
    connection.execute(ADD, (kept.ticket, kept.number, kept.prefix, kept.until, kept.at, kept.staff, kept.taxed))


def hold(connection: Connection, ticket: int, amount: int) -> None:
    """What was paid so far, in minor units."""
    connection.execute(HOLD, (amount, ticket))


def end(connection: Connection, ticket: int, at: str, *, cancelled: bool) -> None:
    """They were handed over, or it was cancelled."""
    connection.execute(END, (at, cancelled, ticket))


def taxes_of(connection: Connection, ticket: int) -> list[AdvanceTax]:
    """The taxes in what is held for goods set aside."""
    return [record(AdvanceTax, row) for row in connection.execute(TAXES, (ticket,))]


def set_taxes(connection: Connection, ticket: int, taxes: Iterable[AdvanceTax]) -> None:
    """The taxes in what is held for them now."""
    connection.execute(CLEAR_TAXES, (ticket,))
    connection.executemany(ADD_TAX, [(ticket, one.tax, one.gross, one.amount) for one in taxes])


def held_tax(connection: Connection) -> int:
    """The tax in all that is held for goods set aside, minor units."""
    return int(connection.execute(ALL_TAX).fetchone()[0])


def renumber(connection: Connection, ticket: int, number: int) -> None:
    """A ticket has another number from now on."""
    connection.execute(RENUMBER, (number, ticket))
