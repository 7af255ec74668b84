"""Tips: outside the ticket's total, outside tax.

Rules here
- a tip is an amount, or a percent of the payer's basis: net (default), gross or total; each tip is rounded once
- where the house has a pool, all tips of a ticket go there
- else the ticket's tips go to staff by the gross of the lines they served, so that discounts given by the house do not
  shrink them; lines without staff count for the ticket's own staff
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from fractions import Fraction

from abrazo.core.money import round_half_up
from abrazo.core.sharing import apportion

UNASSIGNED = "unassigned"
POOL = "pool"


@dataclass(frozen=True, slots=True)
class Tip:
    """A tip stated by a payer: exactly one of `percent` (0 to 100) and `amount` (minor units)."""

    payer: str
    percent: Fraction | None = None
    amount: int | None = None
    basis: str = "net"


def tip_amount(tip: Tip, bases: dict[str, int]) -> int:
    """What a tip comes to, given the payer's bases in minor units by name."""
    if tip.amount is not None:
        return tip.amount
    assert tip.percent is not None
    return round_half_up(bases[tip.basis] * tip.percent / 100)


def staff_tips(total: int, served: Iterable[tuple[str | None, int]], own: str | None) -> list[tuple[str, int]]:
    """Part the ticket's tips among staff. `served` gives (staff, gross) line by line; order is that of first lines."""
    by_staff: dict[str, int] = {}
    for staff, gross in served:
        name = staff or own
        if name is not None:
            by_staff[name] = by_staff.get(name, 0) + gross
    if not any(by_staff.values()):
        by_staff = {own or UNASSIGNED: 1}
    parts = apportion(total, list(by_staff.values()))
    return [(name, part) for name, part in zip(by_staff, parts, strict=True) if part]


def pooled(total: int) -> list[tuple[str, int]]:
    """The ticket's tips where they are shared out later, by the house, to everybody."""
    return [(POOL, total)] if total else []


def divide_pool(total: int, weights: Mapping[str, Fraction]) -> dict[str, int]:
    """What each has of a pool, in minor units, by hours or points (0 or more, not all 0); the parts are the whole.

    Source: common practice; cut by largest remainder, ties to whoever stands first.
    """
    return dict(zip(weights, apportion(total, list(weights.values())), strict=True))
