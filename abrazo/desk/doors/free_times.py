"""When somebody can be booked: inside their hours, beside what is booked already; the next time that is free."""

from __future__ import annotations

from datetime import date, datetime, time, timedelta

from abrazo.core.bookings import Span, first_free, free_starts, gaps, in_the_way, inside
from abrazo.core.errors import Code, Refused
from abrazo.core.moments import wall_text
from abrazo.desk.context import House
from abrazo.store import bookings
from abrazo.store.staff import WorkHours
from abrazo.words import phrases as w

AHEAD = 60  # days that are looked through
LEAST = 30  # minutes of a gap that is offered
STEP = 15  # minutes of the clock at which a proposed time begins
OFFERED = (time(9), time(18))  # what is proposed of who works at any time


def hours_of(house: House, staff: str) -> tuple[WorkHours, ...]:
    """When somebody takes bookings, by weekday; empty when they take them at any time."""
    return house.staff()[staff].hours


def works_on(house: House, staff: str, day: date, otherwise: tuple[time, time] = (time.min, time.max)) -> list[Span]:
    """When somebody works on a date; `otherwise` where nothing is said of them."""
    hours = hours_of(house, staff)
    if not hours:
        return [(datetime.combine(day, otherwise[0]), datetime.combine(day, otherwise[1]))]
    today = (one for one in hours if one.weekday == day.isoweekday())
    return [_span(day, one) for one in today]


def _span(day: date, hours: WorkHours) -> Span:
    begins, ends = (datetime.combine(day, time.fromisoformat(text)) for text in (hours.begins, hours.ends))
    return begins, ends


def _taken(house: House, staff: str, start: datetime, end: datetime, but: int = 0, course: int = 0) -> list[Span]:
    found = bookings.taken(house.connection, staff, wall_text(start), wall_text(end), but, course)
    return [(datetime.fromisoformat(begins), datetime.fromisoformat(ends)) for begins, ends in found]


def check_free(house: House, staff: str, visit: Span, but: int = 0, course: int = 0) -> None:
    """Refused beside the time when somebody does not work then, or is booked; one booking or course is left out."""
    name, works = house.staff()[staff].name, works_on(house, staff, visit[0].date())
    if not inside(visit, works) and hours_of(house, staff):
        day = visit[0].date().isoformat()
        if not works:
            raise Refused(Code.NOT_IN_THAT_DAY, "date", name=name, day=day)
        raise Refused(Code.OUTSIDE_HOURS, "time", name=name, day=day, hours=hours_words(house, staff, visit[0].date()))
    blocking = in_the_way(visit, _taken(house, staff, *visit, but, course))
    if blocking is not None:
        raise Refused(Code.STAFF_BUSY, "time", name=name, time=wall_text(blocking[0]), until=wall_text(blocking[1]))


def is_free(house: House, staff: str, visit: Span) -> bool:
    """Whether somebody works then and is not booked."""
    works = inside(visit, works_on(house, staff, visit[0].date()))
    return works and in_the_way(visit, _taken(house, staff, *visit)) is None


def next_free(house: House, staff: str, minutes: int, earliest: datetime) -> datetime | None:
    """The next time at which a visit of so many minutes fits; None when there is none for a long while."""
    last = earliest + timedelta(days=AHEAD)
    taken = _taken(house, staff, earliest, last + timedelta(days=1))
    for days in range(AHEAD):
        work = works_on(house, staff, earliest.date() + timedelta(days=days), OFFERED)
        found = first_free(work, taken, minutes, earliest, STEP)
        if found is not None:
            return found
    return None


def starts_on(house: House, staff: str, minutes: int, day: date, earliest: datetime) -> list[datetime]:
    """All times of a date, by half hours, at which a visit of so many minutes can begin."""
    midnight = datetime.combine(day, time.min)
    taken = _taken(house, staff, midnight, midnight + timedelta(days=1))
    return free_starts(works_on(house, staff, day, OFFERED), taken, minutes, earliest)


def gaps_on(house: House, staff: str, day: date, taken: list[Span]) -> list[Span]:
    """What is still free of somebody's work on a date, half an hour or longer, beside the spans that are taken."""
    now = house.now().replace(tzinfo=None, second=0, microsecond=0)
    quarter = now + timedelta(minutes=STEP - now.minute % STEP)
    return gaps(works_on(house, staff, day, OFFERED), taken, quarter, LEAST)


def hours_words(house: House, staff: str, day: date) -> str:
    """When somebody works on a date, in words; empty where nothing is said of them."""
    if not hours_of(house, staff):
        return ""
    works = works_on(house, staff, day)
    return ", ".join(f"{begins:%H:%M}–{ends:%H:%M}" for begins, ends in works) or house.say(w.NOT_IN)
