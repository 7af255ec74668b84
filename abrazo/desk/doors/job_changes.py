"""Jobs that are there: changed, agreed upon anew, called off, reminded of.

Rules here
- until a job is on a ticket, everything of it can be changed; then its lines are changed there
- a task costs less than its list says, or nothing, only by right, as a line of a ticket does
- pieces that have left stay with their task: it is not taken off, nor made less than they are
- who brought it said yes to an estimate; when it grows, their yes to more is kept with when and how
- what is called off is handed over for nothing; its deposit stays until it is given back or kept
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Kind, Personal
from abrazo.core.moments import read_wall, wall_text
from abrazo.core.states import JobState, OwnAbout
from abrazo.desk.act import Act, acting
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.doors.bookings import not_past
from abrazo.desk.doors.jobs import (
    LONGEST_NOTE,
    LONGEST_THING,
    MOST_PIECES,
    PricedTask,
    estimate_of,
    lowered,
    open_on,
    priced_task,
    read_job,
    tell_ready,
)
from abrazo.desk.history import not_since
from abrazo.desk.people.own_fields import keep_said, read_said, said_of
from abrazo.desk.people.people import known
from abrazo.desk.permissions import read_reason
from abrazo.desk.tickets.ticket_lines import read_quantity
from abrazo.formats.typed_amount import read_amount
from abrazo.store import jobs
from abrazo.store.jobs import Job, Task


@dataclass(frozen=True, slots=True)
class TaskChange:
    """A task of a job as typed: its price for one, how many, whether it is taken off."""

    price: str
    quantity: str
    off: bool = False


@dataclass(frozen=True, slots=True)
class JobChange:
    """A job as typed: everything of it; tasks by id, and more of them."""

    thing: str
    note: str
    date: str
    time: str
    place: str
    staff: str
    tasks: Mapping[int, TaskChange]
    more: Sequence[PricedTask] = ()
    seen: int | None = None  # the last entry about it that was shown, 0 for none; None: it is not asked
    own: Mapping[str, str] = field(default_factory=dict)  # facts of the house's own, by the names of their fields


def change(house: House, actor: Actor, job_id: int, wanted: JobChange, key: str) -> None:
    """Change a job. Refused beside the field; tasks only while it is on no ticket."""
    with acting(house, actor, "job changed", key, f"job {job_id}") as act:
        if act.done is not None:
            return
        not_since(house, "job", job_id, wanted.seen)
        before = read_job(house, job_id)
        if before.cancelled_at is not None:
            raise Refused(Code.JOB_CANCELLED, "job", job=before.name)
        after, said = _facts(house, before, wanted), read_said(house, OwnAbout.JOB, wanted.own, job_id)
        stands = {one.field.id: one.value for one in said_of(house, OwnAbout.JOB, job_id)}
        keep_said(house, job_id, said)
        if after != before or {**stands, **said} != stands:
            jobs.change(act.connection, after)
            act.record(Kind.JOB_CHANGED, job=job_id, name=before.name, thing=Personal(after.thing), due=after.due_at,
                       place=after.place or None, served=after.staff, note=Personal(after.note))  # fmt: skip
        _tasks(act, before, wanted)


def _facts(house: House, before: Job, wanted: JobChange) -> Job:
    thing, note, place = (" ".join(text.split()) for text in (wanted.thing, wanted.note, wanted.place))
    if not thing:
        raise Refused(Code.NO_THING, "thing")
    for where, text, most in (("thing", thing, LONGEST_THING), ("note", note, LONGEST_NOTE)):
        if len(text) > most:
            raise Refused(Code.TOO_LONG, where, most=most, count=len(text))
    due = read_wall(wanted.date, wanted.time, "due")
    if wall_text(due) != before.due_at:
        not_past(house, due, "due")
        open_on(house, due, "due")
    if wanted.staff and wanted.staff not in house.staff():
        raise NotFound(f"no staff {wanted.staff}")
    return replace(before, thing=thing, note=note, place=place, due_at=wall_text(due), staff=wanted.staff or None)


def _tasks(act: Act, before: Job, wanted: JobChange) -> None:
    house = act.house
    more = [priced_task(house, act.actor, one) for one in wanted.more if one.said]
    typed = [(task, wanted.tasks[task.id]) for task in before.tasks if task.id in wanted.tasks]
    changed = [(task, after) for task, one in typed if (after := _task(act, before, task, one)) != task]
    if not more and not changed:
        return
    if before.settled_on is not None:
        head = house.head(before.settled_on)
        raise Refused(Code.JOB_TAKEN, "job", job=before.name, number=head.number if head else "")
    ended = {task.id for task, after in changed if after is None}
    if not more and not any(task.pieces for task in before.tasks if task.id not in ended):  # surcharges alone are none
        raise Refused(Code.NO_TASKS, "tasks")
    estimate = estimate_of(house, before.tasks)
    for task, after in changed:
        if after is None:
            jobs.end_task(act.connection, task.id, act.at)
            act.record(Kind.TASK_ENDED, job=before.id, name=before.name, text=task.label)
        else:
            jobs.change_task(act.connection, after)
            act.record(Kind.TASK_CHANGED, job=before.id, name=before.name, text=task.label, quantity=after.quantity,
                       amount=after.unit_price, before=task.unit_price)  # fmt: skip
    jobs.add_tasks(act.connection, before.id, more)
    for task in more:
        act.record(Kind.TASK_ADDED, job=before.id, name=before.name, text=task.label, quantity=task.quantity,
                   amount=task.unit_price)  # fmt: skip
    act.record(Kind.ESTIMATE, job=before.id, name=before.name, before=estimate, lender=_lender(act),
               amount=estimate_of(house, read_job(house, before.id).tasks))  # fmt: skip


def _task(act: Act, job: Job, task: Task, typed: TaskChange) -> Task | None:
    """A task as it is from now on; None when it is taken off."""
    house = act.house
    gone = task.pieces - job.here(task)
    if typed.off:
        if gone:
            raise Refused(Code.TASK_HANDED_OVER, f"task-{task.id}", task=task.label)
        return None
    price = read_amount(house.settings.currency, typed.price, f"price-{task.id}")
    if price < 0:
        raise Refused(Code.NEGATIVE_PRICE, f"price-{task.id}")
    if price < task.unit_price:
        lowered(house, act.actor, task.item, price)
    try:
        many = read_quantity(typed.quantity, task.unit)
    except Refused as refusal:
        raise refusal.at(f"quantity-{task.id}") from None
    pieces = task.pieces if task.unit or many == task.quantity or not task.pieces else int(many)
    if not gone <= pieces <= MOST_PIECES:
        raise Refused(Code.TASK_HANDED_OVER, f"quantity-{task.id}", task=task.label)
    return replace(task, unit_price=price, quantity=many, pieces=pieces)


def _lender(act: Act) -> str | None:
    """Who lent a right for this change."""
    return act.actor.lender.id if act.actor.lender else None


def agree(house: House, actor: Actor, job_id: int, how: str, key: str) -> None:
    """Who brought it says yes to what it comes to now; how they said so is kept."""
    how = " ".join(how.split())
    if len(how) > LONGEST_THING:
        raise Refused(Code.TOO_LONG, "how", most=LONGEST_THING, count=len(how))
    with acting(house, actor, "agreed", key, f"job {job_id}") as act:
        if act.done is None:
            job = read_job(house, job_id)
            amount = estimate_of(house, job.tasks)
            jobs.agree(act.connection, job_id, amount, act.at, how)
            act.record(Kind.JOB_AGREED, job=job_id, name=job.name, amount=amount, before=job.agreed,
                       how=Personal(how) if how else None)  # fmt: skip


def cancel(house: House, actor: Actor, job_id: int, reason: str, key: str) -> None:
    """A job is called off; what is here of it is handed over for nothing. Refused once it is on a ticket."""
    why = read_reason(reason)
    with acting(house, actor, "job cancelled", key, f"job {job_id}") as act:
        if act.done is not None:
            return
        job = read_job(house, job_id)
        if job.cancelled_at is not None:
            raise Refused(Code.JOB_CANCELLED, "reason", job=job.name)
        if job.settled_on is not None:
            head = house.head(job.settled_on)
            raise Refused(Code.JOB_TAKEN, "reason", job=job.name, number=head.number if head else "")
        jobs.cancel(act.connection, job_id, act.at, why)
        jobs.end_work(act.connection, job_id, act.at)
        act.record(Kind.JOB_CANCELLED, job=job_id, name=job.name, reason=Personal(why))


def remind(house: House, actor: Actor, job_id: int, key: str) -> None:
    """Tell whose it is again that it is ready. Refused for what is not, and for who cannot be reached."""
    with acting(house, actor, "job reminded", key, f"job {job_id}") as act:
        if act.done is not None:
            return
        job = read_job(house, job_id)
        person = known(house, job.person)
        to = person.phone or person.email
        if job.state != JobState.READY or not job.left:
            raise Refused(Code.JOB_NOT_READY, "job", job=job.name)
        if not to:
            raise Refused(Code.NOBODY_TO_REACH, "job", name=person.name)
        tell_ready(house, job, person, to, act.at)
        jobs.reminded(act.connection, job_id, act.at)
        act.record(Kind.JOB_REMINDED, job=job_id, name=job.name)
