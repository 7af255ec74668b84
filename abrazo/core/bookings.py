"""Bookings: when somebody is free, what is asked for when one is made, what is kept when they do not come.

Rules here
- a visit lies in one span of work and overlaps no other visit; one may begin when another ends
- a free time begins at a step of the clock: the first at which the whole visit fits
- a deposit and the fee of who does not come are for each who comes; the fee is kept of the deposit first
"""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime, timedelta

Span = tuple[datetime, datetime]  # from, until before; wall time


def inside(visit: Span, work: Sequence[Span]) -> bool:
    """Whether a visit lies in one of the spans in which somebody works."""
    return any(begins <= visit[0] and visit[1] <= ends for begins, ends in work)


def in_the_way(visit: Span, taken: Sequence[Span]) -> Span | None:
    """The first of the spans taken that a visit overlaps; None when it is free."""
    return next((one for one in sorted(taken) if one[0] < visit[1] and visit[0] < one[1]), None)


def first_free(
    work: Sequence[Span], taken: Sequence[Span], minutes: int, earliest: datetime, step: int = 30
) -> datetime | None:
    """When a visit of so many minutes can begin, from `earliest` on, at a step of so many minutes; None for never."""
    length = timedelta(minutes=minutes)
    for begins, ends in sorted(work):
        start = _next_step(max(begins, earliest), step)
        while start + length <= ends:
            blocking = in_the_way((start, start + length), taken)
            if blocking is None:
                return start
            start = _next_step(blocking[1], step)
    return None


def free_starts(
    work: Sequence[Span], taken: Sequence[Span], minutes: int, earliest: datetime, step: int = 30
) -> list[datetime]:
    """All moments at which a visit can begin, at a step of so many minutes, in their order."""
    found, start = list[datetime](), first_free(work, taken, minutes, earliest, step)
    while start is not None:
        found.append(start)
        start = first_free(work, taken, minutes, start + timedelta(minutes=step), step)
    return found


def gaps(work: Sequence[Span], taken: Sequence[Span], earliest: datetime, least: int) -> list[Span]:
    """What is free of some spans of work from a moment on, where it is at least so many minutes long."""
    found = list[Span]()
    for begins, ends in sorted(work):
        at = max(begins, earliest)
        for one in sorted(taken):
            if one[1] > at and one[0] < ends:
                found.append((at, one[0]))
                at = max(at, one[1])
        found.append((at, ends))
    return [one for one in found if one[1] - one[0] >= timedelta(minutes=least)]


def _next_step(moment: datetime, step: int) -> datetime:
    """The first moment on the clock from here on that is a multiple of so many minutes after midnight."""
    midnight = moment.replace(hour=0, minute=0, second=0, microsecond=0)
    steps = -((midnight - moment) // timedelta(minutes=step))
    return midnight + timedelta(minutes=step * steps)


def deposit_asked(each: int, party: int) -> int:
    """The deposit of a booking for so many, in minor units."""
    return each * party


def no_show(fee: int, party: int, held: int) -> tuple[int, int]:
    """What is kept of a deposit when they do not come, and what of the fee is owed beyond it; minor units."""
    whole = fee * party
    kept = min(whole, held)
    return kept, whole - kept
