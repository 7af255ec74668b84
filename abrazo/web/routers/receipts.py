"""Receipts on screen and on paper."""

from __future__ import annotations

from collections.abc import Callable

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from abrazo.core.errors import Refused
from abrazo.core.states import TicketState
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.output import outbox as desk
from abrazo.desk.output.views.receipt import receipt_of
from abrazo.desk.overview.person import receipt_preference
from abrazo.desk.payments import invoices
from abrazo.desk.payments.after_sale import still_to_come
from abrazo.desk.setup.logo import logo_of
from abrazo.desk.tickets.naming import payer_name
from abrazo.desk.tickets.snapshot import load_ticket
from abrazo.formats.barcode import code128
from abrazo.formats.escpos import paper_bytes
from abrazo.formats.receipt_files import receipt_html, receipt_pdf
from abrazo.formats.receipt_text import receipt_text
from abrazo.web import urls
from abrazo.web.dependencies import OpenHouse, SignedIn
from abrazo.web.forms import receipts as forms
from abrazo.web.forms.base import Sent
from abrazo.web.notices import Notice, wrong
from abrazo.web.pages import page
from abrazo.web.supervisor_override import ask_to_lend, with_lender
from abrazo.words import phrases as w

router = APIRouter(prefix="/tickets/{ticket}/receipts/{payer}")


def _page(
    request: Request,
    house: House,
    actor: Actor,
    ticket: int,
    payer: int,
    notice: Notice | None = None,
) -> Response:
    whole = load_ticket(house, ticket)
    whole.payer(payer)
    receipt = receipt_of(house, whole, payer)
    return page(
        request,
        house,
        actor,
        "receipts/page.html",
        whole=whole,
        payer=payer,
        name=payer_name(house, whole, payer),
        receipt=receipt,
        paper=receipt_text(receipt),
        bars=code128(receipt.code),
        has_logo=bool(logo_of(house)),
        liking=receipt_preference(house, whole.head.person),
        afterwards=still_to_come(house, ticket) if whole.head.state != TicketState.OPEN else [],
        invoice=invoices.standing(house, ticket).get(payer),
        notice=notice,
        came=request.query_params.get("came", ""),
    )


@router.get("")
def show(request: Request, house: OpenHouse, actor: SignedIn, ticket: int, payer: int, printed: str = "") -> Response:
    """A payer's receipt, and the ways to give it."""
    said = house.say(w.PRINTED)
    if printed == "mail":
        said = house.say(w.SENT)
    notice = Notice("done", said) if printed else None
    return _page(request, house, actor, ticket, payer, notice)


@router.post("/mail")
def mail(
    request: Request, house: OpenHouse, actor: SignedIn, ticket: int, payer: int, form: Sent[forms.Mail]
) -> Response:
    """By e-mail; with 'always' that is how the ticket's person likes it from now on."""
    seen, to = load_ticket(house, ticket), form.email
    seen.payer(payer)
    try:
        desk.mail_receipt(house, actor, ticket, payer, to, form.key)
    except Refused as refusal:
        return _page(request, house, actor, ticket, payer, wrong(house, refusal).keeping({"to": to}))
    return RedirectResponse(urls.receipt(ticket, payer) + "?printed=mail", 303)


@router.post("/text")
def text_message(
    request: Request, house: OpenHouse, actor: SignedIn, ticket: int, payer: int, form: Sent[forms.TextMessage]
) -> Response:
    """In short, by text message."""
    load_ticket(house, ticket).payer(payer)
    to = form.phone
    try:
        desk.text_receipt(house, actor, ticket, payer, to, form.key)
    except Refused as refusal:
        return _page(request, house, actor, ticket, payer, wrong(house, refusal).keeping({"to": to}))
    return RedirectResponse(urls.receipt(ticket, payer) + "?printed=mail", 303)


@router.post("/prefer")
def prefer(house: OpenHouse, actor: SignedIn, ticket: int, payer: int, form: Sent[forms.Prefer]) -> Response:
    """How the ticket's person likes receipts."""
    person = load_ticket(house, ticket).head.person
    if person is not None:
        desk.prefer(house, person, form.prefer)
    return RedirectResponse(urls.receipt(ticket, payer), 303)


@router.get("/receipt.{kind}")
def as_file(house: OpenHouse, actor: SignedIn, ticket: int, payer: int, kind: str) -> Response:
    """The receipt as a file: html, txt, pdf, or the bytes for the printer."""
    whole = load_ticket(house, ticket)
    whole.payer(payer)
    receipt = receipt_of(house, whole, payer)
    plain = receipt_text(receipt)
    made: dict[str, Callable[[], tuple[str | bytes, str]]] = {
        "html": lambda: (receipt_html(receipt, logo=logo_of(house)), "text/html"),
        "txt": lambda: (plain + "\n", "text/plain"),
        "pdf": lambda: (receipt_pdf(plain, logo_of(house)), "application/pdf"),
        "escpos": lambda: (paper_bytes(plain, receipt.code, logo_of(house)), "application/octet-stream"),
    }
    if kind not in made:
        raise NotFound(f"no receipt as {kind!r}")
    content, media = made[kind]()
    name = f"receipt-{receipt.ticket}.{kind}"
    return Response(content, media_type=media, headers={"content-disposition": f'attachment; filename="{name}"'})


@router.post("")
def print_it(
    request: Request, house: OpenHouse, actor: SignedIn, ticket: int, payer: int, form: Sent[forms.PrintIt]
) -> Response:
    """Print a receipt."""
    load_ticket(house, ticket).payer(payer)
    try:
        desk.print_receipt(house, with_lender(house, actor, form), ticket, payer, form.key, gift=form.gift)
    except Refused as refusal:
        ask_to_lend(refusal)
        return _page(request, house, actor, ticket, payer, wrong(house, refusal))
    return RedirectResponse(urls.receipt(ticket, payer) + "?printed=yes", 303)
