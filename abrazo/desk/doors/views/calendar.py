"""Bookings as the events of a calendar file."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from datetime import datetime

from abrazo.core.states import BookingState
from abrazo.desk.context import House
from abrazo.formats.calendar_ics import Event
from abrazo.store import catalogue
from abrazo.store.bookings import Booking


def events_of(house: House, found: Iterable[Booking]) -> Iterator[Event]:
    """One event a booking."""
    names = {item.id: item.name for item in catalogue.list_services(house.connection)}
    people, text = house.staff(), house.settings.currency.text
    for booking in found:
        service = names.get(booking.service, booking.service)
        yield Event(
            line=0,
            uid=booking.uid,
            summary=f"{service}, {booking.name}",
            service=service,
            staff=people[booking.staff].name,
            name=booking.name,
            starts=datetime.fromisoformat(booking.starts_at),
            ends=datetime.fromisoformat(booking.ends_at),
            price="" if booking.price is None else text(booking.price),
            note=booking.note,
            cancelled=booking.state == BookingState.CANCELLED,
            party=str(booking.party) if booking.party > 1 else "",
            addons=tuple(item.name for id in booking.addons if (item := house.item(id))),
            standing=booking.state if booking.state in (BookingState.HERE, BookingState.ABSENT) else "",
        )
