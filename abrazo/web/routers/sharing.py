"""Sharing a bill out."""

from __future__ import annotations

from fastapi import APIRouter
from starlette.responses import RedirectResponse, Response

from abrazo.desk.output import outbox
from abrazo.desk.payments.views.pay_pad import read_money
from abrazo.desk.tickets import sharing as desk
from abrazo.desk.tickets.change import OnTicket
from abrazo.web import urls
from abrazo.web.dependencies import OpenHouse, SignedIn
from abrazo.web.forms import sharing as forms
from abrazo.web.forms.base import Sent
from abrazo.web.forms.view import SentView

router = APIRouter(prefix="/tickets/{ticket}/share")


def _back(ticket: int, **state: object) -> Response:
    return RedirectResponse(urls.ticket(ticket, view="share", **state), 303)


@router.post("")
def share(house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.Share]) -> Response:
    """By seat, in equal parts, or not at all."""
    way, version = form.way, form.version
    if way == "seat":
        desk.by_seat(house, actor, OnTicket(ticket, version))
    elif way == "equal":
        desk.equal_parts(house, actor, OnTicket(ticket, version), form.parts)
    else:
        desk.undo(house, actor, OnTicket(ticket, version))
    return _back(ticket)


@router.post("/amount")
def amount(house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.Amount]) -> Response:
    """Somebody gives a stated amount, or another one, or none after all."""
    if form.how == "out":
        desk.state_none(house, actor, OnTicket(ticket, form.version), form.giver)
    else:
        wanted = read_money(house, form.stated, "stated")
        desk.state_amount(house, actor, OnTicket(ticket, form.version), wanted, form.giver)
    return _back(ticket, way="amounts")


@router.post("/print")
def print_bills(
    house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.PrintBills], view: SentView
) -> Response:
    """A bill for each who still owes, in one go."""
    outbox.print_bills(house, actor, ticket, form.key)
    return _back(ticket, payer=view.payer)


@router.post("/for")
def pay_for(house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.PayFor]) -> Response:
    """One payer pays for another's guests."""
    desk.pay_for(house, actor, OnTicket(ticket, form.version), form.payer, form.guest)
    return _back(ticket)


@router.post("/line")
def pick_line(house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.PickLine], view: SentView) -> Response:
    """A payer has a part of a line, or no longer."""
    view, version = view, form.version
    desk.pick_line(house, actor, OnTicket(ticket, version), form.line, form.payer, form.how)
    return _back(ticket, payer=view.payer)


@router.post("/fees")
def fees(house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.Fees]) -> Response:
    """One payer takes the charges evenly or in proportion; then back to paying."""
    payer = form.payer
    desk.choose_fees(house, actor, OnTicket(ticket, form.version), payer, form.fees)
    return RedirectResponse(urls.ticket(ticket, view="pay", payer=payer), 303)


@router.post("/charge")
def charge(house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.Charge], view: SentView) -> Response:
    """How a charge is shared."""
    desk.share_charge(house, actor, OnTicket(ticket, form.version), form.charge, form.how)
    return _back(ticket, payer=view.payer)
