"""Opening balances: what people held before a house kept its books here, brought in from files.

Rules here
- what comes in is owed from then on, against the opening balances (double entry, common practice); it is no sale, no
  money and no tax of the day
- gift cards, vouchers and credit at what is on them, a series at what its uses left are worth without tax, points at
  their set value; a membership was a sale of its time, and nothing is owed for it
- taken back, it is the same entry with the signs turned
"""

from __future__ import annotations

from collections.abc import Iterable

from abrazo.core.figures import Booked, Figure, FigureKind
from abrazo.core.ledger import OPENING, stored_postings
from abrazo.core.money import total

BROUGHT = "brought in"
POINTS = "points"


def brought_in(kind: str, amounts: Iterable[int]) -> Booked:
    """Stored value of a kind (gift card, voucher, store credit, series) came in, so much each, in minor units."""
    each = [amount for amount in amounts if amount]
    if not each:
        return Booked()
    return Booked(
        stored_postings(OPENING, kind, total(each)), (Figure(FigureKind.STORED, BROUGHT, kind, len(each), total(each)),)
    )


def points_brought_in(points: int, worth: int) -> Booked:
    """So many points came in, worth so much at their set value (minor units)."""
    postings = stored_postings(OPENING, POINTS, worth) if worth else ()
    return Booked(postings, (Figure(FigureKind.POINTS, BROUGHT, "", points, worth),)) if points else Booked()
