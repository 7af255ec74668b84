"""Bookings from a calendar: all of its events, or none."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace
from datetime import timedelta

from abrazo.core.codes import holds_card_number
from abrazo.core.errors import BadEntry, Code, Refused
from abrazo.core.journal import Kind
from abrazo.core.moments import wall_text
from abrazo.core.money import Currency
from abrazo.core.states import BookingState
from abrazo.desk.act import acting
from abrazo.desk.context import Actor, House
from abrazo.desk.doors.bookings import MOST_PEOPLE, read_number
from abrazo.desk.people.people import recognised, refuse_entries
from abrazo.desk.permissions import Right
from abrazo.formats.calendar_ics import Event
from abrazo.store import bookings, catalogue
from abrazo.store.bookings import Booking
from abrazo.store.catalogue import Item


@dataclass(frozen=True, slots=True)
class Taken:
    """What a calendar brought: new bookings, and ones that were there and changed."""

    new: int
    changed: int


def import_calendar(house: House, actor: Actor, events: Sequence[Event], key: str) -> Taken:
    """Take the bookings of a calendar, all or none. Known ones by their UID.

    Refused with every bad entry by line and reason. A booking that is on a ticket already is left as it is.
    """
    with acting(house, actor, "calendar", key, needs=Right.MOVE_FILES) as act:
        if act.done is not None:
            new, changed = map(int, act.done.split())
            return Taken(new, changed)
        taken = put_in(house, from_events(house, events), act.at)
        act.record(Kind.CALENDAR_READ, new=taken.new, changed=taken.changed, lender=act.by)
        act.answer = f"{taken.new} {taken.changed}"
    return taken


def from_events(house: House, events: Iterable[Event]) -> list[Booking]:
    """The bookings that events say. Refused with every bad one by line and reason."""
    book = _Book.of(house)
    faults, found = list[BadEntry](), list[Booking]()
    for event in events:
        try:
            if holds_card_number(event.summary) or holds_card_number(event.note):
                raise Refused(Code.HOLDS_CARD_NUMBER, "file")
            found.append(book.booking(event))
        except Refused as refusal:
            faults.append(BadEntry(event.line, event.summary, refusal))
    refuse_entries(faults)
    return found


def put_in(house: House, found: Sequence[Booking], at: str) -> Taken:
    """Add or change bookings inside a transaction that is under way."""
    new = changed = 0
    there = bookings.by_uids(house.connection, (booking.uid for booking in found))
    for booking in found:
        before = there.get(booking.uid)
        if before is None:
            made = bookings.add(house.connection, booking, at)
            there[booking.uid] = replace(booking, id=made)
            new += 1
        elif before.ticket is None:
            after = _over(before, booking)
            if after != before:
                bookings.change(house.connection, after)
                bookings.set_addons(house.connection, after.id, after.addons)
                there[booking.uid] = after
                changed += 1
    return Taken(new, changed)


def _over(before: Booking, said: Booking) -> Booking:
    """What a calendar says of a booking that is there; of what it does not say, what was there stays.

    A place of a course goes with its course: its time is not the calendar's to say.
    """
    state = said.state if said.state != BookingState.BOOKED else before.state
    after = replace(
        before, name=said.name, person=said.person, price=said.price, note=said.note, state=state, party=said.party
    )
    after = replace(after, addons=said.addons or before.addons)
    if before.course is not None:
        return after
    return replace(after, service=said.service, staff=said.staff, starts_at=said.starts_at, ends_at=said.ends_at)


@dataclass(frozen=True, slots=True)
class _Book:
    """What events are read against, read once."""

    services: dict[str, Item]
    addons: dict[str, Item]
    staff: dict[str, str]
    currency: Currency
    meant: Callable[[str], int | None]

    @classmethod
    def of(cls, house: House) -> _Book:
        services = {item.name.casefold(): item for item in catalogue.list_services(house.connection)}
        addons = {item.name.casefold(): item for item in catalogue.list_addons(house.connection)}
        staff = {person.name.casefold(): person.id for person in house.staff().values()}
        seen = dict[str, int | None]()

        def person(name: str) -> int | None:
            if name not in seen:
                who = recognised(house, name)
                seen[name] = who.id if who else None
            return seen[name]

        return cls(services, addons, staff, house.settings.currency, person)

    def booking(self, event: Event) -> Booking:
        """The booking that an event says. Refused with what is wrong with it."""
        if event.fault:
            raise event.fault
        service, staff = self.services.get(event.service.casefold()), self.staff.get(event.staff.casefold())
        if service is None:
            raise Refused(Code.CALENDAR_SERVICE, service=event.service)
        if staff is None:
            raise Refused(Code.CALENDAR_STAFF, staff=event.staff)
        if not event.name:
            raise Refused(Code.CALENDAR_NAME)
        if event.ends is not None and event.ends <= event.starts:
            raise Refused(Code.CALENDAR_END)
        ends = event.ends or event.starts + timedelta(minutes=service.minutes or 0)
        price = self.currency.read(event.price, "price") if event.price else None
        start, end, person = wall_text(event.starts), wall_text(ends), self.meant(event.name)
        facts = (event.uid, person, event.name, service.id, staff, start, end, price, event.note, _state(event))
        return Booking(0, *facts, None, self._addons(event), read_number(event.party, "X-PARTY", MOST_PEOPLE))

    def _addons(self, event: Event) -> tuple[str, ...]:
        unknown = next((name for name in event.addons if name.casefold() not in self.addons), None)
        if unknown is not None:
            raise Refused(Code.CALENDAR_SERVICE, service=unknown)
        return tuple(self.addons[name.casefold()].id for name in event.addons)


def _state(event: Event) -> BookingState:
    if event.cancelled:
        return BookingState.CANCELLED
    came = (BookingState.HERE, BookingState.ABSENT)
    return BookingState(event.standing) if event.standing in came else BookingState.BOOKED
