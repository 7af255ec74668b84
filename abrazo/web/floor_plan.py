"""How a table is drawn on the floor plan: its top, its seats and where its words stand. All in units of the drawing."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

from abrazo.core.states import Shape

GAP = 5  # between a table and its seats
SEAT, DEEP = 18, 8
CORNERS = {Shape.ROUND: 44, Shape.SQUARE: 10, Shape.STOOL: 33}


@dataclass(frozen=True, slots=True)
class Drawn:
    """A table as it is drawn; `lines` are the heights of its name, its sum and its state."""

    corner: int
    middle: float
    lines: tuple[float, float, float]
    free_lines: tuple[float, float]
    seats: tuple[tuple[float, float, int, int], ...]  # left, top, width, height


@lru_cache(maxsize=1024)  # tables stand for months and are drawn all day
def drawn(shape: Shape, x: int, y: int, width: int, height: int, seats: int) -> Drawn:
    """A table's shapes, of its place and size."""
    centre = y + height / 2
    if shape == Shape.STOOL:
        return Drawn(CORNERS[shape], x + width / 2, (centre - 12, centre + 5, centre + 22), _free(centre), ())
    lines = (centre - 20, centre + 5, centre + 26)
    if shape == Shape.ROUND:  # the first seat left of it, the others right
        left, right, top = float(x - DEEP - GAP), float(x + width + GAP), centre - SEAT / 2
        places = tuple((right if n else left, top, DEEP, SEAT) for n in range(seats))
    else:
        above, below = y - DEEP - GAP, y + height + GAP
        first = (seats + 1) // 2
        rows = [*((left, above) for left in _spread(x, width, first)),
                *((left, below) for left in _spread(x, width, seats - first))]  # fmt: skip
        places = tuple((left, top, SEAT, DEEP) for left, top in rows)
    return Drawn(CORNERS[shape], x + width / 2, lines, _free(centre), places)


def _free(centre: float) -> tuple[float, float]:
    return centre - 2, centre + 17


def _spread(x: int, width: int, number: int) -> list[float]:
    """Where seats begin that stand at equal distances along a side."""
    return [round(x + width * (place + 0.5) / number - SEAT / 2, 1) for place in range(number)]
