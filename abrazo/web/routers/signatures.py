"""Signing on the screen: a field to draw in, and the kept drawing."""

from __future__ import annotations

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from abrazo.core.errors import Refused
from abrazo.core.states import Signature
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.payments import signatures as desk
from abrazo.desk.tickets.snapshot import load_ticket
from abrazo.formats.signature import HEIGHT, WIDTH
from abrazo.web.dependencies import OpenHouse, SignedIn
from abrazo.web.forms import signatures as forms
from abrazo.web.forms.base import Sent
from abrazo.web.notices import Notice, wrong
from abrazo.web.pages import page
from abrazo.web.ticket_page import after_payment

router = APIRouter(prefix="/tickets/{ticket}")


@router.post("/signed")
def signed(house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.Signed]) -> Response:
    """The slip of a charge was signed on paper."""
    desk.on_paper(house, actor, ticket, form.payment)
    return RedirectResponse(after_payment(load_ticket(house, ticket)), 303)


@router.get("/payments/{payment}/sign")
def sign(request: Request, house: OpenHouse, actor: SignedIn, ticket: int, payment: int) -> Response:
    """The field to sign in."""
    return _page(request, house, actor, ticket, payment)


def _page(
    request: Request, house: House, actor: Actor, ticket: int, payment: int, notice: Notice | None = None
) -> Response:
    seen = load_ticket(house, ticket)
    made = next((p for p in seen.taken if p.id == payment), None)
    if made is None:
        raise NotFound(f"no payment {payment} on ticket {ticket}")
    if made.signature != Signature.WANTED:
        return RedirectResponse(after_payment(seen), 303)
    return page(request, house, actor, "tenders/sign.html", whole=seen, payment=made,
                payer=seen.payer(made.payer), field=(WIDTH, HEIGHT), notice=notice)  # fmt: skip


@router.post("/payments/{payment}/sign")
def draw(
    request: Request, house: OpenHouse, actor: SignedIn, ticket: int, payment: int, form: Sent[forms.Draw]
) -> Response:
    """Keep a signature that was drawn."""
    try:
        desk.on_screen(house, actor, ticket, payment, form.strokes)
    except Refused as refusal:
        return _page(request, house, actor, ticket, payment, wrong(house, refusal))
    return RedirectResponse(after_payment(load_ticket(house, ticket)), 303)


@router.get("/payments/{payment}/signature.svg")
def drawing(house: OpenHouse, actor: SignedIn, ticket: int, payment: int) -> Response:
    """A signature as SVG."""
    if all(p.id != payment for p in load_ticket(house, ticket).payments):
        raise NotFound(f"no payment {payment} on ticket {ticket}")
    return Response(desk.drawing_of(house, payment), media_type="image/svg+xml")
