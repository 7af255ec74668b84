"""What can be picked: categories, the items in view, and an item with its choices."""

from __future__ import annotations

from dataclasses import dataclass, field

from abrazo.desk.context import Actor, House
from abrazo.desk.permissions import is_one_of
from abrazo.desk.tickets.price_lists import prices_now
from abrazo.desk.tickets.views.goods import FamilyPage, family_page, folded
from abrazo.store import catalogue, prices
from abrazo.store.catalogue import Category, ChoiceGroup, Item
from abrazo.words import phrases as w


@dataclass(frozen=True, slots=True)
class PickPage:
    """The outermost categories, items of the chosen one or of a search, and the opened item with its choice groups.

    Prices are those of now. `notes` are requests that are written again and again.
    """

    categories: list[Category]
    category: str
    top: str  # the outermost category of the chosen one
    inside: list[Category]  # the chosen one's outermost and what lies in it, when anything does
    items: list[Item]
    item: Item | None
    groups: list[ChoiceGroup]
    notes: list[str] = field(default_factory=list)
    family: FamilyPage | None = None  # goods of which one is to be chosen


OFTEN = "often"  # what is picked most often, beside the house's own categories
AMONG, MOST_OFTEN = 5000, 12  # the latest lines that favourites are learned from, and how many they are


def often_picked(house: House) -> list[Item]:
    """What is picked most often, learned from the latest lines."""
    found = prices.often(house.connection, AMONG, MOST_OFTEN)
    items = (house.item(item) for item in found)
    return [item for item in items if item is not None]


def _items(house: House, category: str, q: str) -> list[Item]:
    if q.strip():
        return catalogue.find_items(house.connection, q.strip())
    return often_picked(house) if category == OFTEN else catalogue.items_in(house.connection, category)


def _nested(categories: list[Category], chosen: str) -> tuple[str, list[Category]]:
    """The outermost category of the chosen one, and it with all that lies in it; nothing when nothing does."""
    by_id = {one.id: one for one in categories}
    top = chosen
    while top in by_id and by_id[top].parent is not None:
        top = by_id[top].parent or top

    def under(id: str) -> list[Category]:
        return [found for one in categories if one.parent == id for found in (one, *under(one.id))]

    inner = under(top)
    return top, [by_id[top], *inner] if inner else []


def offered_to(actor: Actor, categories: list[Category]) -> list[Category]:
    """The categories that are offered to somebody at their till: not those of others, nor what lies in these.

    When that would be nothing, all of them are.
    """
    by_id = {one.id: one for one in categories}

    def is_offered(one: Category) -> bool:
        fits = not one.tills or actor.till.id in one.tills.split(";")
        fits = fits and (not one.roles or is_one_of(actor.staff, one.roles.split(";")))
        above = by_id.get(one.parent or "")
        return fits and (above is None or is_offered(above))

    return [one for one in categories if is_offered(one)] or categories


@dataclass(frozen=True, slots=True)
class Sought:
    """What is looked for: a category, parts of a name, an item to open; on a ticket that began so, with its prices."""

    category: str = ""
    q: str = ""
    item: str = ""
    source: str = ""
    price_list: str = ""


def pick_page(house: House, actor: Actor, sought: Sought) -> PickPage:
    """The pick pane. A search wins over the category, and finds everything; an opened item brings its category."""
    connection, category, q, item_id = house.connection, sought.category, sought.q, sought.item
    categories = offered_to(actor, catalogue.list_categories(connection))
    now = prices_now(house, sought.price_list)
    item = house.item(item_id) if item_id else None
    known = {c.id for c in categories}
    first_for = (c.id for c in categories if c.first_for and c.first_for == sought.source)
    usual = next(first_for, categories[0].id if categories else OFTEN)
    of_item = item.category if item and item.category in known else usual
    chosen = category if category in {*known, OFTEN} else of_item
    family = family_page(house, item_id, now, q.strip())
    if family is not None and not category:
        chosen = family.kinds[0].item.category
    found = _items(house, chosen, q)
    if chosen == OFTEN and not q.strip():
        found = [one for one in found if one.category in known]
    items = folded([now.of(one) for one in found])
    groups = catalogue.list_groups(connection, item.id) if item else []
    notes = prices.preset_notes(connection, item.report_group) if item else []
    top, inside = _nested(categories, chosen)
    outer = [Category(OFTEN, house.say(w.OFTEN), "history"), *(one for one in categories if one.parent is None)]
    return PickPage(outer, chosen, top, inside, items, now.of(item) if item else None, groups, notes, family)
