"""The terms of accounts: limits, members of companies, references; and what of an invoice will never be paid.

Rules here
- who may set up decides on limits and members
- writing off needs a right and a reason; it takes its part of the invoice's tax back, and shows on the statement
"""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.core import accounts as core
from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Kind, Personal
from abrazo.core.ledger import customer_account
from abrazo.core.money import total
from abrazo.core.states import RowKind, TaxMode
from abrazo.desk.act import acting
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.payments.accounts import Invoice, open_invoices
from abrazo.desk.people.people import known
from abrazo.desk.permissions import Right, read_reason
from abrazo.desk.tickets.snapshot import TicketSnapshot, load_ticket
from abrazo.store import accounts, tenders
from abrazo.store.accounts import Member, WriteOff
from abrazo.store.people import Person


@dataclass(frozen=True, slots=True)
class MemberCard:
    """A member of a company's account: what they owe of it and may at most, minor units."""

    person: Person
    limit: int | None
    owes: int


def members(house: House, company: Person) -> list[MemberCard]:
    """Who may put sums on a company's account."""
    who = accounts.members_of(house.connection, company.id)
    put, left = accounts.put_by(house.connection, company.id) if who else {}, open_invoices(house, company)
    house.people(one.person for one in who)
    return [
        MemberCard(
            known(house, one.person),
            one.limit,
            total(invoice.left for invoice in left if put.get(invoice.payment) == one.person),
        )
        for one in who
    ]


def set_terms(house: House, actor: Actor, person: int, limit: int | None, *, reference: bool) -> None:
    """What may be owed on an account at most (None: no limit), and whether a purchase reference is asked for."""
    with acting(house, actor, "set-up", needs=Right.SET_UP) as act:
        who = known(house, person)
        if limit is not None and limit < 0:
            raise Refused(Code.NEGATIVE_TOTAL, "limit")
        accounts.set_terms(act.connection, person, limit, reference)
        act.record(Kind.ACCOUNT_TERMS, customer=person, name=Personal(who.name), amount=limit, before=who.account_limit)


def set_member(house: House, actor: Actor, company: int, person: int, limit: int | None) -> None:
    """Somebody may put sums on a company's account, up to a limit (None: no limit of their own)."""
    with acting(house, actor, "set-up", needs=Right.SET_UP) as act:
        whose, who = known(house, company), known(house, person)
        if not whose.company or company == person:
            raise NotFound(f"no company {company} for person {person}")
        if limit is not None and limit < 0:
            raise Refused(Code.NEGATIVE_TOTAL, "member-limit")
        accounts.set_member(act.connection, Member(company, person, limit), act.at)
        name, company_name = Personal(who.name), Personal(whose.name)
        act.record(Kind.ACCOUNT_MEMBER, customer=company, person=person, name=name, company=company_name, amount=limit)


def end_member(house: House, actor: Actor, company: int, person: int) -> None:
    """Somebody may not put sums on a company's account any more; what they put there stays."""
    with acting(house, actor, "set-up", needs=Right.SET_UP) as act:
        accounts.end_member(act.connection, company, person, act.at)
        name, company_name = Personal(known(house, person).name), Personal(known(house, company).name)
        act.record(Kind.ACCOUNT_MEMBER_ENDED, customer=company, person=person, name=name, company=company_name)


# ---- written off


@dataclass(frozen=True, slots=True)
class GivenUp:
    """What of an invoice is given up, in minor units (None: all that is left), and why."""

    amount: int | None
    reason: str


def write_off(house: House, actor: Actor, person_id: int, payment: int, given_up: GivenUp, key: str) -> None:
    """Give up an invoice or a part of it, with its part of the tax. Refused without right, or above its rest."""
    why = read_reason(given_up.reason)
    with acting(house, actor, "written off", key, f"invoice {payment}", Right.WRITE_OFF) as act:
        if act.done is not None:
            return
        person = known(house, person_id)
        invoice = next((one for one in open_invoices(house, person) if one.payment == payment), None)
        if invoice is None:
            raise NotFound(f"no open invoice {payment} of person {person_id}")
        if invoice.pending:
            raise Refused(Code.INVOICE_PENDING, "write-off", date=invoice.at)
        gone = invoice.left if given_up.amount is None else given_up.amount
        if gone <= 0:
            raise Refused(Code.NO_AMOUNT, "write-off")
        if gone > invoice.left:
            raise Refused(Code.ABOVE_INVOICE, "write-off", left=invoice.left)
        ticket, taxes = _taxes_of(house, invoice, gone)
        tax = total(part for _, part, _ in taxes)
        who = (act.at, act.day, actor.till.id, actor.staff.id, act.by)
        accounts.add_write_off(act.connection, WriteOff(payment, person_id, gone, tax, why, *who))
        booked = core.written_off(customer_account(person_id), gone, taxes)
        name, because = Personal(person.name), Personal(why)
        act.record(
            Kind.WRITTEN_OFF, ticket, booked, payment=payment, customer=person_id, name=name, amount=gone, tax=tax,
            reason=because, lender=act.by,
        )  # fmt: skip


def _taxes_of(house: House, invoice: Invoice, amount: int) -> tuple[int, list[tuple[str, int, int]]]:
    """The invoice's ticket; and what of an amount of it is which tax, and on what: (tax, tax part, base part)."""
    payment = tenders.read_payment(house.connection, invoice.payment)
    assert payment is not None
    whole = load_ticket(house, payment.ticket)
    bill, before = (
        whole.payer_bill(payment.payer),
        total(one.amount for one in accounts.written_off(house.connection, invoice.payment)),
    )
    found = list[tuple[str, int, int]]()
    for tax, memo, base in _memo(whole, payment.payer):
        parts = [core.part_with(bill.account.total, of_it, before, amount) for of_it in (memo, base)]
        if any(parts):
            found.append((tax, parts[0], parts[1]))
    return payment.ticket, found


def _memo(whole: TicketSnapshot, payer: int) -> list[tuple[str, int, int]]:
    """A payer's taxes with what they are on, in minor units: contained in their rows, or rows of their own."""
    bill = whole.payer_bill(payer)
    taxes = {line.id: line.tax for line in whole.ticket.lines} | {c.id: c.tax for c in whole.ticket.charges}
    rows = [(taxes.get(row.ref), row.amount) for row in bill.rows if row.kind != RowKind.TAX]
    if whole.ticket.tax_mode == TaxMode.EXCLUSIVE:
        amounts = [(row.ref, row.amount) for row in bill.rows if row.kind == RowKind.TAX]
    else:
        amounts = list(bill.taxes)
    return [(tax, amount, total(part for of, part in rows if of == tax)) for tax, amount in amounts]
