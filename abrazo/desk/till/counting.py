"""Counting a drawer, by piece or as a total. What it should hold shows after the count."""

from __future__ import annotations

from collections.abc import Mapping

from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Kind
from abrazo.core.till import expected_cash, worth_of
from abrazo.desk.act import acting
from abrazo.desk.context import Actor, House
from abrazo.desk.permissions import Right, need
from abrazo.desk.till import drawer
from abrazo.desk.till.views.till import drawer_of
from abrazo.store import till
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


def count_drawer(house: House, actor: Actor, pieces: Mapping[int, int], total: int | None, key: str) -> None:
    """Count the till's drawer, by denomination or as a total. Counting again replaces; every count is kept.

    What it should hold has shown by then: a new count is by right, own or lent.
    """
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
