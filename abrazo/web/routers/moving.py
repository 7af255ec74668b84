"""Moving between tickets, and putting a ticket on hold."""

from __future__ import annotations

from dataclasses import dataclass, field

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from abrazo.core.errors import Code, Refused
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.doors.phone_orders import may_become_order
from abrazo.desk.overview.finder import targets, ticket_of_table
from abrazo.desk.tickets import holding as ticket_desk
from abrazo.desk.tickets import moving as desk
from abrazo.desk.tickets import price_lists, unmerging
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.moving import Parting
from abrazo.desk.tickets.naming import guest_name, place_of
from abrazo.desk.tickets.snapshot import TicketSnapshot, load_ticket
from abrazo.desk.tickets.unmerging import comes_back
from abrazo.web import urls
from abrazo.web.dependencies import OpenHouse, SignedIn, open_ticket
from abrazo.web.forms import moving as forms
from abrazo.web.forms.base import Sent
from abrazo.web.notices import Notice, wrong
from abrazo.web.pages import Undo, page, tell
from abrazo.words import phrases as w

router = APIRouter(prefix="/tickets/{ticket}")


@dataclass(frozen=True, slots=True)
class Asked:
    """What is asked before something moves: where it would go, what would be added there, what guests share."""

    to: str
    place: str = ""
    due: int = 0
    sharing: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Filled:
    """The page as it was filled in: what goes, which targets were looked for, what is asked."""

    what: Parting = field(default_factory=Parting)
    q: str = ""
    asked: Asked | None = None


def _page(
    request: Request,
    house: House,
    actor: Actor,
    ticket: int,
    notice: Notice | None = None,
    filled: Filled | None = None,
) -> Response:
    seen, filled = open_ticket(house, ticket), filled or Filled()
    nets = {bill.id: bill.net for bill in seen.bill.lines}
    tables, others = targets(house, ticket, filled.q)
    return page(
        request,
        house,
        actor,
        "ticket/move.html",
        whole=seen,
        place=place_of(house, seen),
        nets=nets,
        names={guest.letter: guest_name(house, seen, guest) for guest in seen.guests},
        tables=tables,
        others=others,
        staff=house.staff(),
        notice=notice,
        what=filled.what,
        q=filled.q,
        asked=filled.asked,
        may_be_order=may_become_order(seen),
        name_to_hold=ticket_desk.name_to_hold(house, seen),
    )


@router.get("/move")
def show(request: Request, house: OpenHouse, actor: SignedIn, ticket: int) -> Response:
    """Where a ticket, guests or lines can move."""
    return _page(request, house, actor, ticket)


@router.post("/move")
def move(request: Request, house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.Move]) -> Response:
    """All, some lines or a guest; to a table or another ticket. What cannot be undone is asked before."""
    what, to = Parting(form.guests, form.lines, along=form.shared == "go"), form.to
    if form.find:
        return _page(request, house, actor, ticket, None, Filled(what, form.q))
    seen = open_ticket(house, ticket)
    try:
        if not to:
            raise Refused(Code.NO_TARGET, "to")
        if what.lines and what.letters:
            raise Refused(Code.GUESTS_OR_LINES, "lines")
        asked = _asked(house, seen, form)
        if asked is not None:
            return _page(request, house, actor, ticket, None, Filled(what, asked=asked))
        onto = _act(house, actor, OnTicket(ticket, form.version, form.key), what, to)
    except Refused as refusal:
        notice = wrong(house, refusal, otherwise="to")
        return _page(request, house, actor, ticket, notice, Filled(what, form.q))
    _told(request, house, seen, what, (to, onto))
    return RedirectResponse(urls.ticket(onto, view="lines"), 303)


def _asked(house: House, seen: TicketSnapshot, form: forms.Move) -> Asked | None:
    """What has to be asked first: all of a ticket goes into another one and ends, or guests leave what they share."""
    staying = tuple(desk.stays_behind(seen, form.guests))
    if staying and form.shared not in ("stay", "go"):
        return Asked(form.to, sharing=staying)
    kind, _, to = form.to.partition(" ")
    into = ticket_of_table(house, to) if kind == "table" else int(to) if to.isascii() and to.isdigit() else None
    if into is None or form.guests or form.lines or form.sure or not seen.standing or comes_back(house, seen):
        return None
    other = open_ticket(house, into)
    return Asked(form.to, place_of(house, other), other.bill.total)


def _told(request: Request, house: House, seen: TicketSnapshot, what: Parting, where: tuple[str, int]) -> None:
    """Say what moved where, as it was asked and onto which ticket; with an undo that leaves everything as it was."""
    to, onto = where
    head, there, undo = seen.head, load_ticket(house, onto), None
    version = ("version", there.head.version)
    phrase = w.MOVED_PART if what.letters or what.lines else w.MOVED
    words = house.say(phrase, from_place=place_of(house, seen), place=place_of(house, there))
    staying = [] if what.along else desk.stays_behind(seen, what.letters)
    if staying:
        words = house.say(w.PART_STAYS, items=", ".join(staying), place=place_of(house, load_ticket(house, head.id)))
    elif onto != head.id and not (what.letters or what.lines) and comes_back(house, seen):
        lines = tuple(("lines", line.id) for line in seen.standing)
        undo = Undo(urls.ticket_act(onto, "unmerge"), (version, ("back", head.id), *lines))
    elif onto == head.id:
        undo = Undo(urls.ticket_act(onto, "unmove"), (version,))
    elif what.lines and to.startswith("ticket ") and all(not seen.line(line).shares for line in what.lines):
        back = tuple(("lines", line) for line in what.lines)
        undo = Undo(urls.move(onto), (version, ("to", f"ticket {head.id}"), *back))
    tell(request, words, undo)


@router.post("/unmove")
def unmove(request: Request, house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.Unmove]) -> Response:
    """A ticket that went to a free table goes back to where it was."""
    try:
        desk.off_table(house, actor, OnTicket(ticket, form.version, form.key))
    except Refused as refusal:
        return _page(request, house, actor, ticket, wrong(house, refusal, otherwise="to"))
    tell(request, house.say(w.MOVED_BACK, place=_place(house, ticket)))
    return RedirectResponse(urls.ticket(ticket, view="lines"), 303)


def _place(house: House, ticket: int) -> str:
    return place_of(house, load_ticket(house, ticket))


def _act(house: House, actor: Actor, on: OnTicket, what: Parting, where: str) -> int:
    everything = not what.letters and not what.lines
    kind, _, to = where.partition(" ")
    if kind == "table":
        if everything:
            return desk.to_table(house, actor, on, to)
        return desk.split_off(house, actor, on, what, to)
    if not (to.isascii() and to.isdigit()):
        raise NotFound(f"no ticket {to}")
    into = int(to)
    if everything:
        return desk.merge(house, actor, on, into)
    if what.lines:
        desk.move_lines(house, actor, on, what.lines, into)
    else:
        desk.move_guests(house, actor, on, what, into)
    return into


@router.post("/unmerge")
def unmerge(request: Request, house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.Unmerge]) -> Response:
    """A sale that was put into this ticket is one of its own again."""
    try:
        back = unmerging.unmerge(house, actor, OnTicket(ticket, form.version, form.key), form.back, form.lines)
    except Refused as refusal:
        return _page(request, house, actor, ticket, wrong(house, refusal, otherwise="to"))
    tell(request, house.say(w.UNMERGED, place=_place(house, back)))
    return RedirectResponse(urls.ticket(back, view="lines"), 303)


@router.post("/hand-to")
def hand_to(request: Request, house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.HandTo]) -> Response:
    """Somebody else serves it from now on."""
    before = open_ticket(house, ticket).head.staff
    desk.hand_to(house, actor, OnTicket(ticket, form.version), form.staff)
    name = house.staff()[form.staff].name
    back = (("version", load_ticket(house, ticket).head.version), ("staff", before))
    undo = Undo(urls.ticket_act(ticket, "hand-to"), back) if before != form.staff else None
    tell(request, house.say(w.HANDED_TO_STAFF, place=_place(house, ticket), name=name), undo)
    return RedirectResponse(urls.ticket(ticket, view="lines"), 303)


@router.post("/aside")
def aside(request: Request, house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.Aside]) -> Response:
    """On hold under a name."""
    try:
        ticket_desk.put_aside(house, actor, OnTicket(ticket, form.version), form.name)
    except Refused as refusal:
        return _page(request, house, actor, ticket, wrong(house, refusal))
    tell(request, house.say(w.ON_HOLD_NOW, place=_place(house, ticket)), Undo(urls.ticket_act(ticket, "back"), ()))
    return RedirectResponse(urls.lens("tabs"), 303)


@router.post("/back")
def back(house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.Back]) -> Response:
    """A ticket is taken up again, with today's prices or those that it had; on hold it is so no longer."""
    if form.prices:
        said = price_lists.take_todays if form.prices == "today" else price_lists.keep_prices
        said(house, actor, OnTicket(ticket, form.version))
    ticket_desk.bring_back(house, actor, ticket)
    return RedirectResponse(urls.ticket(ticket), 303)
