"""Hire: tariffs, what secures a hire, when it is late, what a return costs.

Rules here
- a card is valid through the last day of its expiry month; that day must not be before the return date plus the owner's
  margin in days (25 is common practice)
- a tariff is a length of elapsed minutes, or a window of the calendar that covers only what lies in it
- the cheapest cover of a time is the least sum of tariffs, each as often as it is needed; where several cost the same,
  the one of fewer pieces, then the one whose pieces stand first in the house's list
- an early return leaves what its price was above the cheapest cover of the time that it was out, where the house lets
  that be given back
- within grace a late return costs nothing; after it every started step from the due time does
- late, damage and loss of one unit are together at most its replacement value
- what the owner has of a hire is a percent of what it brought without tax, less that of what went back since
"""

from __future__ import annotations

import heapq
from calendar import monthrange
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta
from fractions import Fraction

from abrazo.core.figures import Booked
from abrazo.core.ledger import Posting, slug
from abrazo.core.money import round_half_up

USUAL_MARGIN = 25
WEEK = 7


def last_valid_day(year: int, month: int) -> date:
    """The last day on which a card with this expiry can be charged. Source: ISO/IEC 7813, expiry as year and month."""
    return date(year, month, monthrange(year, month)[1])


def secures(year: int, month: int, returned_on: date, margin_days: int = USUAL_MARGIN) -> bool:
    """Whether a card with this expiry secures a hire that ends on a date."""
    return last_valid_day(year, month) >= returned_on + timedelta(days=margin_days)


# ---- tariffs


@dataclass(frozen=True, slots=True)
class Window:
    """A part of every week on the house's clock: from a weekday (Monday is 0) and HH:MM to another."""

    from_day: int
    from_time: str
    to_day: int
    to_time: str

    def around(self, moment: datetime) -> tuple[datetime, datetime]:
        """The window that a moment of wall time lies in, else the next one: its beginning and end."""
        begin = _on(moment, self.from_day, self.from_time) - timedelta(days=WEEK)
        while True:
            end = _on(begin, self.to_day, self.to_time)
            if end <= begin:
                end += timedelta(days=WEEK)
            if end > moment:
                return begin, end
            begin += timedelta(days=WEEK)


def _on(moment: datetime, weekday: int, clock: str) -> datetime:
    """A weekday at a time in the week that begins with a moment's day."""
    hour, minute = clock.split(":")
    day = moment + timedelta(days=(weekday - moment.weekday()) % WEEK)
    return day.replace(hour=int(hour), minute=int(minute), second=0, microsecond=0)


@dataclass(frozen=True, slots=True)
class Tariff:
    """What a length of time costs in minor units: `minutes`, or a window."""

    id: str
    price: int
    minutes: int | None = None
    window: Window | None = None


def due_at(tariff: Tariff, start: datetime) -> datetime | None:
    """When a hire of a tariff that begins at a moment is due, in wall time of moments with their offset.

    None where a window does not hold then. A length is elapsed time: an hour that the clock skips is none.
    """
    if tariff.minutes is not None:
        zone = start.tzinfo
        assert zone is not None
        return (start.astimezone(UTC) + timedelta(minutes=tariff.minutes)).astimezone(zone)
    assert tariff.window is not None
    begin, end = tariff.window.around(start)
    return end if begin <= start else None


def cheapest(tariffs: Sequence[Tariff], start: datetime, end: datetime) -> tuple[int, tuple[str, ...]] | None:
    """The least sum of tariffs (minor units) that covers a time, and which; None where none does.

    The first moment that is not covered has to be covered by some piece; a length can as well begin there, and a window
    covers up to its end. So the shortest way from moment to moment is the cheapest cover.
    """
    heap: list[tuple[int, int, tuple[int, ...], datetime]] = [(0, 0, (), start)]
    done = set[datetime]()
    while heap:
        price, pieces, order, moment = heapq.heappop(heap)
        if moment >= end:
            return price, tuple(tariffs[place].id for place in order)
        if moment in done:
            continue
        done.add(moment)
        for place, tariff in enumerate(tariffs):
            reached = due_at(tariff, moment)
            if reached is not None and reached > moment:
                following = tuple(sorted((*order, place)))
                heapq.heappush(heap, (price + tariff.price, pieces + 1, following, reached))
    return None


def left_early(paid: int, cover: int | None) -> int:
    """What of a price was too much when a thing came back early, in minor units, 0 or more.

    `cover` is what the cheapest tariffs for the time that it was out come to; None where none cover it.
    """
    return 0 if cover is None else max(0, paid - cover)


# ---- units


Times = tuple[str, str]  # from and to, as ISO text of one kind


def overlap(one: Times, other: Times) -> bool:
    """Whether two times of a unit overlap; one may begin when the other ends."""
    return one[0] < other[1] and other[0] < one[1]


# ---- return


@dataclass(frozen=True, slots=True)
class LateTerms:
    """Minutes of grace; then each started step of so many minutes costs so much (minor units)."""

    grace: int
    step: int
    price: int


def late_charge(terms: LateTerms, minutes: int) -> int:
    """What a return so many minutes after its due time costs, in minor units."""
    if minutes <= terms.grace:
        return 0
    return -(-minutes // terms.step) * terms.price


def capped(late: int, damage: int, value: int) -> tuple[int, int]:
    """Late charge and damage or loss, together at most the replacement value; minor units."""
    late = min(late, value)
    return late, min(damage, value - late)


# ---- the owner's part


def owners_part(net: int, percent: Fraction, back: Fraction = Fraction(0)) -> int:
    """What the owner of a unit has of a hire that brought so much without tax, in minor units.

    `back` is what went back of it since, from 0 to 1: reckoned from the whole, so that all of it back leaves nothing.
    """
    return round_half_up(net * (1 - back) * percent / 100)


def owners_booked(owner: str, part: int) -> Booked:
    """What is owed to the owner of a unit; negative when a hire is turned round."""
    if not part:
        return Booked()
    return Booked((Posting(f"expenses:hire-shares:{slug(owner)}", part), Posting(owner_account(owner), -part)))


def owner_account(owner: str) -> str:
    """Where what is owed to an owner stands."""
    return f"liabilities:owners:{slug(owner)}"
