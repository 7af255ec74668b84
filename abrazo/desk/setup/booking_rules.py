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
from abrazo.desk.act import Act, acting
from abrazo.desk.context import Actor, House
from abrazo.desk.permissions import Right
from abrazo.desk.setup.fields import Field, FieldKind
from abrazo.desk.setup.things import Change, Thing, change_now, check_seen
from abrazo.formats.typed_amount import read_amount
from abrazo.store import bookings, catalogue
from abrazo.store import staff as staff_kept
from abrazo.store.bookings import ServiceTerms
from abrazo.store.catalogue import Item
from abrazo.store.set_up import Values
from abrazo.store.staff import Staff, WorkHours

WEEKDAYS = ("monday", "tuesday", "wednesday", "thursday", "friday", "saturday", "sunday")  # ISO 8601: Monday is 1
SPAN = re.compile(r"(\d{1,2}[:.]\d{2})\s*[-–]\s*(\d{1,2}[:.]\d{2})")


@dataclass(frozen=True, slots=True)
class StaffHours:
    """When somebody takes bookings, as it is typed, by weekday from Monday on."""

    staff: Staff
    days: tuple[str, ...]


def hours(house: House) -> list[StaffHours]:
    """Of everybody who takes bookings."""
    return [StaffHours(one, tuple(_days(one).values())) for one in _taking(house)]


def _taking(house: House) -> list[Staff]:
    return [one for one in house.workers().values() if one.takes_bookings]


def _days(staff: Staff) -> dict[str, str]:
    return {
        day: " ".join(f"{one.begins}-{one.ends}" for one in staff.hours if one.weekday == number)
        for number, day in enumerate(WEEKDAYS, start=1)
    }


def set_hours(house: House, actor: Actor, staff: str, typed: Mapping[int, str], seen: int | None = None) -> None:
    """When somebody takes bookings, by weekday. Refused beside the day that cannot be read.

    `seen` is the last change that the page showed.
    """
    with acting(house, actor, "set-up", needs=Right.SET_UP) as act:
        try:
            check_seen(house, HOURS, Change(staff, {}, seen))
            said: Values = {day: _plain(day, typed.get(number, "")) for number, day in enumerate(WEEKDAYS, start=1)}
        except Refused as refusal:
            number = WEEKDAYS.index(refusal.where) + 1 if refusal.where in WEEKDAYS else 1
            raise refusal.at(f"hours-{staff}-{number}") from None
        change_now(act, HOURS, staff, said)


def _plain(day: str, typed: str) -> str:
    """A day's hours as they are kept. Refused beside the day when they cannot be read."""
    spans = SPAN.findall(typed)
    if re.sub(r"[\s,;]+", "", SPAN.sub("", typed)):
        raise Refused(Code.NOT_HOURS, day, typed=typed.strip()[:40])
    found, before = list[str](), time.min
    for begins, ends in ([_clock(text, day) for text in span] for span in spans):
        if not before <= begins < ends:
            raise Refused(Code.NOT_HOURS, day, typed=typed.strip()[:40])
        found.append(f"{begins:%H:%M}-{ends:%H:%M}")
        before = ends
    return " ".join(found)


def _clock(typed: str, where: str) -> time:
    try:
        return time.fromisoformat(typed.replace(".", ":").zfill(5))
    except ValueError:
        raise Refused(Code.NOT_HOURS, where, typed=typed) from None


def _load_hours(house: House) -> dict[str, Values]:
    return {one.id: {"name": one.name, **_days(one)} for one in _taking(house)}


def _save_hours(act: Act, ref: str, values: Values) -> None:
    values |= {day: _plain(day, str(typed or "")) for day, typed in values.items()}
    days = _days(act.house.staff()[ref]) | {day: str(text) for day, text in values.items()}
    said = [
        WorkHours(number, *span.split("-"))
        for number, day in enumerate(WEEKDAYS, start=1)
        for span in days[day].split()
    ]
    staff_kept.put_hours(act.connection, ref, said)


def _check_hours(_: House, __: str, values: Values) -> None:
    for day in WEEKDAYS:
        _plain(day, str(values[day] or ""))


HOURS = Thing(
    "hours",
    tuple(Field(day, empty=True) for day in WEEKDAYS),
    _load_hours,
    _save_hours,
    _check_hours,
    adds=False,
    retires=False,
)

# ---- what services ask for


def terms(house: House) -> list[tuple[Item, ServiceTerms]]:
    """What each service asks for."""
    every = bookings.list_terms(house.connection)
    services = catalogue.list_services(house.connection)
    return [(item, every.get(item.id, ServiceTerms(item.id, 0, 0))) for item in services]


def set_terms(house: House, actor: Actor, item: str, typed: Mapping[str, str], seen: int | None = None) -> None:
    """What is asked for when a service is booked (`deposit`), and owed by who does not come (`fee`).

    For each, empty for nothing. `seen` is the last change that the page showed.
    """
    with acting(house, actor, "set-up", needs=Right.SET_UP) as act:
        try:
            check_seen(house, TERMS, Change(item, {}, seen))
        except Refused as refusal:
            raise refusal.at("deposit") from None
        change_now(act, TERMS, item, {where: _amount(house, where, typed.get(where, "")) for where in ASKED})


def _amount(house: House, where: str, typed: str) -> int:
    found = read_amount(house.settings.currency, typed, where) if typed.strip() else 0
    if found < 0:
        raise Refused(Code.NEGATIVE_DEPOSIT, where)
    return found


def _load_terms(house: House) -> dict[str, Values]:
    return {
        item.id: {"name": item.name, "deposit": asks.deposit, "fee": asks.no_show_fee} for item, asks in terms(house)
    }


def _save_terms(act: Act, ref: str, values: Values) -> None:
    before = bookings.list_terms(act.connection).get(ref, ServiceTerms(ref, 0, 0))
    deposit, fee = values.get("deposit", before.deposit), values.get("fee", before.no_show_fee)
    bookings.put_terms(act.connection, ServiceTerms(ref, int(str(deposit)), int(str(fee))))


ASKED = ("deposit", "fee")
TERMS = Thing(
    "booking-terms",
    tuple(Field(one, FieldKind.MONEY, empty=True, nothing=0) for one in ASKED),
    _load_terms,
    _save_terms,
    adds=False,
    retires=False,
)
