"""Where bookings stand on the drawing of a day or several: a column a staff member, time downwards. CSS pixels."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta

from abrazo.core.bookings import Span
from abrazo.core.errors import Code, Refused
from abrazo.desk.context import House
from abrazo.desk.doors.views.bookings import BookingsDay, CourseOnDay, Visit, bookings_day

WIDTH, HEIGHT = 612, 560
WIDE, HIGH = 1240, 600  # of several days
LEFT, TOP = 52, 34
HOURS = 24
LEAST = 44  # a block is never lower than a finger is wide


@dataclass(frozen=True, slots=True)
class Block:
    """A booking as a rectangle."""

    visit: Visit
    x: float
    y: float
    width: float
    height: float


@dataclass(frozen=True, slots=True)
class CourseBlock:
    """A course as a rectangle, in which its places are."""

    given: CourseOnDay
    x: float
    y: float
    width: float
    height: float


@dataclass(frozen=True, slots=True)
class Gap:
    """What of somebody's day can still be booked, as a rectangle; `staff` is their id, `time` where it begins."""

    staff: str
    name: str
    date: str
    time: str
    x: float
    y: float
    width: float
    height: float


@dataclass(frozen=True, slots=True)
class DayHead:
    """Over the columns of a date: where they begin and how wide they are."""

    day: date
    x: float
    width: float


@dataclass(frozen=True, slots=True)
class DayPlan:
    """The drawing: hour lines as (y, words), dates, column heads as (x, name), blocks, and the line of now."""

    width: int
    height: int
    hours: list[tuple[float, str]]
    days: list[DayHead]
    heads: list[tuple[float, str]]
    blocks: list[Block]
    gaps: list[Gap]
    courses: list[CourseBlock]
    now: tuple[float, str, float, float] | None  # y, words, from x to x


@dataclass(frozen=True, slots=True)
class _Scale:
    """How high an hour is, how wide a column, where the columns begin and which hour is on top."""

    per_hour: float
    column: float
    top: float
    first_hour: int
    last_hour: int

    @classmethod
    def of(cls, days: Sequence[BookingsDay], width: int, height: int) -> _Scale:
        """Of days side by side."""
        first, last = min(day.first_hour for day in days), max(day.last_hour for day in days)
        top = TOP if len(days) == 1 else TOP + 22
        columns = max(1, sum(len(day.columns) for day in days))
        return cls((height - top - 12) / (last - first), (width - LEFT) / columns, top, first, last)

    def y(self, moment: datetime) -> float:
        """Where a moment of its day lies."""
        return self.top + (moment.hour + moment.minute / 60 - self.first_hour) * self.per_hour


def day_plan(day: BookingsDay) -> DayPlan:
    """Lay out a day."""
    return days_plan([day], WIDTH, HEIGHT)


def days_plan(days: Sequence[BookingsDay], width: int = WIDE, height: int = HIGH) -> DayPlan:
    """Lay out days side by side."""
    scale, x, now = _Scale.of(days, width, height), float(LEFT), None
    dates, heads = list[DayHead](), list[tuple[float, str]]()
    blocks, gaps, courses = list[Block](), list[Gap](), list[CourseBlock]()
    for day in days:
        dates.append(DayHead(day.day, x, scale.column * len(day.columns)))
        if day.now and scale.first_hour <= day.now.hour < scale.last_hour:
            now = (scale.y(day.now), f"{day.now:%H:%M}", x, x + scale.column * len(day.columns))
        for staff, visits in day.columns:
            heads.append((x + scale.column / 2, staff.name))
            gaps += _gaps(day, (staff.id, staff.name), scale, x, height)
            theirs = [one for one in day.courses if one.course.staff == staff.id]
            courses += (CourseBlock(one, *_place(one.span, scale, x, height)) for one in theirs)
            inside = {one.course.id for one in theirs}
            blocks += (_block(visit, scale, x, height) for visit in visits if visit.booking.course not in inside)
            x += scale.column
    lines = range(scale.last_hour - scale.first_hour + 1)
    hours = [(scale.top + n * scale.per_hour, f"{scale.first_hour + n}:00") for n in lines]
    return DayPlan(width, height, hours, dates, heads, blocks, gaps, courses, now)


def _block(visit: Visit, scale: _Scale, x: float, height: int) -> Block:
    starts, ends = (datetime.fromisoformat(at) for at in (visit.booking.starts_at, visit.booking.ends_at))
    return Block(visit, *_place((starts, ends), scale, x, height))


def _place(span: Span, scale: _Scale, x: float, height: int) -> tuple[float, float, float, float]:
    """Where something from then to then lies: left, top, width and height."""
    starts, ends = span
    y = scale.y(starts) + 1
    high = max(LEAST, scale.y(ends) - y - 1) if ends.date() == starts.date() else height - y
    return x + 3, y, scale.column - 6, high


def _gaps(day: BookingsDay, who: tuple[str, str], scale: _Scale, x: float, height: int) -> list[Gap]:
    found = list[Gap]()
    for begins, ends in day.gaps.get(who[0], ()):
        top, bottom = max(scale.top, scale.y(begins)), min(height - 12, scale.y(ends))
        if bottom - top >= LEAST / 2:
            place = (x + 3, top + 2, scale.column - 6, bottom - top - 4)
            found.append(Gap(*who, day.day.isoformat(), f"{begins:%H:%M}", *place))
    return found


def days_from(house: House, first: str, number: int) -> list[BookingsDay]:
    """Days side by side, from one on (ISO date; one that is none is today)."""
    begins = bookings_day(house, first)
    later = (begins.day + timedelta(days=n) for n in range(1, number))
    return [begins, *(bookings_day(house, one.isoformat()) for one in later)]


def dropped_at(house: House, shown: Sequence[BookingsDay], x: str, y: str) -> tuple[str, str, str]:
    """With whom (id), on which day and at what time a block stands whose upper left corner was dropped there.

    To the quarter of an hour. Refused off the drawing.
    """
    width, height = (WIDTH, HEIGHT) if len(shown) == 1 else (WIDE, HIGH)
    scale = _Scale.of(shown, width, height)
    columns = [(staff.id, day.day.isoformat()) for day in shown for staff, _ in day.columns]
    try:
        index = round((float(x) - LEFT) / scale.column)
        quarters = round((float(y) - scale.top) / scale.per_hour * 4)
    except (ValueError, OverflowError):
        index = quarters = -1
    hour, quarter = divmod(quarters + scale.first_hour * 4, 4)
    if not 0 <= index < len(columns) or not 0 <= hour < HOURS:
        raise Refused(Code.NOT_ON_DAY)
    return *columns[index], f"{hour:02d}:{quarter * 15:02d}"
