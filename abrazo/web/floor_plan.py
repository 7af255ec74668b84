"""How a table is drawn on the floor plan: its top, its seats and where its words stand. All in units of the drawing."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

from abrazo.core.states import Shape
from abrazo.store.room import Spot

GAP = 5  # between a table and its seats
SEAT, DEEP = 18, 8


@dataclass(frozen=True, slots=True)
class Drawn:
    """A table as it is drawn; `lines` are the heights of its name, its sum and its state."""

    corner: int
    middle: float
    lines: tuple[float, float, float]
    free_lines: tuple[float, float]
    seats: tuple[tuple[float, float, int, int], ...]  # left, top, width, height


@lru_cache(maxsize=1024)  # tables stand for months and are drawn all day
def drawn(spot: Spot) -> Drawn:
    """A table's shapes."""
    middle, centre = spot.x + spot.width / 2, spot.y + spot.height / 2
    stool = spot.shape == Shape.STOOL
    corner = {Shape.ROUND: 44, Shape.SQUARE: 10, Shape.STOOL: 33}[spot.shape]
    lines = (centre - 12, centre + 5, centre + 22) if stool else (centre - 20, centre + 5, centre + 26)
    seats = () if stool else _in_rows(spot) if spot.shape == Shape.SQUARE else _at_ends(spot, centre)
    return Drawn(corner, middle, lines, (centre - 2, centre + 17), tuple(seats))


def _in_rows(spot: Spot) -> list[tuple[float, float, int, int]]:
    """Half the seats above a table, the other half below."""
    above = (spot.seats + 1) // 2
    found: list[tuple[float, float, int, int]] = []
    for seat in range(spot.seats):
        row, place = divmod(seat, above)
        number = spot.seats - above if row else above
        left = spot.x + spot.width * (place + 0.5) / number - SEAT / 2
        found.append((round(left, 1), spot.y + spot.height + GAP if row else spot.y - DEEP - GAP, SEAT, DEEP))
    return found


def _at_ends(spot: Spot, centre: float) -> list[tuple[float, float, int, int]]:
    """The first seat left of a table, the others right of it."""
    right = spot.x + spot.width + GAP
    return [(right if seat else spot.x - DEEP - GAP, centre - SEAT / 2, DEEP, SEAT) for seat in range(spot.seats)]
