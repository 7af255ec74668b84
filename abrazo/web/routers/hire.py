"""Hire: what is out and free, a unit onto a ticket, and back."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query, Request
from starlette.responses import RedirectResponse, Response

from abrazo.core.errors import Refused
from abrazo.desk.context import Actor, House
from abrazo.desk.doors import hires as desk
from abrazo.desk.doors.hires import Returned, WantedHire
from abrazo.desk.doors.views.hires import hire_day, hire_sheet
from abrazo.desk.overview.person import likely_here, person_hits
from abrazo.desk.payments import cards
from abrazo.desk.payments.views.pay_pad import read_money
from abrazo.desk.people.people import find_people, known, recognised
from abrazo.desk.tickets import customer
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.naming import place_of
from abrazo.web import urls
from abrazo.web.dependencies import OpenHouse, SignedIn, open_ticket
from abrazo.web.forms import hire as forms
from abrazo.web.forms.base import Sent
from abrazo.web.hire_plan import hire_plan
from abrazo.web.notices import Notice, wrong
from abrazo.web.pages import page, tell
from abrazo.words import phrases as w

router = APIRouter(prefix="/hire")
on_tickets = APIRouter(prefix="/tickets/{ticket}/hire")


@router.get("")
def show(request: Request, house: OpenHouse, actor: SignedIn, asked: Annotated[forms.AskedHire, Query()]) -> Response:
    """What is out, due back, late and free; and for whom something is hired out."""
    q = asked.q[:80].strip()
    if any(map(str.isdigit, q)) and (one := recognised(house, "", q)):
        hits = person_hits(house, [one])
    else:
        hits = person_hits(house, find_people(house, q, 6)) if q else likely_here(house, 0)
    day = hire_day(house)
    return page(
        request, house, actor, "hire/page.html", day=day, plan=hire_plan(house, day), hits=hits, q=q, notice=None
    )


@router.post("")
def begin(house: OpenHouse, actor: SignedIn, form: Sent[forms.For]) -> Response:
    """A ticket for somebody who hires."""
    ticket = customer.open_sale(house, actor, form.person, form.key)
    return RedirectResponse(urls.hire_on(ticket), 303)


@on_tickets.get("")
def offered(
    request: Request, house: OpenHouse, actor: SignedIn, ticket: int, asked: Annotated[forms.AskedOnTicket, Query()]
) -> Response:
    """What can be hired on a ticket: for how long, which unit, secured by which card."""
    seen = open_ticket(house, ticket)
    if seen.head.person is None:
        return RedirectResponse(urls.whose(ticket, item=asked.item), 303)
    return _offered(request, house, actor, ticket, asked)


def _offered(
    request: Request, house: House, actor: Actor, ticket: int, asked: forms.AskedOnTicket, notice: Notice | None = None
) -> Response:
    seen = open_ticket(house, ticket)
    person = known(house, seen.head.person or 0)
    try:
        start = desk.start_of(house, asked.date, asked.time)
    except Refused as refusal:
        notice, start = notice or wrong(house, refusal), desk.start_of(house, "", "")
    offers = desk.offers(house, start, asked.item)
    return page(
        request,
        house,
        actor,
        "hire/on_ticket.html",
        whole=seen,
        place=place_of(house, seen),
        person=person,
        offers=offers,
        asked=asked,
        cards=[
            card for card, owner in cards.stored_for(house, person.id) if owner.id == person.id and not card.is_bank
        ],
        notice=notice,
        typed=notice.typed if notice else {},
    )


@on_tickets.post("")
def add(request: Request, house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.Add]) -> Response:
    """A unit comes onto the ticket."""
    typed = form.typed("email", "date", "time")
    units = form.numbered("unit")
    wanted = WantedHire(form.tariff, units, form.card, form.email, form.date, form.time)
    try:
        made = desk.add_hire(house, actor, OnTicket(ticket, form.version, form.key), wanted)
    except Refused as refusal:
        asked = forms.AskedOnTicket(item=form.item, date=form.date, time=form.time)
        return _offered(request, house, actor, ticket, asked, wrong(house, refusal).keeping(typed))
    hire = desk.read_hire(house, made)
    tell(request, house.say(w.HIRE_ADDED, hire=hire.name, unit=hire.unit, due=hire.due_at))
    return RedirectResponse(urls.ticket(ticket, view="lines"), 303)


@on_tickets.post("/card")
def store(request: Request, house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.StoreCard]) -> Response:
    """A card is stored, which secures what is hired."""
    seen = open_ticket(house, ticket)
    keyed = cards.Keyed(form.number, form.expiry, form.code, keep=True)
    try:
        cards.store(house, actor, seen.head.person or 0, keyed, form.key)
    except Refused as refusal:
        notice = wrong(house, refusal).keeping({"expiry": form.expiry})
        return _offered(request, house, actor, ticket, forms.AskedOnTicket(item=form.item), notice)
    return RedirectResponse(urls.hire_on(ticket, item=form.item), 303)


@router.get("/{hire:int}")
def sheet(request: Request, house: OpenHouse, actor: SignedIn, hire: int) -> Response:
    """A hire: what it is, who has it, and taking it back."""
    return _sheet(request, house, actor, hire)


def _sheet(
    request: Request,
    house: House,
    actor: Actor,
    hire_id: int,
    notice: Notice | None = None,
    returned: Returned | None = None,
) -> Response:
    hire = desk.read_hire(house, hire_id)
    cost = desk.cost_now(house, hire, returned or Returned()) if hire.returned_at is None else None
    told, typed = hire_sheet(house, hire), notice.typed if notice else {}
    return page(
        request, house, actor, "hire/sheet.html", sheet=told, cost=cost, asks=returned, notice=notice, typed=typed
    )


def _shown(house: House, hire_id: int, returned: Returned, sure: str) -> bool:
    """Whether what it costs now is what was shown; of what is back already nothing has to be."""
    hire = desk.read_hire(house, hire_id)
    return hire.returned_at is not None or sure == str(desk.cost_now(house, hire, returned).comes_to)


@router.post("/{hire:int}/back")
def back(request: Request, house: OpenHouse, actor: SignedIn, hire: int, form: Sent[forms.TakeBack]) -> Response:
    """A unit comes back; what that costs now is shown before it is charged."""
    typed = form.typed("note", "damage", "lost")
    try:
        damage = read_money(house, form.damage, "damage") if form.damage.strip() else 0
        returned = Returned(form.note, damage, form.lost == "yes")
        if damage >= 0 and not _shown(house, hire, returned, form.sure):
            return _sheet(request, house, actor, hire, Notice("ask", "", status=200).keeping(typed), returned)
        ticket = desk.take_back(house, actor, hire, returned, form.key)
    except Refused as refusal:
        return _sheet(request, house, actor, hire, wrong(house, refusal).keeping(typed))
    one = desk.read_hire(house, hire)
    if ticket is None:
        tell(request, house.say(w.HIRE_IS_BACK, hire=one.name))
        return RedirectResponse(urls.hire(), 303)
    tell(request, house.say(w.HIRE_CHARGES, hire=one.name, amount=open_ticket(house, ticket).bill.total))
    return RedirectResponse(urls.ticket(ticket, view="pay"), 303)
