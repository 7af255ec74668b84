"""Points, and benefits that come by themselves.

Rules here
- points earned are the whole multiples of `points_per` minor units in what earns
- spent points are a tender at their set value
- a line has at most one benefit, the one that takes most off; one with so many times is used where it takes most
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction

from abrazo.core.money import round_half_up


@dataclass(frozen=True, slots=True)
class Benefit:
    """What somebody has: `percent` off an item or a report group; `left` times, on one piece each, or always."""

    id: str
    percent: Fraction
    item: str | None = None
    group: str | None = None
    left: int | None = None


@dataclass(frozen=True, slots=True)
class Reachable:
    """A line that a benefit may reach: whose it is, what it is, its gross and the price of one, in minor units."""

    line: str
    holder: str
    item: str
    group: str
    gross: int
    one: int


def best_benefits(
    lines: Sequence[Reachable], held: Mapping[str, Sequence[Benefit]]
) -> dict[str, tuple[str, int | None]]:
    """Each line's benefit, as (its id, None for its percent of the whole line, or the minor units off one piece)."""
    offers = []
    for place, line in enumerate(lines):
        for benefit in held.get(line.holder, ()):
            if line.item != benefit.item and line.group != benefit.group:
                continue
            base = line.gross if benefit.left is None else max(0, min(line.one, line.gross))
            taken = round_half_up(base * benefit.percent / 100)
            if taken:
                offers.append((-taken, place, line, benefit))
    found: dict[str, tuple[str, int | None]] = {}
    used: dict[tuple[str, str], int] = {}
    for less, _, line, benefit in sorted(offers, key=lambda offer: offer[:2]):
        times = used.get((line.holder, benefit.id), 0)
        if line.line in found or (benefit.left is not None and times >= benefit.left):
            continue
        used[line.holder, benefit.id] = times + 1
        found[line.line] = (benefit.id, None if benefit.left is None else -less)
    return found


def saved_by(lines: Sequence[Reachable], held: Mapping[str, Sequence[Benefit]]) -> dict[str, int]:
    """What benefits take off each of some lines, in minor units; those that keep their price are left out."""
    gross = {line.line: line.gross for line in lines}
    percents = {benefit.id: benefit.percent for theirs in held.values() for benefit in theirs}
    found = best_benefits(lines, held).items()
    return {line: round_half_up(gross[line] * percents[id] / 100) if off is None else off for line, (id, off) in found}


def earning_net(sold: int, by_points: int) -> int:
    """What of a ticket earns points: what was sold less what points paid of it; minor units, 0 or more."""
    return max(0, sold - by_points)


def points_earned(earning_net: int, points_per: int) -> int:
    """Points for an earning net, both in minor units: floor(net / points_per)."""
    return earning_net // points_per


def points_to_spend(points: int, lot: int, value: int, most: int) -> int:
    """The points that can pay at most so many minor units: whole lots, each worth `value`; none below 0."""
    return max(0, min(points // lot, most // value)) * lot


def points_back(amount: int, lot: int, value: int) -> int:
    """The points that come back when an amount that points paid is given back; minor units."""
    return amount * lot // value


def booked_worth(points: int, lot: int, value: int) -> int:
    """What points stand for in the books, in minor units: parts of a lot count too; negative when they are taken."""
    return points * value // lot


def merged_worth(several: Sequence[int], lot: int, value: int) -> int:
    """What balances of points are worth more in the books as one than each by itself; minor units, mostly 0."""
    return booked_worth(sum(several), lot, value) - sum(booked_worth(points, lot, value) for points in several)


def points_worth(points: int, lot: int, value: int) -> int:
    """What spent points pay, in minor units: every whole `lot` of points is worth `value`."""
    return points // lot * value
