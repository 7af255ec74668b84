"""What is left of a job's deposits: given back from the drawer, or kept by its terms."""

from __future__ import annotations

from abrazo.core.errors import Code, Refused
from abrazo.core.figures import Booked, Figure, FigureKind, deposit_given_back
from abrazo.core.journal import Kind, Personal
from abrazo.core.ledger import kept_deposit_postings, money_account
from abrazo.core.money import total
from abrazo.core.states import Direction, TicketState
from abrazo.desk.act import Facts, acting, write_entry
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.permissions import Right, read_reason
from abrazo.desk.tickets.snapshot import load_ticket
from abrazo.desk.till import drawer
from abrazo.store import jobs, till
from abrazo.store.jobs import Job, KeptDeposit
from abrazo.store.till import Petty
from abrazo.words import phrases as w


def give_back(house: House, actor: Actor, job_id: int, key: str) -> int:
    """Give what is left of a job's deposits back from the drawer; the minor units given."""
    with acting(house, actor, "given back", key, f"job {job_id}") as act:
        if act.done is not None:
            return int(act.done)
        job = jobs.read(act.connection, job_id)
        if job is None:
            raise NotFound(f"no job {job_id}")
        rest = give_back_now(house, actor, job)
        act.answer = str(rest)
    return rest


def keep(house: House, actor: Actor, job_id: int, reason: str, key: str) -> int:
    """What is left of a job's deposits stays with the house, as its terms say; the minor units kept.

    A supervisor's right. Refused while the job is on an open ticket: there the deposit goes onto the bill.
    """
    why = read_reason(reason)
    with acting(house, actor, "deposit kept", key, f"job {job_id}", Right.KEEP_DEPOSIT) as act:
        if act.done is not None:
            return int(act.done)
        job = jobs.read(act.connection, job_id)
        if job is None:
            raise NotFound(f"no job {job_id}")
        held = [deposit for deposit in jobs.held(act.connection, job.id) if deposit.amount]
        rest, at, day = total(deposit.amount for deposit in held), act.at, act.day
        if not rest:
            raise Refused(Code.NO_DEPOSIT_LEFT, "keep", job=job.name)
        if job.settled_on is not None and load_ticket(house, job.settled_on).head.state == TicketState.OPEN:
            raise Refused(Code.JOB_ON_OPEN_TICKET, "keep", job=job.name)
        who = (actor.till.id, actor.staff.id)
        for deposit in held:
            jobs.keep_deposit(act.connection, KeptDeposit(deposit.line, deposit.amount, why, at, day, *who, act.by))
        act.record(
            Kind.DEPOSIT_RETAINED,
            job.settled_on,
            Booked(kept_deposit_postings(rest), (Figure(FigureKind.DEPOSIT, "kept", "", len(held), rest),)),
            job=job_id,
            name=job.name,
            amount=rest,
            reason=Personal(why),
            lender=act.by,
        )
        act.answer = str(rest)
        return rest


def give_back_now(house: House, actor: Actor, job: Job) -> int:
    """The same inside a transaction that is under way. Refused when nothing is left or the job is not paid yet."""
    connection, day, at = house.connection, house.day().id, house.stamp()
    held = [deposit for deposit in jobs.held(connection, job.id) if deposit.amount]
    rest = total(deposit.amount for deposit in held)
    if not rest:
        raise Refused(Code.NO_DEPOSIT_LEFT, job=job.name)
    if job.settled_on is None or load_ticket(house, job.settled_on).bill.due:
        raise Refused(Code.JOB_NOT_SETTLED, job=job.name)
    for deposit in held:
        words = house.say(w.DEPOSIT_GIVEN_BACK, job=job.name)
        petty = Petty(actor.till.id, actor.staff.id, at, Direction.OUT, words, "", deposit.amount, deposit.line)
        till.add_petty(connection, day, petty)
        drawer.moved(house, actor.till.id, 0, deposit.amount)
        booked = deposit_given_back(money_account("cash", actor.till.id), deposit.amount)
        facts: Facts = {"job": job.id, "name": job.name, "amount": deposit.amount}
        write_entry(house, actor, at, Kind.DEPOSIT_RETURNED, job.settled_on, booked, **facts)
    return rest
