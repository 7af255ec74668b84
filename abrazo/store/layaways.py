"""Tickets whose goods are set aside until they are paid."""

from __future__ import annotations

from dataclasses import dataclass

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

    @property
    def name(self) -> str:
        """The number with its series, for example L-1001."""
        return f"L-{self.number}"


COLUMNS = "SELECT ticket, number, until, held, at, staff, ended_at, cancelled FROM layaway "
OF_TICKET = COLUMNS + "WHERE ticket = ?"
BY_NUMBER = COLUMNS + "WHERE number = ?"
KEPT = COLUMNS + "WHERE ended_at IS NULL ORDER BY until, ticket"
OF_PERSON = """
SELECT y.ticket, y.number, y.until, y.held, y.at, y.staff, y.ended_at, y.cancelled
FROM layaway y JOIN ticket t ON t.id = y.ticket WHERE t.person = ? AND y.ended_at IS NULL ORDER BY y.until, y.ticket
"""
EVERY = COLUMNS + "WHERE held <> 0 ORDER BY ticket"
NEXT = "SELECT coalesce(max(number), 1000) + 1 FROM layaway"
ADD = "INSERT INTO layaway (ticket, number, until, held, at, staff) VALUES (?, ?, ?, 0, ?, ?)"
HOLD = "UPDATE layaway SET held = ? WHERE ticket = ?"
END = "UPDATE layaway SET ended_at = ?, cancelled = ?, held = 0 WHERE ticket = ?"
RENUMBER = "UPDATE ticket SET number = (SELECT max(number) + 1 FROM ticket) WHERE id = ?"


def of_ticket(connection: Connection, ticket: int) -> Layaway | None:
    """What a ticket sets aside; None when it does not."""
    row = connection.execute(OF_TICKET, (ticket,)).fetchone()
    return record(Layaway, row) if row else None


def by_number(connection: Connection, number: int) -> Layaway | None:
    """Goods set aside, by their number."""
    row = connection.execute(BY_NUMBER, (number,)).fetchone()
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


def add(connection: Connection, ticket: int, until: str, at: str, staff: str) -> int:
    """A ticket's goods are set aside; gives their number."""
    number = int(connection.execute(NEXT).fetchone()[0])
    connection.execute(ADD, (ticket, number, until, at, staff))
    return number


def hold(connection: Connection, ticket: int, amount: int) -> None:
    """What was paid so far, in minor units."""
    connection.execute(HOLD, (amount, ticket))


def end(connection: Connection, ticket: int, at: str, *, cancelled: bool) -> None:
    """They were handed over, or it was cancelled."""
    connection.execute(END, (at, cancelled, ticket))


def renumber(connection: Connection, ticket: int) -> None:
    """A ticket has the number of now."""
    connection.execute(RENUMBER, (ticket,))
