"""Jobs: their estimate, their place on the rack, and handing them over piece by piece.

Rules here
- a task comes to its unit price times its quantity (times, kg or m), rounded half-up; an estimate adds the
  tasks and the tax that is added to them (core/tax.py)
- a surcharge is an amount, or a percent of what its tasks come to, rounded half-up once, and is shared over them
- a job is late when its due time is past, else it is due today or later, by the business date
- a job owes what it comes to less its deposits; on an open ticket at most what is due there
- pieces leave one hand-over at a time, never more than are here; the last piece does not leave before the job is paid
"""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping, Sequence
from datetime import date, datetime, timedelta
from fractions import Fraction

from abrazo.core.errors import Code, Refused
from abrazo.core.money import bounded, round_half_up
from abrazo.core.sharing import apportion
from abrazo.core.states import RackPlace


def task_price(unit_price: int, quantity: Fraction) -> int:
    """What one task comes to, in minor units."""
    return bounded(round_half_up(unit_price * quantity))


def surcharge(tasks: Sequence[int], percent: str | None, amount: int | None) -> tuple[int, ...]:
    """What is added to tasks that come to so much, over each of them by what it comes to; minor units.

    An amount, else a percent of their sum, rounded half up once.
    """
    together = sum(tasks)
    added = bounded(amount if amount is not None else round_half_up(together * Fraction(percent or 0) / 100))
    return tuple(apportion(added, tasks if together else [1] * len(tasks)))


def still_owed(came_to: int, held: int) -> int:
    """What is to pay for a job on no ticket, its deposits taken off; minor units, 0 or more."""
    return max(0, came_to - held)


def owed_on_ticket(due: int, came_to: int, used: int) -> int:
    """What is to pay for a job on an open ticket: less the deposits used there, at most what the ticket has due."""
    return min(due, came_to - used)


def rack_place(due: datetime, now: datetime, business_date: date) -> RackPlace:
    """Where a job hangs: late, today or later."""
    if due < now:
        return RackPlace.LATE
    return RackPlace.TODAY if due.date() <= business_date else RackPlace.LATER


def promised(first: date, open_days: Collection[int], days: int) -> date:
    """The date so many open days after one, by weekdays (Monday is 1); days are counted on where none is open."""
    found = first
    while days > 0:
        found += timedelta(days=1)
        days -= not open_days or found.isoweekday() in open_days
    return found


def promise_of(tasks: Sequence[int | None], usual: int) -> int:
    """Open days until a job is promised: the longest of its tasks'; a task without its own takes the house's usual."""
    return max((usual if days is None else days for days in tasks), default=usual)


def worked(spans: Iterable[tuple[datetime, datetime]]) -> int:
    """How many whole minutes were worked in some spans together."""
    return int(sum((ends - begins for begins, ends in spans), timedelta()) // timedelta(minutes=1))


def beyond_agreed(estimate: int, agreed: int | None) -> int:
    """What an estimate is more than was agreed, in minor units; 0 when it is not, or nothing was."""
    return 0 if agreed is None else max(0, estimate - agreed)


def hand_over(here: Mapping[int, int], wanted: Mapping[int, int], owed: int) -> dict[int, int]:
    """What leaves now, pieces by task. `here` are the pieces in the house, `owed` minor units still to pay.

    Refused when nothing or more than is here was asked for, and when the last piece would leave unpaid.
    """
    leaving = {task: pieces for task, pieces in wanted.items() if pieces}
    if not leaving:
        raise Refused(Code.NO_PIECES, "pieces")
    for task, pieces in leaving.items():
        if not 0 < pieces <= here.get(task, 0):
            raise Refused(Code.FEWER_PIECES, f"pieces-{task}", here=here.get(task, 0))
    if owed > 0 and sum(leaving.values()) == sum(here.values()):
        raise Refused(Code.JOB_OWED, "pieces", owed=owed)
    return leaving
