"""Courses: planned and changed, who comes, places booked and sold, called off."""

from __future__ import annotations

from dataclasses import replace

from fastapi import APIRouter, Request
from starlette.responses import RedirectResponse, Response

from abrazo.core.errors import Refused
from abrazo.desk.context import Actor, House
from abrazo.desk.doors import booking_changes
from abrazo.desk.doors import courses as desk
from abrazo.desk.doors.bookings import read_booking
from abrazo.desk.doors.views.bookings import services
from abrazo.desk.doors.views.courses import course_list, course_sheet
from abrazo.desk.output.course_papers import participants, print_participants
from abrazo.desk.people.people import known
from abrazo.desk.tickets.change import OnTicket
from abrazo.web import urls
from abrazo.web.dependencies import OpenHouse, SignedIn
from abrazo.web.forms import courses as forms
from abrazo.web.forms.base import Sent
from abrazo.web.forms.view import View
from abrazo.web.notices import Notice, wrong
from abrazo.web.pages import page, tell
from abrazo.web.ticket_page import ticket_page
from abrazo.words import phrases as w

router = APIRouter()
FACTS = ("service", "staff", "date", "time", "places", "note")


def _list(
    request: Request, house: House, actor: Actor, typed: dict[str, str], notice: Notice | None = None
) -> Response:
    return page(request, house, actor, "courses/list.html", several=course_list(house), services=services(house),
                people=house.staff(), fields=typed, notice=notice)  # fmt: skip


@router.get("/courses")
def show_all(request: Request, house: OpenHouse, actor: SignedIn) -> Response:
    """Courses of the last two weeks and to come; a new one."""
    return _list(request, house, actor, {})


@router.post("/courses")
def plan(request: Request, house: OpenHouse, actor: SignedIn, form: Sent[forms.PlanCourse]) -> Response:
    """Plan a course, one or one each week."""
    typed = form.typed(*FACTS, "weeks")
    try:
        made = desk.plan(house, actor, desk.CoursePlan(**typed), form.key)
    except Refused as refusal:
        return _list(request, house, actor, typed, wrong(house, refusal))
    return RedirectResponse(urls.course(made[0]), 303)


def _sheet(
    request: Request,
    house: House,
    actor: Actor,
    course: int,
    typed: dict[str, str] | None = None,
    notice: Notice | None = None,
) -> Response:
    told, fields = course_sheet(house, course), typed or {}
    one = told.given.course
    kept = {"staff": one.staff, "date": one.starts_at[:10], "time": one.starts_at[11:16], "places": str(one.places)}
    person = int(fields.get("person") or request.query_params.get("person") or 0)
    return page(request, house, actor, "courses/sheet.html", told=told, fields={**kept, "note": one.note} | fields,
                people=house.staff(), who=known(house, person) if person else None, notice=notice)  # fmt: skip


@router.get("/courses/{course:int}")
def show(request: Request, house: OpenHouse, actor: SignedIn, course: int) -> Response:
    """A course, with who comes."""
    return _sheet(request, house, actor, course)


@router.post("/courses/{course:int}")
def change(request: Request, house: OpenHouse, actor: SignedIn, course: int, form: Sent[forms.CourseFacts]) -> Response:
    """Another time, leader, number of places or note."""
    typed = form.typed(*FACTS)
    try:
        desk.change(house, actor, course, desk.CoursePlan(**typed))
    except Refused as refusal:
        return _sheet(request, house, actor, course, typed, wrong(house, refusal))
    tell(request, house.say(w.COURSE_KEPT))
    return RedirectResponse(urls.course(course), 303)


@router.post("/courses/{course:int}/join")
def join(request: Request, house: OpenHouse, actor: SignedIn, course: int, form: Sent[forms.JoinCourse]) -> Response:
    """A place for somebody; a deposit that is asked for is paid next."""
    typed = form.typed("name", "phone", "party")
    who = desk.Joining(form.person, form.name, form.phone, form.party, form.note)
    try:
        made = desk.join(house, actor, course, who, form.key)
    except Refused as refusal:
        typed = {**typed, "person": str(form.person or "")}
        where = f"join-{refusal.where}" if refusal.where in ("name", "phone", "party", "course") else ""
        return _sheet(request, house, actor, course, typed, replace(wrong(house, refusal), where=where))
    if booking_changes.wanted_deposit(house, read_booking(house, made)):
        ticket = booking_changes.take_deposit(house, actor, [made], f"{form.key}-deposit")
        return RedirectResponse(urls.ticket(ticket, view="pay"), 303)
    tell(request, house.say(w.BOOKED_NOW))
    return RedirectResponse(urls.course(course), 303)


@router.post("/courses/{course:int}/call-off")
def call_off(request: Request, house: OpenHouse, actor: SignedIn, course: int, form: Sent[forms.CallOff]) -> Response:
    """It does not take place."""
    try:
        desk.call_off(house, actor, course, form.reason, form.key)
    except Refused as refusal:
        return _sheet(request, house, actor, course, {"reason": form.reason}, wrong(house, refusal))
    return RedirectResponse(urls.course(course), 303)


@router.post("/courses/{course:int}/print")
def print_list(house: OpenHouse, actor: SignedIn, course: int, form: Sent[forms.PrintList]) -> Response:
    """Who comes, on paper."""
    print_participants(house, actor, course, form.key)
    return RedirectResponse(urls.course(course), 303)


@router.get("/courses/{course:int}/participants.csv")
def file(house: OpenHouse, actor: SignedIn, course: int) -> Response:
    """Who comes, as a file."""
    headers = {"content-disposition": f'attachment; filename="course-{course}.csv"'}
    return Response(participants(house, actor, course), media_type="text/csv; charset=utf-8", headers=headers)


@router.post("/tickets/{ticket}/places")
def sell(request: Request, house: OpenHouse, actor: SignedIn, ticket: int, form: Sent[forms.SellPlace]) -> Response:
    """A place on a ticket, for somebody of the household or by name."""
    who = desk.Joining(form.person, "" if form.person else form.name)
    try:
        desk.sell(house, actor, OnTicket(ticket, form.version, form.key), form.course, who)
    except Refused as refusal:
        notice = wrong(house, refusal, f"place-{form.course}" if refusal.where == "party" else "place")
        return ticket_page(request, house, actor, ticket, View(item=form.item), notice.keeping({"name": form.name}))
    return RedirectResponse(urls.ticket(ticket), 303)


@router.post("/bookings/{booking:int}/other-date")
def other_date(
    request: Request, house: OpenHouse, actor: SignedIn, booking: int, form: Sent[forms.OtherDate]
) -> Response:
    """A place becomes one of another date."""
    before = read_booking(house, booking).course or 0
    try:
        desk.other_date(house, actor, booking, form.course)
    except Refused as refusal:
        return _sheet(request, house, actor, before, {}, wrong(house, refusal, f"other-{booking}"))
    return RedirectResponse(urls.course(form.course), 303)
