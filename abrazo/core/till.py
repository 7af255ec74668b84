"""What a drawer should hold.

Rule here: expected = float + cash in - change and refunds - paid out + paid in - tips paid out in cash;
over = counted - expected, negative is short.
"""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Drawer:
    """A day's cash movements of one till, all in minor units and 0 or more."""

    float_: int
    cash_in: int = 0
    change_and_refunds: int = 0
    paid_out: int = 0
    paid_in: int = 0
    tips_paid_out: int = 0


def expected_cash(drawer: Drawer) -> int:
    """What the drawer should hold, in minor units."""
    into = drawer.float_ + drawer.cash_in + drawer.paid_in
    return into - drawer.change_and_refunds - drawer.paid_out - drawer.tips_paid_out
