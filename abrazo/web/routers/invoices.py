"""Invoices and credit notes: looked at, as files, by e-mail; made for a payer; what they say of somebody."""

from __future__ import annotations

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from abrazo.core.errors import Refused
from abrazo.core.states import TicketState
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.output import invoices as papers
from abrazo.desk.payments import closing
from abrazo.desk.payments import invoices as desk
from abrazo.desk.payments.accounts import accounts_for
from abrazo.desk.people.people import known
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.naming import payer_name
from abrazo.desk.tickets.snapshot import load_ticket
from abrazo.web import urls
from abrazo.web.dependencies import OpenHouse, SignedIn
from abrazo.web.forms import invoices as forms
from abrazo.web.forms.base import Sent
from abrazo.web.notices import Notice, wrong
from abrazo.web.pages import page, tell
from abrazo.words import phrases as w

router = APIRouter()
MEDIA = {"pdf": "application/pdf", "xml": "application/xml"}


def _invoice_page(request: Request, house: House, actor: Actor, invoice: int, notice: Notice | None = None) -> Response:
    made = desk.read_invoice(house, invoice)
    told = made.told
    person = known(house, made.row.buyer) if made.row.buyer else None
    rows = told.figures.rows
    return page(
        request,
        house,
        actor,
        "invoices/page.html",
        made=made,
        told=told,
        title=papers.title(house, told),
        facts=papers.facts(house, told),
        rows=[(row.label, papers.count(row), papers.label_of(house, row, told), row.amount) for row in rows],
        sums=papers.sums(house, told),
        last=papers.last_words(house, told),
        others=[one for one in desk.of_ticket(house, made.row.ticket) if one.row.payer == made.row.payer],
        email=person.email if person and person.email else "",
        owed=desk.still_owed(house, made),
        notice=notice,
    )


@router.get("/invoices/{invoice:int}")
def show(request: Request, house: OpenHouse, actor: SignedIn, invoice: int) -> Response:
    """An invoice as it was made."""
    return _invoice_page(request, house, actor, invoice)


@router.get("/invoices/{invoice:int}/invoice.{kind}")
def file(request: Request, house: OpenHouse, actor: SignedIn, invoice: int, kind: str) -> Response:
    """The same as a file: pdf (with its data in it) or xml (EN 16931)."""
    made = desk.read_invoice(house, invoice)
    if kind not in MEDIA:
        raise NotFound(f"no invoice as {kind!r}")
    try:
        data = papers.as_pdf(house, made) if kind == "pdf" else papers.as_xml(made)
    except Refused as refusal:
        return _invoice_page(request, house, actor, invoice, wrong(house, refusal))
    disposition = f'attachment; filename="{made.told.number.lower()}.{kind}"'
    return Response(data, media_type=MEDIA[kind], headers={"content-disposition": disposition})


@router.post("/invoices/{invoice:int}/mail")
def mail(request: Request, house: OpenHouse, actor: SignedIn, invoice: int, form: Sent[forms.MailInvoice]) -> Response:
    """By e-mail, as PDF."""
    try:
        papers.mail_invoice(house, actor, desk.read_invoice(house, invoice), form.email, form.key)
    except Refused as refusal:
        notice = wrong(house, refusal).keeping({"email": form.email})
        return _invoice_page(request, house, actor, invoice, notice)
    tell(request, house.say(w.INVOICE_SENT_TO, to=form.email.strip()))
    return RedirectResponse(urls.invoice(invoice), 303)


# ---- made for a payer


def _make_page(
    request: Request, house: House, actor: Actor, ticket: int, payer: int, notice: Notice | None = None
) -> Response:
    whole = load_ticket(house, ticket)
    whole.payer(payer)
    asked, owner = request.query_params.get("person", ""), whole.head.person
    open_to = [known(house, owner), *(one for one in accounts_for(house, owner) if one.id != owner)] if owner else []
    to = next((one for one in open_to if str(one.id) == asked), open_to[0] if open_to else None)
    return page(
        request,
        house,
        actor,
        "invoices/make.html",
        whole=whole,
        payer=payer,
        name=payer_name(house, whole, payer),
        to=to,
        open_to=open_to,
        filled=desk.party_of(house, to) if to else desk.somebody(house),
        notice=notice,
    )


@router.get("/tickets/{ticket}/invoice/{payer}")
def ask(request: Request, house: OpenHouse, actor: SignedIn, ticket: int, payer: int) -> Response:
    """To whom it is made; an invoice that there is already is shown."""
    made = desk.standing(house, ticket).get(payer)
    if made is not None:
        return RedirectResponse(urls.invoice(made.row.id), 303)
    return _make_page(request, house, actor, ticket, payer)


@router.post("/tickets/{ticket}/invoice/{payer}")
def make(
    request: Request, house: OpenHouse, actor: SignedIn, ticket: int, payer: int, form: Sent[forms.MakeInvoice]
) -> Response:
    """Make it; a ticket that is paid and still open is closed first."""
    buyer = desk.Buyer(form.party, form.person or None)
    try:
        desk.read_party(house, form.party)
        if load_ticket(house, ticket).head.state == TicketState.OPEN:
            closing.free_table(house, actor, OnTicket(ticket, None, f"{form.key}-close"))
        made = desk.standing(house, ticket).get(payer)
        if made is None:
            invoice = desk.on_request(house, actor, OnTicket(ticket, None, form.key), payer, buyer)
        else:
            invoice = made.row.id
    except Refused as refusal:
        return _make_page(request, house, actor, ticket, payer, wrong(house, refusal).keeping(form.typed()))
    return RedirectResponse(urls.invoice(invoice), 303)


# ---- somebody's


def _theirs(request: Request, house: House, actor: Actor, person: int, notice: Notice | None = None) -> Response:
    who = known(house, person)
    return page(
        request,
        house,
        actor,
        "invoices/theirs.html",
        who=who,
        made=desk.made_to(house, person),
        filled=desk.party_of(house, who),
        notice=notice,
    )


@router.get("/people/{person:int}/invoices")
def theirs(request: Request, house: OpenHouse, actor: SignedIn, person: int) -> Response:
    """What was made to somebody, the newest first, and what invoices say of them."""
    return _theirs(request, house, actor, person)


@router.post("/people/{person:int}/invoices")
def keep(request: Request, house: OpenHouse, actor: SignedIn, person: int, form: Sent[forms.Buyer]) -> Response:
    """What invoices say of somebody."""
    try:
        desk.keep_party(house, actor, person, form.party)
    except Refused as refusal:
        return _theirs(request, house, actor, person, wrong(house, refusal).keeping(form.typed()))
    tell(request, house.say(w.BUYER_KEPT))
    return RedirectResponse(urls.invoices_to(person), 303)
