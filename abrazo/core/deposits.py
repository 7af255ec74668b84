"""Money held for a thing until it is settled.

Rules here
- a deposit is applied first, at most what is due; the rest of it stays the customer's
- several deposits apply in the order in which they were taken
- a deposit above the estimate of its job is asked about before it is taken
- a card held for a tab is no payment; what the tab comes to beyond it is over
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


def above_estimate(deposit: int, estimate: int) -> int:
    """How much a deposit is more than the estimate, in minor units; 0 when it is not."""
    return max(0, deposit - estimate)


def freed_of_hold(held: int, amount: int) -> int:
    """What of a hold goes free when an amount is taken from it, in minor units; 0 when all of it is used."""
    return max(0, held - amount)


def over_hold(tab: int, held: int) -> int:
    """How much a tab comes to beyond what is held for it, in minor units; 0 when it is inside."""
    return max(0, tab - held)
