"""Charges of bank accounts that come back unpaid, days after they were approved: what they paid is owed again.

Rules here
- on a ticket that is still open it is simply due again; of a closed one it goes onto its person's account
- a ticket that paid nothing but an account had its lines paid back: the invoices stand as old as they are
- where money went back to them already, or became credit, it is owed beside the ticket, whose payment stays as it is
- each is recorded once, in the name of whoever took the payment; without an open day it waits
"""

from __future__ import annotations

from datetime import timedelta

from abrazo.core.errors import Refused
from abrazo.core.figures import Booked, minus, tender_figures
from abrazo.core.journal import Kind, Personal
from abrazo.core.ledger import Posting, Role, customer_account
from abrazo.core.states import Tender, TicketState
from abrazo.core.tenders import Parts
from abrazo.desk.context import Actor, House
from abrazo.desk.payments import refunds, tenders
from abrazo.desk.payments.accounts import left_unpaid, owed_by, owing_or_back
from abrazo.desk.people.people import known
from abrazo.desk.tickets.change import OnTicket, TicketChange, changing, correcting
from abrazo.desk.tickets.snapshot import TicketSnapshot, load_ticket
from abrazo.devices.ports import DeviceFault, Returned
from abrazo.store import debits_back
from abrazo.store import tenders as tenders_store
from abrazo.store.corrections import Refund
from abrazo.store.debits_back import DebitBack
from abrazo.store.tenders import PaymentRow
from abrazo.words import phrases as w

LONGEST = timedelta(weeks=57)  # 13 months: the longest in which a debit may be given back (SEPA core direct debit)


def ask_for_returned(house: House) -> bool:
    """Ask the payment service what came back, and record what is new; whether anything was. Silence is for later."""
    if not debits_back.may_come(house.connection, house.stamp(LONGEST)):
        return False
    try:
        said = house.devices.service.returned()
    except DeviceFault:
        return False
    ours = debits_back.charged_under(house.connection, [one.of for one in said])
    done = [_record(house, one, payment) for one in said if (payment := ours.get(one.of)) is not None]
    return any(done)


def _record(house: House, said: Returned, payment_id: int) -> bool:
    """Record one; False when that was done before, or has to wait."""
    payment = tenders_store.read_payment(house.connection, payment_id)
    if payment is None or any(
        one.payment == payment_id for one in debits_back.of_ticket(house.connection, payment.ticket)
    ):
        return False
    actor = Actor(house.staff()[payment.staff], house.tills()[payment.till], by_itself=True)
    whole = load_ticket(house, payment.ticket)
    on = OnTicket(payment.ticket, None, f"back-{payment_id}-came-back")
    is_open = whole.head.state == TicketState.OPEN
    try:
        with (
            changing(house, actor, on, "debit back") if is_open else correcting(house, actor, on, "debit back") as edit
        ):
            if edit.done is None:
                _came_back(edit, payment, said)
    except Refused:  # no day is open, or somebody is at work on it: later
        return False
    return True


def _came_back(edit: TicketChange, payment: PaymentRow, said: Returned) -> None:
    whose, is_open = edit.whole.head.person or 0, edit.whole.head.state == TicketState.OPEN
    besides = payment.taken_back_at is not None or bool(payment.credit)
    facts = (payment.id, said.reference, payment.machine or "", edit.id, whose, said.amount, said.reason)
    debits_back.add(edit.house.connection, DebitBack(*facts, edit.day, edit.at, besides))
    edit.wrote(Kind.DEBIT_BACK, amount=said.amount, last_four=payment.last_four or "", reason=Personal(said.reason))
    if besides:
        _owed_besides(edit, payment, said)
    elif is_open:
        tenders.give_back(edit, payment)
    elif _paid_an_account(edit.whole, payment, refunds.refunds_of(edit.house, edit.id)):
        refunds.went_back_by_itself(edit, payment, edit.house.say(w.CAME_BACK, reason=said.reason))
    else:
        tenders.give_back(edit, payment)
        edit.house.forget()
        left_unpaid(edit, payment.payer, known(edit.house, whose), Parts(payment.amount, payment.tip))


def _paid_an_account(whole: TicketSnapshot, payment: PaymentRow, refunded: list[Refund]) -> bool:
    """Whether a ticket paid what was owed and nothing else, so that its lines can go back."""
    only = all(line.role is Role.ACCOUNT_PAYMENT for line in whole.standing) and not whole.charges
    return only and not refunded and not payment.tip


def _owed_besides(edit: TicketChange, payment: PaymentRow, said: Returned) -> None:
    """What the bank took back is owed, and the ticket stays as it is."""
    account = tenders.account_of(edit.whole, payment)
    legs = (Posting(customer_account(edit.whole.head.person or 0), said.amount), Posting(account, -said.amount))
    figures = tender_figures(Tender.ACCOUNT, "", said.amount)
    booked = Booked(legs, figures + minus(tenders.in_report(edit.house, payment, said.amount)))
    edit.wrote(Kind.OWED_FOR_BACK, booked, amount=said.amount)


def waiting(house: House) -> list[DebitBack]:
    """What came back and is still owed: nothing was paid on the account since."""
    found = debits_back.unsettled(house.connection) if None in owing_or_back(house) else []
    return [one for one in found if owed_by(house, known(house, one.person)) > 0]
