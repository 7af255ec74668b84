"""Accounts: what is left unpaid becomes an invoice of a person, and is paid later by a line on some ticket.

Rules here
- only companies, and people who may, have an account; a ticket without a person cannot be left unpaid
- what is paid goes to the invoices that were chosen, else to the oldest; on an account there is no least and no most
- an invoice that is being paid on an open ticket is not offered a second time
"""

from __future__ import annotations

from collections.abc import Sequence
from contextlib import AbstractContextManager
from dataclasses import dataclass
from datetime import timedelta

from abrazo.core.accounts import still_owed
from abrazo.core.errors import Code, Refused
from abrazo.core.figures import Booked, tender_figures
from abrazo.core.journal import Kind, Personal
from abrazo.core.ledger import Role, customer_account, taken_postings
from abrazo.core.moments import plus
from abrazo.core.money import totals
from abrazo.core.states import Source, Tender, TenderKind
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.payments.tenders import cut, may_pay
from abrazo.desk.people.people import known
from abrazo.desk.setup.tender_types import offered
from abrazo.desk.tickets import prep
from abrazo.desk.tickets.change import OnTicket, TicketChange, changing
from abrazo.desk.tickets.starting import Beginning, TicketOrigin, opening_at
from abrazo.desk.tickets.ticket_lines import UNLISTED, put_on
from abrazo.store import accounts, journal, tenders
from abrazo.store.accounts import OnAccount
from abrazo.store.lines import LineRow
from abrazo.store.people import Person
from abrazo.store.tenders import PaymentRow
from abrazo.words import phrases as w

DUE_AFTER = timedelta(days=7)  # since the invoice; the demo's terms


def owed_by(house: House, person: Person) -> int:
    """What somebody owes on account, in minor units; negative when they have paid ahead."""
    account = customer_account(person.id)
    return house.once(("balance", account), lambda: journal.balance(house.connection, account))


@dataclass(frozen=True, slots=True)
class Invoice:
    """An invoice that is not paid in full. Minor units; `pending`: it is being paid on an open ticket."""

    payment: int
    number: int
    person: int
    at: str
    amount: int
    left: int
    due: str
    late: bool
    pending: bool


def open_invoices(house: House, person: Person) -> list[Invoice]:
    """What of somebody's account is not paid yet, the oldest first."""
    now, found = house.stamp(), list[Invoice]()
    for one, left, pending in left_on(house, person, owed_by(house, person)):
        due = plus(one.at, DUE_AFTER)
        facts = (one.payment, one.number, one.person, one.at, one.amount, left, due)
        found.append(Invoice(*facts, late=due < now, pending=pending))
    return found


def left_on(house: House, person: Person, owed: int, until: str = accounts.ALWAYS) -> list[tuple[OnAccount, int, bool]]:
    """The invoices up to a business date of which something is left, with that, and whether it is just being paid.

    `owed` is what was owed then, in minor units.
    """
    made = accounts.invoices_of(house.connection, person.id, until)
    if not made:
        return []
    lines = accounts.received(house.connection, person.id, until)
    chosen = totals((str(invoice), amount) for invoice, amount, pending in lines if invoice is not None and not pending)
    paying = {invoice for invoice, _, pending in lines if pending}
    left = still_owed([(str(one.payment), one.amount) for one in made], owed, chosen)
    rest = ((one, left[str(one.payment)], one.payment in paying) for one in made)
    return [(one, amount, pending) for one, amount, pending in rest if amount]


def due_invoices(house: House) -> list[tuple[Person, list[Invoice]]]:
    """Everybody with invoices that are due, and not just being paid."""
    before = house.stamp(DUE_AFTER)
    found = []
    for id in accounts.owing_since(house.connection, before):
        person = known(house, id)
        if owed_by(house, person) <= 0:
            continue
        late = [one for one in open_invoices(house, person) if one.late and not one.pending]
        if late:
            found.append((person, late))
    return found


def put_on_account(house: House, actor: Actor, on: OnTicket, payer_id: int, amount: int, *, owed: bool = False) -> int:
    """Leave a payer's sum unpaid on the account of the ticket's person; gives the payment's id.

    `owed`: it is owed anyway, as the charge that a card declined is: also by who has no account otherwise.
    """
    with changing(house, actor, on, "on account") as edit:
        if edit.done is not None:
            return int(edit.done)
        offered(house, Tender.ACCOUNT, TenderKind.ACCOUNT)
        if edit.whole.head.person is None:
            raise Refused(Code.NOBODY_OWES)
        person = known(house, edit.whole.head.person)
        if not (person.may_owe or owed):
            raise Refused(Code.NO_ACCOUNT, name=person.name)
        if any(line.role is Role.ACCOUNT_PAYMENT for line in edit.whole.standing):
            raise Refused(Code.ACCOUNT_PAYS_ACCOUNT)
        may_pay(edit.whole, payer_id)
        parts = cut(edit.whole, payer_id, amount, cash=False)
        who, till, route = actor.staff.id, actor.till.id, house.say(w.ACCOUNT_ROUTE, name=person.name)
        booked = Booked(
            taken_postings(customer_account(person.id), parts.given), tender_figures(Tender.ACCOUNT, "", parts.given)
        )
        name = Personal(person.name)
        edit.wrote(Kind.PUT_ON_ACCOUNT, booked, amount=parts.given, customer=person.id, name=name)
        payment = PaymentRow(0, edit.id, payer_id, edit.day, till, who, edit.at, Tender.ACCOUNT, route, parts.amount,
                              parts.tip, None, None, None, None, None)  # fmt: skip
        made = tenders.add_payment(house.connection, payment)
        prep.send_when_settled(edit)
        edit.answer = str(made)
        return made


def receive(house: House, actor: Actor, person_id: int, amount: int, key: str) -> int:
    """A ticket on which somebody pays what they owe, or a part of it, the oldest first; gives its id."""
    person = known(house, person_id)
    if amount <= 0:
        raise Refused(Code.NO_AMOUNT, "account")
    with _paying(house, actor, person, key) as edit:
        if edit.done is None:
            put_on(edit, _line(edit, person, house.say(w.ACCOUNT_LINE, name=person.name), amount))
        return edit.id


def receive_invoices(house: House, actor: Actor, person_id: int, payments: Sequence[int], key: str) -> int:
    """A ticket on which somebody pays some of their invoices; gives its id."""
    person = known(house, person_id)
    with _paying(house, actor, person, key) as edit:
        if edit.done is None:
            _put_invoices(edit, person, payments)
        return edit.id


def _paying(house: House, actor: Actor, person: Person, key: str) -> AbstractContextManager[TicketChange]:
    door = TicketOrigin(Source.COUNTER, person.id, person.name, (person.name,))
    begun = Beginning(Kind.PAYS_ACCOUNT, name=Personal(person.name))
    return opening_at(house, actor, door, begun, key, "on account")


def add_invoices(house: House, actor: Actor, on: OnTicket, payments: Sequence[int]) -> None:
    """What the ticket's person owes from before is paid along with it: all of it or some."""
    with changing(house, actor, on, "on account") as edit:
        if edit.done is None:
            if edit.whole.head.person is None:
                raise NotFound(f"nobody owes on ticket {edit.whole.head.number}")
            _put_invoices(edit, known(house, edit.whole.head.person), payments)


def _put_invoices(edit: TicketChange, person: Person, payments: Sequence[int]) -> None:
    owed = {one.payment: one for one in open_invoices(edit.house, person)}
    for payment in dict.fromkeys(payments):
        invoice = owed.get(payment)
        if invoice is None:
            raise NotFound(f"no open invoice {payment} of {person.name}")
        if invoice.pending:
            raise Refused(Code.INVOICE_PENDING, "account", date=invoice.at)
        label = edit.house.say(w.INVOICE_LINE, day=invoice.at, number=invoice.number)
        put_on(edit, _line(edit, person, label, invoice.left, payment))


def _line(edit: TicketChange, person: Person, label: str, amount: int, invoice: int | None = None) -> LineRow:
    facts = (UNLISTED, label, amount, "1", None, "", edit.actor.staff.id, "", edit.at, None, None)
    return LineRow(0, *facts, invoice=invoice, role=Role.ACCOUNT_PAYMENT, account=person.id)
