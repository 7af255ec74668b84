"""Money held for a thing until it is settled.

Rules here
- a deposit is applied first, at most what is due; the rest of it stays the customer's
- several deposits apply in the order in which they were taken
"""

from __future__ import annotations

from collections.abc import Sequence


def applied_deposits(due: int, held: Sequence[int]) -> tuple[int, ...]:
    """How much of each deposit is applied to what is due, in minor units; what is left of it stays the customer's."""
    found = []
    for amount in held:
        found.append(min(amount, due))
        due -= found[-1]
    return tuple(found)
