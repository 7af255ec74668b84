"""Today through its lenses, the finder, scans, and starting at a table or the counter."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated

from fastapi import APIRouter, Query, Request
from starlette.responses import RedirectResponse, Response

from abrazo.core.errors import Code, Refused
from abrazo.desk.context import Actor, House, Item, NotFound
from abrazo.desk.doors import counter as counter_mode
from abrazo.desk.overview.finder import (
    Found,
    family_by_code,
    find,
    is_open,
    item_by_code,
    kinds,
    meant,
    ticket_of_table,
    usual_kind,
)
from abrazo.desk.overview.room import the_room
from abrazo.desk.payments.views.stored_value import OnCard
from abrazo.desk.setup.goods import ITEMS, like_others
from abrazo.desk.setup.options import categories_of
from abrazo.desk.setup.things import add as add_thing
from abrazo.desk.tickets import starting
from abrazo.desk.tickets import ticket_lines as desk
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.snapshot import load_ticket
from abrazo.desk.tickets.ticket_lines import Picked
from abrazo.desk.tickets.views.goods import FAMILY
from abrazo.web import urls
from abrazo.web.dependencies import OpenHouse, SignedIn
from abrazo.web.for_whom import asking_for_whom
from abrazo.web.forms import room as forms
from abrazo.web.forms.base import Sent
from abrazo.web.notices import Notice, wrong
from abrazo.web.pages import page
from abrazo.web.ticket_page import next_payer
from abrazo.web.today_page import Look, today_page
from abrazo.words import phrases as w

router = APIRouter()


@router.get("/")
def show(request: Request, house: OpenHouse, actor: SignedIn, look: Annotated[Look, Query()]) -> Response:
    """Today."""
    return today_page(request, house, actor, look)


@router.get("/find")
def finder(
    request: Request, house: OpenHouse, actor: SignedIn, q: str = "", ticket: int = 0, live: str = ""
) -> Response:
    """Tables, tickets, jobs, people, items: straight there when one thing alone is meant, else a list.

    While it is typed (`live`) nothing goes anywhere: what is meant stands first in the list.
    """
    found = find(house, q[:80])
    if found.goes_to and found.goes_to[0] != "item" and not live:
        return RedirectResponse(_way(house, found.goes_to), 303)
    return _found(request, house, actor, found, _Shown(ticket, typing=bool(live)))


def _way(house: House, goes_to: tuple[str, str]) -> str:
    kind, id = goes_to
    if kind == "table":
        seated = ticket_of_table(house, id)
        return urls.ticket(seated) if seated else urls.seat(id)
    if kind == "hires":
        return urls.hire()
    ways = {"hire": urls.one_hire, "ticket": urls.ticket, "job": urls.job, "person": urls.person}
    return urls.past(chosen=id) if kind == "past" else ways[kind](int(id))


def _spend(house: House, ticket: int, card: OnCard) -> str:
    """A gift card or voucher that is scanned on a ticket is there to be spent on it."""
    whole = load_ticket(house, ticket)
    return urls.ticket(ticket, view="pay", payer=next_payer(whole), way=card.kind, reference=card.code)


@dataclass(frozen=True, slots=True)
class _Shown:
    """How what was found is shown: on the way to which ticket, while somebody types, with a notice."""

    ticket: int
    typing: bool = False
    notice: Notice | None = None


def _categories(house: House) -> list[tuple[str, str]]:
    """Where a new item can lie."""
    return [(one.id, one.words) for one in categories_of(house) if not one.retired]


def _found(request: Request, house: House, actor: Actor, found: Found, how: _Shown) -> Response:
    straight = found.goes_to if found.goes_to and found.goes_to[0] != "item" else None
    item = item_by_code(house, found.question) if found.goes_to else None
    return page(
        request,
        house,
        actor,
        "room/found.html",
        how.notice.status if how.notice else 404 if found.nothing and not how.typing else 200,
        found=found,
        finder_q=found.question,
        typing=how.typing,
        straight=(_way(house, straight), meant(house, straight)) if straight else None,
        item=item,
        ticket=how.ticket,
        kinds=kinds(house),
        notice=how.notice,
        categories=_categories(house) if found.nothing and found.code else [],
    )


@router.post("/scan")
def scan(request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.Scan]) -> Response:
    """A scanned code, wherever the screen stands: goods come onto the open ticket, papers lead to their thing."""
    code, ticket = form.code.strip()[:80], form.ticket
    item, family = item_by_code(house, code), family_by_code(house, code)
    if form.counter and (item is not None or family is not None):
        return _at_counter(house, actor, item, family, form.key)
    if family is not None:
        if not ticket or not is_open(house, ticket):
            ticket = counter_mode.begin(house, actor, f"{form.key}-counter")
        return RedirectResponse(urls.ticket(ticket, item=f"{FAMILY}{family}"), 303)
    if item is None:
        found = find(house, code)
        if found.goes_to:
            return RedirectResponse(_way(house, found.goes_to), 303)
        if found.card and ticket:
            return RedirectResponse(_spend(house, ticket, found.card), 303)
        return _found(request, house, actor, found, _Shown(ticket))
    on_ticket = bool(ticket) and is_open(house, ticket)
    if not on_ticket:
        ticket = counter_mode.begin(house, actor, f"{form.key}-counter")
    if item.required or item.unit:
        return RedirectResponse(urls.ticket(ticket, item=item.id, category=item.category), 303)
    with asking_for_whom(ticket, item.id):
        desk.add_line(house, actor, OnTicket(ticket, None, form.key), Picked(item.id))
    return RedirectResponse(urls.ticket(ticket, category=item.category), 303)


def _at_counter(house: House, actor: Actor, item: Item | None, family: str | None, key: str) -> Response:
    """A code of goods in counter mode: onto the sale in work, or opened there to be chosen from."""
    if item is not None and not (item.required or item.unit):
        counter_mode.pick(house, actor, Picked(item.id), key)
        return RedirectResponse(urls.counter_mode(), 303)
    asked = item.id if item is not None else f"{FAMILY}{family}"
    return RedirectResponse(urls.counter_mode(item=asked), 303)


@router.post("/new-item")
def new_item(request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.NewItem]) -> Response:
    """A code that nothing has becomes an item, with what others of its category have; it comes onto the ticket."""
    typed = {"name": [form.name], "price": [form.price], "category": [form.category], "code": [form.code]}
    try:
        taken_over = {id: [str(one or "")] for id, one in like_others(house, form.category).items()}
        item = add_thing(house, actor, ITEMS, {**taken_over, **typed}, f"{form.key}-item")
    except Refused as refusal:
        notice = wrong(house, refusal).keeping(form.typed("name", "price", "category"))
        return _found(request, house, actor, find(house, form.code), _Shown(form.ticket, notice=notice))
    ticket = form.ticket
    if not ticket or not is_open(house, ticket):
        ticket = counter_mode.begin(house, actor, f"{form.key}-counter")
    desk.add_line(house, actor, OnTicket(ticket, None, form.key), Picked(item))
    return RedirectResponse(urls.ticket(ticket, category=form.category), 303)


@router.post("/unlisted")
def unlisted(house: OpenHouse, actor: SignedIn, form: Sent[forms.Unlisted]) -> Response:
    """What a code did not name becomes a counter sale to put an unlisted item on."""
    ticket = form.ticket
    if not ticket or not is_open(house, ticket):
        ticket = counter_mode.begin(house, actor, form.key)
    return RedirectResponse(urls.ticket(ticket, item="unlisted", note=form.code), 303)


@router.post("/counter")
def counter(house: OpenHouse, actor: SignedIn, form: Sent[forms.Counter]) -> Response:
    """A counter sale, with an item on it when one was found, or for a plain amount."""
    key, item = form.key, form.item
    counter_mode.close_paid(house, actor, f"{key}-paid")
    ticket = counter_mode.begin(house, actor, key)
    if item:
        with asking_for_whom(ticket, item):
            desk.add_line(house, actor, OnTicket(ticket, None, f"{key}-item"), Picked(item))
    if form.plain:
        plain = {"label": house.say(w.PLAIN_AMOUNT), "kind": usual_kind(house)}
        return RedirectResponse(urls.ticket(ticket, item="unlisted", **plain), 303)
    return RedirectResponse(urls.ticket(ticket), 303)


@router.get("/tables/{spot}/seat")
def seat_page(request: Request, house: OpenHouse, actor: SignedIn, spot: str) -> Response:
    """How many sit down at a table."""
    table = next((table for table in the_room(house).tables if table.spot.id == spot), None)
    if table is None:
        raise NotFound(f"no table {spot}")
    if table.ticket:
        return RedirectResponse(urls.ticket(table.ticket), 303)
    return page(request, house, actor, "room/seat.html", spot=table.spot, notice=None)


@router.post("/tables/{spot}/seat")
def seat(request: Request, house: OpenHouse, actor: SignedIn, spot: str, form: Sent[forms.Seat]) -> Response:
    """Guests sit down."""
    typed = form.guests
    try:
        if not typed.isascii() or not typed.isdigit() or len(typed) > 4:
            raise Refused(Code.NO_GUESTS, "guests")
        ticket = starting.seat(house, actor, spot, int(typed), form.key)
    except Refused as refusal:
        if refusal.code in (Code.TABLE_SEATED_NOW, Code.NO_DAY):
            raise
        table = next((table for table in the_room(house).tables if table.spot.id == spot), None)
        if table is None:
            raise NotFound(f"no table {spot}") from None
        notice = wrong(house, refusal, "guests").keeping({"guests": typed})
        return page(request, house, actor, "room/seat.html", spot=table.spot, notice=notice)
    return RedirectResponse(urls.ticket(ticket), 303)
