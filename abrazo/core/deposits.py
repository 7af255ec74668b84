"""Money held for a thing until it is settled.

Rules here
- a deposit is applied first, at most what is due; the rest of it stays the customer's
- several deposits apply in the order in which they were taken
- a deposit above the estimate of its job is asked about before it is taken
- a card held for a tab is no payment; what the tab comes to beyond it is over
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence

from abrazo.core.money import totals


def applied_deposits(due: int, held: Sequence[int]) -> tuple[int, ...]:
    """How much of each deposit is applied to what is due, in minor units; what is left of it stays the customer's."""
    found = []
    for amount in held:
        found.append(min(amount, due))
        due -= found[-1]
    return tuple(found)


def can_apply(held: Mapping[int, int], applied: Iterable[tuple[int, int]]) -> dict[int, int]:
    """What of each deposit can be applied anew: what is left of it, and what of it is applied already; minor units."""
    return {id: amount for id, amount in totals([*held.items(), *applied]).items() if id in held}


def above_estimate(deposit: int, estimate: int) -> int:
    """How much a deposit is more than the estimate, in minor units; 0 when it is not."""
    return max(0, deposit - estimate)


def freed_of_hold(held: int, amount: int) -> int:
    """What of a hold goes free when an amount is taken from it, in minor units; 0 when all of it is used."""
    return max(0, held - amount)


def inside_hold(tab: int, over: int) -> int:
    """What of a tab is inside its hold, in minor units; all of it when none is held."""
    return tab - over


def over_hold(tab: int, held: int) -> int:
    """How much a tab comes to beyond what is held for it, in minor units; 0 when it is inside."""
    return max(0, tab - held)
