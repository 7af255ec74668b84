"""Courses: services on a date with places.

Rules here
- a place is free until it is booked, and again when the booking is cancelled; who did not come had one
- a course never has fewer places than are taken
- weekly dates keep their wall time, whatever the clock does between them
"""

from __future__ import annotations

from datetime import datetime, timedelta


def places_left(places: int, taken: int) -> int:
    """How many of the places are free, 0 or more."""
    return max(0, places - taken)


def fits(places: int, taken: int, party: int) -> bool:
    """Whether so many more can come."""
    return party <= places_left(places, taken)


def weekly(first: datetime, weeks: int) -> list[datetime]:
    """The starts of a course that is given so many times, one each week; wall time."""
    return [first + timedelta(weeks=week) for week in range(weeks)]
