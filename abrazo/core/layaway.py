"""Goods that are set aside for somebody until they are paid.

Rules here
- the first payment is at least a percent of the total, rounded up to the least sum in cash
- what is paid is the customer's until all is paid and the goods are handed over; then the sale is posted
- who cancels is kept a fee from: an amount, or a percent of what was paid, rounded half up, never more than was paid
"""

from __future__ import annotations

from fractions import Fraction

from abrazo.core.figures import Booked, Figure, FigureKind
from abrazo.core.ledger import OPEN_TICKETS, STORED, Posting
from abrazo.core.money import round_half_up, total

KIND = "layaway"


def first_payment(whole: int, percent: Fraction, step: int) -> int:
    """The least first payment on a total, in minor units; `step` is the least sum in cash."""
    exact = Fraction(whole) * percent / 100
    return min(whole, -(-exact // step) * step) if whole > 0 else 0


def fee_kept(paid: int, amount: int | None, percent: Fraction) -> int:
    """What is kept of what was paid when it is cancelled, in minor units: an amount, else a percent."""
    return min(paid, round_half_up(paid * percent / 100) if amount is None else amount)


def set_aside(amount: int) -> Booked:
    """Money taken for goods that are set aside, out of the open ticket; negative gives it back. Minor units."""
    if not amount:
        return Booked()
    postings = (Posting(OPEN_TICKETS, amount), Posting(STORED[KIND], -amount))
    return Booked(postings, (Figure(FigureKind.STORED, "sold", KIND, 1 if amount > 0 else -1, amount),))


def handed_over(amount: int) -> Booked:
    """What was paid before, when the goods are handed over or the sale is cancelled: it is the ticket's again."""
    if not amount:
        return Booked()
    postings = (Posting(STORED[KIND], amount), Posting(OPEN_TICKETS, -amount))
    return Booked(postings, (Figure(FigureKind.STORED, "used", KIND, 1, amount),))


def more_taken(paid: int, held: int) -> int:
    """What was taken since money was last set aside; negative when some went back. Minor units."""
    return total((paid, -held))
