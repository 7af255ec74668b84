"""What can be picked: categories, the items in view, and an item with its choices."""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.desk.house import House
from abrazo.store import catalogue
from abrazo.store.catalogue import Category, ChoiceGroup, Item


@dataclass(frozen=True, slots=True)
class PickPage:
    """Categories, items of the chosen one or of a search, and the opened item with its choice groups."""

    categories: list[Category]
    category: str
    items: list[Item]
    item: Item | None
    groups: list[ChoiceGroup]


USUAL = {
    "booking": "addons",
    "walk-in": "sessions",
    "job": "shop",
    "tab": "ale",
}  # where picking begins, by the ticket's source


def pick_page(house: House, category: str, q: str, item_id: str, source: str = "") -> PickPage:
    """The pick pane. A search wins over the category; an opened item brings its category with it."""
    connection = house.connection
    categories = catalogue.list_categories(connection)
    item = catalogue.read_item(connection, item_id) if item_id else None
    known = {c.id for c in categories}
    usual = USUAL.get(source, "") if USUAL.get(source, "") in known else categories[0].id
    of_item = item.category if item and item.category in known else usual
    chosen = category if category in known else of_item
    items = catalogue.find_items(connection, q.strip()) if q.strip() else catalogue.items_in(connection, chosen)
    groups = catalogue.list_groups(connection, item.id) if item else []
    return PickPage(categories, chosen, items, item, groups)
