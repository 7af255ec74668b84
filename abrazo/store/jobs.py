"""Jobs with their tasks and hand-overs."""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from abrazo.core.states import JobState
from abrazo.store.db import Connection, record


@dataclass(frozen=True, slots=True)
class Task:
    """One task of a job. `quantity` is decimal text in `unit` (empty: times); `pieces` are what is handed over.

    A surcharge has none.
    """

    id: int
    job: int
    item: str
    label: str
    unit_price: int
    quantity: str
    unit: str
    pieces: int
    tax: str | None = None  # of its item, or of a task that is on no list
    report_group: str = ""  # likewise


@dataclass(frozen=True, slots=True)
class Handover:
    """Pieces of a task that left the house; undone when `undone_at` is set.

    What left together has one `batch`: the id of its first row.
    """

    id: int
    job: int
    task: int
    pieces: int
    note: str
    at: str
    staff: str
    undone_at: str | None
    undone_by: str | None
    batch: int = 0


@dataclass(frozen=True, slots=True)
class Job:
    """A thing left with the house. `state` is waiting, in work or ready; handed over follows from the hand-overs.

    `agreed` is what whose it is said yes to, in minor units, when and how; None for what is older than that. It is off
    since `cancelled_at`, for a `reason`; `reminded_at`: when they were last told again that it is ready.
    """

    id: int
    number: int
    person: int
    thing: str
    note: str
    due_at: str
    place: str
    staff: str | None
    state: JobState
    dropped_at: str
    dropped_by: str
    ready_at: str | None
    dropped_on: int | None
    settled_on: int | None
    agreed: int | None = None
    agreed_at: str = ""
    agreed_how: str = ""
    cancelled_at: str | None = None
    reason: str = ""
    reminded_at: str | None = None
    prefix: str = "S-"
    tasks: tuple[Task, ...] = ()
    handovers: tuple[Handover, ...] = ()

    @property
    def name(self) -> str:
        """The number with its series, for example S-1043."""
        return f"{self.prefix}{self.number}"

    @property
    def code(self) -> str:
        """What its barcode says."""
        return f"{self.prefix.rstrip('-')}{self.number}"

    def here(self, task: Task) -> int:
        """Pieces of a task that have not left."""
        gone = sum(one.pieces for one in self.handovers if one.task == task.id and one.undone_at is None)
        return task.pieces - gone

    @property
    def left(self) -> int:
        """Pieces that are still here."""
        return sum(self.here(task) for task in self.tasks)


COLUMNS = """
SELECT id, number, person, thing, note, due_at, place, staff, state, dropped_at, dropped_by, ready_at, dropped_on,
       settled_on, agreed, agreed_at, agreed_how, cancelled_at, reason, reminded_at, prefix FROM job
"""
ONE = COLUMNS + "WHERE id = ?"
MANY = COLUMNS + "WHERE id IN (SELECT value FROM json_each(?)) ORDER BY id"
BY_NUMBER = COLUMNS + "WHERE number = :number AND (:letters = '' OR rtrim(prefix, '-') = :letters)"
OF_PERSON = COLUMNS + "WHERE person = ? ORDER BY id DESC LIMIT 12"
TO_SETTLE = (
    COLUMNS + "WHERE person IN (SELECT value FROM json_each(?)) AND settled_on IS NULL ORDER BY id DESC LIMIT 48"
)
ON_TICKET = COLUMNS + "WHERE settled_on = :ticket OR dropped_on = :ticket ORDER BY settled_on IS NOT :ticket, id"
SETTLED_ON = COLUMNS + "WHERE settled_on = ? ORDER BY id"
# A job is here while a piece of it is; the latest of those that left stay on the rack for a while.
HERE = """id IN (
  SELECT t.job FROM task t WHERE t.ended_at IS NULL GROUP BY t.job HAVING sum(iif(t.surcharge, 0, t.pieces)) > (
    SELECT coalesce(sum(h.pieces), 0) FROM hand_over h WHERE h.job = t.job AND h.undone_at IS NULL))
"""
LEFT_SINCE = "id IN (SELECT job FROM hand_over WHERE at >= ? AND undone_at IS NULL)"
ON_RACK = COLUMNS + "WHERE " + HERE + " OR " + LEFT_SINCE + " ORDER BY due_at, id"
TASKS = """
SELECT t.id, t.job, t.item, t.label, t.unit_price, t.quantity, t.unit, iif(t.surcharge, 0, t.pieces) AS pieces,
  iif(t.report_group = '', i.tax, t.tax) AS tax,
  iif(t.report_group = '', i.report_group, t.report_group) AS report_group
FROM task t JOIN item i ON i.id = t.item
WHERE t.job IN (SELECT value FROM json_each(?)) AND t.ended_at IS NULL ORDER BY t.id
"""
HANDOVERS = """
SELECT id, job, task, pieces, note, at, staff, undone_at, undone_by, batch FROM hand_over
WHERE job IN (SELECT value FROM json_each(?)) ORDER BY id
"""
ADD = """
INSERT INTO job (number, prefix, person, thing, note, due_at, place, staff, dropped_at, dropped_by, dropped_on, agreed)
VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
"""
ADD_TASK = """
INSERT INTO task (job, item, label, unit_price, quantity, unit, pieces, surcharge, tax, report_group)
VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
"""
CHANGE_TASK = "UPDATE task SET unit_price = ?, quantity = ?, pieces = ? WHERE id = ?"
END_TASK = "UPDATE task SET ended_at = ? WHERE id = ?"
CHANGE = "UPDATE job SET thing = ?, note = ?, due_at = ?, place = ?, staff = ? WHERE id = ?"
AGREE = "UPDATE job SET agreed = ?, agreed_at = ?, agreed_how = ? WHERE id = ?"
CANCEL = "UPDATE job SET cancelled_at = ?, reason = ? WHERE id = ?"
REMINDED = "UPDATE job SET reminded_at = ? WHERE id = ?"
BEGIN_WORK = "INSERT INTO job_work (job, staff, began_at) VALUES (?, ?, ?)"
END_WORK = "UPDATE job_work SET ended_at = ? WHERE job = ? AND ended_at IS NULL"
WORK = "SELECT job, staff, began_at, ended_at FROM job_work WHERE job IN (SELECT value FROM json_each(?)) ORDER BY id"
SET_STATE = "UPDATE job SET state = ?, ready_at = ? WHERE id = ?"
SET_SETTLED_ON = "UPDATE job SET settled_on = ? WHERE id = ?"
MOVE_DROPPED = "UPDATE job SET dropped_on = ? WHERE dropped_on = ?"
MOVE_SETTLED = "UPDATE job SET settled_on = ? WHERE settled_on = ?"
ADD_HANDOVER = "INSERT INTO hand_over (job, task, pieces, note, at, staff, batch) VALUES (?, ?, ?, ?, ?, ?, ?)"
SET_BATCH = "UPDATE hand_over SET batch = id WHERE id = ?"
UNDO_HANDOVERS = "UPDATE hand_over SET undone_at = ?, undone_by = ? WHERE job = ? AND batch = ? AND undone_at IS NULL"


def _jobs(connection: Connection, sql: str, values: tuple[object, ...] | dict[str, object]) -> list[Job]:
    rows = connection.execute(sql, values).fetchall()
    if not rows:
        return []
    among = (json.dumps([row["id"] for row in rows]),)
    tasks: dict[int, list[Task]] = {}
    for row in connection.execute(TASKS, among):
        tasks.setdefault(row["job"], []).append(record(Task, row))
    handovers: dict[int, list[Handover]] = {}
    for row in connection.execute(HANDOVERS, among):
        handovers.setdefault(row["job"], []).append(record(Handover, row))
    return [
        record(Job, row, tasks=tuple(tasks.get(row["id"], ())), handovers=tuple(handovers.get(row["id"], ())))
        for row in rows
    ]


def read(connection: Connection, job: int) -> Job | None:
    """A job, None when there is no such."""
    return next(iter(_jobs(connection, ONE, (job,))), None)


def read_many(connection: Connection, jobs: Iterable[int]) -> list[Job]:
    """Jobs by id; those that are not there are left out."""
    return _jobs(connection, MANY, (json.dumps(list(jobs)),))


def by_number(connection: Connection, number: int, letters: str = "") -> Job | None:
    """A job by its number, if said with the letters before it; None when there is no such."""
    return next(iter(_jobs(connection, BY_NUMBER, {"number": number, "letters": letters})), None)


def on_rack(connection: Connection, since: str) -> list[Job]:
    """Jobs that are here, or left after a moment, by due time."""
    return _jobs(connection, ON_RACK, (since,))


def of_person(connection: Connection, person: int) -> list[Job]:
    """Somebody's jobs."""
    return _jobs(connection, OF_PERSON, (person,))


def to_settle(connection: Connection, people: Iterable[int]) -> list[Job]:
    """The jobs of these people that are on no ticket."""
    return _jobs(connection, TO_SETTLE, (json.dumps(list(people)),))


def on_ticket(connection: Connection, ticket: int) -> list[Job]:
    """Jobs that a ticket settles, then those that it only took in."""
    return _jobs(connection, ON_TICKET, {"ticket": ticket})


def settled_on(connection: Connection, ticket: int) -> list[Job]:
    """The jobs that a ticket settles."""
    return _jobs(connection, SETTLED_ON, (ticket,))


def add(connection: Connection, job: Job) -> int:
    """Keep a job with its tasks; ids are given anew."""
    j = job
    facts = (
        j.number,
        j.prefix,
        j.person,
        j.thing,
        j.note,
        j.due_at,
        j.place,
        j.staff,
        j.dropped_at,
        j.dropped_by,
        j.dropped_on,
    )
    row = connection.execute(ADD, (*facts, j.agreed)).lastrowid
    assert row is not None
    add_tasks(connection, row, j.tasks)
    return row


def add_tasks(connection: Connection, job: int, tasks: Iterable[Task]) -> None:
    """Tasks that a job has from now on; tax and group are kept of such as are on no list."""
    facts = [
        (job, t.item, t.label, t.unit_price, t.quantity, t.unit, t.pieces or 1, not t.pieces, *_own(t)) for t in tasks
    ]
    connection.executemany(ADD_TASK, facts)


def _own(task: Task) -> tuple[str | None, str]:
    return (task.tax, task.report_group) if task.item == "unlisted" else (None, "")


def change_task(connection: Connection, task: Task) -> None:
    """Another price, quantity or number of pieces."""
    connection.execute(CHANGE_TASK, (task.unit_price, task.quantity, task.pieces or 1, task.id))


def end_task(connection: Connection, task: int, at: str) -> None:
    """A task is not done after all."""
    connection.execute(END_TASK, (at, task))


def change(connection: Connection, job: Job) -> None:
    """The thing, its note, when it is due, where it lies and whose to do it is."""
    connection.execute(CHANGE, (job.thing, job.note, job.due_at, job.place, job.staff, job.id))


def agree(connection: Connection, job: int, amount: int, at: str, how: str) -> None:
    """What whose it is said yes to, in minor units."""
    connection.execute(AGREE, (amount, at, how, job))


def cancel(connection: Connection, job: int, at: str, reason: str) -> None:
    """A job is called off."""
    connection.execute(CANCEL, (at, reason, job))


def reminded(connection: Connection, job: int, at: str) -> None:
    """Whose it is was told again that it is ready."""
    connection.execute(REMINDED, (at, job))


@dataclass(frozen=True, slots=True)
class Work:
    """When somebody worked on a job; `ended_at` is None while they are at it."""

    job: int
    staff: str
    began_at: str
    ended_at: str | None


def begin_work(connection: Connection, job: int, staff: str, at: str) -> None:
    """Somebody begins to work on a job; who was at it is not any more."""
    end_work(connection, job, at)
    connection.execute(BEGIN_WORK, (job, staff, at))


def end_work(connection: Connection, job: int, at: str) -> None:
    """Nobody works on a job any more."""
    connection.execute(END_WORK, (at, job))


def work_on(connection: Connection, jobs: Iterable[int]) -> list[Work]:
    """When jobs were worked on, the oldest first."""
    return [record(Work, row) for row in connection.execute(WORK, (json.dumps(list(jobs)),))]


def set_state(connection: Connection, job: int, state: JobState, ready_at: str | None) -> None:
    """Where a job stands, and since when it is ready."""
    connection.execute(SET_STATE, (state, ready_at, job))


def set_settled_on(connection: Connection, job: int, ticket: int | None) -> None:
    """On which ticket a job is settled; None takes it off."""
    connection.execute(SET_SETTLED_ON, (ticket, job))


def move(connection: Connection, ticket: int, to: int) -> None:
    """Jobs follow their ticket into another."""
    connection.execute(MOVE_DROPPED, (to, ticket))
    connection.execute(MOVE_SETTLED, (to, ticket))


def add_handovers(connection: Connection, job: int, pieces: Mapping[int, int], note: str, at: str, staff: str) -> int:
    """Keep what left in one hand-over, pieces by task; gives its batch."""
    batch: int | None = None
    for task, number in pieces.items():
        row = connection.execute(ADD_HANDOVER, (job, task, number, note, at, staff, batch)).lastrowid
        assert row is not None
        if batch is None:
            batch = row
            connection.execute(SET_BATCH, (row,))
    assert batch is not None
    return batch


def undo_handovers(connection: Connection, job: int, batch: int, at: str, by: str) -> None:
    """Take back one hand-over, all of its pieces."""
    connection.execute(UNDO_HANDOVERS, (at, by, job, batch))
