"""Goods that come back with a refund: which pieces of which lines, what they give back, and where they go.

Rules here
- a line refunded without an amount comes back, whole or so many pieces of it; with an amount nothing comes back
- what comes back is on the shelf again, unless it is not for sale again: then it came back and is a loss, with a reason
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from fractions import Fraction

from abrazo.core.money import rest_of, totals
from abrazo.core.refunds import GivenBack, Ref, pieces_worth
from abrazo.core.states import GoodsMove, RowKind
from abrazo.desk.context import House
from abrazo.desk.stock.stock import write_move
from abrazo.desk.tickets.change import TicketChange
from abrazo.store import corrections
from abrazo.store.corrections import Refund
from abrazo.store.lines import LineRow
from abrazo.store.stock import StockMove


@dataclass(frozen=True, slots=True)
class Pieces:
    """How many of each chosen line come back, as decimal text, and what of rows goes back for it, in minor units."""

    of: Mapping[int, str] = field(default_factory=dict)
    worth: Mapping[Ref, int] = field(default_factory=dict)


def pieces_gone(house: House, ticket: int) -> list[tuple[int, Fraction, int]]:
    """Which lines of a ticket came back, or may be coming: the line, how many pieces of it, minor units."""
    return [(line, Fraction(text), amount) for line, text, amount in corrections.pieces_given(house.connection, ticket)]


def pieces_left(house: House, lines: Iterable[LineRow], ticket: int) -> dict[int, str]:
    """How many pieces of each line can still come back, of lines of more than one; as decimal text."""
    rows = pieces_gone(house, ticket)
    left = {
        line.id: Fraction(line.quantity) - sum((pieces for id, pieces, _ in rows if id == line.id), Fraction(0))
        for line in lines
    }
    return {id: _decimal(quantity) for id, quantity in left.items() if quantity not in (0, 1)}


def pieces_back(edit: TicketChange, given: GivenBack, lines: Sequence[int], wanted: Mapping[int, Fraction]) -> Pieces:
    """What comes back of lines that are refunded without an amount: all that is left of each, or so many pieces."""
    rows = pieces_gone(edit.house, edit.id)
    nets = {int(line.id): line.net for line in edit.whole.bill.lines}
    of, worth = dict[int, str](), dict[Ref, int]()
    for line in map(edit.whole.line, lines):
        before = sum((pieces for id, pieces, _ in rows if id == line.id), Fraction(0))
        quantity, ref = Fraction(line.quantity), (RowKind.LINE, str(line.id))
        by_piece = totals((id, amount) for id, _, amount in rows).get(line.id, 0)
        as_amounts = rest_of(given.amounts.get(ref, 0), by_piece)
        back = wanted.get(line.id, quantity - before)
        if line.id in wanted:
            cut = pieces_worth(rest_of(nets[line.id], as_amounts), quantity, before, back)
            if before + back < quantity:
                worth[ref] = cut
        if back > 0:
            of[line.id] = _decimal(back)
    return Pieces(of, worth)


def come_back(edit: TicketChange, refund: Refund) -> None:
    """The goods of a refund that is done are on the shelf again, or a loss."""
    connection = edit.house.connection
    for line_id, pieces in corrections.pieces_of(connection, refund.id):
        who = (refund.id, None, edit.actor.staff.id, edit.actor.till.id)
        back = StockMove(edit.whole.line(line_id).item, edit.at, pieces, GoodsMove.CAME_BACK, *who)
        write_move(edit.house, back, edit.wrote)
        if not refund.for_sale:
            lost = replace(back, quantity=f"-{pieces}", why=GoodsMove.NOT_FOR_SALE)
            write_move(edit.house, lost, edit.wrote)


def _decimal(quantity: Fraction) -> str:
    """A quantity with at most three decimals as it is kept."""
    thousandths = f"{int(quantity * 1000):04d}"
    return f"{thousandths[:-3]}.{thousandths[-3:]}".rstrip("0").rstrip(".")
