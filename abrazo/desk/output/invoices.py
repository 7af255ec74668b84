"""Invoices as they go out: on paper in the house's language, as data, by e-mail with both."""

from __future__ import annotations

from fractions import Fraction

from abrazo.core.errors import Code, Refused
from abrazo.core.invoices import Invoice, InvoiceRow, Party
from abrazo.core.journal import Kind, Personal
from abrazo.core.moments import stamped
from abrazo.core.states import InvoiceKind
from abrazo.desk.act import acting
from abrazo.desk.context import Actor, House
from abrazo.desk.output.outbox import MAIL, send_waiting
from abrazo.desk.output.views.receipt import paper_date
from abrazo.desk.payments.invoices import Made
from abrazo.formats.email_address import read_email
from abrazo.formats.invoice_pdf import InvoicePaper, invoice_pdf
from abrazo.formats.invoice_xml import invoice_xml
from abrazo.formats.plain_mail import Letter, plain_mail
from abrazo.store import outbox
from abrazo.words import phrases as w


def title(house: House, told: Invoice) -> str:
    """What an invoice or credit note is called."""
    phrase = w.CREDIT_NOTE_TITLE if told.kind == InvoiceKind.CREDIT_NOTE else w.INVOICE_TITLE
    return house.say(phrase, number=told.number)


def facts(house: House, told: Invoice) -> list[tuple[str, str]]:
    """What stands in the head of an invoice, in words."""
    say, found = house.say, [(house.say(w.INVOICE_DATE), paper_date(house, told.issued_on))]
    found.append((say(w.INVOICE_SUPPLIED), paper_date(house, told.supplied_on)))
    found.append((say(w.INVOICE_TICKET), str(told.ticket)))
    if told.credits:
        found.append((say(w.INVOICE_CREDITS), told.credits))
    if told.reference:
        found.append((say(w.INVOICE_REFERENCE), told.reference))
    if told.due_on and told.figures.due:
        found.append((say(w.INVOICE_DUE_ON), paper_date(house, told.due_on)))
    if told.reason:
        found.append((say(w.INVOICE_REASON), told.reason))
    return found


def sums(house: House, told: Invoice) -> list[tuple[str, int]]:
    """Below the rows: (words, minor units); the taxes each with what bears it, and what is paid."""
    say, figures = house.say, told.figures
    found = [(say(w.INVOICE_BASE), figures.base)]
    for tax in figures.taxes:
        if tax.id is not None:
            phrase = w.INVOICE_EXEMPT if tax.exemption else w.INVOICE_TAX
            found.append((say(phrase, label=tax.label, base=tax.base, why=tax.exemption), tax.tax))
    found.append((say(w.INVOICE_TOTAL), figures.total))
    if figures.rounding:
        found.append((say(w.INVOICE_ROUNDING), figures.rounding))
    if figures.paid:
        found.append((say(w.CREDIT_PAID if told.kind == InvoiceKind.CREDIT_NOTE else w.INVOICE_PAID), figures.paid))
    return found


def last_words(house: House, told: Invoice) -> str:
    """Before the sum that stays: to be paid, or taken off an account."""
    credit = told.kind == InvoiceKind.CREDIT_NOTE
    return house.say(w.CREDIT_DUE if credit else w.INVOICE_DUE, currency=told.currency)


def label_of(house: House, row: InvoiceRow, told: Invoice) -> str:
    """The tax of a row as it is printed."""
    return next((tax.label for tax in told.figures.taxes if tax.id == row.tax), "")


def _party(house: House, party: Party) -> tuple[str, ...]:
    number = house.say(w.INVOICE_TAX_NUMBER, number=party.tax_number) if party.tax_number else ""
    return tuple(line for line in (party.name, party.address, party.country, number) if line)


def paper_of(house: House, told: Invoice) -> InvoicePaper:
    """An invoice as it is printed."""
    text, say, name = house.settings.currency.text, house.say, title(house, told)
    return InvoicePaper(
        title=name,
        subject=f"{name}, {told.seller.name}",
        seller=_party(house, told.seller),
        buyer=_party(house, told.buyer),
        facts=tuple(facts(house, told)),
        heads=(say(w.INVOICE_WHAT), say(w.INVOICE_COUNT), say(w.INVOICE_TAX_OF), say(w.INVOICE_NET)),
        rows=tuple((row.label, count(row), label_of(house, row, told), text(row.amount)) for row in told.figures.rows),
        sums=tuple((words, text(amount)) for words, amount in sums(house, told)),
        last=(last_words(house, told), text(told.figures.due)),
        notes=(house.settings.message,),
        language=house.settings.language,
        author=told.seller.name,
        name=told.number.lower(),
    )


def count(row: InvoiceRow) -> str:
    """How many, as it is printed; nothing for a part of what several share."""
    return row.quantity if Fraction(row.quantity) != 1 else "1"


def as_pdf(house: House, made: Made) -> bytes:
    """The PDF, with its data where it can go out as data; the same for every copy."""
    told = made.told
    data = invoice_xml(told) if told.exchangeable else None
    return invoice_pdf(paper_of(house, told), stamped(made.row.at), data)


def as_xml(made: Made) -> bytes:
    """The data alone; refused where it is none."""
    if not made.told.exchangeable:
        raise Refused(Code.INVOICE_NOT_DATA)
    return invoice_xml(made.told)


def mail_invoice(house: House, actor: Actor, made: Made, to: str, key: str) -> None:
    """Send an invoice by e-mail; it waits while the line is down. Refused beside the address that is none."""
    if not to.strip():
        raise Refused(Code.NO_EMAIL, "email")
    to = read_email(to)
    with acting(house, actor, "sent", key, f"invoice {made.row.id}") as act:
        if act.done is None:
            paper, about = paper_of(house, made.told), f"invoice {made.row.id}"
            text = "\n".join(f"{words}: {fact}" for words, fact in (*paper.facts, paper.last)) + "\n"
            files = ((f"{paper.name}.pdf", as_pdf(house, made)),)
            letter = Letter(paper.subject, text, to, house.settings.name, files)
            message = plain_mail(letter, house.clock.now())
            outbox.add(act.connection, outbox.NewSheet(act.at, MAIL, paper.title, message, about, recipient=to))
            act.record(Kind.INVOICE_SENT, number=made.told.number, customer=made.row.buyer, to=Personal(to))
            act.answer = str(made.row.id)
    send_waiting(house)
