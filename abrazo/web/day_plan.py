"""Where bookings stand on the drawing of a day: a column a staff member, time downwards. CSS pixels."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from abrazo.desk.doors.views.bookings import BookingsDay, Visit

WIDTH, HEIGHT = 612, 560
LEFT, TOP = 52, 34
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
class DayPlan:
    """The drawing: hour lines as (y, words), column heads as (x, words), blocks, and the line of now."""

    width: int
    height: int
    hours: list[tuple[float, str]]
    heads: list[tuple[float, str]]
    blocks: list[Block]
    now: tuple[float, str] | None


def day_plan(day: BookingsDay) -> DayPlan:
    """Lay out a day."""
    per_hour = (HEIGHT - TOP - 12) / (day.last_hour - day.first_hour)
    column = (WIDTH - LEFT) / max(1, len(day.columns))

    def y_of(moment: datetime) -> float:
        return TOP + (moment.hour + moment.minute / 60 - day.first_hour) * per_hour

    blocks = []
    for index, (_, visits) in enumerate(day.columns):
        for visit in visits:
            starts = datetime.fromisoformat(visit.booking.starts_at)
            ends = datetime.fromisoformat(visit.booking.ends_at)
            y = y_of(starts) + 1
            height = max(LEAST, y_of(ends) - y - 1) if ends.date() == starts.date() else HEIGHT - y
            blocks.append(Block(visit, LEFT + index * column + 3, y, column - 6, height))
    now = None
    if day.now and day.first_hour <= day.now.hour < day.last_hour:
        now = (y_of(day.now), f"{day.now:%H:%M}")
    hours = [(TOP + n * per_hour, f"{day.first_hour + n}:00") for n in range(day.last_hour - day.first_hour + 1)]
    heads = [(LEFT + index * column + column / 2, staff.name) for index, (staff, _) in enumerate(day.columns)]
    return DayPlan(WIDTH, HEIGHT, hours, heads, blocks, now)
