"""Counter mode: one screen, one touch on a likely note, and ready for the next."""

from __future__ import annotations

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from abrazo.core.errors import Refused
from abrazo.core.tenders import change_from, likely_cash
from abrazo.desk.context import Actor, House
from abrazo.desk.doors import counter as desk
from abrazo.desk.output import outbox
from abrazo.desk.payments.views.pay_pad import read_money
from abrazo.desk.permissions import Right, has
from abrazo.desk.tickets import anonymous_accounts
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.counter_lock import held_to_counter, is_locked, with_tabs
from abrazo.desk.tickets.naming import place_of
from abrazo.desk.tickets.ticket_lines import Picked
from abrazo.desk.tickets.views.catalogue import pick_page
from abrazo.desk.till.drawer import as_read
from abrazo.desk.till.views.till import denominations
from abrazo.web import urls
from abrazo.web.dependencies import OpenHouse, SignedIn
from abrazo.web.forms import counter as forms
from abrazo.web.forms.base import Sent
from abrazo.web.notices import Notice, said, wrong
from abrazo.web.pages import page
from abrazo.web.supervisor_override import supervisors, with_lender

router = APIRouter(prefix="/counter-mode")


@router.get("")
def show(request: Request, house: OpenHouse, actor: SignedIn, category: str = "often", q: str = "") -> Response:
    """Counter mode: items, the sale, likely cash."""
    return _page(request, house, actor, category, q)


def _page(
    request: Request, house: House, actor: Actor, category: str, q: str = "", notice: Notice | None = None
) -> Response:
    sale = desk.sale_of(house, actor)
    paid = sale is not None and desk.is_paid(sale)
    cash = 0 if sale is None or paid else sale.bill.payers[0].cash_due
    digits = house.settings.currency.digits
    return page(
        request,
        house,
        actor,
        "room/counter.html",
        pick=pick_page(house, category, q, ""),
        q=q,
        sale=sale,
        paid=paid,
        cash=cash,
        nets={} if sale is None else {line.id: line.net for line in sale.bill.lines},
        notes=[(note, change_from(note, cash)) for note in likely_cash(cash, denominations(house), 10**digits)],
        change=sale.taken[-1] if sale is not None and paid else None,
        pieces=as_read(sale.taken[-1].pieces) if sale is not None and paid else {},
        held=said(house, held) if (held := held_to_counter(house, actor)) else "",
        locked=is_locked(house, actor),
        people=desk.held_people(house) if has(actor.staff, Right.HOLD_TO_COUNTER_MODE) else {},
        names=house.staff(),
        lenders=supervisors(house),
        tabs=[(one.head.id, place_of(house, one), one.bill.due) for one in desk.open_tabs(house)]
        if with_tabs(house, actor)
        else None,
        accounts=anonymous_accounts.accounts_of_house(house),
        account=anonymous_accounts.account_of(house, actor.till.id),
        notice=notice,
    )


@router.post("/add")
def add(request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.Add]) -> Response:
    """One more item; with the first one a sale begins."""
    category = form.category
    try:
        desk.pick(house, actor, Picked(form.item), form.key)
    except Refused as refusal:
        return _page(request, house, actor, category, notice=wrong(house, refusal, "item"))
    return RedirectResponse(urls.counter_mode(category=category), 303)


@router.post("/choose")
def choose(house: OpenHouse, actor: SignedIn, form: Sent[forms.Choose]) -> Response:
    """An item that asks for a choice first: on the full ticket."""
    number = desk.ready(house, actor, form.key)
    return RedirectResponse(urls.ticket(number, item=form.item, category=form.category), 303)


@router.post("/remove")
def remove(request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.Remove]) -> Response:
    """A line off the sale."""
    category = form.category
    try:
        desk.take_off(house, actor, OnTicket(form.ticket, form.version), form.line)
    except Refused as refusal:
        return _page(request, house, actor, category, notice=wrong(house, refusal, "item"))
    return RedirectResponse(urls.counter_mode(category=category), 303)


@router.post("/pay")
def pay(request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.Pay]) -> Response:
    """A note for all of it: paid, the drawer open, the change large, ready for the next."""
    category = form.category
    try:
        handed = read_money(house, form.handed, "handed")
        desk.take_note(house, actor, OnTicket(form.ticket, form.version, form.key), handed)
    except Refused as refusal:
        return _page(request, house, actor, category, notice=wrong(house, refusal, "handed"))
    outbox.open_drawer(house, actor, "counter sale")
    return RedirectResponse(urls.counter_mode(category=category), 303)


@router.post("/sold-from")
def sell_on(house: OpenHouse, actor: SignedIn, form: Sent[forms.SellOn]) -> Response:
    """New counter sales of this till go on another account without a customer."""
    anonymous_accounts.sell_on(house, actor, form.sold_from)
    return RedirectResponse(urls.counter_mode(category=form.category), 303)


@router.post("/leave")
def leave(house: OpenHouse, actor: SignedIn, form: Sent[forms.Leave]) -> Response:
    """To Today; what is paid is closed."""
    desk.close_paid(house, actor, form.key)
    return RedirectResponse(urls.today(), 303)


@router.post("/hold")
def hold(request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.Hold]) -> Response:
    """Lock the till to this mode or let it go; hold a person to it or let them go."""
    on, who = form.on, form.who
    try:
        if who:
            desk.hold_person(house, actor, who, on)
        else:
            desk.hold_till(house, with_lender(house, actor, form), on)
    except Refused as refusal:
        return _page(request, house, actor, "often", notice=wrong(house, refusal, "pin"))
    return RedirectResponse(urls.counter_mode(), 303)
