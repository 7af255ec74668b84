"""Tabs: opening one with a card held, settling on the held card, letting it go."""

from __future__ import annotations

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from abrazo.core.errors import Code, Refused
from abrazo.desk.context import Actor, House
from abrazo.desk.doors import tabs as desk
from abrazo.desk.payments.views.pay_pad import read_money
from abrazo.desk.tickets.change import OnTicket
from abrazo.web import urls
from abrazo.web.dependencies import OpenHouse, SignedIn
from abrazo.web.forms import tabs as forms
from abrazo.web.forms.base import Sent
from abrazo.web.forms.view import View
from abrazo.web.notices import Notice, said, wrong
from abrazo.web.pages import page
from abrazo.web.ticket_page import say_recognised, ticket_page
from abrazo.words import phrases as w

router = APIRouter()


@router.get("/tabs/new")
def new(request: Request, house: OpenHouse, actor: SignedIn, name: str = "", person: int = 0) -> Response:
    """Open a tab."""
    return _new(request, house, actor, {"name": name, "person": str(person or "")})


def _new(request: Request, house: House, actor: Actor, typed: dict[str, str], notice: Notice | None = None) -> Response:
    usual = house.settings.currency.text(house.settings.tab_hold)
    machines = list(house.devices.machines)
    return page(request, house, actor, "tabs/new.html", typed=typed, usual=usual, machines=machines,
                notice=notice)  # fmt: skip


@router.post("/tabs")
def open_tab(request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.OpenTab]) -> Response:
    """Open a tab; with a sum to hold, the machine is asked at once."""
    typed = {**form.typed("name", "hold", "machine"), "person": str(form.person or "")}
    key, holding = form.key, form.how != "without"
    try:
        amount = read_money(house, typed["hold"], "hold") if holding else 0
        if holding and amount <= 0:
            raise Refused(Code.NO_HOLD_OR_WITHOUT, "hold")
        ticket = desk.open_tab(house, actor, typed["name"], form.person or None, key)
    except Refused as refusal:
        return _new(request, house, actor, typed, wrong(house, refusal))
    if not form.person:
        say_recognised(request, house, ticket)
    try:
        if holding:
            on = OnTicket(ticket, None, f"{key}-hold")
            desk.hold_card(house, actor, on, typed["machine"] or actor.till.machine, amount)
    except Refused as refusal:  # the tab is open all the same; the card can be held on its page
        notice = Notice("wrong", house.say(w.TAB_BARE_OPENED, why=said(house, refusal)))
        return ticket_page(request, house, actor, ticket, View(view="lines"), notice)
    return RedirectResponse(urls.ticket(ticket), 303)


@router.post("/tickets/{ticket}/hold")
def hold(house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.Hold]) -> Response:
    """Hold a sum on the card of a tab."""
    amount = read_money(house, form.hold, "hold")
    machine = form.machine or actor.till.machine
    asked = desk.hold_card(house, actor, OnTicket(ticket, None, form.key), machine, amount)
    return RedirectResponse(urls.ticket(ticket, view="pay", asked=asked), 303)


@router.post("/tickets/{ticket}/held")
def settle_on_held(house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.SettleOnHeld]) -> Response:
    """Take a payer's sum from the held card."""
    amount = read_money(house, form.take, "amount")
    version, payer, held = form.version, form.payer, form.hold
    asked = desk.charge_held(house, actor, OnTicket(ticket, version, form.key), payer, held, amount)
    return RedirectResponse(urls.ticket(ticket, view="pay", payer=payer, asked=asked), 303)


@router.post("/tickets/{ticket}/let-go")
def let_go(house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.LetGo]) -> Response:
    """Release what is held."""
    asked = desk.let_go(house, actor, OnTicket(ticket, None, form.key), form.hold)
    return RedirectResponse(urls.ticket(ticket, view="pay", asked=asked), 303)
