"""Today, the finder, and seating a table."""

from __future__ import annotations

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from abrazo.core.errors import Refused
from abrazo.desk import ticket as desk
from abrazo.desk.house import NotFound
from abrazo.desk.look.past import find_ticket
from abrazo.desk.look.room import today
from abrazo.web import urls
from abrazo.web.forms import Notice, act_key, text, whole
from abrazo.web.pages import page
from abrazo.web.wires import OpenHouse, Sent, SignedIn

router = APIRouter()


@router.get("/")
def show(request: Request, house: OpenHouse, actor: SignedIn) -> Response:
    return page(request, house, actor, "room/today.html", today=today(house), notice=None)


@router.get("/find")
def find(request: Request, house: OpenHouse, actor: SignedIn, q: str = "") -> Response:
    """A table by name or a ticket by number, open or past."""
    wanted = q.strip().upper().removeprefix("TABLE").strip()
    room = today(house)
    for table in room.tables:
        if table.spot.name.upper() == wanted:
            return RedirectResponse(urls.ticket(table.ticket) if table.ticket else urls.seat(table.spot.id), 303)
    if wanted.isascii() and wanted.isdigit() and len(wanted) < 12:
        found = find_ticket(house, int(wanted))
        if found and found.head.state == "open":
            return RedirectResponse(urls.ticket(found.head.id), 303)
        if found:
            return RedirectResponse(urls.past(chosen=found.head.id), 303)
    what = f"No table or ticket is called “{q.strip()[:40]}”. Type a table such as D4, or a ticket's whole number."
    return page(request, house, actor, "room/today.html", 404, today=room, notice=Notice("wrong", what, "q"))


@router.get("/tables/{spot}/seat")
def seat_page(request: Request, house: OpenHouse, actor: SignedIn, spot: str) -> Response:
    table = next((table for table in today(house).tables if table.spot.id == spot), None)
    if table is None:
        raise NotFound(f"no table {spot}")
    if table.ticket:
        return RedirectResponse(urls.ticket(table.ticket), 303)
    return page(request, house, actor, "room/seat.html", spot=table.spot, notice=None)


@router.post("/tables/{spot}/seat")
def seat(request: Request, house: OpenHouse, actor: SignedIn, spot: str, form: Sent) -> Response:
    typed = text(form, "guests")
    try:
        if not typed.isascii() or not typed.isdigit() or len(typed) > 4:
            raise Refused("guests", "How many guests? A whole number.", "guests")
        ticket = desk.seat(house, actor, spot, whole(form, "guests"), act_key(form))
    except Refused as refusal:
        if refusal.code in ("busy", "no_day"):
            raise
        table = next((table for table in today(house).tables if table.spot.id == spot), None)
        if table is None:
            raise NotFound(f"no table {spot}") from None
        notice = Notice("wrong", refusal.what, "guests")
        return page(request, house, actor, "room/seat.html", 422, spot=table.spot, notice=notice, typed=typed)
    return RedirectResponse(urls.ticket(ticket), 303)
