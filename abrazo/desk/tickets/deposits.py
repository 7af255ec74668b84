"""Deposits of jobs and bookings: applied first to the ticket that settles the thing, fitted anew after every change.

A deposit is taken as a line of some ticket and is held from the closing of that ticket on. On the settling ticket it is
a payment of the tender deposit, at most the bill; what is left of it is given back from the drawer or to its card.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from abrazo.core.deposits import applied_deposits, can_apply
from abrazo.core.figures import Booked, tender_figures
from abrazo.core.journal import Kind, Personal
from abrazo.core.ledger import Role, money_account, taken_postings
from abrazo.core.money import total
from abrazo.core.states import BookingState, Tender
from abrazo.desk.context import House
from abrazo.desk.tickets.snapshot import TicketSnapshot, load_ticket
from abrazo.store import bookings, deposits, jobs, snapshots, tenders
from abrazo.store import guests as guests_kept
from abrazo.store.bookings import Booking
from abrazo.store.deposits import HeldDeposit
from abrazo.store.jobs import Job
from abrazo.store.lines import LineRow
from abrazo.store.tenders import PaymentRow
from abrazo.words import phrases as w

if TYPE_CHECKING:
    from abrazo.desk.tickets.change import TicketChange


@dataclass(frozen=True, slots=True)
class DepositThing:
    """What deposits are held for: a job or a booking. `ended`: nobody settles it any more."""

    name: str
    settled_on: int | None
    job: int | None = None
    booking: int | None = None
    ended: bool = False

    @property
    def about(self) -> str:
        """How acts name it."""
        return f"job {self.job}" if self.job is not None else f"booking {self.booking}"

    def has(self, line: LineRow) -> bool:
        """Whether a line is the thing's own, not one that took its deposit."""
        mine = line.job == self.job if self.job is not None else line.booking == self.booking
        return mine and line.role is not Role.DEPOSIT


def of_job(job: Job) -> DepositThing:
    """A job, for deposits; it is over when it was called off."""
    return DepositThing(job.name, job.settled_on, job=job.id, ended=job.cancelled_at is not None)


def of_booking(house: House, booking: Booking) -> DepositThing:
    """A booking, for deposits; whose it was is over when it is cancelled or they did not come."""
    item = house.item(booking.service)
    name = house.say(w.BOOKED_AS, service=item.name if item else booking.service, at=booking.starts_at)
    ended = booking.state in (BookingState.ABSENT, BookingState.CANCELLED)
    return DepositThing(name, booking.ticket, booking=booking.id, ended=ended)


def thing_of(house: House, line: LineRow) -> DepositThing | None:
    """For what a line took a deposit; None when it took none."""
    if line.job is not None:
        job = jobs.read(house.connection, line.job)
        return of_job(job) if job else None
    booking = bookings.read(house.connection, line.booking) if line.booking is not None else None
    return of_booking(house, booking) if booking else None


def held_of(house: House, thing: DepositThing) -> list[HeldDeposit]:
    """The deposits of a thing with what is left of each (may be 0)."""
    if thing.job is not None:
        return deposits.held(house.connection, thing.job)
    return deposits.held_for_bookings(house.connection, [thing.booking or 0])[thing.booking or 0]


def _settled_on(edit: TicketChange) -> list[DepositThing]:
    connection = edit.house.connection
    found = [of_job(job) for job in jobs.settled_on(connection, edit.id)]
    return found + [of_booking(edit.house, one) for one in bookings.on_ticket(connection, edit.id)]


def fit_deposits(edit: TicketChange) -> None:
    """Apply what is held for the ticket's jobs and bookings, at most what is due on the bill; after every change.

    A deposit pays the payer who stands for whose thing it is, else the first.
    """
    settled = _settled_on(edit)
    mine = _applied(edit)
    if not settled and not mine:
        return
    held = [(thing, deposit) for thing in settled for deposit in held_of(edit.house, thing)]
    routes = {deposit.line: edit.house.say(w.DEPOSIT_ROUTE, job=thing.name) for thing, deposit in held}
    applied = [(payment.deposit, payment.amount) for payment in mine if payment.deposit is not None]
    amounts = can_apply({deposit.line: deposit.amount for _, deposit in held}, applied)
    whose = {deposit.line: thing for thing, deposit in held}
    whole = load_ticket(edit.house, edit.id, deposits=False)
    by_payer: dict[int, list[int]] = {}
    for line in sorted(amounts):
        by_payer.setdefault(_payer_of(whole, whose[line], mine, line), []).append(line)
    wanted: dict[int, tuple[int, int]] = {}
    for payer, lines in by_payer.items():
        cuts = applied_deposits(whole.payer_bill(payer).account.open_bill, [amounts[n] for n in lines])
        wanted |= {line: (payer, cut) for line, cut in zip(lines, cuts, strict=True)}
    for line in sorted({*amounts, *(payment.deposit for payment in mine if payment.deposit)}):
        standing = [payment for payment in mine if payment.deposit == line]
        payer, amount = wanted.get(line, (0, 0))
        theirs = all(payment.payer == payer for payment in standing)
        if theirs and total(payment.amount for payment in standing) == amount:
            continue
        for payment in standing:
            _lift(edit, payment)
        if amount:
            _keep(edit, payer, line, routes[line], amount)


def _applied(edit: TicketChange) -> list[PaymentRow]:
    payments = snapshots.payments(edit.house.connection, [edit.id]).get(edit.id, [])
    return [payment for payment in payments if payment.deposit and not payment.taken_back_at]


def _payer_of(whole: TicketSnapshot, thing: DepositThing, mine: list[PaymentRow], line: int) -> int:
    """Who a deposit pays for: whoever stands for the guest that the thing's lines are for, as before, or the first."""
    guests = {guest for one in whole.standing if thing.has(one) for guest, weight in one.shares if weight}
    payers = [guest.payer for guest in whole.guests if guest.id in guests and guest.payer is not None]
    before = [payment.payer for payment in mine if payment.deposit == line]
    known = {payer.id for payer in whole.payers}
    return next((payer for payer in [*payers, *before] if payer in known), whole.payers[0].id)


def lift_deposits(edit: TicketChange) -> None:
    """Take the ticket's deposits off, before it is shared anew; when the change ends they are applied anew."""
    mine = _applied(edit)
    for payment in mine:
        _lift(edit, payment)
    for payer in edit.whole.payers:
        if payer.settled_at and any(payment.payer == payer.id for payment in mine):
            guests_kept.unsettle_payer(edit.house.connection, payer.id)
    if mine:
        edit.reread()


def _lift(edit: TicketChange, payment: PaymentRow) -> None:
    _apply(edit, payment.route, -payment.amount)
    who, till_id = edit.actor.staff.id, edit.actor.till.id
    tenders.take_back(edit.house.connection, payment.id, edit.at, who, edit.day, till_id)


def _apply(edit: TicketChange, route: str, amount: int) -> None:
    kind = Kind.DEPOSIT_APPLIED if amount > 0 else Kind.DEPOSIT_LIFTED
    postings = taken_postings(money_account("deposit", ""), amount)
    edit.wrote(
        kind, Booked(postings, tender_figures(Tender.DEPOSIT, "", amount)), amount=abs(amount), route=Personal(route)
    )


def _keep(edit: TicketChange, payer: int, line: int, route: str, amount: int) -> None:
    _apply(edit, route, amount)
    who, at_till = edit.actor.staff.id, edit.actor.till.id
    payment = PaymentRow(0, edit.id, payer, edit.day, at_till, who, edit.at, Tender.DEPOSIT, route, amount, 0, None,
                          None, None, None, None, deposit=line)  # fmt: skip
    tenders.add_payment(edit.house.connection, payment)
