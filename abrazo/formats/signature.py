"""A signature drawn on a screen: strokes as they are sent, and the SVG in which they are kept.

Strokes are sent as text: points `x,y` divided by spaces, strokes by semicolons; the field is 600 by 200 units.
"""

from __future__ import annotations

import re

from abrazo.core.errors import Code, Refused

WIDTH, HEIGHT = 600, 200
MOST_POINTS, FEWEST_POINTS = 4000, 3
Stroke = tuple[tuple[int, int], ...]


def read_strokes(text: str) -> tuple[Stroke, ...]:
    """Strokes of points within the field. Refused when nothing was drawn, or when it is no drawing."""
    if not text.strip():
        raise Refused(Code.SIGNATURE_EMPTY, "strokes")
    if not re.fullmatch(r"[0-9,; ]*", text) or text.count(",") > MOST_POINTS:
        raise Refused(Code.SIGNATURE_UNREADABLE, "strokes")
    strokes = []
    for part in text.split(";"):
        pairs = [point.split(",") for point in part.split()]
        if any(len(pair) != 2 or not all(pair) for pair in pairs):
            raise Refused(Code.SIGNATURE_UNREADABLE, "strokes")
        points = tuple((min(int(x[:6]), WIDTH), min(int(y[:6]), HEIGHT)) for x, y in pairs)
        if points:
            strokes.append(points)
    if sum(len(stroke) for stroke in strokes) < FEWEST_POINTS:
        raise Refused(Code.SIGNATURE_DOT, "strokes")
    return tuple(strokes)


def signature_svg(strokes: tuple[Stroke, ...]) -> str:
    """The drawing as an SVG 1.1 document, one path a stroke."""
    paths = "".join(f'<path d="M{" L".join(f"{x} {y}" for x, y in stroke)}"/>' for stroke in strokes)
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {WIDTH} {HEIGHT}" fill="none" stroke="#14282b" '
        f'stroke-width="3" stroke-linecap="round" stroke-linejoin="round">{paths}</svg>'
    )
