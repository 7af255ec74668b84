"""The floor plan: the parts of a house as boxes around their tables.

A box leaves room for its name below its tables, and never leaves the plan. Lengths are units of the plan.
"""

from __future__ import annotations

from collections.abc import Iterable

WIDTH, HEIGHT = 820, 664
MARGIN, BELOW = 20, 42

Box = tuple[int, int, int, int]  # x, y, width, height


def name_at(box: Box) -> tuple[int, int]:
    """Where the name of a box ends, at its lower right."""
    x, y, width, height = box
    return x + width - 10, y + height - 9


def around(tables: Iterable[Box]) -> Box:
    """The box around some tables."""
    boxes = list(tables)
    left, top = max(0, min(x for x, _, _, _ in boxes) - MARGIN), max(0, min(y for _, y, _, _ in boxes) - MARGIN)
    right = min(WIDTH, max(x + width for x, _, width, _ in boxes) + MARGIN)
    bottom = min(HEIGHT, max(y + height for _, y, _, height in boxes) + BELOW)
    return left, top, right - left, bottom - top
