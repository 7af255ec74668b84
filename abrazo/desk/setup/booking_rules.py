"""What the house says of bookings: when people take them, and what services ask for.

Rules here
- hours are typed as spans of a day (9:00-12:30 13:30-17:00); what lies between two is a break; an empty day is free
- who has no hours at all takes bookings at any time
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import time

from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Kind, Personal
from abrazo.desk.act import acting
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.permissions import Right
from abrazo.formats.typed_amount import read_amount
from abrazo.store import bookings, catalogue
from abrazo.store import staff as staff_kept
from abrazo.store.bookings import ServiceTerms
from abrazo.store.catalogue import Item
from abrazo.store.staff import Staff, WorkHours

WEEKDAYS = range(1, 8)  # ISO 8601: Monday is 1
SPAN = re.compile(r"(\d{1,2}[:.]\d{2})\s*[-–]\s*(\d{1,2}[:.]\d{2})")


@dataclass(frozen=True, slots=True)
class StaffHours:
    """When somebody takes bookings, as it is typed, by weekday from Monday on."""

    staff: Staff
    days: tuple[str, ...]


def hours(house: House) -> list[StaffHours]:
    """Of everybody who takes bookings."""
    taking = (one for one in house.workers().values() if one.takes_bookings)
    return [StaffHours(one, tuple(_typed(one, weekday) for weekday in WEEKDAYS)) for one in taking]


def _typed(staff: Staff, weekday: int) -> str:
    return " ".join(f"{one.begins}-{one.ends}" for one in staff.hours if one.weekday == weekday)


def terms(house: House) -> list[tuple[Item, ServiceTerms]]:
    """What each service asks for."""
    every = bookings.list_terms(house.connection)
    services = catalogue.list_services(house.connection)
    return [(item, every.get(item.id, ServiceTerms(item.id, 0, 0))) for item in services]


def set_hours(house: House, actor: Actor, staff: str, typed: Mapping[int, str]) -> None:
    """When somebody takes bookings, by weekday. Refused beside the day that cannot be read."""
    with acting(house, actor, "set-up", needs=Right.SET_UP) as act:
        if staff not in house.staff():
            raise NotFound(f"no staff {staff}")
        said = [one for weekday in WEEKDAYS for one in _read(staff, weekday, typed.get(weekday, ""))]
        staff_kept.put_hours(act.connection, staff, said)
        act.record(Kind.WORK_HOURS, person=staff, number=len({one.weekday for one in said}))


def _read(staff: str, weekday: int, typed: str) -> list[WorkHours]:
    where, spans = f"hours-{staff}-{weekday}", SPAN.findall(typed)
    if re.sub(r"[\s,;]+", "", SPAN.sub("", typed)):
        raise Refused(Code.NOT_HOURS, where, typed=typed.strip()[:40])
    found, before = list[WorkHours](), time.min
    for begins, ends in ([_clock(text, where) for text in span] for span in spans):
        if not before <= begins < ends:
            raise Refused(Code.NOT_HOURS, where, typed=typed.strip()[:40])
        found.append(WorkHours(weekday, f"{begins:%H:%M}", f"{ends:%H:%M}"))
        before = ends
    return found


def _clock(typed: str, where: str) -> time:
    try:
        return time.fromisoformat(typed.replace(".", ":").zfill(5))
    except ValueError:
        raise Refused(Code.NOT_HOURS, where, typed=typed) from None


def set_terms(house: House, actor: Actor, item: str, deposit: str, fee: str) -> None:
    """What is asked for when a service is booked, and owed by who does not come; for each, empty for nothing."""
    with acting(house, actor, "set-up", needs=Right.SET_UP) as act:
        service = house.item(item)
        if service is None or service.minutes is None:
            raise NotFound(f"no service {item}")
        amounts = {where: _amount(house, where, typed) for where, typed in (("deposit", deposit), ("fee", fee))}
        said = ServiceTerms(item, amounts["deposit"], amounts["fee"])
        bookings.put_terms(act.connection, said)
        name = Personal(service.name)
        act.record(Kind.BOOKING_TERMS, service=name, amount=said.deposit, fee=said.no_show_fee)


def _amount(house: House, where: str, typed: str) -> int:
    found = read_amount(house.settings.currency, typed, where) if typed.strip() else 0
    if found < 0:
        raise Refused(Code.NEGATIVE_DEPOSIT, where)
    return found
