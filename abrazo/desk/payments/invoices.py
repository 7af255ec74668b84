"""Invoices: made when a ticket closes with a sum on an account, or on request; taken back by credit notes.

Rules here
- one per payer, numbered without gaps in the transaction that makes it, kept as it was made
- a refund of who has an invoice makes a credit note of what went back; opening the ticket again takes all of it back,
  and closing it makes a new one
- to whom it is made is the account's person or company, or what was typed; what is typed for somebody known is kept
"""

from __future__ import annotations

from dataclasses import dataclass, replace

from abrazo.core.errors import Code, Refused
from abrazo.core.invoices import Invoice, InvoiceFigures, Party, credited, invoiced, is_country
from abrazo.core.journal import Kind, Personal
from abrazo.core.moments import plus
from abrazo.core.money import total
from abrazo.core.states import InvoiceKind, RefundState, RowKind, Tender
from abrazo.desk.act import acting
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.payments.accounts import DUE_AFTER, open_invoices
from abrazo.desk.people.people import known
from abrazo.desk.tickets.change import OnTicket, TicketChange, correcting
from abrazo.formats.invoice_json import invoice_from_json, invoice_to_json
from abrazo.store import corrections, invoices, people
from abrazo.store.corrections import Refund
from abrazo.store.invoices import InvoiceRow
from abrazo.store.people import Person

LONGEST, NEWEST = 200, 100


@dataclass(frozen=True, slots=True)
class Made:
    """An invoice or credit note, and what it says."""

    row: InvoiceRow
    told: Invoice


@dataclass(frozen=True, slots=True)
class Buyer:
    """To whom an invoice is made: somebody known, or only what was typed."""

    party: Party
    person: int | None = None


def read_invoice(house: House, invoice: int) -> Made:
    """An invoice or credit note by its id."""
    row = invoices.read(house.connection, invoice) if 0 < invoice < 2**63 else None
    if row is None:
        raise NotFound(f"no invoice {invoice}")
    return _made(row)


def of_ticket(house: House, ticket: int) -> list[Made]:
    """What was made for a ticket, the oldest first."""
    found = house.once(("invoices", ticket), lambda: invoices.of_ticket(house.connection, ticket))
    return [_made(row) for row in found]


def standing(house: House, ticket: int) -> dict[int, Made]:
    """The invoices of a ticket that were not taken back as a whole, by payer."""
    made = of_ticket(house, ticket)
    gone = {one.row.credits for one in made if one.row.refund is None}
    found = (one for one in made if one.row.kind == InvoiceKind.INVOICE and one.row.id not in gone)
    return {one.row.payer: one for one in found}


def _made(row: InvoiceRow) -> Made:
    return Made(row, invoice_from_json(row.document))


def party_of(house: House, person: Person) -> Party:
    """What an invoice to somebody says of them."""
    name, country = person.legal_name or person.name, person.country or _country(house)
    return Party(name, person.address, country, person.tax_number)


def somebody(house: House) -> Party:
    """A buyer of whom nothing is known."""
    return Party("", country=_country(house))


def made_to(house: House, person: int) -> list[Made]:
    """What was made to somebody, the newest first."""
    return [_made(row) for row in invoices.of_buyer(house.connection, person, NEWEST)]


def still_owed(house: House, made: Made) -> int | None:
    """What of an invoice stays on the account of whom it was made to; None where it never stood on one."""
    if made.row.kind != InvoiceKind.INVOICE or made.row.buyer is None or not made.told.figures.due:
        return None
    opened = open_invoices(house, known(house, made.row.buyer))
    return total(one.left for one in opened if one.paper == made.row.id)


def _country(house: House) -> str:
    return house.settings.country or house.settings.region


def _seller(house: House) -> Party:
    kept = house.settings
    return Party(kept.legal_name or kept.name, kept.address, _country(house), kept.tax_number)


# ---- to whom


def read_party(house: House, typed: Party) -> Party:
    """What was typed of a buyer, tidied; refused beside the field that is wrong."""
    clean = Party(*(" ".join(text.split()) for text in (typed.name, typed.address, typed.country, typed.tax_number)))
    if not clean.name:
        raise Refused(Code.NO_BUYER, "buyer")
    for field, text in (("buyer", clean.name), ("address", clean.address), ("tax_number", clean.tax_number)):
        if len(text) > LONGEST:
            raise Refused(Code.TOO_LONG, field, most=LONGEST, count=len(text))
    country = clean.country.upper() or _country(house)
    if not is_country(country):
        raise Refused(Code.NO_COUNTRY, "country", typed=clean.country)
    return replace(clean, country=country)


def keep_party(house: House, actor: Actor, person_id: int, typed: Party) -> None:
    """What invoices to somebody say of them, from now on."""
    with acting(house, actor, "buyer") as act:
        _keep(house, known(house, person_id), read_party(house, typed))
        act.record(Kind.BUYER_CHANGED, customer=person_id, name=Personal(typed.name))


def _keep(house: House, person: Person, party: Party) -> None:
    legal = "" if party.name == person.name else party.name
    said = replace(person, legal_name=legal, address=party.address)
    people.set_buyer(house.connection, replace(said, country=party.country, tax_number=party.tax_number))


# ---- made


def on_request(house: House, actor: Actor, on: OnTicket, payer: int, buyer: Buyer) -> int:
    """Make the invoice of a payer of a closed ticket, with credit notes of what went back before; gives its id."""
    with correcting(house, actor, on, "invoice", f"ticket {on.id} {payer}") as edit:
        if edit.done is not None:
            return int(edit.done)
        edit.whole.payer(payer)
        if payer in standing(house, on.id):
            raise Refused(Code.INVOICED_ALREADY, "buyer", number=standing(house, on.id)[payer].told.number)
        party = read_party(house, buyer.party)
        if buyer.person is not None:
            _keep(house, known(house, buyer.person), party)
        made = _make(edit, payer, Buyer(party, buyer.person))
        if made is None:
            raise Refused(Code.NOTHING_TO_INVOICE, "buyer")
        for refund in corrections.refunds_of(house.connection, on.id):
            if refund.state == RefundState.DONE:
                credit_refund(edit, refund)
        edit.answer = str(made.row.id)
        return made.row.id


def invoice_closed(edit: TicketChange) -> None:
    """Invoices of a ticket that was just closed: of what is on accounts, and of who had one before it was opened."""
    house, buyers = edit.house, dict[int, Buyer]()
    for one in of_ticket(house, edit.id):
        if one.row.kind == InvoiceKind.INVOICE:
            buyers[one.row.payer] = Buyer(one.told.buyer, one.row.buyer)
    for payment in edit.whole.taken:
        if payment.tender == Tender.ACCOUNT and payment.account is not None:
            person = known(house, payment.account)
            buyers[payment.payer] = Buyer(party_of(house, person), person.id)
    taking_part = {payer.id for payer in edit.whole.payers}
    for payer, buyer in buyers.items():
        if payer in taking_part:
            _make(edit, payer, buyer)


def _make(edit: TicketChange, payer: int, buyer: Buyer) -> Made | None:
    whole = edit.whole
    put = [one for one in whole.taken if one.tender == Tender.ACCOUNT and one.payer == payer]
    supplies = {str(line.id) for line in whole.standing if line.sells}
    figures = invoiced(whole.ticket, whole.bill, str(payer), supplies, total(one.amount for one in put))
    if not figures.rows:
        return None
    reference = next((one.purchase_reference for one in put if one.purchase_reference), "")
    due_on = edit.house.wall(plus(put[0].at, DUE_AFTER)).date().isoformat() if put else ""
    told = replace(_blank(edit, InvoiceKind.INVOICE, buyer, figures), due_on=due_on, reference=reference)
    return _add(edit, told, InvoiceRow(0, told.kind, 0, edit.id, payer, buyer.person, None, None, *_who(edit), ""))


def _blank(edit: TicketChange, kind: InvoiceKind, buyer: Buyer, figures: InvoiceFigures) -> Invoice:
    house, head = edit.house, edit.whole.head
    issued, supplied = (house.date_of(day) for day in (edit.day, head.day))
    code = house.settings.currency.code
    return Invoice(kind, "", issued, supplied, code, head.number, _seller(house), buyer.party, figures)


def _who(edit: TicketChange) -> tuple[str, int, str, str]:
    return edit.at, edit.day, edit.actor.till.id, edit.actor.staff.id


def _add(edit: TicketChange, told: Invoice, row: InvoiceRow) -> Made:
    house, credit = edit.house, told.kind == InvoiceKind.CREDIT_NOTE
    number = invoices.next_number(house.connection, told.kind)
    prefix = house.settings.credit_prefix if credit else house.settings.invoice_prefix
    told = replace(told, number=f"{prefix}{number}")
    row = replace(row, number=number, document=invoice_to_json(told))
    row = replace(row, id=invoices.add(house.connection, row))
    edit.wrote(
        Kind.CREDIT_NOTE if credit else Kind.INVOICED,
        number=told.number,
        amount=told.figures.total,
        customer=row.buyer,
        name=Personal(told.buyer.name),
        credits=told.credits or None,
    )
    return Made(row, told)


# ---- taken back


def credit_all(edit: TicketChange, reason: str) -> None:
    """The ticket is opened again: every invoice that stands is taken back as a whole."""
    for invoice in standing(edit.house, edit.id).values():
        _credit(edit, invoice, invoice.told.figures, reason, None)


def credit_refund(edit: TicketChange, refund: Refund) -> None:
    """Take back of a payer's invoice what a refund gave them; nothing where they have none, or only a tip went back."""
    payment = next(one for one in edit.whole.payments if one.id == refund.payment)
    invoice = standing(edit.house, edit.id).get(payment.payer)
    if invoice is None:
        return
    supplies = {line.id for line in edit.whole.standing if line.sells}
    rows = [
        (kind, str(ref), amount)
        for kind, ref, amount in corrections.parts_of(edit.house.connection, refund.id)
        if kind == RowKind.CHARGE or ref in supplies
    ]
    taxes = {tax: contained for tax, _, contained in refund.taxes if tax is not None}
    to_account = refund.of_bill if payment.tender == Tender.ACCOUNT else 0
    figures = credited(edit.whole.ticket, rows, taxes, to_account)
    if figures.rows:
        _credit(edit, invoice, figures, refund.reason, refund.id)


def _credit(edit: TicketChange, of: Made, figures: InvoiceFigures, reason: str, refund: int | None) -> None:
    buyer = Buyer(of.told.buyer, of.row.buyer)
    told = _blank(edit, InvoiceKind.CREDIT_NOTE, buyer, figures)
    told = replace(told, seller=of.told.seller, reference=of.told.reference, credits=of.told.number, reason=reason)
    row = InvoiceRow(0, told.kind, 0, edit.id, of.row.payer, of.row.buyer, of.row.id, refund, *_who(edit), "")
    _add(edit, told, row)
