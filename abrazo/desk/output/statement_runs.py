"""Statements of many accounts at once: asked for in one act, then made one after the other beside the pages.

Rules here
- whoever has an e-mail address gets theirs by e-mail; the others are in one file, to be printed
- each is made in a transaction of its own: what was made stays made, whenever the process ends, and is not made twice
- what is not made when a run is stopped is not made at all
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Kind
from abrazo.core.states import StatementOutcome
from abrazo.desk.act import acting, fresh, noting
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.output.statements import paper_of, post_statement
from abrazo.desk.payments.statements import statement_of
from abrazo.desk.permissions import Right, need
from abrazo.formats.email_address import read_email
from abrazo.formats.statement import StatementPaper
from abrazo.store import people, statement_runs
from abrazo.store.people import Person
from abrazo.store.statement_runs import Latest, Run, RunRow

MOST_RUNS = 6  # that are listed


@dataclass(frozen=True, slots=True)
class Progress:
    """A run, whose statements it has and what became of each, by state."""

    run: Run
    rows: list[tuple[Person, RunRow]]
    needs_day: bool

    def _of(self, outcome: StatementOutcome | None) -> list[tuple[Person, RunRow]]:
        return [one for one in self.rows if one[1].outcome == outcome]

    @property
    def waiting(self) -> list[tuple[Person, RunRow]]:
        """Not made yet; none when the run was stopped."""
        return [] if self.run.stopped_at else self._of(None)

    @property
    def sent(self) -> list[tuple[Person, RunRow]]:
        """Gone out by e-mail."""
        return [one for one in self._of(StatementOutcome.MAILED) if one[1].sent_at]

    @property
    def held_up(self) -> list[tuple[Person, RunRow]]:
        """Made, and waiting for the line."""
        return [one for one in self._of(StatementOutcome.MAILED) if not one[1].sent_at]

    @property
    def on_paper(self) -> list[tuple[Person, RunRow]]:
        """To be printed."""
        return self._of(StatementOutcome.PAPER)


def ask_for(house: House, actor: Actor, dates: tuple[date, date], whose: Sequence[int], key: str) -> int:
    """The statements of some people are to be made, from one business date to another; gives the run's id.

    Refused without anybody, and without the right to see reports.
    """
    with acting(house, actor, "statements", key, needs=Right.SEE_REPORTS) as act:
        if act.done is not None:
            return int(act.done)
        chosen = list(dict.fromkeys(whose))
        if not chosen:
            raise Refused(Code.NO_ACCOUNT_CHOSEN, "person")
        if len(people.read_many(act.connection, chosen)) < len(chosen):
            raise NotFound(f"not everybody of {chosen} is known")
        first, last = (day.isoformat() for day in dates)
        run = Run(0, act.at, act.day, actor.till.id, actor.staff.id, first, last)
        made = statement_runs.add(act.connection, run, chosen)
        act.record(Kind.STATEMENTS_ASKED, run=made, number=len(chosen), first=first, last=last)
        act.answer = str(made)
    return made


def stop(house: House, actor: Actor, run_id: int) -> None:
    """What is not made yet is not made."""
    with acting(house, actor, "statements", needs=Right.SEE_REPORTS) as act:
        progress = progress_of(house, actor, run_id)
        if progress.waiting:
            statement_runs.stop(act.connection, run_id, act.at)
            act.record(Kind.STATEMENTS_STOPPED, run=run_id, number=len(progress.waiting))


def make_next(house: House) -> bool:
    """Make the next statement that was asked for, if a day is open; True while more are to be made."""
    found = statement_runs.next_row(house.connection)
    house.forget()
    if found is None or house.open_day() is None:
        return False
    run = _known(house, found[0])
    who = Actor(house.staff()[run.staff], house.tills()[run.till], by_itself=True)
    with acting(house, who, "statements") as act:
        if statement_runs.next_row(act.connection) != found:
            return True  # somebody stopped it meanwhile
        person = people.read(act.connection, found[1])
        outcome, sheet = StatementOutcome.LEFT_OUT, None
        if person is not None and not person.erased_at:
            told, to = statement_of(house, person.id, *_dates(run)), _address(person)
            outcome = StatementOutcome.MAILED if to else StatementOutcome.PAPER
            sheet = post_statement(act, told, to) if to else None
        statement_runs.end_row(act.connection, *found, outcome, sheet)
    return statement_runs.next_row(house.connection) is not None


def give_up(house: House) -> None:
    """The next statement cannot be made: it is left out, so that those after it are made."""
    with fresh(house):
        found = statement_runs.next_row(house.connection)
        if found is not None:
            statement_runs.end_row(house.connection, *found, StatementOutcome.LEFT_OUT)


def progress_of(house: House, actor: Actor, run_id: int) -> Progress:
    """How far a run has come. Refused without the right."""
    need(actor, Right.SEE_REPORTS)
    run, rows = _known(house, run_id), statement_runs.rows_of(house.connection, run_id)
    known = people.read_many(house.connection, (row.person for row in rows))
    return Progress(run, [(known[row.person], row) for row in rows], house.open_day() is None)


def latest_runs(house: House, actor: Actor) -> list[Latest]:
    """What was asked for lately, the newest first. Refused without the right."""
    need(actor, Right.SEE_REPORTS)
    return statement_runs.latest(house.connection, MOST_RUNS)


def papers_of(house: House, actor: Actor, run_id: int) -> list[StatementPaper]:
    """The statements of a run that go out on paper, as the books have them now. NotFound when there are none."""
    progress = progress_of(house, actor, run_id)
    if not progress.on_paper:
        raise NotFound(f"no statement of run {run_id} goes out on paper")
    run, dates = progress.run, _dates(progress.run)
    with noting(house) as note:
        note(actor, Kind.FILE_WRITTEN, what="statements", since=run.start, until=run.end)
    return [paper_of(house, statement_of(house, person.id, *dates)) for person, _ in progress.on_paper]


def _known(house: House, run_id: int) -> Run:
    run = statement_runs.read(house.connection, run_id)
    if run is None:
        raise NotFound(f"no statements {run_id}")
    return run


def _dates(run: Run) -> tuple[date, date]:
    return date.fromisoformat(run.start), date.fromisoformat(run.end)


def _address(person: Person) -> str:
    """Where somebody's statement goes by e-mail; empty without an address, or with one that is none."""
    try:
        return read_email(person.email) if person.email else ""
    except Refused:
        return ""
