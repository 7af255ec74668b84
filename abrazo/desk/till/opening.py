"""Opening the day, and a till that joins it: every float follows from what its drawer was left with.

Rules here
- a drawer takes over what it was left with at the last close; a difference says where it went: to the bank or fetched
  from there, or nobody knows (over or short of the day that opens)
- the first float of a till comes from the safe
- what set-up planned for its date, or one before, holds from its first moment on
- a business date that was there already, or lies before another, is asked about
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from abrazo.core.errors import Code, Refused
from abrazo.core.figures import Booked
from abrazo.core.journal import Kind
from abrazo.core.ledger import float_postings
from abrazo.core.money import total
from abrazo.core.states import FloatDifference
from abrazo.core.till import expected_cash, float_difference
from abrazo.desk.act import Act, acting
from abrazo.desk.context import Actor, House
from abrazo.desk.permissions import Right, has, need
from abrazo.desk.setup import planned
from abrazo.desk.tickets.followed_taxes import follow_taxes
from abrazo.desk.till.drawer import as_kept, as_read
from abrazo.desk.till.views.till import drawer_of, float_rows
from abrazo.store import till
from abrazo.store.till import FloatRow

EVER = 2**62  # later than any day


@dataclass(frozen=True, slots=True)
class Float:
    """What is in a drawer as it begins: minor units, by piece when counted so, and why it is not what was left."""

    amount: int
    pieces: Mapping[int, int] = field(default_factory=dict)
    why: FloatDifference | None = None


def never_closed(house: House) -> bool:
    """Whether no day was closed yet: nothing can have been left in a drawer."""
    return till.last_closed(house.connection) is None


def skipped_float(house: House, actor: Actor) -> Float:
    """What is taken to be in a drawer that is not counted: what it was left with, and what it took since.

    A supervisor's right.
    """
    need(actor, Right.SKIP_FLOAT)
    if house.open_day() is not None and (taken := _taken(house, actor.till.id)):
        return Float(total((float_rows(house, house.day().id)[actor.till.id].amount, taken)))
    day = till.last_closed(house.connection)
    count = till.counts_of(house.connection, day).get(actor.till.id) if day else None
    counted = count.total if count else 0  # of a house of an earlier version that is all there is
    left = till.left_before(house.connection, EVER).get(actor.till.id, counted)
    return Float(left, as_read(count.pieces) if count and count.total == left else {})


def _taken(house: House, till_id: str) -> int:
    """What a drawer took on the open day so far, in minor units."""
    day = house.day().id
    return float_difference(expected_cash(drawer_of(house, day, till_id)), float_rows(house, day)[till_id].amount)


def count_float(house: House, actor: Actor, counted: Float, key: str) -> None:
    """A till joins the open day with what is in its drawer: its float, and what it took before it was counted."""
    with acting(house, actor, "float", key) as act:
        if act.done is not None:
            return
        if actor.till.id in house.day().floats:
            raise Refused(Code.FLOAT_THERE, "total", till=actor.till.name)
        if taken := _taken(house, actor.till.id):
            counted = Float(float_difference(counted.amount, taken), why=counted.why)
        _join(act, act.day, {actor.till.id: counted})


def open_day(house: House, actor: Actor, floats: Mapping[str, Float], key: str, *, again: bool = False) -> None:
    """Open a business day, dated today, with the floats of tills; others join it when they are counted.

    `again`: though there was a day of this date.
    """
    with acting(house, actor, "day opened", key) as act:
        if act.done is not None:
            return
        if house.open_day() is not None:
            raise Refused(Code.DAY_OPEN)
        date = house.now().date().isoformat()
        if not again:
            _is_next(house, date)
        day = till.add_day(act.connection, date, act.at, actor.staff.id)
        house.forget()
        act.record(Kind.DAY_OPENED, date=date)
        planned.make_due(act, date)
        _join(act, day, floats)
        act.answer = str(day)
    follow_taxes(house, actor)


def _is_next(house: House, date: str) -> None:
    """Refused when a day of this date was there before, or a later one: is the clock right?"""
    if till.days_between(house.connection, date, date):
        raise Refused(Code.SAME_DATE, "again", date=date)
    last = till.last_date(house.connection)
    if date < last:
        raise Refused(Code.DATE_BEFORE, "again", date=date, last=last)


def _join(act: Act, day: int, floats: Mapping[str, Float]) -> None:
    left = till.left_before(act.connection, day)
    for till_id, counted in floats.items():
        row = _float_row(act, till_id, counted, left.get(till_id))
        till.add_float(act.connection, day, row)
        act.record(Kind.TILL_JOINED, of_till=till_id, amount=row.amount)
        more = float_difference(row.amount, row.taken_over)
        if row.difference and more:
            booked = Booked(float_postings(till_id, row.difference, more))
            act.record(Kind.FLOAT_DIFFERS, None, booked, of_till=till_id, amount=more, why=row.difference)
    act.house.forget()


def _float_row(act: Act, till_id: str, counted: Float, left: int | None) -> FloatRow:
    """How a drawer begins, `left` None: it never did before. Refused when it differs and nobody says why."""
    if counted.amount < 0:
        raise Refused(Code.NEGATIVE_FLOAT, "total")
    why: FloatDifference | None
    if left is None:
        why = FloatDifference.FIRST
    elif counted.amount == left:
        why = None
    else:
        why = counted.why
        if why not in (FloatDifference.BANK, FloatDifference.UNKNOWN):
            if has(act.actor.staff, Right.SEE_EXPECTED):
                raise Refused(Code.FLOAT_DIFFERS, "why", left=left, counted=counted.amount)
            raise Refused(Code.FLOAT_DIFFERS_BLIND, "why")
    return FloatRow(till_id, counted.amount, as_kept(counted.pieces), left or 0, why)
