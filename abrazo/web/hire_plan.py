"""The bars of hires over time: a row for each unit, a column for each day. All in units of the drawing."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

from abrazo.core.moments import wall_of
from abrazo.desk.context import House
from abrazo.desk.doors.views.hires import HireCard, HireDay

LEFT, WIDE, HIGH, TOP = 64, 1160, 30, 26


@dataclass(frozen=True, slots=True)
class Bar:
    """A hire as a bar."""

    card: HireCard
    x: float
    width: float


@dataclass(frozen=True, slots=True)
class Row:
    """A unit with its bars; `y` is its upper edge."""

    unit: str
    y: int
    bars: tuple[Bar, ...]


@dataclass(frozen=True, slots=True)
class HirePlan:
    """The drawing: its size, its rows, where each day begins, where now is."""

    width: int
    height: int
    rows: tuple[Row, ...]
    days: tuple[tuple[float, str], ...]
    now: float


def hire_plan(house: House, day: HireDay) -> HirePlan:
    """The drawing of a week of hires."""
    whole = (day.end - day.begin).total_seconds()

    def at(moment: datetime) -> float:
        part = (moment - day.begin).total_seconds() / whole
        return round(LEFT + WIDE * min(1.0, max(0.0, part)), 1)

    rows = list[Row]()
    for place, (unit, cards) in enumerate(day.rows):
        bars = list[Bar]()
        for card in cards:
            begins = at(wall_of(card.hire.starts_at, house.zone))
            ends = wall_of(card.hire.due_at, house.zone)
            until = at(ends if card.hire.returned_at else max(ends, house.now()) if begins <= at(house.now()) else ends)
            bars.append(Bar(card, begins, max(4.0, round(until - begins, 1))))
        rows.append(Row(unit.id, TOP + place * HIGH, tuple(bars)))
    starts = [day.begin + timedelta(days=number) for number in range((day.end - day.begin).days)]
    days = tuple((at(start), start.date().isoformat()) for start in starts)
    return HirePlan(LEFT + WIDE + 8, TOP + len(rows) * HIGH + 6, tuple(rows), days, at(house.now()))
