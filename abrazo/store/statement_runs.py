"""Statements of many accounts that were asked for at once, and what became of each."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from abrazo.core.states import StatementOutcome
from abrazo.store.db import Connection, record


@dataclass(frozen=True, slots=True)
class Run:
    """Statements of some business dates, both counted, that somebody asked for at a till."""

    id: int
    at: str
    day: int
    till: str
    staff: str
    start: str
    end: str
    stopped_at: str | None = None


@dataclass(frozen=True, slots=True)
class RunRow:
    """One person's statement of a run. Of one that is mailed: where to, when it went out, and why not yet."""

    person: int
    outcome: StatementOutcome | None
    recipient: str | None
    sent_at: str | None
    fault: str | None


@dataclass(frozen=True, slots=True)
class Latest:
    """A run with how many statements it has, and how many of them are made."""

    id: int
    at: str
    start: str
    end: str
    stopped_at: str | None
    number: int
    made: int


COLUMNS = "SELECT id, at, day, till, staff, start, end, stopped_at FROM statement_run "
ADD = "INSERT INTO statement_run (at, day, till, staff, start, end) VALUES (?, ?, ?, ?, ?, ?)"
ADD_ROW = "INSERT INTO statement_run_row (run, person) VALUES (?, ?)"
NEXT = """
SELECT w.run, w.person FROM statement_run_row w JOIN statement_run r ON r.id = w.run
WHERE w.outcome IS NULL AND r.stopped_at IS NULL ORDER BY w.run, w.rowid LIMIT 1
"""
END_ROW = "UPDATE statement_run_row SET outcome = ?, sheet = ? WHERE run = ? AND person = ? AND outcome IS NULL"
ROWS = """
SELECT w.person, w.outcome, o.recipient, o.sent_at, o.fault
FROM statement_run_row w LEFT JOIN outbox o ON o.id = w.sheet WHERE w.run = ? ORDER BY w.rowid
"""
STOP = "UPDATE statement_run SET stopped_at = ? WHERE id = ? AND stopped_at IS NULL"
LATEST = """
SELECT r.id, r.at, r.start, r.end, r.stopped_at, count(*) AS number, count(w.outcome) AS made
FROM statement_run r JOIN statement_run_row w ON w.run = r.id GROUP BY r.id ORDER BY r.id DESC LIMIT ?
"""


def add(connection: Connection, run: Run, people: Iterable[int]) -> int:
    """Statements of these people are to be made; gives the run's id. Its own id is not looked at."""
    row = connection.execute(ADD, (run.at, run.day, run.till, run.staff, run.start, run.end)).lastrowid
    assert row is not None
    connection.executemany(ADD_ROW, [(row, person) for person in people])
    return row


def read(connection: Connection, run: int) -> Run | None:
    """A run, None when there is no such."""
    row = connection.execute(COLUMNS + "WHERE id = ?", (run,)).fetchone()
    return record(Run, row) if row else None


def rows_of(connection: Connection, run: int) -> list[RunRow]:
    """The statements of a run, in their order."""
    return [record(RunRow, row) for row in connection.execute(ROWS, (run,))]


def next_row(connection: Connection) -> tuple[int, int] | None:
    """The run and the person whose statement is to be made next; None when nothing waits."""
    row = connection.execute(NEXT).fetchone()
    return (row["run"], row["person"]) if row else None


def end_row(connection: Connection, run: int, person: int, outcome: StatementOutcome, sheet: int | None = None) -> None:
    """What became of somebody's statement, once."""
    connection.execute(END_ROW, (outcome, sheet, run, person))


def stop(connection: Connection, run: int, at: str) -> None:
    """What is not made yet is not made."""
    connection.execute(STOP, (at, run))


def latest(connection: Connection, most: int) -> list[Latest]:
    """The latest runs, the newest first."""
    return [record(Latest, row) for row in connection.execute(LATEST, (most,))]
