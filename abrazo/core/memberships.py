"""Memberships that are sold: from which day to which, paused, renewed, ended early.

Rules here
- a membership holds from its first day to its last, both counted; a term of months ends on the day before the same day
  of a later month, or with that month where it has no such day (31 January to 28 February)
- one that is renewed goes on from the day after the old end; its terms are counted from the first day of the first one
- a pause moves the end by its days, both ends counted
- one that ends early is worth, from the day after its end, the sum of what each day is worth: the net that was paid
  without tax, apportioned over all its days
"""

from __future__ import annotations

from calendar import monthrange
from dataclasses import dataclass
from datetime import date, timedelta

from abrazo.core.money import total
from abrazo.core.sharing import apportion

DAY = timedelta(days=1)


def last_day(first: date, months: int) -> date:
    """The last day of a term of so many months."""
    months_on = first.year * 12 + first.month - 1 + months
    year, month = months_on // 12, months_on % 12 + 1
    days = monthrange(year, month)[1]
    return date(year, month, min(first.day, days + 1) - 1) if first.day > 1 else date(year, month, 1) - DAY


@dataclass(frozen=True, slots=True)
class Term:
    """From when to when (both days counted), and the day from which terms are counted when it is renewed."""

    first: date
    last: date
    anchor: date


def term(first: date, months: int) -> Term:
    """A membership that begins on a day."""
    return Term(first, last_day(first, months), first)


def renewed(old: Term, months: int) -> Term:
    """The next term after an old one. Counted from the anchor where the old end is one of its own."""
    first = old.last + DAY
    for count in range(1, 1200):  # a hundred years
        end = last_day(old.anchor, count)
        if end == old.last:
            return Term(first, last_day(old.anchor, count + months), old.anchor)
        if end > old.last:
            break
    return term(first, months)


def paused(last: date, first_away: date, last_away: date) -> date:
    """The last day of a membership that rests from a day to a day, both counted."""
    return last + (last_away - first_away) + DAY


def days_of(first: date, last: date) -> int:
    """How many days there are from one to another, both counted; none when the last is before the first."""
    return max(0, (last - first).days + 1)


def worth_left(net: int, first: date, last: date, end: date) -> int:
    """What of a net (minor units, without tax) the days after an end are worth; all of it before it began."""
    days = days_of(first, last)
    had = min(days, days_of(first, end))
    return total(apportion(net, [1] * days)[had:]) if days else 0
