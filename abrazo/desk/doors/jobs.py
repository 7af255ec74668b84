"""Jobs: drop-off with tasks and a deposit, ready, onto a ticket, and handing over piece by piece."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date, datetime
from fractions import Fraction

from abrazo.core.deposits import above_estimate
from abrazo.core.errors import Code, Refused
from abrazo.core.jobs import hand_over, owed_on_ticket, promise_of, promised, still_owed, task_price
from abrazo.core.journal import Kind, Personal
from abrazo.core.ledger import Role
from abrazo.core.moments import wall_text
from abrazo.core.money import bounded, total
from abrazo.core.states import JobState, OwnAbout, Source, TicketState
from abrazo.core.tax import with_added_tax
from abrazo.desk.act import acting, done_before
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.doors.bookings import read_moment
from abrazo.desk.doors.job_surcharges import surcharged
from abrazo.desk.people.own_fields import keep_said, read_said
from abrazo.desk.people.people import known
from abrazo.desk.permissions import Right, need
from abrazo.desk.tickets.change import OnTicket, TicketChange, changing, opening
from abrazo.desk.tickets.guests import join
from abrazo.desk.tickets.snapshot import TicketSnapshot, lines_come_to, load_ticket
from abrazo.desk.tickets.starting import Beginning, TicketOrigin, open_at, opening_at
from abrazo.desk.tickets.ticket_lines import UNLISTED, put_on, read_quantity
from abrazo.formats.typed_amount import read_amount
from abrazo.store import catalogue, deposits, jobs, journal, outbox
from abrazo.store import ticket as ticket_store
from abrazo.store.deposits import HeldDeposit
from abrazo.store.jobs import Job, Task
from abrazo.store.lines import LineRow
from abrazo.store.numbers import Series, next_number
from abrazo.store.people import Person
from abrazo.words import phrases as w

LONGEST_THING, LONGEST_NOTE = 60, 200
MOST_PIECES = 99


@dataclass(frozen=True, slots=True)
class PricedTask:
    """A task as typed with its own price; without an `item` it is one that is on no list, and has a label."""

    item: str = ""
    label: str = ""
    price: str = ""
    quantity: str = ""

    @property
    def said(self) -> bool:
        """Whether anything was typed."""
        return bool(self.item or self.label.strip() or self.price.strip())


@dataclass(frozen=True, slots=True)
class DropOff:
    """What is left with the house, as typed. `tasks` are (item, quantity, pieces); `sure` takes a large deposit.

    `more` are tasks with a price of their own, on the house's list or not.
    """

    person: int
    thing: str
    tasks: tuple[tuple[str, str, str], ...]
    date: str
    time: str
    note: str = ""
    place: str = ""
    staff: str = ""
    deposit: int = 0
    sure: bool = False
    more: tuple[PricedTask, ...] = ()
    surcharges: Collection[str] = ()  # the ids of those that are added
    own: Mapping[str, str] = field(default_factory=dict)  # facts of the house's own, by the names of their fields


def read_job(house: House, job_id: int) -> Job:
    """A job by id."""
    job = jobs.read(house.connection, job_id) if 0 < job_id < 2**63 else None
    if job is None:
        raise NotFound(f"no job {job_id}")
    return job


def estimate_of(house: House, tasks: Sequence[Task]) -> int:
    """What a job's tasks come to, in minor units, with the tax that is added to them."""
    amounts = [(task.tax, task_amount(task)) for task in tasks]
    return bounded(with_added_tax(amounts, house.taxes(), house.settings.tax_mode))


def task_amount(task: Task) -> int:
    """What a task comes to, in minor units, without the tax that is added."""
    return task_price(task.unit_price, Fraction(task.quantity))


def check(house: House, actor: Actor, dropped: DropOff) -> None:
    """Refused, beside its field, when a drop-off could not be taken in as typed; its person may still be missing."""
    _read(house, actor, dropped, " ".join(dropped.thing.split()))


def drop_off(house: House, actor: Actor, dropped: DropOff, ticket_id: int | None, key: str) -> tuple[int, int]:
    """Take a job in: gives the job and the ticket of the visit, on which a deposit stands to be paid first."""

    def make() -> int:
        begun = Beginning(Kind.JOB_LEFT, name=Personal(person.name), thing=Personal(thing))
        return ticket_id or open_at(house, actor, door, begun)

    before = _dropped(house, key)
    if before is not None:
        return before
    person = known(house, dropped.person)
    thing = " ".join(dropped.thing.split())
    job = _read(house, actor, dropped, thing)
    door = TicketOrigin(Source.JOB, person.id, person.name, (person.name,))
    if ticket_id is not None and load_ticket(house, ticket_id).head.state != TicketState.OPEN:
        raise Refused(Code.DROP_OFF_TICKET_CLOSED)
    with opening(house, actor, make, f"{key}-ticket", "dropped off") as edit:
        again = _dropped(house, key)
        if again is not None:
            return again
        if ticket_id is not None:
            ticket_store.touch(house.connection, ticket_id)
        number = next_number(house.connection, Series.JOB, actor.till.id)
        job_id = jobs.add(
            house.connection, replace(job, number=number, prefix=house.settings.job_prefix, dropped_on=edit.id)
        )
        keep_said(house, job_id, read_said(house, OwnAbout.JOB, dropped.own))
        made = read_job(house, job_id)
        edit.wrote(Kind.DROPPED_OFF, job=made.id, name=made.name, thing=Personal(thing), tasks=len(made.tasks))
        if dropped.deposit:
            label = house.say(w.DEPOSIT_LINE, job=made.name, thing=thing)
            facts = (UNLISTED, label, dropped.deposit, "1", None, "", actor.staff.id, "", edit.at, None, None)
            put_on(edit, LineRow(0, *facts, job=job_id, role=Role.DEPOSIT))
        journal.add_act(house.connection, key, "dropped off", "", edit.at, f"{job_id} {edit.id}")
        return job_id, edit.id


def _dropped(house: House, key: str) -> tuple[int, int] | None:
    """Job and ticket of a drop-off that was carried out before."""
    done = done_before(house, key, "dropped off")
    if done is None:
        return None
    job_id, ticket = done.split()
    return int(job_id), int(ticket)


def _read(house: House, actor: Actor, dropped: DropOff, thing: str) -> Job:
    """The job as typed, checked field by field."""
    if not thing:
        raise Refused(Code.NO_THING, "thing")
    if len(thing) > LONGEST_THING:
        raise Refused(Code.TOO_LONG, "thing", most=LONGEST_THING, count=len(thing))
    if len(dropped.note) > LONGEST_NOTE:
        raise Refused(Code.TOO_LONG, "note", most=LONGEST_NOTE, count=len(dropped.note))
    read_said(house, OwnAbout.JOB, dropped.own)
    more = [one for one in dropped.more if one.said]
    if not dropped.tasks and not more:
        raise Refused(Code.NO_TASKS, "tasks")
    tasks = (*(_task(house, *one) for one in dropped.tasks), *(priced_task(house, actor, one) for one in more))
    tasks = (*tasks, *surcharged(house, tasks, dropped.surcharges))
    due = read_moment(house, dropped.date, dropped.time, "due")
    total = estimate_of(house, tasks)
    if dropped.deposit < 0:
        raise Refused(Code.NEGATIVE_DEPOSIT, "deposit")
    open_on(house, due, "due")
    if above_estimate(dropped.deposit, total) and not dropped.sure:
        raise Refused(Code.ABOVE_ESTIMATE, "deposit", deposit=dropped.deposit, estimate=total)
    if dropped.staff and dropped.staff not in house.staff():
        raise NotFound(f"no staff {dropped.staff}")
    moment, at = wall_text(due), house.stamp()
    facts = (dropped.person, thing, dropped.note, moment, " ".join(dropped.place.split()), dropped.staff or None)
    return Job(0, 0, *facts, JobState.WAITING, at, actor.staff.id, None, None, None, agreed=total, tasks=tasks)


def open_on(house: House, due: datetime, where: str) -> None:
    """Refused for a day of the week on which the house promises nothing."""
    days = open_days(house)
    if days and due.isoweekday() not in days:
        raise Refused(Code.CLOSED_THEN, where, day=due.date().isoformat())


def open_days(house: House) -> set[int]:
    """The weekdays on which jobs are promised, Monday is 1."""
    return {int(day) for day in house.settings.open_days.split()}


def promised_on(house: House, tasks: Iterable[str] = ()) -> date:
    """When a job with these tasks that is taken in today is promised, unless said otherwise: the longest of them."""
    asked = [item for item in house.items(tasks).values() if item is not None]
    days = promise_of([item.job_days for item in asked], house.settings.job_days)
    return promised(house.now().date(), open_days(house), days)


def _task(house: House, item_id: str, quantity: str, pieces: str) -> Task:
    item = house.item(item_id)
    if item is None:
        raise NotFound(f"no task {item_id}")
    try:
        many = read_quantity(quantity, item.unit)
    except Refused as refusal:
        raise refusal.at(f"quantity-{item_id}") from None
    plain = pieces.strip() or ("1" if item.unit else many)
    if not (plain.isascii() and plain.isdigit() and 0 < int(plain) <= MOST_PIECES):
        raise Refused(Code.JOB_PIECES, f"quantity-{item_id}", most=MOST_PIECES)
    task_price(item.price, Fraction(many))
    facts = (item.id, item.name, item.price, many, item.unit, int(plain), item.tax, item.report_group)
    return Task(0, 0, *facts)


def priced_task(house: House, actor: Actor, typed: PricedTask) -> Task:
    """A task with its own price. Refused beside the field; one that is on no list is taxed like the first on it.

    Below the list's price, or for nothing, only by right.
    """
    label = " ".join(typed.label.split())
    if typed.item:
        made = _task(house, typed.item, typed.quantity.strip() or "1", "")
        price = made.unit_price if not typed.price.strip() else _price(house, typed.price)
        lowered(house, actor, made.item, price)
        return replace(made, unit_price=price, label=label or made.label)
    if not label:
        raise Refused(Code.NO_TASK_NAME, "more-label")
    if len(label) > LONGEST_THING:
        raise Refused(Code.TOO_LONG, "more-label", most=LONGEST_THING, count=len(label))
    like = next(iter(catalogue.list_tasks(house.connection)), None)
    tax, group = (like.tax, like.report_group) if like else (None, UNLISTED)
    try:
        many = read_quantity(typed.quantity.strip() or "1", "")
    except Refused as refusal:
        raise refusal.at("more-quantity") from None
    price = _price(house, typed.price)
    lowered(house, actor, UNLISTED, price)
    return Task(0, 0, UNLISTED, label, price, many, "", int(Fraction(many)), tax, group)


def lowered(house: House, actor: Actor, item_id: str, price: int) -> None:
    """Refused without the right to set prices when a task costs less than its list says, or nothing."""
    item = house.item(item_id)
    if not price or (item is not None and item.id != UNLISTED and price < item.price):
        need(actor, Right.SET_PRICE)


def _price(house: House, typed: str) -> int:
    price = read_amount(house.settings.currency, typed, "more-price")
    if price < 0:
        raise Refused(Code.NEGATIVE_PRICE, "more-price")
    return price


def estimate_for(house: House, typed: Sequence[tuple[str, str, str]], surcharges: Collection[str] = ()) -> int:
    """What tasks and surcharges would come to, before anything is taken in; (item, quantity, pieces) as typed."""
    tasks = [_task(house, *one) for one in typed]
    return estimate_of(house, [*tasks, *surcharged(house, tasks, surcharges)])


def mark(house: House, actor: Actor, job_id: int, state: str, key: str) -> None:
    """A job waits, is in work, or is ready; who is told that it is ready gets a message."""
    if state not in set(JobState):
        raise NotFound(f"no such state {state!r}")
    with acting(house, actor, "job", key, f"job {job_id}") as act:
        if act.done is not None:
            return
        job, at = read_job(house, job_id), act.at
        if job.cancelled_at is not None:
            raise Refused(Code.JOB_CANCELLED, job=job.name)
        jobs.set_state(act.connection, job_id, JobState(state), at if state == JobState.READY else None)
        if state == JobState.IN_WORK:
            jobs.begin_work(act.connection, job_id, actor.staff.id, at)
        else:
            jobs.end_work(act.connection, job_id, at)
        act.record(Kind.JOB_STATE, job=job_id, name=job.name, state=state)
        person = known(house, job.person)
        to = person.phone or person.email
        if state == JobState.READY and job.state != JobState.READY and to:
            tell_ready(house, job, person, to, at)


def tell_ready(house: House, job: Job, person: Person, to: str, at: str) -> None:
    """A message that a job is ready, with what is still to pay, in the language of whose it is."""
    rest, facts = owed(house, job), {"thing": job.thing, "job": job.name, "house": house.settings.name}
    house = house.speaking_to(person)
    body = house.say(w.READY_TO_PAY if rest else w.READY_PAID, name=person.first_name, rest=rest, **facts)
    title = house.say(w.JOB_READY, name=job.name)
    outbox.add(house.connection, outbox.NewSheet(at, outbox.MESSAGE, title, body, f"ready {job.id}", recipient=to))


def deposit_due(house: House, ticket: int) -> bool:
    """Whether a ticket takes a deposit, and is not paid yet."""
    whole = load_ticket(house, ticket)
    return bool(whole.bill.due) and any(line.role is Role.DEPOSIT for line in whole.standing)


def deposit_left(house: House, job: Job) -> int:
    """What is held for a job and not used yet, in minor units."""
    return total(deposit.amount for deposit in held_for_jobs(house, [job])[job.id])


def jobs_of(house: House, ticket: int) -> list[Job]:
    """Jobs that a ticket settles, then those that it only took in."""
    return house.once(("jobs on", ticket), lambda: jobs.on_ticket(house.connection, ticket))


def held_for_jobs(house: House, several: Sequence[Job]) -> dict[int, list[HeldDeposit]]:
    """The deposits of jobs with what is left of each, by job; one statement."""
    ids = [job.id for job in several]
    found = house.each_once("held", ids, lambda missing: deposits.held_for(house.connection, missing))
    return {id: held or [] for id, held in found.items()}


def came_to(house: House, job: Job) -> int:
    """What a job comes to, in minor units: on the ticket that settles it, else by its estimate; off, nothing."""
    if job.cancelled_at is not None:
        return 0
    if job.settled_on is None:
        return estimate_of(house, job.tasks)
    return _on_ticket(load_ticket(house, job.settled_on), job)


def _on_ticket(whole: TicketSnapshot, job: Job) -> int:
    return lines_come_to(whole, (ln for ln in whole.standing if ln.job == job.id and ln.role is not Role.DEPOSIT))


def owed(house: House, job: Job) -> int:
    """What is still to pay for a job, its deposit taken off; minor units."""
    return owed_of(house, job, came_to(house, job))


def owed_of(house: House, job: Job, comes_to: int) -> int:
    """The same when it is known what the job comes to."""
    if job.settled_on is not None:
        whole = load_ticket(house, job.settled_on)
        if whole.head.state != TicketState.OPEN:
            return 0
        held = {deposit.line for deposit in held_for_jobs(house, [job])[job.id]}
        used = total(payment.amount for payment in whole.taken if payment.deposit in held)
        return owed_on_ticket(whole.bill.due, comes_to, used)
    return still_owed(comes_to, deposit_left(house, job))


def settle(house: House, actor: Actor, job_ids: Sequence[int], key: str) -> int:
    """Put jobs on a ticket to be paid, deposits taken off; gives the ticket."""
    first = read_job(house, job_ids[0])
    if len(job_ids) == 1 and first.settled_on is not None:
        return first.settled_on
    person = known(house, first.person)
    door = TicketOrigin(Source.JOB, person.id, person.name, (person.name,))
    with opening_at(house, actor, door, Beginning(Kind.JOBS_TAKEN, job=first.id, name=first.name), key, "job") as edit:
        if edit.done is None:
            for job_id in job_ids:
                put_job(edit, read_job(house, job_id))
        return edit.id


def add_to_ticket(house: House, actor: Actor, on: OnTicket, job_id: int) -> None:
    """Add a job to an open ticket."""
    with changing(house, actor, on, "job added") as edit:
        if edit.done is None:
            put_job(edit, read_job(house, job_id))


def put_job(edit: TicketChange, job: Job) -> None:
    """A job's tasks come onto the ticket of an edit under way; its deposit is applied when the edit ends."""
    house = edit.house
    if job.cancelled_at is not None:
        raise Refused(Code.JOB_CANCELLED, job=job.name)
    if job.settled_on is not None and job.settled_on != edit.id:
        head = house.head(job.settled_on)
        raise Refused(Code.JOB_TAKEN, job=job.name, number=head.number if head else "")
    if job.dropped_on is not None and job.dropped_on != edit.id:
        visit = house.head(job.dropped_on)
        if visit is not None and visit.state == TicketState.OPEN:
            raise Refused(Code.DROP_OFF_OPEN, job=job.name, number=visit.number)
    elif job.dropped_on == edit.id and any(line.job == job.id for line in edit.whole.standing):
        raise Refused(Code.DEPOSIT_ON_THIS_TICKET, job=job.name)
    guest = join(edit, known(house, job.person).name)
    shares = ((guest, 1),) if len(edit.whole.guests) > 1 else ()
    staff = job.staff or edit.actor.staff.id
    for task in job.tasks:
        item = house.item(task.item)
        assert item is not None
        label, note = f"{task.label}, {job.thing}", job.name
        facts = (item.id, label, task.unit_price, task.quantity, task.tax, task.report_group, staff, note, edit.at)
        put_on(edit, LineRow(0, *facts, None, None, task.unit, job=job.id, shares=shares))
    jobs.set_settled_on(house.connection, job.id, edit.id)
    if edit.whole.head.person is None:
        ticket_store.set_who(house.connection, edit.id, job.person, edit.whole.head.name)
    edit.reread()


def hand_out(house: House, actor: Actor, job_id: int, pieces: Mapping[int, int] | None, note: str, key: str) -> None:
    """Hand over pieces by task, or all that is here. Refused when the last piece would leave unpaid."""
    note = " ".join(note.split())
    if len(note) > LONGEST_NOTE:
        raise Refused(Code.TOO_LONG, "note", most=LONGEST_NOTE, count=len(note))
    with acting(house, actor, "handed over", key, f"job {job_id}") as act:
        if act.done is not None:
            return
        job, at = read_job(house, job_id), act.at
        here = {task.id: job.here(task) for task in job.tasks}
        rest = owed(house, job) if job.settled_on is not None else came_to(house, job)
        leaving = hand_over(here, here if pieces is None else pieces, rest)
        jobs.add_handovers(act.connection, job_id, leaving, note, at, actor.staff.id)
        pieces_left = (sum(leaving.values()), sum(here.values()))
        act.record(
            Kind.HANDED_OVER, job.settled_on, job=job_id, name=job.name, pieces=pieces_left[0], of=pieces_left[1]
        )


def undo_hand_over(house: House, actor: Actor, job_id: int, batch: int) -> None:
    """What left in one hand-over is here again after all."""
    with acting(house, actor, "hand-over undone") as act:
        job = read_job(house, job_id)
        undone = [one for one in job.handovers if one.batch == batch and one.undone_at is None]
        if not undone:
            raise Refused(Code.HAND_OVER_UNDONE)
        jobs.undo_handovers(act.connection, job_id, batch, act.at, actor.staff.id)
        act.record(Kind.HAND_OVER_UNDONE, job=job_id, name=job.name, of_at=undone[0].at)
