"""Accounts: what is left unpaid becomes an invoice of a person, and is paid later by a line on some ticket.

Rules here
- only companies, and people who may, have an account; a ticket without a person cannot be left unpaid
- what is paid goes to the invoices that were chosen, else to the oldest; on an account there is no least and no most
- an invoice that is being paid on an open ticket is not offered a second time
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from contextlib import AbstractContextManager
from dataclasses import dataclass
from datetime import timedelta
from functools import partial

from abrazo.core.accounts import above_limits, still_owed
from abrazo.core.errors import Code, Refused
from abrazo.core.figures import Booked, tender_figures
from abrazo.core.journal import Kind, Personal
from abrazo.core.ledger import Role, customer_account, taken_postings
from abrazo.core.moments import plus
from abrazo.core.money import rest_of, total, totals
from abrazo.core.states import Source, Tender, TenderKind
from abrazo.core.tenders import Parts
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.payments.tenders import cut, may_pay
from abrazo.desk.people.people import known
from abrazo.desk.permissions import Right, need
from abrazo.desk.setup.tender_types import offered
from abrazo.desk.tickets import prep
from abrazo.desk.tickets.change import OnTicket, TicketChange, changing
from abrazo.desk.tickets.starting import Beginning, TicketOrigin, opening_at
from abrazo.desk.tickets.ticket_lines import UNLISTED, put_on
from abrazo.store import accounts, journal, tenders
from abrazo.store.accounts import OnAccount, Received
from abrazo.store.lines import LineRow
from abrazo.store.people import Person
from abrazo.store.tenders import PaymentRow
from abrazo.words import phrases as w

LONGEST_REFERENCE = 40
DUE_AFTER = timedelta(days=7)  # since the invoice; the demo's terms


def owed_by(house: House, person: Person) -> int:
    """What somebody owes on account, in minor units; negative when they have paid ahead."""
    account = customer_account(person.id)
    return house.once(("balance", account), lambda: journal.balance(house.connection, account))


@dataclass(frozen=True, slots=True)
class BeingPaid:
    """What an open ticket pays on an account, minor units."""

    ticket: int
    number: int
    amount: int


@dataclass(frozen=True, slots=True)
class Paying:
    """What open tickets pay on an account already, and what is proposed to be paid besides; minor units."""

    tickets: list[BeingPaid]
    rest: int


def paying(house: House, person: Person) -> Paying:
    """How much of what somebody owes is still to be paid, besides what is just being paid."""
    owes = owed_by(house, person)
    lines = [one for one in _received(house, [person.id]) if one.pending]
    tickets = {one.ticket: one.number for one in lines if one.ticket is not None}
    now = [
        BeingPaid(ticket, number or 0, total(one.amount for one in lines if one.ticket == ticket))
        for ticket, number in tickets.items()
    ]
    rest = rest_of(owes, total(one.amount for one in now))
    return Paying(now, rest if rest > 0 else 0)


def _received(house: House, owing: list[int], until: str = accounts.ALWAYS) -> list[Received]:
    read = partial(accounts.received, house.connection, owing, until)
    return house.once(("received", *owing, until), read)


@dataclass(frozen=True, slots=True)
class Invoice:
    """An invoice that is not paid in full. Minor units; `pending`: it is being paid on an open ticket.

    `paper` and `paper_number` are of the invoice as it was made; None of what is older than those.
    """

    payment: int
    number: int
    person: int
    at: str
    amount: int
    left: int
    due: str
    late: bool
    pending: bool
    paper: int | None = None
    paper_number: str | None = None


def open_invoices(house: House, person: Person) -> list[Invoice]:
    """What of somebody's account is not paid yet, the oldest first."""
    return house.once(("open invoices", person.id), lambda: _open_invoices(house, person))


def _open_invoices(house: House, person: Person) -> list[Invoice]:
    left = left_on(house, {person.id: owed_by(house, person)})
    return _invoices(left.get(person.id, ()), house.stamp())


def _invoices(several: Iterable[Left], now: str) -> list[Invoice]:
    found = list[Invoice]()
    for one, left, pending in several:
        due = plus(one.at, DUE_AFTER)
        facts = (one.payment, one.number, one.person, one.at, one.amount, left, due)
        made = (one.paper, one.paper_number)
        found.append(Invoice(*facts, due < now, pending, *made))
    return found


Left = tuple[OnAccount, int, bool]  # an invoice, minor units that are left of it, whether it is just being paid


def left_on(house: House, owed: Mapping[int, int], until: str = accounts.ALWAYS) -> dict[int, list[Left]]:
    """The invoices up to a business date of which something is left, by whose account they are on.

    `owed` is what each of them owed then, in minor units.
    """
    owing = [person for person, amount in owed.items() if amount > 0]  # of who owes nothing, nothing is left
    made = accounts.invoices_of(house.connection, owing, until) if owing else []
    lines = _received(house, owing, until) if made else []
    chosen = totals((str(one.invoice), one.amount) for one in lines if one.invoice is not None and not one.pending)
    paying = {one.invoice for one in lines if one.pending}
    found = dict[int, list[Left]]()
    for person in dict.fromkeys(one.person for one in made):
        theirs = [one for one in made if one.person == person]
        left = still_owed([(str(one.payment), one.amount) for one in theirs], owed[person], chosen)
        rest = ((one, left[str(one.payment)], one.payment in paying) for one in theirs)
        found[person] = [(one, amount, pending) for one, amount, pending in rest if amount]
    return found


def owing_or_back(house: House) -> list[int | None]:
    """Who left something unpaid that is due, if it still is; None where something came back of a bank account."""
    return house.once("owing", lambda: accounts.owing_since(house.connection, house.stamp(DUE_AFTER)))


def due_invoices(house: House) -> list[tuple[Person, list[Invoice]]]:
    """Everybody with invoices that are due, and not just being paid."""
    whose = [one for one in owing_or_back(house) if one is not None]
    standing = journal.balances_of(house.connection, map(customer_account, whose))
    owed = {id: amount for id in whose if (amount := standing.get(customer_account(id), 0)) > 0}
    left, now, people = left_on(house, owed), house.stamp(), house.people(list(owed))
    late = {id: [one for one in _invoices(left.get(id, ()), now) if one.late and not one.pending] for id in owed}
    return [(person, those) for id, those in late.items() if those and (person := people[id])]


@dataclass(frozen=True, slots=True)
class Leave:
    """What is left unpaid, in minor units: on the account of the ticket's person, or of a company of theirs.

    `reference` is the company's own. `owed`: it is owed anyway, as the charge that a card declined is.
    """

    amount: int
    account: int | None = None
    reference: str = ""
    owed: bool = False


def put_on_account(house: House, actor: Actor, on: OnTicket, payer_id: int, leave: Leave) -> int:
    """Leave a payer's sum unpaid on an account; gives the payment's id. Refused above a limit without the right."""
    with changing(house, actor, on, "on account") as edit:
        if edit.done is not None:
            return int(edit.done)
        offered(house, Tender.ACCOUNT, TenderKind.ACCOUNT)
        if edit.whole.head.person is None:
            raise Refused(Code.NOBODY_OWES)
        person = _whose(house, edit.whole.head.person, leave)
        if any(line.role is Role.ACCOUNT_PAYMENT for line in edit.whole.standing):
            raise Refused(Code.ACCOUNT_PAYS_ACCOUNT)
        _one_account(edit, payer_id, person)
        may_pay(edit.whole, payer_id)
        parts = cut(edit.whole, payer_id, leave.amount, cash=False)
        reference, by = _reference(person, leave), _within_limits(edit, person, parts.given, owed=leave.owed)
        made = left_unpaid(edit, payer_id, person, parts, reference, by)
        prep.send_when_settled(edit)
        edit.answer = str(made)
        return made


def left_unpaid(
    edit: TicketChange, payer: int, person: Person, parts: Parts, reference: str = "", lender: str | None = None
) -> int:
    """Keep that a payer's sum is left unpaid, on somebody's account; gives the payment's id."""
    who, till, route = edit.actor.staff.id, edit.actor.till.id, edit.house.say(w.ACCOUNT_ROUTE, name=person.name)
    postings = taken_postings(customer_account(person.id), parts.given)
    edit.wrote(
        Kind.PUT_ON_ACCOUNT,
        Booked(postings, tender_figures(Tender.ACCOUNT, "", parts.given)),
        amount=parts.given,
        customer=person.id,
        name=Personal(person.name),
        reference=reference or None,
        lender=lender,
    )
    payment = PaymentRow(0, edit.id, payer, edit.day, till, who, edit.at, Tender.ACCOUNT, route, parts.amount,
                         parts.tip, None, None, None, None, None, account=person.id,
                         purchase_reference=reference)  # fmt: skip
    return tenders.add_payment(edit.house.connection, payment)


def accounts_for(house: House, person_id: int) -> list[Person]:
    """On whose accounts somebody may put sums: their own first, then those of their companies."""
    own = known(house, person_id)
    members = [] if own.company else accounts.companies_of(house.connection, person_id)
    return [*([own] if own.may_owe else []), *(known(house, one.company) for one in members)]


def _whose(house: House, person_id: int, leave: Leave) -> Person:
    """The person or company on whose account a sum is put."""
    own, open_to = known(house, person_id), accounts_for(house, person_id)
    if leave.owed:
        return own
    if leave.account is None:
        if not open_to:
            raise Refused(Code.NO_ACCOUNT, name=own.name)
        return open_to[0]
    found = next((one for one in open_to if one.id == leave.account), None)
    if found is None:
        raise NotFound(f"no account {leave.account} for person {person_id}")
    return found


def _one_account(edit: TicketChange, payer: int, person: Person) -> None:
    """Refused when a part of a payer's sum is on somebody else's account: an invoice is made to one."""
    put = (one.account for one in edit.whole.taken if one.tender == Tender.ACCOUNT and one.payer == payer)
    if any(account != person.id for account in put):
        raise Refused(Code.ONE_ACCOUNT_A_PAYER, "account")


def _reference(person: Person, leave: Leave) -> str:
    reference = " ".join(leave.reference.split())
    if person.wants_reference and not reference and not leave.owed:
        raise Refused(Code.NO_PURCHASE_REFERENCE, "reference", name=person.name)
    if len(reference) > LONGEST_REFERENCE:
        raise Refused(Code.TOO_LONG, "reference", most=LONGEST_REFERENCE, count=len(reference))
    return reference


def limits_of(house: House, person: Person, who: int | None) -> list[tuple[int, int | None]]:
    """What is owed and may be owed, (owed, limit): on the account as a whole, and by a member of it."""
    limits = [(owed_by(house, person), person.account_limit)]
    member = next((one for one in accounts.members_of(house.connection, person.id) if one.person == who), None)
    if member is not None and who is not None:
        put = accounts.put_by(house.connection, person.id)
        theirs = total(one.left for one in open_invoices(house, person) if put.get(one.payment) == who)
        limits.append((theirs, member.limit))
    return limits


def _within_limits(edit: TicketChange, person: Person, given: int, *, owed: bool) -> str | None:
    """Who lent the right to go above a limit; None for one's own, or where none is passed."""
    over = above_limits(given, limits_of(edit.house, person, edit.whole.head.person))
    if not over or owed:
        return None
    try:
        return need(edit.actor, Right.ABOVE_LIMIT)
    except Refused as refusal:
        raise Refused(Code.ABOVE_ACCOUNT_LIMIT, refusal.where, name=person.name, over=over) from None


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
