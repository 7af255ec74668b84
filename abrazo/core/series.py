"""Prepaid series: n uses of listed items for one price, paid and taxed when they are sold.

Rules here
- tax is due when a series is sold, since all its items bear one rate: a single-purpose voucher (Directive (EU)
  2016/1065, article 30b); so every item of a series has the tax of the series itself
- a use is worth its part of the net that was paid without tax, cut into equal parts; all uses are worth it exactly
- a series can be brought in from before: the uses had until then keep their numbers and are worth nothing here
- uses are counted from 1 and keep their number; one that was undone is free, and the lowest free one is next
- a use covers one piece: its price and the choices that its item asks for; other choices stay to pay
- the series that expires first is used first, then the older one; where there are more pieces than uses, those that
  cost most are covered
- what is left of a series that is given back is worth its free uses, with their tax
"""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from fractions import Fraction

from abrazo.core.figures import Booked, Figure, FigureKind
from abrazo.core.ledger import STORED, LineUse, Posting, Role, line_account
from abrazo.core.money import round_half_up, total
from abrazo.core.sharing import apportion

EXPIRED = "income:series-expired"
KIND = Role.SERIES


def worths(net: int, uses: int, before: int = 0) -> tuple[int, ...]:
    """What each use is worth, the first one first, of a net paid without tax in minor units.

    The uses that were had `before` the house kept the series here are worth nothing: the net is that of the others.
    """
    return (*[0] * before, *apportion(net, [1] * (uses - before)))


def worth_of(net: int, uses: int, numbers: Iterable[int], before: int = 0) -> int:
    """What some uses (numbers from 1) are worth together, in minor units; of a series so much was had `before`."""
    each = worths(net, uses, before)
    return total(each[number - 1] for number in numbers)


def free_uses(uses: int, gone: Collection[int]) -> list[int]:
    """The uses that are left, the next one first; `gone` are the numbers of those that were used or have expired."""
    return [number for number in range(1, uses + 1) if number not in gone]


def good_until(sold_on: date, days: int) -> date:
    """The last day on which a series can be used that holds so many days from the day on which it is sold."""
    return sold_on + timedelta(days=days)


def to_give_back(line_net: int, net: int, left: int) -> int:
    """What a series is worth to whoever gives it back, in minor units of its line: `left` of its `net` without tax.

    All of the line as long as nothing of it was used.
    """
    return round_half_up(Fraction(line_net * left, net)) if net else line_net


@dataclass(frozen=True, slots=True)
class Piece:
    """A line that a series may cover: its holder, its item, its pieces, what a use covers of one (minor units)."""

    line: str
    holder: str
    item: str
    pieces: int
    covers: int


@dataclass(frozen=True, slots=True)
class Left:
    """What somebody has left of a series: the numbers of its free uses, the last day on which it is good."""

    id: int
    holder: str
    items: frozenset[str]
    free: tuple[int, ...]
    until: str


Use = tuple[int, int]  # a series, and the number of the use


def offered_uses(pieces: Sequence[Piece], series: Iterable[Left]) -> dict[str, list[Use]]:
    """The uses that cover each line, as far as there are any; lines without one are left out."""
    left = {one.id: list(one.free) for one in series}
    found: dict[str, list[Use]] = {}
    order = sorted(series, key=lambda one: (one.until, one.id))
    for piece in sorted(pieces, key=lambda one: -one.covers):  # stable: then in the order of the ticket
        for one in order:
            if one.holder != piece.holder or piece.item not in one.items or piece.covers <= 0:
                continue
            while left[one.id] and len(found.get(piece.line, ())) < piece.pieces:
                found.setdefault(piece.line, []).append((one.id, left[one.id].pop(0)))
    return found


def covered_of_one(
    price: int, choices: Sequence[tuple[str, int]], required: Sequence[tuple[Collection[str], int]]
) -> int:
    """What a use covers of one piece: its price and the choices that its item asks for, in minor units.

    `choices` are (label, price) as they were made; `required` gives for each group that asks for choices its labels and
    how many it asks for: the first that were made of them are covered, and never less than nothing.
    """
    covered, open_to = price, [(labels, least) for labels, least in required]
    for label, more in choices:
        for place, (labels, least) in enumerate(open_to):
            if least and label in labels:
                open_to[place] = (labels, least - 1)
                covered += more
                break
    return max(0, covered)


# ---- the books


def used(worth: int, use: LineUse, label: str, staff: str) -> Booked:
    """A use is had: its worth is a sale of the line's group from now on."""
    figures = (
        Figure(FigureKind.SALE, use.group, label, 0, worth),
        Figure(FigureKind.SOLD_BY, staff, "", 0, worth),
        Figure(FigureKind.STORED, "used", KIND, 1, worth),
    )
    return Booked((Posting(STORED[KIND], worth), Posting(line_account(use), -worth)), figures)


def expired(worth: int, many: int = 1) -> Booked:
    """Uses that nobody had in time are the house's; minor units."""
    figures = (Figure(FigureKind.STORED, "expired", KIND, many, worth),)
    return Booked((Posting(STORED[KIND], worth), Posting(EXPIRED, -worth)), figures)


def cent_left(booked: Booked, left: int) -> Booked:
    """What giving a series back leaves of it in the books because tax is rounded for the whole ticket: it goes too."""
    taken = total(posting.amount for posting in booked.postings if posting.account == STORED[KIND])
    return expired(left - taken, 0) if left != taken else Booked()


def by_series(uses: Iterable[Use]) -> Mapping[int, list[int]]:
    """The numbers of uses by their series."""
    found: dict[int, list[int]] = {}
    for series, number in uses:
        found.setdefault(series, []).append(number)
    return found
