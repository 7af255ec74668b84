"""Bookings that are there: changed and moved, cancelled and brought back; their deposits; who did not come.

Rules here
- what is on a ticket is changed there; what is cancelled keeps its deposit until it is given back or kept
- the deposit that a service asks for is paid on a ticket of its own, and is held for the booking once that is closed
- of who does not come the fee of the house's terms is kept of the deposit, and the rest of it is charged on a ticket
"""

from __future__ import annotations

from dataclasses import replace

from abrazo.core.bookings import deposit_asked, no_show
from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Kind, Personal
from abrazo.core.ledger import Role
from abrazo.core.moments import wall_of
from abrazo.core.states import BookingState, Source, TicketState
from abrazo.desk.act import acting
from abrazo.desk.context import Actor, House
from abrazo.desk.doors.bookings import Appointment, not_past, planned_visit, read_booking, service_of
from abrazo.desk.doors.course_places import check_room, read_course
from abrazo.desk.doors.free_times import check_free
from abrazo.desk.history import not_since
from abrazo.desk.payments.deposits import keep_now
from abrazo.desk.permissions import read_reason
from abrazo.desk.tickets.deposits import of_booking
from abrazo.desk.tickets.starting import Beginning, TicketOrigin, opening_at
from abrazo.desk.tickets.ticket_lines import UNLISTED, put_on
from abrazo.store import bookings, deposits
from abrazo.store.bookings import Booking, ServiceTerms
from abrazo.store.deposits import AskedDeposit
from abrazo.store.lines import LineRow
from abrazo.words import phrases as w

NO_SHOWS = "no-shows"  # the report group of what is charged to who did not come


def change(house: House, actor: Actor, booking_id: int, wanted: Appointment, seen: int | None = None) -> None:
    """Another time, service, person who does it, number who come, add-ons or note, as typed.

    Another service brings its price. Refused beside the field; a booking on a ticket or one that is over stays, and so
    does one to which something was done after the entry that was `seen`.
    """
    with acting(house, actor, "booking") as act:
        not_since(house, "booking", booking_id, seen)
        before = _still_to_come(read_booking(house, booking_id))
        planned = planned_visit(house, wanted, instead=before)
        price = before.price if planned.service == before.service else service_of(house, planned.service).price
        after = replace(
            before,
            service=planned.service,
            staff=planned.staff,
            starts_at=planned.starts_at,
            ends_at=planned.ends_at,
            price=price,
            note=planned.note,
            party=planned.party,
            addons=planned.addons,
        )
        if after == before:
            return
        bookings.change(act.connection, after)
        bookings.set_addons(act.connection, booking_id, planned.addons)
        name, service = Personal(before.name), Personal(service_of(house, after.service).name)
        act.record(Kind.BOOKING_CHANGED, booking=booking_id, name=name, service=service, starts=after.starts_at,
                   before=before.starts_at, person=after.staff, number=after.party)  # fmt: skip


def move(house: House, actor: Actor, booking_id: int, staff: str, date: str, time: str) -> None:
    """To another time or somebody else; everything else stays."""
    one = read_booking(house, booking_id)
    same = Appointment(0, one.service, staff, date, time, party=str(one.party), addons=one.addons, note=one.note)
    change(house, actor, booking_id, same)


def _still_to_come(booking: Booking) -> Booking:
    if booking.ticket is not None:
        raise Refused(Code.BOOKING_ON_TICKET, name=booking.name)
    if booking.state in (BookingState.CANCELLED, BookingState.ABSENT):
        raise Refused(Code.BOOKING_OVER, name=booking.name)
    return booking


def _given_up(house: House, booking: Booking) -> Booking:
    """A place that is paid for can be given up: what was paid goes back by refunding its line."""
    head = house.head(booking.ticket) if booking.ticket and booking.course else None
    return _still_to_come(booking if head is None or head.state == TicketState.OPEN else replace(booking, ticket=None))


def cancel(house: House, actor: Actor, booking_id: int, reason: str, key: str) -> None:
    """Somebody will not come and said so; the reason is kept, and so is the deposit until it is given back."""
    why = read_reason(reason)
    with acting(house, actor, "booking cancelled", key, f"booking {booking_id}") as act:
        if act.done is not None:
            return
        booking = _given_up(house, read_booking(house, booking_id))
        asked = deposits.asked_for_booking(act.connection, booking_id)
        if asked and asked.state == TicketState.OPEN:
            raise Refused(Code.DEPOSIT_OPEN, "reason", job=of_booking(house, booking).name, number=asked.number)
        bookings.set_state(act.connection, booking_id, BookingState.CANCELLED, why)
        name, starts = Personal(booking.name), booking.starts_at
        act.record(Kind.BOOKING_CANCELLED, booking=booking_id, name=name, starts=starts, reason=Personal(why))


def bring_back(house: House, actor: Actor, booking_id: int) -> None:
    """It was cancelled by mistake. Refused when the time is past or taken meanwhile."""
    with acting(house, actor, "booking") as act:
        booking = read_booking(house, booking_id)
        if booking.state != BookingState.CANCELLED:
            return
        starts, ends = (wall_of(text, house.zone) for text in (booking.starts_at, booking.ends_at))
        not_past(house, starts, "booking")
        if booking.course is None:
            check_free(house, booking.staff, (starts, ends), booking_id)
        else:
            _room_again(house, booking, booking.course)
        bookings.set_state(act.connection, booking_id, BookingState.BOOKED)
        act.record(Kind.BOOKING_BACK, booking=booking_id, name=Personal(booking.name), starts=booking.starts_at)


def _room_again(house: House, booking: Booking, course_id: int) -> None:
    """A place can be taken again while the course takes place and has room."""
    course = read_course(house, course_id)
    if course.cancelled_at:
        raise Refused(Code.COURSE_IS_OFF, "booking", course=service_of(house, course.item).name)
    check_room(house, course, booking.party, "booking")


# ---- deposits and fees


def terms_of(house: House, service: str) -> ServiceTerms:
    """What a service asks for; nothing where nothing is said."""
    every = house.once("booking terms", lambda: bookings.list_terms(house.connection))
    return every.get(service, ServiceTerms(service, 0, 0))


def asked(house: House, booking: Booking) -> AskedDeposit | None:
    """On which ticket the deposit of a booking stands; None when none was asked for."""
    return house.once(("deposit asked", booking.id), lambda: deposits.asked_for_booking(house.connection, booking.id))


def wanted_deposit(house: House, booking: Booking) -> int:
    """What is still asked for as a deposit, in minor units; 0 when it stands on a ticket, or the booking is over."""
    if booking.ticket is not None or booking.state in (BookingState.CANCELLED, BookingState.ABSENT):
        return 0
    each = terms_of(house, booking.service).deposit
    return 0 if not each or asked(house, booking) else deposit_asked(each, booking.party)


def take_deposit(house: House, actor: Actor, booking_ids: list[int], key: str) -> int:
    """A ticket on which the deposits of bookings stand to be paid; gives the ticket. Those asked for are left out."""
    several = [read_booking(house, one) for one in booking_ids]
    first = several[0]
    standing = asked(house, first)
    if len(several) == 1 and standing is not None:
        return standing.ticket
    door = TicketOrigin(Source.BOOKING, first.person, first.name, (first.name,))
    begun = Beginning(Kind.DEPOSIT_ASKED, name=Personal(first.name), booking=first.id)
    with opening_at(house, actor, door, begun, key, "deposit asked") as edit:
        if edit.done is None:
            amounts = [(booking, wanted_deposit(house, booking)) for booking in several]
            if not any(amount for _, amount in amounts):
                raise Refused(Code.NO_DEPOSIT_ASKED, name=first.name)
            for booking, amount in amounts:
                if amount:
                    label = house.say(w.DEPOSIT_LINE, job=of_booking(house, booking).name, thing=booking.name)
                    facts = (UNLISTED, label, amount, "1", None, "", booking.staff, "", edit.at, None, None)
                    put_on(edit, LineRow(0, *facts, booking=booking.id, role=Role.DEPOSIT))
        return edit.id


def fee_of(house: House, booking: Booking) -> tuple[int, int]:
    """What may be kept of the deposit of who did not come, and what of the fee is still to be charged; minor units.

    Nothing is kept or charged twice.
    """
    if booking.state != BookingState.ABSENT or deposits.kept_for_booking(house.connection, booking.id):
        return 0, 0
    kept, owed = no_show(terms_of(house, booking.service).no_show_fee, booking.party, booking.deposit)
    return kept, 0 if deposits.charged_for_booking(house.connection, booking.id) else owed


def keep_fee(house: House, actor: Actor, booking_id: int, key: str) -> int:
    """Keep the fee of who did not come of the deposit, by the house's terms; the minor units kept."""
    with acting(house, actor, "fee kept", key, f"booking {booking_id}") as act:
        if act.done is not None:
            return int(act.done)
        booking = read_booking(house, booking_id)
        kept, _ = fee_of(house, booking)
        if not kept:
            raise Refused(Code.NO_FEE, name=booking.name)
        stays = keep_now(house, act, of_booking(house, booking), kept, house.say(w.DID_NOT_COME))
        act.answer = str(stays)
    return stays


def charge_fee(house: House, actor: Actor, booking_id: int, key: str) -> int:
    """A ticket with what of the fee the deposit does not cover, for who did not come; gives the ticket."""
    booking = read_booking(house, booking_id)
    door = TicketOrigin(Source.BOOKING, booking.person, booking.name, (booking.name,))
    begun = Beginning(Kind.NO_SHOW_CHARGED, name=Personal(booking.name), booking=booking_id)
    with opening_at(house, actor, door, begun, key, "fee charged") as edit:
        if edit.done is None:
            kept, owed = fee_of(house, read_booking(house, booking_id))
            if kept or not owed:
                raise Refused(Code.NO_FEE, name=booking.name)
            label = house.say(w.NO_SHOW_LINE, booking=of_booking(house, booking).name)
            facts = (UNLISTED, label, owed, "1", None, NO_SHOWS, booking.staff, "", edit.at, None, None)
            put_on(edit, LineRow(0, *facts, booking=booking_id))
        return edit.id
