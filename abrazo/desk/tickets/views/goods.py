"""Goods as they are shown: variants folded into their family, what is there of each."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass, replace
from fractions import Fraction

from abrazo.core.prices import lowest
from abrazo.desk.context import House
from abrazo.desk.stock.stock import LOW, all_here
from abrazo.desk.tickets.price_lists import Prices
from abrazo.store import catalogue, stock
from abrazo.store.catalogue import Item
from abrazo.words import phrases as w

FAMILY = "family:"


@dataclass(frozen=True, slots=True)
class Kind:
    """One of a family's goods, or any counted item: where it lies, and in words how many are there."""

    item: Item
    size: str
    colour: str
    shelf: str
    left: str
    low: bool


@dataclass(frozen=True, slots=True)
class FamilyPage:
    """A family with its kinds."""

    id: str
    name: str
    kinds: list[Kind]


def folded(items: list[Item]) -> list[Item]:
    """Items as tiles: two or more of one family become one tile that asks which; its price is the lowest."""
    families = Counter(item.family for item in items if item.family)
    found: dict[str, Item] = {}
    for item in items:
        if families[item.family] < 2:
            found[item.id] = item
            continue
        id = FAMILY + item.family
        if id in found:
            tile = found[id]
            found[id] = replace(tile, price=lowest((tile.price, item.price)), variants=tile.variants + 1)
        else:
            found[id] = replace(item, id=id, name=item.family_name, variants=1)
    return list(found.values())


def family_page(house: House, id: str, prices: Prices, q: str = "") -> FamilyPage | None:
    """The goods of a family, all or those that a search names; None when there is no such family."""
    family = stock.read_family(house.connection, id.removeprefix(FAMILY)) if id.startswith(FAMILY) else None
    if family is None:
        return None
    wanted = {item.id for item in catalogue.find_items(house.connection, q)} if q else set()
    variants = {variant.item: variant for variant in stock.variants_of(house.connection, family.id)}
    items = [prices.of(item) for item in house.items(variants).values() if item is not None]
    found = [
        replace(kind, size=variants[kind.item.id].size, colour=variants[kind.item.id].colour)
        for kind in _kinds(house, items)
    ]
    fitting = [kind for kind in found if kind.item.id in wanted]
    return FamilyPage(id, family.name, fitting or found)


def _kinds(house: House, items: list[Item]) -> list[Kind]:
    ids = [item.id for item in items]
    there, shelves = all_here(house, ids), stock.shelves_of(house.connection, ids)
    return [
        Kind(item, "", "", shelves.get(item.id, ""), _words(house, left, item.unit), left is not None and left <= LOW)
        for item in items
        for left in [there[item.id]]
    ]


def _words(house: House, left: Fraction | None, unit: str) -> str:
    if left is None:
        return house.say(w.NOT_COUNTED)
    if left <= 0:
        return house.say(w.NONE_LEFT)
    number = f"{left.numerator}" if left.denominator == 1 else f"{left.numerator / left.denominator:g}"
    return house.say(w.LEFT_HERE_OF if unit else w.LEFT_HERE, number=number, unit=unit)


def shelf_list(house: House) -> list[Kind]:
    """All goods with a barcode or a count, low ones first."""
    counted = stock.counted_items(house.connection)
    items = [item for item in catalogue.list_items(house.connection) if item.code or item.id in counted]
    return sorted(_kinds(house, items), key=lambda kind: not kind.low)
