"""Free times as they are offered: with everybody who takes bookings, the next one and those of a date."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime, timedelta

from abrazo.core.errors import Refused
from abrazo.core.moments import read_day
from abrazo.desk.context import House
from abrazo.desk.doors.free_times import hours_words, next_free, starts_on
from abrazo.store.catalogue import Item
from abrazo.store.staff import Staff


@dataclass(frozen=True, slots=True)
class FreeWith:
    """When somebody is free for a service: next, on the date that is looked at, and their hours then."""

    staff: Staff
    following: datetime | None
    that_day: list[datetime]
    hours: str


@dataclass(frozen=True, slots=True)
class FreeTimes:
    """Free times around a date."""

    day: date
    several: list[FreeWith]


def free_times(house: House, service: Item | None, typed: str) -> FreeTimes:
    """With whom a service can be booked, and when; on the date typed or from today on."""
    now = house.now().replace(tzinfo=None, second=0, microsecond=0) + timedelta(minutes=1)
    try:
        day = max(read_day(typed, "date"), now.date()) if typed else now.date()
    except Refused:
        day = now.date()
    minutes = (service.minutes if service else None) or 60
    taking = [one for one in house.workers().values() if one.takes_bookings]
    found = []
    for staff in taking:
        on_day = starts_on(house, staff.id, minutes, day, now)
        following = next_free(house, staff.id, minutes, max(now, datetime.combine(day, datetime.min.time())))
        found.append(FreeWith(staff, following, on_day, hours_words(house, staff.id, day)))
    return FreeTimes(day, found)
