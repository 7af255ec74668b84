"""Which price list holds.

Rules here
- a list holds on its days from its first minute up to, not including, its last; one that ends before it begins runs
  past midnight into the next day
- of several lists that hold the first one counts
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Hours:
    """When a list holds: days (0 is Monday), and minutes since midnight."""

    id: str
    days: frozenset[int]
    begins: int
    ends: int


def lowest(prices: Iterable[int]) -> int:
    """The lowest of some prices, in minor units: what a family of items begins at."""
    return min(prices)


def visit_price(prices: Iterable[int], saved: int) -> int:
    """What a visit comes to, in minor units: its service and extras, less what benefits take off."""
    return sum(prices) - saved


def holds(hours: Hours, day: int, minute: int) -> bool:
    """Whether a list holds on a day of the week at a minute of it."""
    if hours.begins < hours.ends:
        return day in hours.days and hours.begins <= minute < hours.ends
    return (day in hours.days and minute >= hours.begins) or ((day - 1) % 7 in hours.days and minute < hours.ends)


def list_now(lists: Sequence[Hours], day: int, minute: int) -> str | None:
    """The id of the list that holds, or None when the usual prices do."""
    return next((one.id for one in lists if holds(one, day, minute)), None)
