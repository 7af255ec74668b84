"""Bookings one by one: made, changed and moved, cancelled; their deposits, and the fee of who did not come."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import timedelta
from typing import Literal

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from abrazo.core.errors import Refused
from abrazo.desk.context import Actor, House
from abrazo.desk.doors import booking_changes as desk
from abrazo.desk.doors.bookings import Appointment, addons, book_weeks, read_booking
from abrazo.desk.doors.views.booking_deposits import still_here
from abrazo.desk.doors.views.bookings import services
from abrazo.desk.doors.views.free_times import free_times
from abrazo.desk.history import last_about
from abrazo.desk.output import outbox
from abrazo.desk.payments import deposits, refunds
from abrazo.desk.people.people import known
from abrazo.desk.tickets.deposits import of_booking
from abrazo.web import urls
from abrazo.web.day_plan import days_from, days_plan, dropped_at
from abrazo.web.dependencies import OpenHouse, SignedIn
from abrazo.web.forms import bookings as forms
from abrazo.web.forms.base import Sent
from abrazo.web.notices import Notice, wrong
from abrazo.web.pages import page, tell
from abrazo.web.supervisor_override import with_lender
from abrazo.web.today_page import Look, today_page
from abrazo.words import phrases as w

router = APIRouter()
FACTS = ("name", "phone", "service", "staff", "date", "time", "party", "weeks", "note")


@dataclass(frozen=True, slots=True)
class _Filled:
    """A booking as far as it is filled in: what was typed, the add-ons that are ticked, which one is changed."""

    typed: dict[str, str]
    addons: tuple[str, ...] = ()
    booking: int = 0


def _plan(request: Request, house: House, actor: Actor, filled: _Filled, notice: Notice | None = None) -> Response:
    typed, booking = filled.typed, read_booking(house, filled.booking) if filled.booking else None
    offered = services(house)
    service = next((one for one in offered if one.id == typed.get("service")), offered[0] if offered else None)
    person = int(typed.get("person") or 0) or (booking.person if booking else 0)
    terms = desk.terms_of(house, service.id) if service else None
    return page(
        request,
        house,
        actor,
        "bookings/plan.html",
        booking=booking,
        latest=last_about(house, "booking", booking.id) if booking else 0,
        who=known(house, person) if person else None,
        services=offered,
        service=service,
        people=house.staff(),
        addons=addons(house),
        chosen=filled.addons,
        terms=terms,
        free=free_times(house, service, typed.get("date", "")),
        fields=typed,
        notice=notice,
    )


def _appointment(form: forms.Plan, picked: dict[str, str], person: int) -> Appointment:
    said = {**form.typed(*FACTS), **picked}
    return Appointment(person, said["service"], said["staff"], said["date"], said["time"], said["name"], said["phone"],
                       said["party"], form.addons, said["note"], said["weeks"])  # fmt: skip


@router.get("/bookings")
def several(
    request: Request, house: OpenHouse, actor: SignedIn, day: str = "", span: Literal["3", "7"] = "7"
) -> Response:
    """Three days or a week, side by side."""
    return _several(request, house, actor, day, int(span))


def _several(
    request: Request, house: House, actor: Actor, day: str, number: int, notice: Notice | None = None
) -> Response:
    days, apart = days_from(house, day, number), timedelta(days=number)
    before, after = (days[0].day - apart).isoformat(), (days[0].day + apart).isoformat()
    return page(request, house, actor, "bookings/days.html", plan=days_plan(days), days=days, before=before,
                after=after, visit=None, people=house.staff(), over=still_here(house), notice=notice)  # fmt: skip


@router.get("/bookings/new")
def new(request: Request, house: OpenHouse, actor: SignedIn, person: int = 0) -> Response:
    """A booking is made: whose, what, with whom, when; free times stand beside it. The address may fill it in."""
    typed = {name: text for name, text in request.query_params.items() if name in FACTS}
    return _plan(request, house, actor, _Filled({**typed, "person": str(person)}))


@router.post("/bookings/new")
def make(request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.Plan]) -> Response:
    """Book it; a deposit that is asked for is paid next. A free time that is touched only fills the form."""
    typed = {**form.typed(*FACTS), **form.picked, "person": str(form.person)}
    if form.pick:
        return _plan(request, house, actor, _Filled(typed, form.addons))
    try:
        made = book_weeks(house, actor, _appointment(form, {}, form.person), form.key)
    except Refused as refusal:
        filled = _Filled(typed, form.addons)
        return _plan(request, house, actor, filled, wrong(house, refusal).keeping(typed))
    if any(desk.wanted_deposit(house, read_booking(house, one)) for one in made):
        ticket = desk.take_deposit(house, actor, made, f"{form.key}-deposit")
        return RedirectResponse(urls.ticket(ticket, view="pay"), 303)
    tell(request, house.say(w.BOOKED_NOW))
    return RedirectResponse(urls.booking(made[0]), 303)


@router.get("/bookings/{booking:int}/change")
def change_page(request: Request, house: OpenHouse, actor: SignedIn, booking: int) -> Response:
    """What of a booking can be changed, filled in as it is."""
    one = read_booking(house, booking)
    typed = {"service": one.service, "staff": one.staff, "date": one.starts_at[:10], "time": one.starts_at[11:16],
             "party": str(one.party), "note": one.note}  # fmt: skip
    return _plan(request, house, actor, _Filled(typed, one.addons, booking))


@router.post("/bookings/{booking:int}/change")
def change(request: Request, house: OpenHouse, actor: SignedIn, booking: int, form: Sent[forms.Plan]) -> Response:
    """Change or move it."""
    typed = {**form.typed(*FACTS), **form.picked}
    filled = _Filled(typed, form.addons, booking)
    if form.pick:
        return _plan(request, house, actor, filled)
    try:
        desk.change(house, actor, booking, _appointment(form, {}, 0), form.seen)
    except Refused as refusal:
        return _plan(request, house, actor, filled, wrong(house, refusal).keeping(typed))
    return RedirectResponse(urls.booking(booking), 303)


@router.post("/bookings/move")
def move(request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.Move]) -> Response:
    """A booking was dragged on the drawing of its day, or of several."""
    span = int(form.span)
    try:
        staff, date, time = dropped_at(house, days_from(house, form.day, span), form.x, form.y)
        desk.move(house, actor, form.booking, staff, date, time)
    except Refused as refusal:
        if span > 1:
            return _several(request, house, actor, form.day, span, wrong(house, refusal, "booking"))
        return _refused(request, house, actor, form.booking, refusal)
    if span == 1:
        return RedirectResponse(urls.booking(form.booking), 303)
    moved = read_booking(house, form.booking)
    tell(request, house.say(w.BOOKING_MOVED, name=moved.name, starts=moved.starts_at, who=house.staff()[staff].name))
    return RedirectResponse(urls.several_days(day=form.day, span=span), 303)


def _refused(
    request: Request, house: House, actor: Actor, booking: int, refusal: Refused, reason: str = ""
) -> Response:
    notice = wrong(house, refusal, refusal.where if refusal.where in ("reason", "keep") else "booking")
    return today_page(request, house, actor, Look(lens="bookings", booking=booking), notice.keeping({"reason": reason}))


@router.post("/bookings/{booking:int}/cancel")
def cancel(request: Request, house: OpenHouse, actor: SignedIn, booking: int, form: Sent[forms.Cancel]) -> Response:
    """They will not come."""
    try:
        desk.cancel(house, actor, booking, form.reason, form.key)
    except Refused as refusal:
        return _refused(request, house, actor, booking, refusal, form.reason)
    return RedirectResponse(urls.booking(booking), 303)


@router.post("/bookings/{booking:int}/bring-back")
def bring_back(request: Request, house: OpenHouse, actor: SignedIn, booking: int) -> Response:
    """It was cancelled by mistake."""
    try:
        desk.bring_back(house, actor, booking)
    except Refused as refusal:
        return _refused(request, house, actor, booking, refusal)
    return RedirectResponse(urls.booking(booking), 303)


# ---- deposits and fees


@router.post("/bookings/{booking:int}/deposit")
def deposit(request: Request, house: OpenHouse, actor: SignedIn, booking: int, form: Sent[forms.Deposit]) -> Response:
    """The ticket on which the deposit is paid."""
    try:
        ticket = desk.take_deposit(house, actor, [booking], form.key)
    except Refused as refusal:
        return _refused(request, house, actor, booking, refusal)
    return RedirectResponse(urls.ticket(ticket, view="pay"), 303)


@router.post("/bookings/{booking:int}/give-back")
def give_back(request: Request, house: OpenHouse, actor: SignedIn, booking: int, form: Sent[forms.Deposit]) -> Response:
    """What is left of the deposit, from the drawer or to the card that it came from."""
    thing = of_booking(house, read_booking(house, booking))
    try:
        if form.to == "card":
            refunds.give_back_to_card(house, actor, thing, form.key)
            tell(request, house.say(w.GOING_TO_CARD))
            return RedirectResponse(urls.booking(booking), 303)
        deposits.give_back(house, actor, thing, form.key)
    except Refused as refusal:
        return _refused(request, house, actor, booking, refusal)
    outbox.open_drawer(house, actor, "deposit given back")
    tell(request, house.say(w.DEPOSIT_BACK))
    return RedirectResponse(urls.booking(booking), 303)


@router.post("/bookings/{booking:int}/keep-deposit")
def keep_deposit(
    request: Request, house: OpenHouse, actor: SignedIn, booking: int, form: Sent[forms.KeepDeposit]
) -> Response:
    """What is left of the deposit stays with the house, as its terms say."""
    thing = of_booking(house, read_booking(house, booking))
    try:
        deposits.keep(house, with_lender(house, actor, form), thing, form.reason, form.key)
    except Refused as refusal:
        return _refused(request, house, actor, booking, refusal, form.reason)
    return RedirectResponse(urls.booking(booking), 303)


@router.post("/bookings/{booking:int}/fee")
def fee(request: Request, house: OpenHouse, actor: SignedIn, booking: int, form: Sent[forms.Deposit]) -> Response:
    """The fee of who did not come: kept of the deposit, or charged on a ticket."""
    try:
        if form.to == "charge":
            return RedirectResponse(urls.ticket(desk.charge_fee(house, actor, booking, form.key), view="pay"), 303)
        desk.keep_fee(house, actor, booking, form.key)
    except Refused as refusal:
        return _refused(request, house, actor, booking, refusal)
    return RedirectResponse(urls.booking(booking), 303)
