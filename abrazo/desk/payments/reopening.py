"""Correcting after closing: a ticket is opened again and its closing turned round; it is then paid as any other.

Everything stays: the old payments, the new ones, who allowed it and why. A ticket of a day that is closed keeps that
day; the correction shows in both days' reports. Somebody without the right hands the correction on.
"""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass, field

from abrazo.core.errors import Code, Refused
from abrazo.core.figures import closed
from abrazo.core.journal import Kind, Personal
from abrazo.core.ledger import Role
from abrazo.core.money import totals
from abrazo.core.states import CorrectionKind, RefundState, TicketState
from abrazo.desk.context import Actor, House
from abrazo.desk.payments import tenders
from abrazo.desk.payments.advances import level_ticket
from abrazo.desk.payments.invoices import credit_all
from abrazo.desk.payments.stored_value import unearn
from abrazo.desk.permissions import Right, read_reason
from abrazo.desk.tickets.change import OnTicket, TicketChange, changing, correcting
from abrazo.desk.tickets.deposits import held_of, thing_of
from abrazo.desk.tickets.hires import reopen_hires
from abrazo.desk.tickets.memberships import reopen_memberships
from abrazo.desk.tickets.series import reopen_series, void_series
from abrazo.desk.tickets.snapshot import load_ticket
from abrazo.store import bookings, corrections, jobs, stored_value
from abrazo.store import ticket as ticket_store
from abrazo.store.corrections import Correction


def reopen(house: House, actor: Actor, on: OnTicket, reason: str, payment: int | None = None) -> None:
    """Open a closed ticket again; with `payment` that recorded payment is taken back at once, to be charged instead."""
    why = read_reason(reason)
    with correcting(house, actor, on, "reopened", needs=Right.REOPEN) as edit:
        if edit.done is None:
            _open_again(edit, why, CorrectionKind.REOPENED, payment)
    if payment is not None:
        tenders.take_back(house, actor, OnTicket(on.id, edit.whole.head.version + 1, f"{on.key}-back"), payment)


def _open_again(edit: TicketChange, why: str, kind: CorrectionKind, payment: int | None) -> None:
    whole, connection = edit.whole, edit.house.connection
    if payment is not None and all(one.id != payment or not one.recorded for one in whole.taken):
        raise Refused(Code.NOT_RECORDED)
    _may_be_opened(edit)
    back = closed(whole.ticket, whole.bill, whole.uses, whole.sold_from).turned()
    entry = Kind.REOPENED_TO_VOID if kind == CorrectionKind.VOID else Kind.REOPENED
    edit.wrote(entry, back, reason=Personal(why), lender=edit.by)
    credit_all(edit, why)
    unearn(edit)
    reopen_hires(edit)
    reopen_memberships(edit)
    reopen_series(edit)
    ticket_store.set_reopened(
        connection, edit.id, edit.at, edit.at if kind == CorrectionKind.VOID else None
    )  # first: its table may be busy
    ticket_store.set_state(connection, edit.id, TicketState.OPEN, whole.head.closed_at)
    level_ticket(edit, closed=False)
    facts = (why, whole.head.day, edit.day, edit.actor.till.id, edit.actor.staff.id, edit.by, edit.at)
    corrections.add(connection, Correction(0, edit.id, payment, kind, *facts))
    for line in whole.standing:
        if line.stored is not None and stored_value.balance(connection, line.stored) < 0:
            raise Refused(Code.STORED_SPENT, line=line.label)


def _may_be_opened(edit: TicketChange) -> None:
    """A deposit that is used, given back or kept, and money refunded already, keep a ticket as it is."""
    for line in edit.whole.standing:
        thing = thing_of(edit.house, line) if line.role is Role.DEPOSIT else None
        if thing is not None and thing.settled_on is not None:
            raise Refused(Code.DEPOSIT_ELSEWHERE, job=thing.name)
        if thing is not None and any(
            one.line == line.id and one.amount < line.unit_price for one in held_of(edit.house, thing)
        ):
            raise Refused(Code.DEPOSIT_GONE, job=thing.name)
    if any(refund.state != RefundState.NOT_DONE for refund in corrections.refunds_of(edit.house.connection, edit.id)):
        raise Refused(Code.REFUNDED_TICKET)


@dataclass(frozen=True, slots=True)
class HandedOnAs:
    """A correction as somebody without the right filled it in: which payment, why, and the whole of what was typed."""

    payment: int | None
    reason: str
    typed: Mapping[str, str] = field(default_factory=dict)


def hand_on(house: House, actor: Actor, on: OnTicket, wanted: HandedOnAs) -> None:
    """Leave a correction to a supervisor, with its facts; it stays on their list until done."""
    why = read_reason(wanted.reason)
    with correcting(house, actor, on, "handed on") as edit:
        if edit.done is None:
            facts = (why, edit.whole.head.day, edit.day, actor.till.id, actor.staff.id, None, edit.at)
            typed = json.dumps(wanted.typed) if wanted.typed else ""
            made = Correction(0, edit.id, wanted.payment, CorrectionKind.HANDED_ON, *facts, typed=typed)
            corrections.add(house.connection, made)
            edit.wrote(Kind.HANDED_ON, payment=wanted.payment, reason=Personal(why))


# ---- void


def void(house: House, actor: Actor, on: OnTicket, reason: str) -> None:
    """Make a closed ticket void: every payment goes back by its own route, then it ends without a sale."""
    why = read_reason(reason)
    with correcting(house, actor, on, "void", needs=Right.VOID) as edit:
        if edit.done is None:
            _credit_is_there(edit)
            _open_again(edit, why, CorrectionKind.VOID, None)
    go_on_voiding(house, actor, on.id)


def _credit_is_there(edit: TicketChange) -> None:
    """Store credit that came of this ticket's payments goes back with them: refused when it is spent already."""
    made = totals((p.stored, p.credit) for p in edit.whole.taken if p.credit and p.stored)
    if any(stored_value.balance(edit.house.connection, account) < credit for account, credit in made.items()):
        raise Refused(Code.CREDIT_SPENT_FOR_VOID)


def go_on_voiding(house: House, actor: Actor, ticket_id: int) -> None:
    """Give back what can be given back now, ask the machines for the rest one by one; end when nothing is left.

    Called again when a machine has answered, and after a start: nothing is lost when the process dies in between.
    """
    if load_ticket(house, ticket_id).head.voiding_at is None:
        return
    with changing(house, actor, OnTicket(ticket_id, None)) as edit:
        for booking in bookings.on_ticket(house.connection, ticket_id):
            bookings.take_off(house.connection, booking.id)
        for job in jobs.settled_on(house.connection, ticket_id):
            jobs.set_settled_on(house.connection, job.id, None)
        _give_all_back(edit)
    with changing(house, actor, OnTicket(ticket_id, None)) as edit:  # deposits are off by now
        if not edit.whole.taken and not edit.whole.open_requests:
            edit.wrote(Kind.VOIDED)
            void_series(edit)
            ticket_store.set_state(house.connection, ticket_id, TicketState.LEFT, edit.whole.head.closed_at)
            ticket_store.set_voided(house.connection, ticket_id, edit.at)
            corrections.done(house.connection, ticket_id, edit.at)


def _give_all_back(edit: TicketChange) -> None:
    asked = {ask.payer for ask in edit.whole.open_requests}
    for payment in reversed(edit.whole.taken):  # a tip added later goes before its charge
        if payment.deposit is not None:
            continue
        if payment.machine is None:
            tenders.give_back(edit, payment)
        elif payment.payer not in asked and not tenders.is_busy(edit, payment.machine):
            tenders.ask_back(edit, payment)
            asked.add(payment.payer)


def ended(edit: TicketChange) -> None:
    """A ticket that was opened again is closed once more: its corrections are done."""
    if edit.whole.head.reopened_at is not None:
        ticket_store.set_reopened(edit.house.connection, edit.id, None)
        corrections.done(edit.house.connection, edit.id, edit.at)
