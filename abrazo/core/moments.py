"""Moments and dates: what happened is UTC and ends in Z; what is planned is wall time in the house's zone.

Rules here
- a stamp is ISO 8601 to the second, in UTC: 2026-06-13T13:20:00Z; stamps sort as text
- bookings, due and promised times, hours of price lists are wall time: 2026-06-13T14:20:00
- a date that is typed lies between 1900 and 2199, so that a day before or after it is a date too
"""

from __future__ import annotations

import re
from datetime import UTC, date, datetime, timedelta
from zoneinfo import ZoneInfo

from abrazo.core.errors import Code, Refused

EARLIEST, LATEST = 1900, 2199  # years


def stamp_of(moment: datetime) -> str:
    """A moment with its zone as a stamp. Raises ValueError for one without a zone."""
    if moment.tzinfo is None:
        raise ValueError("a stamp needs a moment with a zone")
    return moment.astimezone(UTC).replace(tzinfo=None).isoformat(timespec="seconds") + "Z"


def wall_text(wall: datetime) -> str:
    """A wall time as it is written down, to the second."""
    return wall.replace(tzinfo=None).isoformat(timespec="seconds")


def wall_of(text: str, zone: ZoneInfo) -> datetime:
    """A stamp as wall time in a zone; a wall time as it is. Without zone."""
    if text.endswith("Z"):
        return datetime.fromisoformat(text).astimezone(zone).replace(tzinfo=None)
    return datetime.fromisoformat(text)


def stamped(stamp: str) -> datetime:
    """The moment that a stamp names, with its zone."""
    return datetime.fromisoformat(stamp)


def clock_of(text: str, zone: ZoneInfo) -> str:
    """Hours and minutes of a stamp or wall time, in a zone: 14:20."""
    return f"{wall_of(text, zone):%H:%M}"


def stamp_at(wall: datetime, zone: ZoneInfo) -> str:
    """The stamp of a wall time in a zone; of an hour that comes twice, the first."""
    return stamp_of(wall.replace(tzinfo=zone))


def seconds_between(first: str, second: str) -> float:
    """Seconds from one stamp to another, or from one wall time to another."""
    return (datetime.fromisoformat(second) - datetime.fromisoformat(first)).total_seconds()


def read_day(typed: str, where: str, example: str = "2026-06-12") -> date:
    """A date that was typed. Refused beside its field when it is none, or far from any visit."""
    try:
        found = date.fromisoformat(typed.strip())
    except ValueError:
        found = date.min
    if not EARLIEST <= found.year <= LATEST:
        raise Refused(Code.NOT_DATE, where, typed=typed.strip()[:30], example=example)
    return found


def _padded(clock: str) -> str:
    """A time of day with two digits of the hour: 9:30 and 9.30 are 09:30, and so is 930."""
    typed = re.fullmatch(r"([0-9]{1,2})[:.]?([0-9]{2})", clock)
    return f"{int(typed[1]):02d}:{typed[2]}" if typed else clock


def read_clock(typed: str, where: str) -> str:
    """A time of day that was typed, as HH:MM; 24:00 is none. Refused beside its field when it is none."""
    found = re.fullmatch(r"([01][0-9]|2[0-3]):[0-5][0-9]", _padded(typed.strip()))
    if found is None:
        raise Refused(Code.NOT_TIME, where, text=typed.strip()[:30])
    return found[0]


def read_wall(day: str, clock: str, where: str) -> datetime:
    """A date and a time of day that were typed. Refused beside their field when they are none."""
    try:
        found = datetime.fromisoformat(f"{day.strip()}T{_padded(clock.strip())}")
    except ValueError:
        found = datetime.min
    if not EARLIEST <= found.year <= LATEST or found.tzinfo is not None:
        raise Refused(Code.NOT_MOMENT, where, day=day.strip()[:30], time=clock.strip()[:30])
    return found


def plus(stamp: str, span: timedelta) -> str:
    """A stamp some time later, or with a negative span earlier."""
    return stamp_of(datetime.fromisoformat(stamp) + span)
