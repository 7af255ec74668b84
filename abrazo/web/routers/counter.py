"""Counter mode: one screen, one touch on a likely note, and ready for the next."""

from __future__ import annotations

from collections.abc import Callable

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from abrazo.core.errors import Refused
from abrazo.desk.context import Actor, House
from abrazo.desk.doors import counter as desk
from abrazo.desk.doors import counter_hold
from abrazo.desk.output import after_sale, outbox
from abrazo.desk.payments.views.pay_pad import read_money
from abrazo.desk.tickets import anonymous_accounts
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.line_changes import chosen_of
from abrazo.desk.tickets.ticket_lines import Picked
from abrazo.web import urls
from abrazo.web.counter_page import counter_page
from abrazo.web.dependencies import OpenHouse, SignedIn
from abrazo.web.forms import counter as forms
from abrazo.web.forms.base import Sent
from abrazo.web.forms.view import AskedView, SentView, View
from abrazo.web.notices import wrong
from abrazo.web.pages import tell
from abrazo.web.supervisor_override import with_lender
from abrazo.words import phrases as w

router = APIRouter(prefix="/counter-mode")


@router.get("")
def show(request: Request, house: OpenHouse, actor: SignedIn, view: AskedView) -> Response:
    """Counter mode: items, the sale, likely cash."""
    return counter_page(request, house, actor, view)


@router.post("/add")
def add(request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.Add], view: SentView) -> Response:
    """One more item, with what was chosen for it; with the first one a sale begins."""
    try:
        desk.pick(house, actor, _picked(view), form.key)
    except Refused as refusal:
        return counter_page(request, house, actor, view, wrong(house, refusal, otherwise="item"))
    return _back(view)


def _picked(view: View) -> Picked:
    note = ", ".join((*view.notes, *([view.note] if view.note else [])))
    return Picked(view.item, view.quantity, view.choices, (), note)


@router.get("/change-line")
def change_page(house: OpenHouse, actor: SignedIn, ticket: int, line: int, category: str = "") -> Response:
    """The item's panel as the line stands."""
    one = desk.sale_in_work(house, actor, ticket).line(line)
    view = View(category=category, item=one.item, changing=line, quantity=one.quantity, note=one.note)
    return RedirectResponse(urls.counter_mode(**view.state(choices=chosen_of(house, one))), 303)


@router.post("/change")
def change(request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.Change], view: SentView) -> Response:
    """A line's choices, note and number, in place."""
    on = OnTicket(form.ticket, form.version)
    try:
        desk.change_line(house, actor, on, form.changing, _picked(view))
    except Refused as refusal:
        at = "item" if refusal.where == "reason" else ""  # what was sent goes on the full ticket only, with its reason
        return counter_page(request, house, actor, view, wrong(house, refusal, at, otherwise="item"))
    return _back(view)


def _done(request: Request, house: House, actor: Actor, view: View, at: str, act: Callable[[], None]) -> Response:
    """Do something and show the counter again; where it is refused, with that beside the field `at`."""
    try:
        act()
    except Refused as refusal:
        return counter_page(request, house, actor, view, wrong(house, refusal, at))
    return _back(view)


@router.post("/put-by")
def put_by(request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.PutBy], view: SentView) -> Response:
    """The sale waits for its customer."""
    on = OnTicket(form.ticket, form.version, form.key)
    return _done(request, house, actor, view, "handed", lambda: counter_hold.put_by(house, actor, on))


@router.post("/bring-back")
def bring_back(
    request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.BringBack], view: SentView
) -> Response:
    """A sale that waits is the sale in work; what was in work waits."""
    on = OnTicket(form.waiting, None, form.key)
    return _done(request, house, actor, view, "item", lambda: counter_hold.bring_back(house, actor, on))


@router.post("/gift")
def gift(request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.Gift], view: SentView) -> Response:
    """A receipt without prices of what is paid."""

    def printed() -> None:
        desk.sale_in_work(house, actor, form.ticket).payer(form.payer)
        outbox.print_receipt(house, actor, form.ticket, form.payer, form.key, gift=True)
        tell(request, house.say(w.GIFT_RECEIPT_PRINTED))

    return _done(request, house, actor, view, "handed", printed)


@router.post("/give")
def give(request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.Give], view: SentView) -> Response:
    """A preset discount on the sale, or off it again."""
    on = OnTicket(form.ticket, form.version, form.key)
    if form.given:
        return _done(request, house, actor, view, "preset", lambda: desk.give_up(house, actor, on, form.given))
    return _done(request, house, actor, view, "preset", lambda: desk.give(house, actor, on, form.preset))


@router.post("/send")
def send(request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.Send], view: SentView) -> Response:
    """What is to be made goes to its places now."""
    try:
        desk.send(house, actor, OnTicket(form.ticket, form.version, form.key))
    except Refused as refusal:
        return counter_page(request, house, actor, view, wrong(house, refusal, "handed"))
    outbox.send_waiting(house)
    return _back(view)


def _back(view: View) -> Response:
    return RedirectResponse(urls.counter_mode(category=view.category), 303)


@router.post("/remove")
def remove(request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.Remove], view: SentView) -> Response:
    """A line off the sale."""
    on = OnTicket(form.ticket, form.version)
    return _done(request, house, actor, view, "item", lambda: desk.take_off(house, actor, on, form.line))


@router.post("/pay")
def pay(request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.Pay], view: SentView) -> Response:
    """A note for all of it: paid, the drawer open, the change large, ready for the next."""
    try:
        handed = read_money(house, form.handed, "handed")
        desk.take_note(house, actor, OnTicket(form.ticket, form.version, form.key), handed)
    except Refused as refusal:
        return counter_page(request, house, actor, view, wrong(house, refusal, "handed"))
    outbox.open_drawer(house, actor, "counter sale")
    after_sale.print_at_counter(house, actor, form.ticket, form.key)
    return _back(view)


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
        return counter_page(request, house, actor, View(), wrong(house, refusal, "pin"))
    return RedirectResponse(urls.counter_mode(), 303)
