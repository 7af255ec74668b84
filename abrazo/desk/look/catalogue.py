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


def pick_page(house: House, category: str, q: str, item_id: str) -> PickPage:
    """The pick pane. A search wins over the category; an opened item brings its category with it."""
    connection = house.connection
    categories = catalogue.list_categories(connection)
    item = catalogue.read_item(connection, item_id) if item_id else None
    known = {c.id for c in categories}
    chosen = category if category in known else item.category if item else categories[0].id
    items = catalogue.find_items(connection, q.strip()) if q.strip() else catalogue.items_in(connection, chosen)
    groups = catalogue.list_groups(connection, item.id) if item else []
    return PickPage(categories, chosen, items, item, groups)
