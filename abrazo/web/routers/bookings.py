"""Bookings and walk-ins: checking out, prices, the next visit, the queue, the calendar file."""

from __future__ import annotations

from datetime import UTC, datetime

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Kind
from abrazo.core.states import FileKind
from abrazo.desk.act import noting
from abrazo.desk.context import Actor, House
from abrazo.desk.doors import bookings as desk
from abrazo.desk.doors import file_imports
from abrazo.desk.doors.views.bookings import all_visits, free_or_busy, services
from abrazo.desk.doors.views.calendar import events_of
from abrazo.desk.payments.views.pay_pad import read_money
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.snapshot import load_ticket
from abrazo.formats.calendar_ics import write_calendar
from abrazo.web import urls
from abrazo.web.dependencies import OpenHouse, SignedIn
from abrazo.web.forms import bookings as forms
from abrazo.web.forms.base import Sent
from abrazo.web.notices import Notice, said, wrong
from abrazo.web.pages import page
from abrazo.web.supervisor_override import ask_to_lend, with_lender
from abrazo.web.today_page import Look, today_page

router = APIRouter()


@router.post("/bookings/{booking}/check-out")
def check_out(
    request: Request, house: OpenHouse, actor: SignedIn, booking: int, form: Sent[forms.CheckOut]
) -> Response:
    """Onto a ticket of its own, alone or with another booking or job of the household."""
    along = form.along
    ids = [booking, along] if along else [booking]
    try:
        ticket = desk.check_out(house, actor, ids, form.key)
    except Refused as refusal:
        return _refused(request, house, actor, booking, refusal)
    return RedirectResponse(urls.ticket(ticket), 303)


def _refused(
    request: Request, house: House, actor: Actor, booking: int, refusal: Refused, typed: dict[str, str] | None = None
) -> Response:
    notice = wrong(house, refusal, otherwise="booking").keeping(typed or {})
    return today_page(request, house, actor, Look(lens="bookings", booking=booking), notice)


@router.post("/bookings/{booking}/state")
def state(request: Request, house: OpenHouse, actor: SignedIn, booking: int, form: Sent[forms.State]) -> Response:
    """Whether somebody came."""
    try:
        desk.set_state(house, actor, booking, form.state)
    except Refused as refusal:
        return _refused(request, house, actor, booking, refusal)
    return RedirectResponse(urls.booking(booking), 303)


@router.post("/bookings/{booking}/price")
def price(request: Request, house: OpenHouse, actor: SignedIn, booking: int, form: Sent[forms.Price]) -> Response:
    """The price of a booking that has none yet."""
    typed = form.price
    try:
        desk.set_price(house, with_lender(house, actor, form), booking, read_money(house, typed, f"price-{booking}"))
    except Refused as refusal:
        ask_to_lend(refusal)
        return _refused(request, house, actor, booking, refusal, {"price": typed})
    return RedirectResponse(urls.booking(booking), 303)


@router.post("/tickets/{ticket}/bookings")
def add(house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.Add]) -> Response:
    """Somebody of the household comes along on an open ticket."""
    desk.add_to_ticket(house, actor, OnTicket(ticket, form.version, form.key), form.booking)
    return RedirectResponse(urls.ticket(ticket), 303)


@router.post("/people/{person}/book")
def book(request: Request, house: OpenHouse, actor: SignedIn, person: int, form: Sent[forms.Book]) -> Response:
    """The next visit, made where the last one was paid or on the person's sheet."""
    wanted = desk.Appointment(person, form.service, form.staff, form.date, form.time)
    ticket = form.ticket
    back = urls.done(ticket) if ticket else urls.person(person)
    try:
        desk.book(house, actor, wanted, form.key)
    except Refused as refusal:
        query = {
            "refused": said(house, refusal),
            "person": person,
            "date": wanted.date,
            "time": wanted.time,
            "staff": wanted.staff,
            "service": wanted.service,
        }
        return RedirectResponse(urls.with_state(back, **query), 303)
    return RedirectResponse(urls.with_state(back, booked=person), 303)


@router.post("/tickets/{ticket}/next-visit")
def book_for_new(house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.BookForNew]) -> Response:
    """The next visit of a walk-in who is not known yet: who they are, and when they come."""
    typed = form.typed("name", "phone", "another", "service", "staff", "date", "time")
    wanted = desk.Appointment(0, form.service, form.staff, form.date, form.time)
    try:
        desk.book_for_new(house, actor, OnTicket(ticket, None, form.key), typed, wanted)
    except Refused as refusal:
        where = refusal.where if refusal.where in ("name", "phone") else "book"
        asks = "yes" if refusal.code == Code.PHONE_KNOWN else ""
        query = {"refused": said(house, refusal), "where": where, "asks": asks, **typed}
        return RedirectResponse(urls.with_state(urls.done(ticket), **query), 303)
    person = load_ticket(house, ticket).head.person
    return RedirectResponse(urls.with_state(urls.done(ticket), booked=person), 303)


# ---- walk-ins


@router.post("/walk-ins")
def queue_up(request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.QueueUp]) -> Response:
    """Into the queue, or served at once: name, phone, service and staff in one line."""
    typed = form.typed("name", "phone", "service", "staff", "wants")
    try:
        if form.what == "serve":
            ticket = _serve(house, actor, typed, None, form.key)
            return RedirectResponse(urls.ticket(ticket), 303)
        chosen = next((item.name for item in services(house) if item.id == typed["service"]), "")
        desk.queue_up(house, actor, typed["name"], typed["phone"], typed["wants"] or chosen, form.key)
    except Refused as refusal:
        notice = wrong(house, refusal, f"walk-in-{refusal.where}").keeping(typed)
        return today_page(request, house, actor, Look(lens="bookings"), notice)
    return RedirectResponse(urls.lens("bookings"), 303)


def _serve(house: House, actor: Actor, typed: dict[str, str], walk_in: int | None, key: str) -> int:
    return desk.serve(
        house, actor, desk.Arrival(typed["name"], typed["phone"], typed["service"], typed["staff"], walk_in), key
    )


@router.get("/walk-ins/{walk_in}")
def serve_page(request: Request, house: OpenHouse, actor: SignedIn, walk_in: int) -> Response:
    """What a walk-in wants, and who does it."""
    one = desk.read_walk_in(house, walk_in)
    if one.ticket:
        return RedirectResponse(urls.ticket(one.ticket), 303)
    return _serve_page(request, house, actor, walk_in)


def _serve_page(request: Request, house: House, actor: Actor, walk_in: int, notice: Notice | None = None) -> Response:
    one = desk.read_walk_in(house, walk_in)
    offered, people = services(house), house.staff()
    wanted = next((item.id for item in offered if item.name.lower() in one.wants.lower()), "")
    return page(request, house, actor, "bookings/serve.html", one=one, services=offered, people=people,
                wanted=wanted, when=free_or_busy(house), notice=notice)  # fmt: skip


@router.post("/walk-ins/{walk_in}")
def serve(request: Request, house: OpenHouse, actor: SignedIn, walk_in: int, form: Sent[forms.Serve]) -> Response:
    """A walk-in is served, or left."""
    if form.what == "left":
        desk.walk_away(house, actor, walk_in)
        return RedirectResponse(urls.lens("bookings"), 303)
    one = desk.read_walk_in(house, walk_in)
    service, _, staff = form.choice.partition(" ")
    typed = {"name": one.name, "phone": one.phone or "", "service": service, "staff": staff or form.staff}
    try:
        ticket = _serve(house, actor, typed, walk_in, form.key)
    except Refused as refusal:
        return _serve_page(request, house, actor, walk_in, wrong(house, refusal, "service"))
    return RedirectResponse(urls.ticket(ticket), 303)


# ---- the calendar file


@router.get("/bookings.ics")
def write(house: OpenHouse, actor: SignedIn) -> Response:
    """All bookings as an iCalendar file."""
    data = write_calendar(house.settings.name, events_of(house, all_visits(house)), datetime.now(UTC))
    with noting(house) as note:
        note(actor, Kind.FILE_WRITTEN, what="bookings")
    headers = {"content-disposition": 'attachment; filename="bookings.ics"'}
    return Response(data, media_type="text/calendar; charset=utf-8", headers=headers)


def _calendar(request: Request, house: House, actor: Actor, notice: Notice | None = None) -> Response:
    return page(request, house, actor, "bookings/calendar.html", notice=notice)


@router.get("/calendar")
def calendar(request: Request, house: OpenHouse, actor: SignedIn) -> Response:
    """Bookings from a calendar file, and into one."""
    return _calendar(request, house, actor)


@router.post("/calendar")
def read(request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.Read]) -> Response:
    """An iCalendar file with bookings, to be read beside the pages; all or none."""
    try:
        file = file_imports.hand_in(house, actor, FileKind.BOOKINGS, form.read_file(Code.NO_CALENDAR_FILE), form.key)
    except Refused as refusal:
        return _calendar(request, house, actor, wrong(house, refusal, "file"))
    return RedirectResponse(urls.file(file), 303)
