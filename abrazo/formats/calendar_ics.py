"""Bookings as an iCalendar file (RFC 5545), read and written by the icalendar library.

One VEVENT a booking: CATEGORIES (3.8.1.2) is the service, RESOURCES (3.8.1.10) the staff member, CONTACT (3.8.4.2) the
person, DESCRIPTION the note, STATUS cancelled or confirmed, X-PRICE the price, X-PARTY how many come, X-ADDONS what
is had along, X-STANDING whether they came. Times are written floating, in the
house's own time (3.3.5, form 1); times with a zone are read into it.
"""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any
from zoneinfo import ZoneInfo

from icalendar import Calendar
from icalendar import Event as VEvent

from abrazo.core.errors import Code, Refused
from abrazo.core.moments import EARLIEST, LATEST
from abrazo.formats.plain_text import plain

MOST = 5000  # events in one file


@dataclass(frozen=True, slots=True)
class Event:
    """One event of a calendar. `line` is where it begins in its file; `fault` why it cannot be a booking.

    `party` (how many come), `addons` (by name) and `standing` (here, absent) are empty where the file does not say.
    """

    line: int
    uid: str
    summary: str
    service: str
    staff: str
    name: str
    starts: datetime
    ends: datetime | None
    price: str = ""
    note: str = ""
    cancelled: bool = False
    party: str = ""
    addons: tuple[str, ...] = ()
    standing: str = ""
    fault: Refused | None = None


def count_events(data: bytes) -> None:
    """Refused before anything is read when a calendar holds too many events."""
    count = data.upper().count(b"BEGIN:VEVENT")
    if count > MOST:
        raise Refused(Code.CALENDAR_TOO_LONG, "file", most=MOST, count=count)


def read_calendar(data: bytes, zone: str) -> list[Event]:
    """The events of a file, in its order. Refused when the file as a whole is no calendar."""
    try:
        text = data.decode("utf-8-sig")
        calendars = [part for part in Calendar.from_ical(text, multiple=True) if part.name == "VCALENDAR"]
    except (ValueError, IndexError, UnicodeDecodeError, OverflowError) as error:
        raise Refused(Code.NOT_CALENDAR, "file", fault=str(error)[:120]) from None
    lines = [n for n, line in enumerate(text.splitlines(), 1) if line.strip().upper() == "BEGIN:VEVENT"]
    found = [event for calendar in calendars for event in calendar.walk("VEVENT")]
    if not found:
        raise Refused(Code.CALENDAR_EMPTY, "file")
    return [_event(line, event, ZoneInfo(zone)) for line, event in zip(lines, found, strict=True)]


def _event(line: int, event: Any, zone: ZoneInfo) -> Event:
    starts, ends, fault = _moment(event, "DTSTART", zone), _moment(event, "DTEND", zone), None
    if starts is None:
        fault = Refused(Code.EVENT_START)
    elif "DTEND" in event and ends is None:
        fault = Refused(Code.EVENT_END)
    elif ends is None and "DURATION" in event and starts is not None:
        ends, fault = _after(event, starts)
    if starts is not None and not EARLIEST <= starts.year <= LATEST:
        fault = Refused(Code.EVENT_YEAR, earliest=EARLIEST, latest=LATEST)
    if "UID" not in event:
        fault = fault or Refused(Code.EVENT_UID)
    if "RRULE" in event:
        fault = fault or Refused(Code.EVENT_REPEATS)
    return Event(
        line=line,
        uid=str(event.get("UID", "")),
        summary=plain(str(event.get("SUMMARY", ""))),
        service=_first(event, "CATEGORIES"),
        staff=_first(event, "RESOURCES"),
        name=_person(event),
        starts=starts or datetime.min,
        ends=ends,
        price=str(event.get("X-PRICE", "")),
        note=plain(str(event.get("DESCRIPTION", ""))),
        cancelled=str(event.get("STATUS", "")).upper() == "CANCELLED",
        party=plain(str(event.get("X-PARTY", ""))).strip(),
        addons=tuple(one.strip() for one in plain(str(event.get("X-ADDONS", ""))).split(";") if one.strip()),
        standing=plain(str(event.get("X-STANDING", ""))).strip(),
        fault=fault,
    )


def _moment(event: Any, name: str, zone: ZoneInfo) -> datetime | None:
    try:
        value = event.decoded(name) if name in event else None
    except ValueError:
        return None
    if not isinstance(value, datetime):
        return None
    try:
        return value.astimezone(zone).replace(tzinfo=None) if value.tzinfo else value
    except OverflowError:  # year 1 or 9999, moved by a zone
        return None


def _after(event: Any, starts: datetime) -> tuple[datetime | None, Refused | None]:
    """When an event with a duration ends, or why that is no time."""
    try:
        ends = starts + event.decoded("DURATION")
    except (ValueError, TypeError, OverflowError, AttributeError):
        return None, Refused(Code.EVENT_DURATION)
    return (ends, None) if ends.year <= LATEST else (None, Refused(Code.EVENT_TOO_LONG))


def _first(event: Any, name: str) -> str:
    value = event.get(name, "")
    if hasattr(value, "cats"):
        value = value.cats[0] if value.cats else ""
    if isinstance(value, list):
        value = value[0] if value else ""
    return plain(str(value)).strip()


def _person(event: Any) -> str:
    """Who it is for: CONTACT, else the first ATTENDEE's common name."""
    if "CONTACT" in event:
        return re.split(r"\s*[,;]\s*", _first(event, "CONTACT"))[0]
    attendee = event.get("ATTENDEE", "")
    attendee = attendee[0] if isinstance(attendee, list) else attendee
    return str(getattr(attendee, "params", {}).get("CN", ""))


def write_calendar(house: str, events: Iterable[Event], stamp: datetime) -> bytes:
    """An iCalendar file; `stamp` is UTC. Lines are folded and ended as the standard says."""
    calendar = Calendar()
    calendar.add("prodid", f"-//{house}//Abrazo//EN")
    calendar.add("version", "2.0")
    for one in events:
        event = VEvent()
        event.add("uid", one.uid)
        event.add("dtstamp", stamp)
        event.add("dtstart", one.starts)
        event.add("dtend", one.ends or one.starts + timedelta(hours=1))
        event.add("summary", one.summary)
        event.add("categories", [one.service])
        event.add("resources", one.staff)
        event.add("contact", one.name)
        if one.note:
            event.add("description", one.note)
        if one.price:
            event.add("x-price", one.price)
        for name, text in (("x-party", one.party), ("x-addons", "; ".join(one.addons)), ("x-standing", one.standing)):
            if text:
                event.add(name, text)
        event.add("status", "CANCELLED" if one.cancelled else "CONFIRMED")
        calendar.add_component(event)
    return bytes(calendar.to_ical())
