"""Deposits of jobs: applied first to the ticket that settles the job, and fitted anew after every change of it.

A deposit is taken as a line of the drop-off ticket and is held from the closing of that ticket on. On the settling
ticket it is a payment of the tender deposit, at most the bill; what is left of it is given back from the drawer.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from abrazo.core.deposits import applied_deposits, can_apply
from abrazo.core.figures import Booked, tender_figures
from abrazo.core.journal import Kind, Personal
from abrazo.core.ledger import money_account, taken_postings
from abrazo.core.money import total
from abrazo.core.states import Tender
from abrazo.desk.tickets.snapshot import TicketSnapshot, load_ticket
from abrazo.store import guests as guests_kept
from abrazo.store import jobs, snapshots, tenders
from abrazo.store.jobs import Job
from abrazo.store.tenders import PaymentRow
from abrazo.words import phrases as w

if TYPE_CHECKING:
    from abrazo.desk.tickets.change import TicketChange


def fit_deposits(edit: TicketChange) -> None:
    """Apply what the ticket's jobs hold, at most what is due on the bill; called after every change.

    A deposit pays the payer who stands for whose thing it is, else the first.
    """
    connection = edit.house.connection
    settled = jobs.settled_on(connection, edit.id)
    mine = _applied(edit)
    if not settled and not mine:
        return
    held = [(job, deposit) for job in settled for deposit in jobs.held(connection, job.id)]
    routes = {deposit.line: edit.house.say(w.DEPOSIT_ROUTE, job=job.name) for job, deposit in held}
    applied = [(payment.deposit, payment.amount) for payment in mine if payment.deposit is not None]
    amounts = can_apply({deposit.line: deposit.amount for _, deposit in held}, applied)
    whose = {deposit.line: job for job, deposit in held}
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


def _payer_of(whole: TicketSnapshot, job: Job, mine: list[PaymentRow], line: int) -> int:
    """Who a deposit pays for: whoever stands for the guest that the job's lines are for, as before, or the first."""
    guests = {guest for one in whole.standing if one.job == job.id for guest, weight in one.shares if weight}
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
