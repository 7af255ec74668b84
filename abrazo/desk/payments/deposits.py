"""What is left of deposits of jobs and bookings: given back from the drawer, or kept by its terms."""

from __future__ import annotations

from abrazo.core.deposits import applied_deposits
from abrazo.core.errors import Code, Refused
from abrazo.core.figures import Booked, Figure, FigureKind, deposit_given_back
from abrazo.core.journal import Kind, Personal
from abrazo.core.ledger import kept_deposit_postings, money_account
from abrazo.core.money import total
from abrazo.core.states import Direction, TicketState
from abrazo.desk.act import Act, Facts, acting, write_entry
from abrazo.desk.context import Actor, House
from abrazo.desk.payments.advances import level
from abrazo.desk.permissions import Right, read_reason
from abrazo.desk.tickets.deposits import DepositThing, held_of
from abrazo.desk.tickets.snapshot import load_ticket
from abrazo.desk.till import drawer
from abrazo.store import deposits, till
from abrazo.store.deposits import KeptDeposit
from abrazo.store.till import Petty
from abrazo.words import phrases as w


def give_back(house: House, actor: Actor, thing: DepositThing, key: str) -> int:
    """Give what is left of a thing's deposits back from the drawer; the minor units given."""
    with acting(house, actor, "given back", key, thing.about) as act:
        if act.done is not None:
            return int(act.done)
        rest = give_back_now(house, actor, thing)
        act.answer = str(rest)
    return rest


def keep(house: House, actor: Actor, thing: DepositThing, reason: str, key: str) -> int:
    """What is left of a thing's deposits stays with the house, as its terms say; the minor units kept.

    A supervisor's right. Refused while the thing is on an open ticket: there the deposit goes onto the bill.
    """
    why = read_reason(reason)
    with acting(house, actor, "deposit kept", key, thing.about, Right.KEEP_DEPOSIT) as act:
        if act.done is not None:
            return int(act.done)
        left = total(deposit.amount for deposit in held_of(house, thing))
        act.answer = str(keep_now(house, act, thing, left, why))
        return left


def keep_now(house: House, act: Act, thing: DepositThing, most: int, why: str) -> int:
    """The same inside a transaction that is under way, of at most so much; the minor units kept."""
    held = [deposit for deposit in held_of(house, thing) if deposit.amount]
    if not held:
        raise Refused(Code.NO_DEPOSIT_LEFT, "keep", job=thing.name)
    if thing.settled_on is not None and load_ticket(house, thing.settled_on).head.state == TicketState.OPEN:
        raise Refused(Code.JOB_ON_OPEN_TICKET, "keep", job=thing.name)
    cuts = applied_deposits(most, [deposit.amount for deposit in held])
    kept = [(deposit.line, cut) for deposit, cut in zip(held, cuts, strict=True) if cut]
    who = (act.at, act.day, act.actor.till.id, act.actor.staff.id, act.by)
    for line, cut in kept:
        deposits.keep(act.connection, KeptDeposit(line, cut, why, *who))
    stays = total(cut for _, cut in kept)
    act.record(
        Kind.DEPOSIT_RETAINED,
        thing.settled_on,
        Booked(kept_deposit_postings(stays), (Figure(FigureKind.DEPOSIT, "kept", "", len(kept), stays),)),
        job=thing.job,
        booking=thing.booking,
        name=thing.name,
        amount=stays,
        reason=Personal(why),
        lender=act.by,
    )
    level(house, act.actor, [line for line, _ in kept])
    return stays


def give_back_now(house: House, actor: Actor, thing: DepositThing) -> int:
    """The same inside a transaction that is under way. Refused when nothing is left or the thing is not paid yet."""
    connection, day, at = house.connection, house.day().id, house.stamp()
    held = [deposit for deposit in held_of(house, thing) if deposit.amount]
    rest = total(deposit.amount for deposit in held)
    if not rest:
        raise Refused(Code.NO_DEPOSIT_LEFT, job=thing.name)
    may_go_back(house, thing)
    for deposit in held:
        words = house.say(w.DEPOSIT_GIVEN_BACK, job=thing.name)
        petty = Petty(actor.till.id, actor.staff.id, at, Direction.OUT, words, "", deposit.amount, deposit.line)
        till.add_petty(connection, day, petty)
        drawer.moved(house, actor.till.id, 0, deposit.amount)
        booked = deposit_given_back(money_account("cash", actor.till.id), deposit.amount)
        about: Facts = {"job": thing.job, "booking": thing.booking, "name": thing.name, "amount": deposit.amount}
        write_entry(house, actor, at, Kind.DEPOSIT_RETURNED, thing.settled_on, booked, **about)
    level(house, actor, [deposit.line for deposit in held])
    return rest


def may_go_back(house: House, thing: DepositThing) -> None:
    """Refused while a thing is still to be paid: its deposit goes onto the bill first."""
    if not thing.ended and (thing.settled_on is None or load_ticket(house, thing.settled_on).bill.due):
        raise Refused(Code.JOB_NOT_SETTLED, job=thing.name)
