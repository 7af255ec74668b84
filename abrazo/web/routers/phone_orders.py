"""Orders by phone."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query, Request
from starlette.responses import RedirectResponse, Response

from abrazo.core.errors import Refused
from abrazo.desk.context import Actor, House
from abrazo.desk.doors import phone_orders as desk
from abrazo.desk.payments.views.pay_pad import read_money
from abrazo.desk.tickets.change import OnTicket
from abrazo.web import urls
from abrazo.web.dependencies import OpenHouse, SignedIn, open_ticket
from abrazo.web.forms import phone_orders as forms
from abrazo.web.forms.base import Sent
from abrazo.web.notices import Notice, wrong
from abrazo.web.pages import page
from abrazo.web.ticket_page import say_recognised

router = APIRouter(prefix="/orders")


@router.get("/new")
def new(request: Request, house: OpenHouse, actor: SignedIn, asked: Annotated[forms.AskedOrder, Query()]) -> Response:
    """An order by phone, or of a sale that was begun: who, for whom, when."""
    typed = {"name": asked.name, "phone": asked.phone, "person": str(asked.person or "")}
    if asked.ticket:
        typed |= {"ticket": str(asked.ticket), "version": str(open_ticket(house, asked.ticket).head.version)}
    return _new(request, house, actor, typed)


def _new(request: Request, house: House, actor: Actor, typed: dict[str, str], notice: Notice | None = None) -> Response:
    usual = (house.now() + desk.PROMISED_IN).strftime("%H:%M")
    fee = house.settings.currency.text(house.settings.delivery_fee)
    return page(request, house, actor, "room/order.html", typed=typed, usual=usual, fee=fee, notice=notice)


@router.post("")
def take(request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.Take]) -> Response:
    """Open the order's ticket."""
    typed = form.typed() | {name: str(getattr(form, name) or "") for name in ("person", "ticket", "version")}
    try:
        fee = read_money(house, typed["fee"], "fee") if typed["fee"].strip() and typed["way"] == "delivery" else 0
        said = {name: text for name, text in form.typed_for(desk.OrderForm).items() if name != "fee"}
        order = desk.OrderForm(**said, fee=fee, person=form.person or None)
        if form.ticket:
            ticket = form.ticket
            desk.become_order(house, actor, OnTicket(ticket, form.version, form.key), order)
        else:
            ticket = desk.take_order_as_said(house, actor, order, form.key)
    except Refused as refusal:
        return _new(request, house, actor, typed, wrong(house, refusal))
    if not form.person:
        say_recognised(request, house, ticket)
    return RedirectResponse(urls.ticket(ticket), 303)
