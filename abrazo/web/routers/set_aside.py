"""Goods set aside until they are paid: the list, a ticket's own page, the tag, cancelling."""

from __future__ import annotations

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from abrazo.core.errors import Refused
from abrazo.desk.context import Actor, House
from abrazo.desk.output import outbox
from abrazo.desk.payments import set_aside as desk
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.layaways import kept_on
from abrazo.desk.tickets.naming import place_of
from abrazo.web import urls
from abrazo.web.dependencies import OpenHouse, SignedIn, open_ticket
from abrazo.web.forms import set_aside as forms
from abrazo.web.forms.base import Sent
from abrazo.web.notices import Notice, wrong
from abrazo.web.pages import page, tell
from abrazo.web.supervisor_override import ask_to_lend, with_lender
from abrazo.words import phrases as w

router = APIRouter(prefix="/set-aside")
on_tickets = APIRouter(prefix="/tickets/{ticket}/set-aside")


@router.get("")
def show(request: Request, house: OpenHouse, actor: SignedIn) -> Response:
    """What is set aside now."""
    return page(request, house, actor, "set_aside/list.html", cards=desk.cards(house))


@on_tickets.get("")
def ticket_page(request: Request, house: OpenHouse, actor: SignedIn, ticket: int) -> Response:
    """A ticket's goods: set aside, or to be."""
    return _page(request, house, actor, ticket)


def _page(request: Request, house: House, actor: Actor, ticket: int, notice: Notice | None = None) -> Response:
    seen = open_ticket(house, ticket)
    return page(
        request,
        house,
        actor,
        "set_aside/ticket.html",
        whole=seen,
        place=place_of(house, seen),
        kept=kept_on(house, ticket),
        terms=desk.terms_for(house, seen),
        fee=desk.fee_of(house, seen),
        notice=notice,
        typed=notice.typed if notice else {},
    )


@on_tickets.post("")
def put(request: Request, house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.SetAside]) -> Response:
    """Set them aside; the tag is printed."""
    try:
        desk.set_aside(house, actor, OnTicket(ticket, form.version, form.key), form.until)
    except Refused as refusal:
        return _page(request, house, actor, ticket, wrong(house, refusal).keeping({"until": form.until}))
    outbox.print_set_aside(house, actor, ticket, f"{form.key}-tag")
    kept = kept_on(house, ticket)
    if kept is not None:
        tell(request, house.say(w.SET_ASIDE_DONE, name=kept.name, until=kept.until))
    return RedirectResponse(urls.set_aside_list(), 303)


@on_tickets.post("/tag")
def tag(house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.Tag]) -> Response:
    """The tag once more."""
    outbox.print_set_aside(house, actor, ticket, form.key)
    return RedirectResponse(urls.set_aside(ticket), 303)


@on_tickets.post("/cancel")
def cancel(request: Request, house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.Cancel]) -> Response:
    """They are not taken after all: the fee is kept, the rest goes back."""
    try:
        by = with_lender(house, actor, form)
        back = desk.cancel(house, by, OnTicket(ticket, form.version, form.key))
    except Refused as refusal:
        ask_to_lend(refusal)
        return _page(request, house, actor, ticket, wrong(house, refusal))
    tell(request, house.say(w.SET_ASIDE_OVER, amount=back))
    return RedirectResponse(urls.past(chosen=ticket), 303)
