"""What a drawer should hold.

Rules here
- expected = float + cash in - change and refunds - paid out + paid in - tips paid out in cash - cash to the bank
- over = counted - expected, negative is short
- a drawer that is handed over begins anew with what was counted: only what moves after it counts
- left = counted less what goes to the bank at closing; it is the next float
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from abrazo.core.tenders import change_pieces


@dataclass(frozen=True, slots=True)
class Drawer:
    """A day's cash movements of one till, all in minor units and 0 or more.

    After it was handed over a sum is below 0 when what is taken back came before.
    """

    float_: int
    cash_in: int = 0
    change_and_refunds: int = 0
    paid_out: int = 0
    paid_in: int = 0
    tips_paid_out: int = 0
    banked: int = 0

    @property
    def taken(self) -> int:
        """Cash that came in, less change and what was given back; minor units."""
        return self.cash_in - self.change_and_refunds

    @property
    def moved(self) -> bool:
        """Whether cash went through it."""
        return any(
            (self.cash_in, self.change_and_refunds, self.paid_out, self.paid_in, self.tips_paid_out, self.banked)
        )


def expected_cash(drawer: Drawer) -> int:
    """What the drawer should hold, in minor units."""
    into = drawer.float_ + drawer.cash_in + drawer.paid_in
    return into - drawer.change_and_refunds - drawer.paid_out - drawer.tips_paid_out - drawer.banked


def since(drawer: Drawer, before: Drawer) -> Drawer:
    """What moved of a day after a drawer was handed over, `before` being what had moved until then."""
    return Drawer(
        drawer.float_,
        drawer.cash_in - before.cash_in,
        drawer.change_and_refunds - before.change_and_refunds,
        drawer.paid_out - before.paid_out,
        drawer.paid_in - before.paid_in,
        drawer.tips_paid_out - before.tips_paid_out,
        drawer.banked - before.banked,
    )


def over_short(counted: int, expected: int) -> int:
    """How much more is in a drawer than it should hold, in minor units; negative is short."""
    return counted - expected


def left_after(held: int, banked: int) -> int:
    """What stays in a drawer when cash of it goes to the bank or the safe, in minor units."""
    return held - banked


def float_difference(counted: int, taken_over: int) -> int:
    """How much more (negative: less) a float is than what its drawer was left with, in minor units."""
    return counted - taken_over


def worth_of(pieces: Mapping[int, int]) -> int:
    """What pieces come to, in minor units; pieces by value."""
    return sum(value * number for value, number in pieces.items())


def fewest_pieces(amount: int, values: Iterable[int]) -> dict[int, int]:
    """An amount in the largest pieces first, as people hand it over (common practice); a rest too small is left out."""
    found = {}
    for value in sorted(values, reverse=True):
        if amount >= value:
            found[value], amount = divmod(amount, value)
    return found


def moved_pieces(
    held: Mapping[int, int], into: int, out: int, values: Iterable[int]
) -> tuple[dict[int, int], dict[int, int] | None]:
    """What a drawer should hold after `into` came in and `out` went out of it, and the pieces that go out.

    Minor units, pieces by value. An estimate: money is taken to come in the largest pieces, and to go out in the fewest
    that the drawer has. When it cannot make what goes out (None), only the difference moves, or all of it is taken to
    have been exchanged. The sum is always right.
    """
    values = list(values)
    full = _together(held, fewest_pieces(into, values))
    gone = change_pieces(out, full)
    if gone is not None:
        return _less(full, gone), gone
    full = _together(held, fewest_pieces(max(0, into - out), values))
    difference = change_pieces(max(0, out - into), full)
    if difference is not None:
        return _less(full, difference), None
    return fewest_pieces(worth_of(held) + into - out, values), None


def _together(pieces: Mapping[int, int], more: Mapping[int, int]) -> dict[int, int]:
    return {value: pieces.get(value, 0) + more.get(value, 0) for value in {*pieces, *more}}


def _less(pieces: Mapping[int, int], gone: Mapping[int, int]) -> dict[int, int]:
    left = {value: number - gone.get(value, 0) for value, number in pieces.items()}
    return {value: number for value, number in left.items() if number}
