"""The spine: bands from the lines of a ticket to the payers who cover them, drawn as SVG paths in CSS pixels."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

Point = tuple[float, float]
Size = tuple[int, int]  # width and height, in pixels


@dataclass(frozen=True, slots=True)
class Band:
    """A band of the spine: an SVG path, whose it is, whether it is paid."""

    path: str
    letter: str
    paid: bool


@dataclass(frozen=True, slots=True)
class Port:
    """A bar at one edge of the spine."""

    x: float
    y: float
    height: float
    letter: str


@dataclass(frozen=True, slots=True)
class Spine:
    """The drawing between lines and payers."""

    width: int
    height: int
    bands: list[Band]
    ports: list[Port]
    words: str


@dataclass(frozen=True, slots=True)
class Source:
    """Where bands begin: the middle of a row, its amount, and who covers how much of it. Minor units."""

    middle: float
    amount: int
    parts: tuple[tuple[str, int], ...]


@dataclass(frozen=True, slots=True)
class Target:
    """Where bands end: the middle of a payer's card, what they cover, and which part of it is paid, 0 to 1."""

    letter: str
    middle: float
    amount: int
    paid: float


def spine(sources: Sequence[Source], targets: Sequence[Target], scale: float, size: Size, words: str) -> Spine:
    """The drawing; `scale` in pixels a minor unit, `words` for those who do not see it.

    A source's parts of payers who are no targets are not drawn, so that one payer's bands can be shown alone.
    """
    width, height = size
    x0, x1 = 6.0, width - 6.0
    ends = {one.letter: one.middle - one.amount * scale / 2 for one in targets}
    paid: Mapping[str, float] = {one.letter: one.paid for one in targets}
    ports = [
        Port(0, one.middle - one.amount * scale / 2, max(2.0, one.amount * scale), "") for one in sources if one.amount
    ]
    ports += [Port(x1, ends[one.letter], max(2.0, one.amount * scale), one.letter) for one in targets if one.amount]
    drawn: list[tuple[int, list[Band]]] = []
    for one in sources:
        start = one.middle - one.amount * scale / 2
        for letter, amount in one.parts:
            thick = amount * scale
            if letter in ends:
                both = _band((x0, start), (x1, ends[letter]), thick, letter, paid[letter])
                drawn.append((len(one.parts), both))
                ends[letter] += thick  # the next band ends below
            start += thick
    drawn.sort(key=lambda band: band[0])  # shared lines lie over those of one payer
    return Spine(width, height, [band for _, both in drawn for band in both], ports, words)


def _band(start: Point, end: Point, thick: float, letter: str, paid: float) -> list[Band]:
    (x0, y0), (x1, y1) = start, end
    thick = max(thick, 1.5)
    if paid >= 1 or paid <= 0:
        return [Band(_path(x0, y0, x1, y1, thick), letter, paid >= 1)]
    upper = thick * paid
    return [
        Band(_path(x0, y0 + upper, x1, y1 + upper, thick - upper), letter, False),
        Band(_path(x0, y0, x1, y1, upper), letter, True),
    ]


def _path(x0: float, y0: float, x1: float, y1: float, thick: float) -> str:
    """A band: a cubic with both handles at the middle, closed with the same curve below."""
    mid, low0, low1 = (x0 + x1) / 2, y0 + thick, y1 + thick
    there = f"M{x0:.1f} {y0:.1f}C{mid:.1f} {y0:.1f} {mid:.1f} {y1:.1f} {x1:.1f} {y1:.1f}"
    return f"{there}V{low1:.1f}C{mid:.1f} {low1:.1f} {mid:.1f} {low0:.1f} {x0:.1f} {low0:.1f}Z"
