"""Bookings and walk-ins: onto a ticket, booked anew."""

from __future__ import annotations

import uuid
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta

from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Kind, Personal
from abrazo.core.moments import read_wall, wall_text
from abrazo.core.states import BookingState, Source, TicketState, WalkInState
from abrazo.desk.act import FactGiven, acting
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.doors.course_places import check_room, read_course
from abrazo.desk.doors.free_times import check_free
from abrazo.desk.people.people import keep_person, read_person, recognised, themselves, with_phone
from abrazo.desk.permissions import Right, need
from abrazo.desk.tickets.change import OnTicket, TicketChange, changing, opening
from abrazo.desk.tickets.customer import becomes_theirs
from abrazo.desk.tickets.deposits import of_booking
from abrazo.desk.tickets.guests import join
from abrazo.desk.tickets.starting import Beginning, TicketOrigin, open_at, opening_at
from abrazo.desk.tickets.ticket_lines import put_on
from abrazo.store import bookings, catalogue, deposits
from abrazo.store import ticket as ticket_store
from abrazo.store.bookings import Booking, WalkIn
from abrazo.store.catalogue import Item
from abrazo.store.lines import LineRow
from abrazo.words import phrases as w

LONGEST, LONGEST_NOTE = 80, 200
MOST_PEOPLE, MOST_WEEKS = 99, 52


def read_booking(house: House, booking_id: int) -> Booking:
    """A booking by id."""
    booking = bookings.read(house.connection, booking_id) if 0 < booking_id < 2**63 else None
    if booking is None:
        raise NotFound(f"no booking {booking_id}")
    return booking


def service_of(house: House, item_id: str) -> Item:
    """A service by its item."""
    item = house.item(item_id)
    if item is None or item.minutes is None:
        raise NotFound(f"no service {item_id}")
    return item


def check_out(house: House, actor: Actor, booking_ids: Sequence[int], key: str) -> int:
    """Put bookings on one new ticket, each for its own guest; gives the ticket. Nothing known is asked again."""
    first = read_booking(house, booking_ids[0])
    if len(booking_ids) == 1 and first.ticket is not None:
        return first.ticket
    door = TicketOrigin(Source.BOOKING, first.person, first.name, (first.name,))
    with opening_at(
        house, actor, door, Beginning(Kind.BOOKINGS_TAKEN, name=Personal(first.name)), key, "checked out"
    ) as edit:
        if edit.done is None:
            for booking_id in booking_ids:
                put_booking(edit, read_booking(house, booking_id))
        return edit.id


def add_to_ticket(house: House, actor: Actor, on: OnTicket, booking_id: int) -> None:
    """Add somebody's booking to an open ticket."""
    with changing(house, actor, on, "booking added") as edit:
        if edit.done is None:
            put_booking(edit, read_booking(house, booking_id))


def put_booking(edit: TicketChange, booking: Booking) -> None:
    """A booking's service and add-ons come onto the ticket of an edit under way."""
    service = service_of(edit.house, booking.service)
    if booking.ticket is not None and booking.ticket != edit.id:
        head = edit.house.head(booking.ticket)
        raise Refused(Code.BOOKING_TAKEN, name=booking.name, number=head.number if head else "")
    if booking.price is None:
        raise Refused(Code.NO_PRICE, f"price-{booking.id}", service=service.name, name=booking.name)
    deposit_is_closed(edit, booking)
    guest = join(edit, booking.name)
    shares = ((guest, 1),) if len(edit.whole.guests) > 1 else ()
    party = str(booking.party)
    if booking.course is not None:  # which of its dates
        dated = edit.house.say(w.PLACE_ON, service=service.name, starts=booking.starts_at)
        service = replace(service, name=dated)
    _put(edit, service, _Served(booking.staff, booking.price, shares, booking.id, booking.note, party))
    for addon in booking.addons:
        item = edit.house.item(addon)
        assert item is not None
        _put(edit, item, _Served(booking.staff, item.price, shares, booking.id, quantity=party))
    bookings.set_ticket(edit.house.connection, booking.id, edit.id)
    if edit.whole.head.person is None and booking.person is not None:
        ticket_store.set_who(edit.house.connection, edit.id, booking.person, edit.whole.head.name or booking.name)
    edit.reread()


def deposit_is_closed(edit: TicketChange, booking: Booking) -> None:
    """Refused while the deposit of a booking stands on a ticket that is still open: it is held once that is closed."""
    asked = deposits.asked_for_booking(edit.house.connection, booking.id)
    if asked and asked.state == TicketState.OPEN:
        raise Refused(Code.DEPOSIT_OPEN, job=of_booking(edit.house, booking).name, number=asked.number)


@dataclass(frozen=True, slots=True)
class _Served:
    """With whom a service is, and at which price; whose it is, its booking and its note."""

    staff: str
    price: int
    shares: tuple[tuple[int, int], ...] = ()
    booking: int | None = None
    note: str = ""
    quantity: str = "1"


def _put(edit: TicketChange, item: Item, by: _Served) -> None:
    of_item = (item.id, item.name, by.price, by.quantity, item.tax, item.report_group)
    facts = (*of_item, by.staff, by.note, edit.at, None, None, item.unit)
    put_on(edit, LineRow(0, *facts, booking=by.booking, shares=by.shares))


def set_state(house: House, actor: Actor, booking_id: int, state: str) -> None:
    """Somebody is here, did not come, or is expected after all."""
    if state not in set(BookingState):
        raise NotFound(f"no such state {state!r}")
    with acting(house, actor, "booking") as act:
        booking = read_booking(house, booking_id)
        if booking.ticket is not None:
            raise Refused(Code.BOOKING_ON_TICKET, name=booking.name)
        if booking.state == BookingState.CANCELLED or state == BookingState.CANCELLED:
            raise Refused(Code.BOOKING_OVER, name=booking.name)  # that is another act, with a reason
        if booking.state == BookingState.ABSENT and _has_paid_for_it(house, booking):
            raise Refused(Code.FEE_TAKEN, name=booking.name)
        bookings.set_state(act.connection, booking_id, BookingState(state))
        name, starts = Personal(booking.name), booking.starts_at
        act.record(Kind.BOOKING_STATE, booking=booking_id, name=name, starts=starts, state=state)


def _has_paid_for_it(house: House, booking: Booking) -> bool:
    kept = deposits.kept_for_booking(house.connection, booking.id)
    return kept or deposits.charged_for_booking(house.connection, booking.id)


def set_price(house: House, actor: Actor, booking_id: int, price: int) -> None:
    """Put a price on a booking that has none yet; by right another one, or a price of nothing."""
    if price < 0:
        raise Refused(Code.NEGATIVE_PRICE, f"price-{booking_id}")
    with acting(house, actor, "booking") as act:
        booking = read_booking(house, booking_id)
        if booking.ticket is not None:
            raise Refused(Code.BOOKING_LINE_ON_TICKET, name=booking.name)
        by = need(actor, Right.SET_PRICE) if price == 0 or booking.price is not None else None
        bookings.set_price(act.connection, booking_id, price)
        act.record(Kind.BOOKING_PRICED, booking=booking_id, name=Personal(booking.name), amount=price,
                   before=booking.price, lender=by)  # fmt: skip


@dataclass(frozen=True, slots=True)
class Appointment:
    """A service that somebody is to be booked for, with whom, and when, as it was typed.

    `person` is 0 for somebody who is not known yet, of whom `name` and `phone` were typed. `weeks`: so many visits, one
    each week.
    """

    person: int
    service: str
    staff: str
    date: str
    time: str
    name: str = ""
    phone: str = ""
    party: str = "1"
    addons: tuple[str, ...] = ()
    note: str = ""
    weeks: str = "1"


def book(house: House, actor: Actor, wanted: Appointment, key: str) -> int:
    """Book a service for somebody; gives the (first) booking."""
    return book_weeks(house, actor, wanted, key)[0]


def book_weeks(house: House, actor: Actor, wanted: Appointment, key: str) -> list[int]:
    """Book a service for somebody, all of its weeks or none; gives the bookings.

    Refused in the past, outside of hours, or when the staff member is taken.
    """
    with acting(house, actor, "booked", key, f"person {wanted.person}") as act:
        if act.done is not None:
            return [int(one) for one in act.done.split()]
        person, name = who_is(house, wanted.person, wanted.name, wanted.phone)
        weeks = read_number(wanted.weeks, "weeks", MOST_WEEKS)
        made = [_booked(house, person, name, wanted, act.at, week) for week in range(weeks)]
        for one in made:
            act.record(Kind.BOOKED, **booked_facts(house, one))
        act.answer = " ".join(str(one.id) for one in made)
    return [one.id for one in made]


def who_is(house: House, person: int, name: str, phone: str) -> tuple[int | None, str]:
    """Whose a booking is: known, recognised, new with a phone number, or only a name."""
    if person:
        return person, themselves(house, person, "book").name
    plain, _ = read_person(house, {"name": name, "phone": phone})
    same = recognised(house, plain.name, plain.phone or "")
    if same is not None:
        return same.id, same.name
    if plain.phone and with_phone(house, plain.phone):
        raise Refused(Code.PHONE_KNOWN, "phone", name=with_phone(house, plain.phone)[0].name)
    return keep_person(house, plain, "") if plain.phone else None, plain.name


def book_for_new(house: House, actor: Actor, on: OnTicket, typed: Mapping[str, str], wanted: Appointment) -> int:
    """The next visit of a walk-in whose ticket is nobody's yet, and becomes theirs; gives the booking."""
    with changing(house, actor, on, "booked") as edit:
        if edit.done is not None:
            return int(edit.done)
        person = becomes_theirs(edit, typed)
        made = _booked(house, person.id, person.name, wanted, edit.at)
        edit.wrote(Kind.BOOKED, **booked_facts(house, made))
        edit.answer = str(made.id)
    return made.id


def _booked(house: House, person: int | None, name: str, wanted: Appointment, at: str, week: int = 0) -> Booking:
    """Keep a booking, inside a transaction that is under way."""
    planned = planned_visit(house, wanted, week)
    price = service_of(house, planned.service).price
    visit = (planned.service, planned.staff, planned.starts_at, planned.ends_at, price, planned.note)
    made = Booking(0, str(uuid.uuid4()), person, name, *visit, BookingState.BOOKED, None, planned.addons, planned.party)
    return replace(made, id=bookings.add(house.connection, made, at))


@dataclass(frozen=True, slots=True)
class PlannedVisit:
    """A visit as it was typed and read: times are wall times."""

    service: str
    staff: str
    starts_at: str
    ends_at: str
    party: int
    addons: tuple[str, ...]
    note: str


def planned_visit(house: House, wanted: Appointment, week: int = 0, instead: Booking | None = None) -> PlannedVisit:
    """What was typed, some weeks later; `instead` of a booking, whose own time may stay though it is past.

    Refused beside the field that is wrong, or when the staff member is not free.
    """
    service, staff = service_of(house, wanted.service), wanted.staff
    if staff not in house.staff():
        raise Refused(Code.NO_STAFF, "staff")
    starts = read_wall(wanted.date, wanted.time, "time") + timedelta(weeks=week)
    if instead is None or instead.starts_at != wall_text(starts):
        not_past(house, starts)
    ends = starts + timedelta(minutes=service.minutes or 0)
    if instead is None or instead.course is None:
        check_free(house, staff, (starts, ends), instead.id if instead else 0)
    elif (service.id, staff, wall_text(starts)) != (instead.service, instead.staff, instead.starts_at):
        raise Refused(Code.PLACE_OF_COURSE, "time", name=instead.name)
    note = " ".join(wanted.note.split())
    if len(note) > LONGEST_NOTE:
        raise Refused(Code.TOO_LONG, "note", most=LONGEST_NOTE, count=len(note))
    party = read_number(wanted.party, "party", MOST_PEOPLE)
    if instead is not None and instead.course is not None and party > instead.party:
        check_room(house, read_course(house, instead.course), party - instead.party)
    kept = instead.addons if instead else ()
    offered = {item.id for item in addons(house)} | set(kept)
    chosen = tuple(item for item in wanted.addons if item in offered)
    return PlannedVisit(service.id, staff, wall_text(starts), wall_text(ends), party, chosen, note)


def addons(house: House) -> list[Item]:
    """What can be booked besides a service: what picking begins with on tickets from bookings."""
    return house.once("add-ons", lambda: catalogue.list_addons(house.connection))


def read_number(typed: str, where: str, most: int) -> int:
    """A whole number from 1. Refused beside its field."""
    plain = typed.strip() or "1"
    if not (plain.isascii() and plain.isdigit() and len(plain) < 4 and 1 <= int(plain) <= most):
        raise Refused(Code.NOT_BETWEEN, where, typed=plain[:10], most=most)
    return int(plain)


def booked_facts(house: House, made: Booking) -> dict[str, FactGiven]:
    """What the journal keeps of a booking."""
    service = service_of(house, made.service)
    return {
        "booking": made.id,
        "item": service.id,
        "service": Personal(service.name),
        "customer": made.person,
        "name": Personal(made.name),
        "starts": made.starts_at,
        "course": made.course,
    }


def read_moment(house: House, date: str, time: str, where: str = "time") -> datetime:
    """A date and time that is still to come. Refused with what is wrong about it."""
    moment = read_wall(date, time, where)
    not_past(house, moment, where)
    return moment


def not_past(house: House, moment: datetime, where: str = "time") -> None:
    """Refused for a moment that is not still to come."""
    if moment <= house.now():
        raise Refused(Code.IN_THE_PAST, where, moment=wall_text(moment))


# ---- walk-ins


def read_walk_in(house: House, walk_in_id: int) -> WalkIn:
    """A walk-in by id."""
    found = bookings.read_walk_in(house.connection, walk_in_id) if 0 < walk_in_id < 2**63 else None
    if found is None:
        raise NotFound(f"no walk-in {walk_in_id}")
    return found


def queue_up(house: House, actor: Actor, name: str, phone: str, wants: str, key: str) -> int:
    """Somebody without a booking waits; known by phone or name when there is just one such person."""
    with acting(house, actor, "walk-in", key) as act:
        if act.done is not None:
            return int(act.done)
        person, _ = read_person(house, {"name": name, "phone": phone})
        plain = " ".join(wants.split())
        if len(plain) > LONGEST:
            raise Refused(Code.TOO_LONG, "wants", most=LONGEST, count=len(plain))
        same = recognised(house, person.name, person.phone or "")
        made = bookings.add_walk_in(act.connection, person.name, person.phone, same.id if same else None, plain, act.at)
        act.record(Kind.WALK_IN_WAITS, walk_in=made, name=Personal(person.name))
        act.answer = str(made)
    return made


@dataclass(frozen=True, slots=True)
class Arrival:
    """Somebody without a booking: who, what for, with whom, and the place in the queue; all but the name may miss."""

    name: str
    phone: str = ""
    service: str = ""
    staff: str = ""
    walk_in: int | None = None


def serve(house: House, actor: Actor, arrival: Arrival, key: str) -> int:
    """A walk-in's ticket: person (added when new and a phone number is given), service, staff; gives the ticket."""
    plain, _ = read_person(house, {"name": arrival.name, "phone": arrival.phone})
    service = service_of(house, arrival.service) if arrival.service else None
    staff = arrival.staff
    if staff and staff not in house.staff():
        raise NotFound(f"no staff {staff}")

    def make() -> int:
        who = recognised(house, plain.name, plain.phone or "")
        new = who is None and plain.phone and not with_phone(house, plain.phone)  # a phone that is known is asked about
        person_id = who.id if who else keep_person(house, plain, "") if new else None
        door = TicketOrigin(Source.WALK_IN, person_id, plain.name, (plain.name,))
        ticket = open_at(house, actor, door, Beginning(Kind.WALKED_IN, name=Personal(plain.name)))
        if arrival.walk_in is not None:
            waiting = read_walk_in(house, arrival.walk_in)
            if waiting.state != WalkInState.WAITING:
                raise Refused(Code.SERVED_ALREADY, "service", name=waiting.name)
            bookings.end_walk_in(house.connection, waiting.id, WalkInState.SERVED, ticket)
        return ticket

    with opening(house, actor, make, key, "walk-in") as edit:
        if edit.done is None and service is not None:
            _put(edit, service, _Served(staff or actor.staff.id, service.price))
        return edit.id


def walk_away(house: House, actor: Actor, walk_in_id: int) -> None:
    """Somebody in the queue left without being served."""
    with acting(house, actor, "walk-in") as act:
        found = read_walk_in(house, walk_in_id)
        bookings.end_walk_in(act.connection, walk_in_id, WalkInState.LEFT, None)
        act.record(Kind.WALK_IN_LEFT, walk_in=walk_in_id, name=Personal(found.name))
