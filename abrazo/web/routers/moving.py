"""Moving between tickets, and putting a ticket on hold."""

from __future__ import annotations

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from abrazo.core.errors import Code, Refused
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.overview.finder import free_tables, open_ticket_list
from abrazo.desk.tickets import holding as ticket_desk
from abrazo.desk.tickets import moving as desk
from abrazo.desk.tickets import price_lists
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.moving import Parting
from abrazo.desk.tickets.naming import guest_name, place_of
from abrazo.desk.tickets.snapshot import load_ticket
from abrazo.web import urls
from abrazo.web.dependencies import OpenHouse, SignedIn, open_ticket
from abrazo.web.forms import moving as forms
from abrazo.web.forms.base import Sent
from abrazo.web.notices import Notice, wrong
from abrazo.web.pages import page, tell
from abrazo.words import phrases as w

router = APIRouter(prefix="/tickets/{ticket}")


def _page(
    request: Request, house: House, actor: Actor, ticket: int, notice: Notice | None = None, what: Parting | None = None
) -> Response:
    seen = open_ticket(house, ticket)
    nets = {bill.id: bill.net for bill in seen.bill.lines}
    return page(
        request,
        house,
        actor,
        "ticket/move.html",
        whole=seen,
        place=place_of(house, seen),
        nets=nets,
        names={guest.letter: guest_name(house, seen, guest) for guest in seen.guests},
        tables=free_tables(house),
        others=open_ticket_list(house, ticket),
        staff=house.staff(),
        notice=notice,
        what=what or Parting(),
    )


@router.get("/move")
def show(request: Request, house: OpenHouse, actor: SignedIn, ticket: int) -> Response:
    """Where a ticket, guests or lines can move."""
    return _page(request, house, actor, ticket)


@router.post("/move")
def move(request: Request, house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.Move]) -> Response:
    """All, some lines or a guest; to a table or another ticket."""
    version, key, what = form.version, form.key, Parting(form.guests, form.lines)
    kind, _, to = form.to.partition(" ")
    try:
        if not to:
            raise Refused(Code.NO_TARGET, "to")
        if what.lines and what.letters:
            raise Refused(Code.GUESTS_OR_LINES, "lines")
        before = _place(house, ticket)
        staying = desk.stays_behind(load_ticket(house, ticket), what.letters)
        onto = _act(house, actor, OnTicket(ticket, version, key), what, (kind, to))
    except Refused as refusal:
        notice = wrong(house, refusal, otherwise="to")
        return _page(request, house, actor, ticket, notice, what)
    if staying:
        tell(request, house.say(w.PART_STAYS, items=", ".join(staying), place=_place(house, ticket)))
    else:
        phrase = w.MOVED if not what.letters and not what.lines else w.MOVED_PART
        tell(request, house.say(phrase, from_place=before, place=_place(house, onto)))
    return RedirectResponse(urls.ticket(onto, view="lines"), 303)


def _place(house: House, ticket: int) -> str:
    return place_of(house, load_ticket(house, ticket))


def _act(house: House, actor: Actor, on: OnTicket, what: Parting, to: tuple[str, str]) -> int:
    everything = not what.letters and not what.lines
    if to[0] == "table":
        if everything:
            return desk.to_table(house, actor, on, to[1])
        return desk.split_off(house, actor, on, what, to[1])
    if not (to[1].isascii() and to[1].isdigit()):
        raise NotFound(f"no ticket {to[1]}")
    into = int(to[1])
    if everything:
        return desk.merge(house, actor, on, into)
    if what.lines:
        desk.move_lines(house, actor, on, what.lines, into)
    else:
        desk.move_guests(house, actor, on, what.letters, into)
    return into


@router.post("/hand-to")
def hand_to(request: Request, house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.HandTo]) -> Response:
    """Somebody else serves it from now on."""
    desk.hand_to(house, actor, OnTicket(ticket, form.version), form.staff)
    name = house.staff()[form.staff].name
    tell(request, house.say(w.HANDED_TO_STAFF, place=_place(house, ticket), name=name))
    return RedirectResponse(urls.ticket(ticket, view="lines"), 303)


@router.post("/aside")
def aside(request: Request, house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.Aside]) -> Response:
    """On hold under a name."""
    try:
        ticket_desk.put_aside(house, actor, OnTicket(ticket, form.version), form.name)
    except Refused as refusal:
        return _page(request, house, actor, ticket, wrong(house, refusal))
    tell(request, house.say(w.ON_HOLD_NOW, place=_place(house, ticket)))
    return RedirectResponse(urls.lens("tabs"), 303)


@router.post("/back")
def back(house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.Back]) -> Response:
    """A ticket is taken up again, with today's prices or those that it had; on hold it is so no longer."""
    if form.prices:
        said = price_lists.take_todays if form.prices == "today" else price_lists.keep_prices
        said(house, actor, OnTicket(ticket, form.version))
    ticket_desk.bring_back(house, actor, ticket)
    return RedirectResponse(urls.ticket(ticket), 303)
