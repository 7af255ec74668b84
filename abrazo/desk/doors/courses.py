"""Courses: planned, changed, called off; their places booked for somebody, sold on a ticket, moved to another date.

Rules here
- a place is a booking: it has its deposit, its fee and its history, and is settled as any other
- who leads a course is not free for anything else then
- a place that a ticket sold is free again when its line comes off; a place that is paid for can still be moved to
  another date of the same service, or given up: what was paid goes back by refunding its line
- a course that is called off cancels its places; those on tickets stay until they are given back or moved
"""

from __future__ import annotations

import uuid
from dataclasses import dataclass, replace
from datetime import datetime, timedelta

from abrazo.core.courses import fits, weekly
from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Kind, Personal
from abrazo.core.moments import read_wall, wall_of, wall_text
from abrazo.core.states import BookingState, TicketState
from abrazo.desk.act import acting
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.doors.bookings import (
    LONGEST_NOTE,
    MOST_PEOPLE,
    MOST_WEEKS,
    booked_facts,
    not_past,
    put_booking,
    read_booking,
    read_number,
    service_of,
    who_is,
)
from abrazo.desk.doors.course_places import check_room, read_course
from abrazo.desk.doors.free_times import check_free
from abrazo.desk.people.people import known
from abrazo.desk.permissions import read_reason
from abrazo.desk.tickets.change import OnTicket, changing
from abrazo.store import bookings, courses, outbox
from abrazo.store.bookings import Booking
from abrazo.store.courses import Course
from abrazo.words import phrases as w

MOST_PLACES = 200


@dataclass(frozen=True, slots=True)
class CoursePlan:
    """A course as it was typed: which service, who leads it, when, for how many, so many weeks."""

    service: str
    staff: str
    date: str
    time: str
    places: str
    note: str = ""
    weeks: str = "1"


@dataclass(frozen=True, slots=True)
class Joining:
    """Who takes a place, as it was typed: somebody known (else 0), or a name and a phone; `party` of them."""

    person: int = 0
    name: str = ""
    phone: str = ""
    party: str = "1"
    note: str = ""


# ---- the course


def plan(house: House, actor: Actor, wanted: CoursePlan, key: str) -> list[int]:
    """Plan a course, all of its weeks or none; gives the courses. Refused beside the field that is wrong."""
    with acting(house, actor, "course", key) as act:
        if act.done is not None:
            return [int(one) for one in act.done.split()]
        weeks = read_number(wanted.weeks, "weeks", MOST_WEEKS)
        planned = _read(house, wanted)
        first, ends = (datetime.fromisoformat(text) for text in (planned.starts_at, planned.ends_at))
        length, made = ends - first, list[int]()
        for starts in weekly(first, weeks):
            check_free(house, planned.staff, (starts, starts + length))
            one = replace(planned, starts_at=wall_text(starts), ends_at=wall_text(starts + length))
            made.append(courses.add(act.connection, one, act.at, actor.staff.id))
            act.record(Kind.COURSE_PLANNED, course=made[-1], item=one.item, service=_called(house, one),
                       starts=one.starts_at, number=one.places)  # fmt: skip
        act.answer = " ".join(map(str, made))
    return made


def change(house: House, actor: Actor, course_id: int, wanted: CoursePlan) -> None:
    """Another time, leader, number of places or note; its places go along. Refused for fewer than are taken."""
    with acting(house, actor, "course") as act:
        before = read_course(house, course_id)
        _not_off(house, before)
        after = replace(_read(house, wanted, instead=before), id=course_id, taken=before.taken)
        if after.places < before.taken:
            raise Refused(Code.FEWER_PLACES, "places", taken=before.taken)
        if after == before:
            return
        starts, ends = (datetime.fromisoformat(text) for text in (after.starts_at, after.ends_at))
        check_free(house, after.staff, (starts, ends), course=course_id)
        courses.change(act.connection, after)
        act.record(Kind.COURSE_CHANGED, course=course_id, item=after.item, service=_called(house, after),
                   starts=after.starts_at, before=before.starts_at, person=after.staff,
                   number=after.places)  # fmt: skip


def _read(house: House, wanted: CoursePlan, instead: Course | None = None) -> Course:
    """A course as it was typed. Refused beside the field that is wrong; one that began may keep its own time."""
    service = service_of(house, instead.item if instead else wanted.service)
    if wanted.staff not in house.staff():
        raise Refused(Code.NO_STAFF, "staff")
    starts = read_wall(wanted.date, wanted.time, "time")
    if instead is None or instead.starts_at != wall_text(starts):
        not_past(house, starts)
    ends = starts + timedelta(minutes=service.minutes or 0)
    note = " ".join(wanted.note.split())
    if len(note) > LONGEST_NOTE:
        raise Refused(Code.TOO_LONG, "note", most=LONGEST_NOTE, count=len(note))
    places = read_number(wanted.places, "places", MOST_PLACES)
    return Course(0, service.id, wanted.staff, wall_text(starts), wall_text(ends), places, note)


def call_off(house: House, actor: Actor, course_id: int, reason: str, key: str) -> None:
    """It does not take place: the places are cancelled, but for those that stand on a ticket."""
    why = read_reason(reason)
    with acting(house, actor, "course off", key, f"course {course_id}") as act:
        if act.done is not None:
            return
        course = read_course(house, course_id)
        _not_off(house, course)
        for one in bookings.of_course(act.connection, course_id):
            if one.state not in (BookingState.BOOKED, BookingState.HERE):
                continue
            _tell_off(house, course, one, why, act.at)
            if one.ticket is None:
                bookings.set_state(act.connection, one.id, BookingState.CANCELLED, why)
                name, starts = Personal(one.name), one.starts_at
                act.record(Kind.BOOKING_CANCELLED, booking=one.id, name=name, starts=starts, reason=Personal(why))
        courses.call_off(act.connection, course_id, act.at, why)
        act.record(Kind.COURSE_OFF, course=course_id, item=course.item, service=_called(house, course),
                   starts=course.starts_at, reason=Personal(why))  # fmt: skip


def _tell_off(house: House, course: Course, booking: Booking, why: str, at: str) -> None:
    """A message to whoever has a place that it is called off."""
    person = known(house, booking.person) if booking.person else None
    to = (person.phone or person.email) if person else None
    if person is None or not to:
        return
    facts = {"service": service_of(house, course.item).name, "starts": course.starts_at, "house": house.settings.name}
    house = house.speaking_to(person)
    body = house.say(w.COURSE_CALLED_OFF, name=person.first_name, reason=why, **facts)
    title = house.say(w.CALLED_OFF, service=facts["service"])
    about = f"course off {booking.id}"
    outbox.add(house.connection, outbox.NewSheet(at, outbox.MESSAGE, title, body, about, recipient=to))


def _not_off(house: House, course: Course) -> None:
    if course.cancelled_at:
        raise Refused(Code.COURSE_IS_OFF, course=service_of(house, course.item).name)


def _called(house: House, course: Course) -> Personal:
    return Personal(service_of(house, course.item).name)


# ---- its places


def join(house: House, actor: Actor, course_id: int, who: Joining, key: str) -> int:
    """Book a place for somebody; gives the booking. Refused when not so many places are free."""
    with acting(house, actor, "booked", key, f"course {course_id}") as act:
        if act.done is not None:
            return int(act.done)
        made = _place(house, course_id, who, act.at)
        act.record(Kind.BOOKED, **booked_facts(house, made))
        act.answer = str(made.id)
    return made.id


def sell(house: House, actor: Actor, on: OnTicket, course_id: int, who: Joining) -> None:
    """Sell a place on an open ticket, to somebody by name. Refused when not so many places are free."""
    with changing(house, actor, on, "place sold") as edit:
        if edit.done is None:
            made = _place(house, course_id, who, edit.at, sold_on=edit.id)
            edit.wrote(Kind.BOOKED, **booked_facts(house, made))
            put_booking(edit, made)


def _place(house: House, course_id: int, who: Joining, at: str, sold_on: int | None = None) -> Booking:
    """Keep a place of a course, inside a transaction that is under way."""
    course = read_course(house, course_id)
    _not_off(house, course)
    if course.ends_at <= house.wall_now():
        raise Refused(Code.COURSE_OVER, "course", starts=course.starts_at)
    person, name = who_is(house, who.person, who.name, who.phone)
    note = " ".join(who.note.split())
    if len(note) > LONGEST_NOTE:
        raise Refused(Code.TOO_LONG, "note", most=LONGEST_NOTE, count=len(note))
    party = read_number(who.party, "party", MOST_PEOPLE)
    check_room(house, course, party)
    service = service_of(house, course.item)
    visit = (service.id, course.staff, course.starts_at, course.ends_at, service.price, note)
    made = Booking(0, str(uuid.uuid4()), person, name, *visit, BookingState.BOOKED, None, (), party, course=course_id,
                   sold_on=sold_on)  # fmt: skip
    return replace(made, id=bookings.add(house.connection, made, at))


def other_date(house: House, actor: Actor, booking_id: int, course_id: int) -> None:
    """A place becomes one of another date of the same service, also one that is paid for."""
    with acting(house, actor, "booking") as act:
        booking, course = read_booking(house, booking_id), read_course(house, course_id)
        if booking.course is None or booking.service != course.item:
            raise NotFound(f"booking {booking_id} is no place of {course.item}")
        if booking.state in (BookingState.CANCELLED, BookingState.ABSENT):
            raise Refused(Code.BOOKING_OVER, "other", name=booking.name)
        if booking.course == course_id:
            return
        head = house.head(booking.ticket) if booking.ticket else None
        if head is not None and head.state == TicketState.OPEN:  # its line says the date
            raise Refused(Code.BOOKING_ON_TICKET, "other", name=booking.name)
        _not_off(house, course)
        not_past(house, wall_of(course.starts_at, house.zone), "other")
        check_room(house, course, booking.party, "other")
        courses.give_place(act.connection, booking_id, course)
        name, service = Personal(booking.name), Personal(service_of(house, booking.service).name)
        act.record(Kind.BOOKING_CHANGED, booking=booking_id, name=name, service=service, starts=course.starts_at,
                   before=booking.starts_at, person=course.staff, number=booking.party)  # fmt: skip


def others_for(house: House, booking: Booking) -> list[Course]:
    """To which dates a place could be moved: with room for it, and still to come."""
    coming = courses.of_item(house.connection, booking.service, house.wall_now())
    return [one for one in coming if one.id != booking.course and fits(one.places, one.taken, booking.party)]
