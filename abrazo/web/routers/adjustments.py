"""Discounts, comps and surcharges on a line or on the ticket, and prices that may be overtyped."""

from __future__ import annotations

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from abrazo.core.errors import Refused
from abrazo.desk.context import Actor, House
from abrazo.desk.payments.views.pay_pad import read_money
from abrazo.desk.tickets import adjustments as desk
from abrazo.desk.tickets import price_lists
from abrazo.desk.tickets.adjustments import Wanted
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.naming import place_of
from abrazo.desk.tickets.starting import service_charge
from abrazo.web import urls
from abrazo.web.dependencies import OpenHouse, SignedIn, open_ticket
from abrazo.web.forms import adjustments as forms
from abrazo.web.forms.base import Sent
from abrazo.web.forms.view import SentView
from abrazo.web.notices import Notice, wrong
from abrazo.web.pages import page
from abrazo.web.supervisor_override import ask_to_lend, supervisors, with_lender
from abrazo.words import phrases as w

router = APIRouter(prefix="/tickets/{ticket}/adjust")


@router.get("")
def show(request: Request, house: OpenHouse, actor: SignedIn, ticket: int, line: int = 0) -> Response:
    """What is given on a ticket or line, and what can be."""
    return _page(request, house, actor, ticket, line)


def _page(
    request: Request,
    house: House,
    actor: Actor,
    ticket: int,
    line: int,
    notice: Notice | None = None,
) -> Response:
    seen = open_ticket(house, ticket)
    about, all_lists = seen.line(line) if line else None, price_lists.all_lists(house)
    return page(
        request,
        house,
        actor,
        "ticket/adjust.html",
        whole=seen,
        place=place_of(house, seen),
        line=about,
        net={bill.id: bill.net for bill in seen.bill.lines}.get(str(line), seen.bill.net),
        given=[one for one in seen.given if one.line in (None, line or None)],
        charges=dict(seen.bill.charges),
        service=service_charge(house).label,
        offers=desk.offers(house, about),
        variable=about is not None and desk.is_variable(house, about.item),
        lists=[
            ("", house.say(w.BY_THE_HOUR)),
            (price_lists.USUAL, house.say(w.USUAL_PRICES)),
            *((one.id, one.name) for one in all_lists),
        ],
        people=house.staff(),
        lenders=supervisors(house),
        notice=notice,
    )


@router.post("")
def give(request: Request, house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.Give]) -> Response:
    """Give a preset with one touch, by its code, or a free one with a reason."""
    typed = form.typed()
    line, version = form.line, form.version
    wanted = Wanted(typed["kind"] or "discount", form.preset, typed["code"], typed["percent"],
                    typed["amount"], typed["reason"])  # fmt: skip
    try:
        desk.give(house, with_lender(house, actor, form), OnTicket(ticket, version, form.key), line or None, wanted)
    except Refused as refusal:
        return _page(request, house, actor, ticket, line, wrong(house, refusal).keeping(typed))
    return RedirectResponse(urls.ticket(ticket, view="lines", line=line or None), 303)


@router.post("/off")
def take_off(house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.TakeOff]) -> Response:
    """Take one off; a ticket discount off one line when a line is named."""
    line = form.line
    desk.take_off(house, actor, OnTicket(ticket, form.version), form.given, line or None)
    return RedirectResponse(urls.adjust(ticket, line=line or None), 303)


@router.post("/charge")
def charge(house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.Charge]) -> Response:
    """A charge is taken off, or the service charge put on by hand."""
    version, off = form.version, form.charge
    if off:
        desk.take_charge_off(house, actor, OnTicket(ticket, version), off)
    else:
        desk.put_service_charge(house, actor, OnTicket(ticket, version, form.key))
    return RedirectResponse(urls.adjust(ticket), 303)


@router.post("/benefit")
def benefit(house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.Benefit], view: SentView) -> Response:
    """A benefit is kept for another day, or used after all."""
    version, day = form.version, form.how == "another day"
    desk.keep_benefit(house, actor, OnTicket(ticket, version), form.benefit, another_day=day)
    return RedirectResponse(urls.ticket(ticket, **view.state()), 303)


@router.post("/list")
def price_list(house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.PriceList]) -> Response:
    """The price list of the ticket's new lines."""
    price_lists.choose_list(house, actor, OnTicket(ticket, form.version), form.list)
    return RedirectResponse(urls.adjust(ticket), 303)


@router.post("/price")
def price(request: Request, house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.Price]) -> Response:
    """Another unit price for a line."""
    line = form.line
    try:
        amount = read_money(house, form.price, "price")
        desk.set_price(house, with_lender(house, actor, form), OnTicket(ticket, form.version), line, amount)
    except Refused as refusal:
        ask_to_lend(refusal)
        notice = wrong(house, refusal, "price").keeping({"price": form.price})
        return _page(request, house, actor, ticket, line, notice)
    return RedirectResponse(urls.ticket(ticket, view="lines", line=line), 303)
