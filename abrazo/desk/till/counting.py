"""Counting a drawer, by piece or as a total. What it should hold shows after the count."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from abrazo.core.errors import Code, Refused
from abrazo.core.figures import Booked
from abrazo.core.journal import Kind
from abrazo.core.ledger import over_short_postings
from abrazo.core.till import expected_cash, over_short, worth_of
from abrazo.desk.act import Act, acting
from abrazo.desk.context import Actor, House
from abrazo.desk.permissions import Right, has, need
from abrazo.desk.till import drawer
from abrazo.desk.till.views.till import drawer_in, drawer_of, movements
from abrazo.store import drawer_sections, till
from abrazo.store.staff import Staff
from abrazo.store.till import Count

MOST_PIECES = 9999


def pieces_total(pieces: Mapping[int, int]) -> int:
    """What counted pieces come to, in minor units."""
    if any(not 0 <= number <= MOST_PIECES for number in pieces.values()):
        raise Refused(Code.PIECES_RANGE, "pieces", most=MOST_PIECES)
    return worth_of(pieces)


def counted_sum(pieces: Mapping[int, int], total: int | None) -> int | None:
    """What was counted, by piece or as a total, in minor units; None when nothing was entered.

    Refused when both were and they disagree.
    """
    by_piece = pieces_total(pieces) if any(pieces.values()) else None
    if None not in (by_piece, total) and by_piece != total:
        raise Refused(Code.COUNT_DISAGREES, "total", pieces=by_piece, total=total)
    return total if by_piece is None else by_piece


@dataclass(frozen=True, slots=True)
class Counted:
    """What is in a drawer: pieces by value in minor units, a total, or both when they agree.

    `hand_to`: with this count the drawer goes on with somebody else.
    """

    pieces: Mapping[int, int] = field(default_factory=dict)
    total: int | None = None
    hand_to: str = ""


def count_drawer(house: House, actor: Actor, what: Counted, key: str) -> None:
    """Count the till's drawer. Counting again replaces; every count is kept.

    What it should hold has shown by then: a new count is by right, own or lent. Handed over, it has an over or short of
    its own, and begins anew with what was counted.
    """
    pieces, total = what.pieces, what.total
    counted = counted_sum(pieces, total)
    if counted is None:
        raise Refused(Code.EMPTY_COUNT, "total")
    if counted < 0:
        raise Refused(Code.NEGATIVE_TOTAL, "total")
    with acting(house, actor, "counted", key) as act:
        if act.done is not None:
            return
        day, at = house.day(), act.at
        again = actor.till.id in till.counts_of(act.connection, day.id)
        by = need(actor, Right.COUNT_AGAIN) if again else None
        expected = expected_cash(drawer_of(house, day.id, actor.till.id))
        shown = drawer.as_kept(pieces)
        till.add_count(act.connection, day.id, Count(actor.till.id, actor.staff.id, at, shown, counted, expected))
        act.record(Kind.DRAWER_COUNTED, counted=counted, expected=expected, again=again or None, lender=by)
        if what.hand_to:
            _hand_over(act, what, counted, expected)


def others(house: House, actor: Actor) -> list[Staff]:
    """Who can go on with somebody's drawer: everybody else who sells."""
    return [one for one in house.workers().values() if one.id != actor.staff.id and has(one, Right.SELL)]


def _hand_over(act: Act, what: Counted, counted: int, expected: int) -> None:
    """A drawer that was just counted goes on with somebody else.

    Refused: with nobody, with oneself or somebody who does not sell, or when it was not opened.
    """
    house, till_id = act.house, act.actor.till.id
    to = house.staff().get(what.hand_to)
    if to not in others(house, act.actor):
        raise Refused(Code.HAND_TO_WHOM, "hand-to")
    if till_id not in house.day().floats:
        raise Refused(Code.TILL_NOT_OPENED, "hand-to", till=act.actor.till.name)
    so_far = drawer_in(movements(house, act.day), act.day, till_id, 0)
    drawer_sections.add(act.connection, act.day, till_id, to.id, so_far)
    till.set_pieces(act.connection, act.day, till_id, drawer.as_kept(what.pieces))
    post_over(act, till_id, over_short(counted, expected))
    act.record(Kind.DRAWER_HANDED, of_till=till_id, amount=counted, to=to.id)


def post_over(act: Act, till_id: str, over: int) -> None:
    """Put into the books what is in a drawer above what it should hold, minor units; negative is short."""
    if over:
        booked = Booked(over_short_postings(till_id, over))
        act.record(Kind.OVER if over > 0 else Kind.SHORT, None, booked, of_till=till_id, amount=abs(over))
