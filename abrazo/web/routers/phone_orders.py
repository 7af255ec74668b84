"""Orders by phone."""

from __future__ import annotations

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from abrazo.core.errors import Refused
from abrazo.desk.context import Actor, House
from abrazo.desk.doors import phone_orders as desk
from abrazo.desk.payments.views.pay_pad import read_money
from abrazo.web import urls
from abrazo.web.dependencies import OpenHouse, SignedIn
from abrazo.web.forms import phone_orders as forms
from abrazo.web.forms.base import Sent
from abrazo.web.notices import Notice, wrong
from abrazo.web.pages import page

router = APIRouter(prefix="/orders")


@router.get("/new")
def new(
    request: Request, house: OpenHouse, actor: SignedIn, name: str = "", phone: str = "", person: int = 0
) -> Response:
    """An order by phone: who, for whom, when."""
    return _new(request, house, actor, {"name": name, "phone": phone, "person": str(person or "")})


def _new(request: Request, house: House, actor: Actor, typed: dict[str, str], notice: Notice | None = None) -> Response:
    usual = (house.now() + desk.PROMISED_IN).strftime("%H:%M")
    fee = house.settings.currency.text(house.settings.delivery_fee)
    return page(request, house, actor, "room/order.html", typed=typed, usual=usual, fee=fee, notice=notice)


@router.post("")
def take(request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.Take]) -> Response:
    """Open the order's ticket."""
    typed = {**form.typed(), "person": str(form.person or "")}
    try:
        fee = read_money(house, typed["fee"], "fee") if typed["fee"].strip() and typed["way"] == "delivery" else 0
        said = {name: text for name, text in form.typed_for(desk.OrderForm).items() if name != "fee"}
        order = desk.OrderForm(**said, fee=fee, person=form.person or None)
        ticket = desk.take_order_as_said(house, actor, order, form.key)
    except Refused as refusal:
        return _new(request, house, actor, typed, wrong(house, refusal))
    return RedirectResponse(urls.ticket(ticket), 303)
