"""The rack of jobs by due time, and a job's sheet."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, datetime, timedelta

from abrazo.core.jobs import beyond_agreed, rack_place, still_owed, worked
from abrazo.core.ledger import Role
from abrazo.core.moments import stamped
from abrazo.core.money import total
from abrazo.core.states import JobStanding, PresetAbout, RackPlace, TicketState
from abrazo.desk.context import House
from abrazo.desk.doors.jobs import (
    came_to,
    deposit_left,
    estimate_of,
    held_for_jobs,
    jobs_of,
    owed_of,
    read_job,
    task_amount,
)
from abrazo.desk.people.own_fields import printed_of
from abrazo.desk.people.people import known
from abrazo.desk.tickets.snapshot import LineRow, load_ticket, load_tickets
from abrazo.formats.job_text import JobPaper
from abrazo.formats.phone import shown
from abrazo.store import catalogue, jobs, prices
from abrazo.store.catalogue import Item
from abrazo.store.jobs import Handover, Job
from abrazo.store.people import Person
from abrazo.words import phrases as w
from abrazo.words.speaking import moment_words

SHOWN_AFTER = timedelta(hours=12)  # how long a job that left stays on the rack


@dataclass(frozen=True, slots=True)
class JobCard:
    """A job on the rack. Minor units; `state` is waiting, in work, ready, handed over.

    `beyond` is what its estimate is more than was agreed; `disposable`: it was ready for so long that it may go.
    """

    job: Job
    person: Person
    state: JobStanding
    where: RackPlace
    estimate: int
    deposit: int
    owed: int
    paid: bool
    came_to: int
    due_words: str
    beyond: int = 0
    disposable: bool = False


@dataclass(frozen=True, slots=True)
class Rack:
    """All jobs that are here, in the columns of the Jobs lens."""

    columns: list[tuple[RackPlace, str, list[JobCard]]]  # key, words, cards
    number: int
    owed: int


def job_state(job: Job) -> JobStanding:
    """Where a job stands."""
    if not job.left:
        return JobStanding.HANDED_OVER
    return JobStanding.CANCELLED if job.cancelled_at is not None else JobStanding(job.state)


def due_words(house: House, moment: datetime, today: date) -> str:
    """A due time in words: the time alone today, else with its day."""
    if moment.date() == today:
        return house.say(w.DUE_TODAY_AT, at=f"{moment:%H:%M}")
    return moment_words(house.reader, moment)


def card_of(house: House, job: Job) -> JobCard:
    """A job as it stands now."""
    now, due = house.now(), datetime.fromisoformat(job.due_at)
    open_day = house.open_day()
    today = date.fromisoformat(open_day.business_date) if open_day else now.date()
    state = job_state(job)
    where = rack_place(due, now, today)
    if state == JobStanding.HANDED_OVER:
        where = RackPlace.HANDED_OVER
    waits = timedelta(seconds=house.since(job.ready_at or job.cancelled_at or job.dropped_at))
    if state in (JobStanding.READY, JobStanding.CANCELLED):
        long = waits > timedelta(days=house.settings.uncollected_days)
        where = RackPlace.UNCOLLECTED if long else RackPlace.READY
    disposal = timedelta(days=house.settings.disposal_days)
    estimate = estimate_of(house, job.tasks)
    comes_to = came_to(house, job)
    rest = owed_of(house, job, comes_to)
    return JobCard(
        job=job,
        person=known(house, job.person),
        state=state,
        where=where,
        estimate=estimate,
        deposit=deposit_left(house, job),
        owed=rest,
        paid=job.settled_on is not None and rest == 0,
        came_to=comes_to,
        due_words=due_words(house, due, now.date()),
        beyond=beyond_agreed(estimate, job.agreed) if state != JobStanding.CANCELLED else 0,
        disposable=bool(disposal) and waits > disposal and where == RackPlace.UNCOLLECTED,
    )


def cards_of(house: House, several: Iterable[Job]) -> list[JobCard]:
    """Jobs as they stand now."""
    found = list(several)
    house.people([job.person for job in found])  # read at once, then taken one by one
    held_for_jobs(house, found)
    load_tickets(house, [job.settled_on for job in found if job.settled_on is not None])
    return [card_of(house, job) for job in found]


def on_rack(house: House) -> list[JobCard]:
    """All jobs that are here, and those that left lately."""
    return house.once("rack", lambda: cards_of(house, _rack_jobs(house)))


def _rack_jobs(house: House) -> list[Job]:
    return house.once("rack jobs", lambda: jobs.on_rack(house.connection, house.stamp(SHOWN_AFTER)))


def settled_tickets(house: House) -> list[int]:
    """The tickets that settle jobs of the rack: they may be read along with others."""
    return [job.settled_on for job in _rack_jobs(house) if job.settled_on is not None]


def people_of_rack(house: House) -> list[int]:
    """Whose the jobs of the rack are: they may be read along with others."""
    return [job.person for job in _rack_jobs(house)]


def rack(house: House) -> Rack:
    """The Jobs lens."""
    cards = on_rack(house)
    words = {
        RackPlace.LATE: w.LATE,
        RackPlace.TODAY: w.DUE_TODAY,
        RackPlace.LATER: w.LATER,
        RackPlace.READY: w.READY,
        RackPlace.UNCOLLECTED: w.UNCOLLECTED,
        RackPlace.HANDED_OVER: w.HANDED_OVER_TODAY,
    }
    columns = [(key, house.say(said), [card for card in cards if card.where == key]) for key, said in words.items()]
    here = [card for card in cards if card.where != RackPlace.HANDED_OVER]
    return Rack(columns, len(here), total(card.owed for card in here))


def to_do(house: House) -> list[JobCard]:
    """The workshop's queue: what waits or is in work, the first due first."""
    open_ = [card for card in on_rack(house) if card.state in (JobStanding.WAITING, JobStanding.IN_WORK)]
    return sorted(open_, key=lambda card: (card.job.due_at, card.job.id))


def presets(house: House) -> tuple[list[str], list[str]]:
    """The notes and the places that a drop-off offers at a touch."""
    connection = house.connection
    return prices.job_presets(connection, PresetAbout.JOB), prices.job_presets(connection, PresetAbout.PLACE)


@dataclass(frozen=True, slots=True)
class HandedOver:
    """What left at once, in words, with who handed it over; `batch` is what undoing names."""

    batch: int
    at: str
    words: str
    by: str
    undone: bool
    note: str


@dataclass(frozen=True, slots=True)
class JobSheet:
    """Everything about one job."""

    card: JobCard
    pieces: list[tuple[int, str, int, int, int]]  # task id, words, pieces, here, minor units
    handed: list[HandedOver]
    visit_open: int | None  # the drop-off ticket when it is still open
    ticket: int | None
    ticket_open: bool
    work: list[tuple[str, int]]  # who worked on it, and how many minutes


def job_sheet(house: House, job_id: int) -> JobSheet:
    """The sheet of a job."""
    job, people = read_job(house, job_id), house.staff()
    labels = {task.id: task.label for task in job.tasks}
    pieces = [
        (task.id, task_words(task.label, task.quantity, task.unit), task.pieces, job.here(task),
         task_amount(task))
        for task in job.tasks
    ]  # fmt: skip
    batches: dict[int, list[Handover]] = {}
    for one in job.handovers:
        batches.setdefault(one.batch, []).append(one)
    handed = [
        HandedOver(
            batch=batch,
            at=gone[0].at,
            words=", ".join(f"{one.pieces} of {labels[one.task]}" for one in gone),
            by=people[gone[0].staff].name,
            undone=gone[0].undone_at is not None,
            note=gone[0].note,
        )
        for batch, gone in batches.items()
    ]
    visit = house.head(job.dropped_on) if job.dropped_on else None
    settled = house.head(job.settled_on) if job.settled_on else None
    return JobSheet(
        card=card_of(house, job),
        pieces=pieces,
        handed=handed,
        visit_open=visit.id if visit and visit.state == TicketState.OPEN else None,
        ticket=job.settled_on,
        ticket_open=settled is not None and settled.state == TicketState.OPEN,
        work=minutes_on(house, job),
    )


def minutes_on(house: House, job: Job) -> list[tuple[str, int]]:
    """Who worked on a job, by name, and how many minutes; somebody who is at it up to now."""
    spans: dict[str, list[tuple[datetime, datetime]]] = {}
    for one in jobs.work_on(house.connection, [job.id]):
        ends = one.ended_at or house.stamp()
        spans.setdefault(house.staff()[one.staff].name, []).append((stamped(one.began_at), stamped(ends)))
    return [(name, worked(theirs)) for name, theirs in spans.items()]


def task_words(label: str, quantity: str, unit: str) -> str:
    """A task in words, with how much of it."""
    if unit:
        return f"{label}, {quantity} {unit}"
    return label if quantity == "1" else f"{quantity} × {label}"


def tasks_offered(house: House) -> list[Item]:
    """What can be done in a job, as items."""
    return catalogue.list_tasks(house.connection)


def claim_paper(house: House, job_id: int) -> JobPaper:
    """What the customer's receipt of a job says, in their language where it is known."""
    return job_paper(house.speaking_to(known(house, read_job(house, job_id).person)), job_id)


def job_paper(house: House, job_id: int) -> JobPaper:
    """What the tag of a job says, and what a receipt says of it."""
    card, text = card_of(house, read_job(house, job_id)), house.settings.currency.text
    job, due = card.job, datetime.fromisoformat(card.job.due_at)
    taken = total(line.unit_price for line in _deposit_lines(house, job))
    return JobPaper(
        house=house.settings.name,
        number=job.name,
        code=job.code,
        person=card.person.name,
        phone=shown(card.person.phone, house.settings.region) if card.person.phone else "",
        thing=job.thing,
        tasks=tuple((task_words(t.label, t.quantity, t.unit), text(task_amount(t)), t.pieces) for t in job.tasks),
        note="; ".join((*_own_words(house, job), *([job.note] if job.note else ()))),
        due=moment_words(house.reader, due),
        estimate=text(card.estimate),
        deposit=text(taken) if taken else "",
        paid=text(card.came_to) if card.paid else "",
        rest="" if card.paid else text(card.owed if job.settled_on is not None else still_owed(card.estimate, taken)),
        staff=house.staff()[job.staff].name if job.staff else "",
        currency=house.settings.currency.code,
        language=house.reader.language,
    )


def _own_words(house: House, job: Job) -> list[str]:
    return printed_of(house, job.id, job.person)


def _deposit_lines(house: House, job: Job) -> list[LineRow]:
    lines = load_ticket(house, job.dropped_on).lines if job.dropped_on else []
    return [line for line in lines if line.job == job.id and line.role is Role.DEPOSIT and not line.removed_at]


def jobs_on(house: House, ticket: int) -> list[JobCard]:
    """Jobs that a ticket settles or took in."""
    return cards_of(house, jobs_of(house, ticket))
