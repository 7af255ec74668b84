"""What happens after sales: the house's actions, and what each ticket has of them."""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.core.states import AfterSale, AfterSaleOutcome
from abrazo.store.db import Connection, record


@dataclass(frozen=True, slots=True)
class AfterSaleRow:
    """An action: for tickets that began in some ways (with semicolons, empty: any), so many days later, at HH:MM."""

    id: str
    name: str
    does: AfterSale
    sources: str
    days: int
    clock: str
    words: str
    ended_at: str | None = None  # since when it is retired


@dataclass(frozen=True, slots=True)
class AfterSaleTask:
    """An action of one ticket: due from a moment on (UTC), with what became of it."""

    id: int
    ticket: int
    action: str
    staff: str
    till: str
    due_at: str
    done_at: str | None
    outcome: AfterSaleOutcome = AfterSaleOutcome.WAITING


ACTIONS = """
SELECT id, name, does, sources, days, clock, words, ended_at FROM after_sale WHERE ended_at IS NULL
ORDER BY position, id
"""
ANY_ACTION = "SELECT id, name, does, sources, days, clock, words, ended_at FROM after_sale WHERE id = ?"
ADD = """
INSERT INTO after_sale (id, name, does, sources, days, clock, words, position) VALUES (?, ?, ?, ?, ?, ?, ?, ?)
"""
TASK = "SELECT id, ticket, action, staff, till, due_at, done_at, outcome FROM after_sale_task "
OF_TICKET = TASK + "WHERE ticket = ? ORDER BY id"
DUE = TASK + (
    "WHERE outcome = '' AND due_at <= ? "
    "AND (SELECT state FROM ticket WHERE ticket.id = after_sale_task.ticket) <> 'open' ORDER BY due_at, id"
)
PLAN = """
INSERT INTO after_sale_task (ticket, action, staff, till, due_at, outcome, done_at) VALUES (?, ?, ?, ?, ?, ?, ?)
ON CONFLICT DO NOTHING
"""
LEAVE_OUT = """
UPDATE after_sale_task SET outcome = 'left out', done_at = ? WHERE ticket = ? AND action = ? AND outcome = ''
"""
BRING_BACK = "DELETE FROM after_sale_task WHERE ticket = ? AND action = ? AND outcome = 'left out'"
WAIT_AGAIN = """
UPDATE after_sale_task SET outcome = '', done_at = NULL WHERE ticket = ? AND action = ? AND outcome = 'left out'
"""
END = "UPDATE after_sale_task SET outcome = ?, done_at = ? WHERE id = ? AND outcome = ''"


def add(connection: Connection, action: AfterSaleRow, position: int) -> None:
    """A new action, at its place."""
    a = action
    connection.execute(ADD, (a.id, a.name, a.does, a.sources, a.days, a.clock, a.words, position))


def actions(connection: Connection) -> list[AfterSaleRow]:
    """The house's actions, in its order."""
    return [record(AfterSaleRow, row) for row in connection.execute(ACTIONS)]


def action(connection: Connection, id: str) -> AfterSaleRow:
    """One action, also a retired one."""
    return record(AfterSaleRow, connection.execute(ANY_ACTION, (id,)).fetchone())


def of_ticket(connection: Connection, ticket: int) -> list[AfterSaleTask]:
    """What is to happen after a ticket, did, or was left out."""
    return [record(AfterSaleTask, row) for row in connection.execute(OF_TICKET, (ticket,))]


def due(connection: Connection, at: str) -> list[AfterSaleTask]:
    """What is due by a moment, of tickets that have ended, oldest first."""
    return [record(AfterSaleTask, row) for row in connection.execute(DUE, (at,))]


def plan(connection: Connection, task: AfterSaleTask) -> None:
    """Write down what is to happen, or was left out; what is written down of the same stays. The id is given here."""
    t = task
    connection.execute(PLAN, (t.ticket, t.action, t.staff, t.till, t.due_at, t.outcome, t.done_at))


def leave_out(connection: Connection, ticket: int, action: str, at: str) -> None:
    """What waits is left out."""
    connection.execute(LEAVE_OUT, (at, ticket, action))


def bring_back(connection: Connection, ticket: int, action: str) -> None:
    """What was left out is not left out."""
    connection.execute(BRING_BACK, (ticket, action))


def wait_again(connection: Connection, ticket: int, action: str) -> None:
    """What was left out waits again for its moment."""
    connection.execute(WAIT_AGAIN, (ticket, action))


def end(connection: Connection, task: int, outcome: AfterSaleOutcome, at: str) -> bool:
    """It happened, or is given up; False when that was said before."""
    return connection.execute(END, (outcome, at, task)).rowcount == 1
