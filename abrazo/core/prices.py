"""Which price list holds.

Rules here
- a list holds on its days from its first minute up to, not including, its last; one that ends before it begins runs
  past midnight into the next day
- one with dates holds from its first date to its last, the hours past midnight belong to the day on which they began
- of several lists that hold the first one counts
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date, timedelta


@dataclass(frozen=True, slots=True)
class Hours:
    """When a list holds: days (0 is Monday), minutes since midnight, and the dates between which it does, if any."""

    id: str
    days: frozenset[int]
    begins: int
    ends: int
    first: date | None = None
    last: date | None = None

    def on(self, day: date) -> bool:
        """Whether it can begin to hold on a date."""
        return day.weekday() in self.days and (self.first or day) <= day <= (self.last or day)


def lowest(prices: Iterable[int]) -> int:
    """The lowest of some prices, in minor units: what a family of items begins at."""
    return min(prices)


def holds(hours: Hours, day: date, minute: int) -> bool:
    """Whether a list holds on a date at a minute of it."""
    if hours.begins < hours.ends:
        return hours.on(day) and hours.begins <= minute < hours.ends
    return (hours.on(day) and minute >= hours.begins) or (hours.on(day - timedelta(days=1)) and minute < hours.ends)


def list_now(lists: Sequence[Hours], day: date, minute: int) -> str | None:
    """The id of the list that holds, or None when the usual prices do."""
    return next((one.id for one in lists if holds(one, day, minute)), None)
