"""What can be sold: categories, items, choice groups, taxes."""

from __future__ import annotations

import json
from collections.abc import Iterable
from dataclasses import dataclass, replace
from decimal import Decimal
from fractions import Fraction

from abrazo.core.states import TaxCategory
from abrazo.core.tax import Tax, TaxPart
from abrazo.store.db import Connection, Row, record


@dataclass(frozen=True, slots=True)
class Category:
    """A category; with a `parent` it lies in another one. Picking begins in it on tickets from `first_for`."""

    id: str
    name: str
    icon: str
    parent: str | None = None
    first_for: str = ""  # tab, job, booking, walk-in
    tasks: bool = False  # what lies in it can be done in a job
    tills: str = ""  # at which it is offered, with semicolons; empty: all
    roles: str = ""  # to whom it is offered, with semicolons; empty: everybody


@dataclass(frozen=True, slots=True)
class GroupChoice:
    """One choice of a group; price in minor units, may be negative."""

    id: str
    label: str
    price: int


@dataclass(frozen=True, slots=True)
class ChoiceGroup:
    """A modifier group; `least` choices must and `most` may be taken."""

    id: str
    name: str
    least: int
    most: int
    choices: tuple[GroupChoice, ...]


@dataclass(frozen=True, slots=True)
class Item:
    """Something that can be sold; price in minor units, per piece or per `unit` (kg, m).

    `minutes` is how long a service takes; `code` what its barcode says; `family` the goods that it is a variant of.
    `variants` is how many goods a tile stands for.
    """

    id: str
    number: int
    name: str
    category: str
    price: int
    tax: str | None
    place: str
    report_group: str
    groups: int = 0
    required: int = 0
    minutes: int | None = None
    code: str | None = None
    unit: str = ""
    family: str = ""
    family_name: str = ""
    variants: int = 0
    job_days: int | None = None  # open days until this task is promised; None: the house's


CATEGORIES = """
SELECT id, name, icon, parent, first_for, tasks, tills, roles FROM category
WHERE id <> 'unlisted' AND ended_at IS NULL ORDER BY position
"""
ITEM_COLUMNS = """
SELECT i.id, i.number, i.name, i.category, i.price, i.tax, i.place, i.report_group,
       count(c.id) AS groups, coalesce(sum(c.least > 0), 0) AS required,
       i.minutes, i.code, i.unit, coalesce(f.id, '') AS family, coalesce(f.name, '') AS family_name,
       i.job_days
FROM item i LEFT JOIN variant v ON v.item = i.id LEFT JOIN family f ON f.id = v.family
            LEFT JOIN item_group g ON g.item = i.id
            LEFT JOIN choice_group c ON c.id = g.choice_group AND c.ended_at IS NULL
"""
UNDER = """
WHERE i.category IN (WITH RECURSIVE under (id) AS (
  {} UNION ALL SELECT c.id FROM category c JOIN under u ON c.parent = u.id) SELECT id FROM under)
  AND i.ended_at IS NULL
GROUP BY i.id ORDER BY i.position
"""
IN_CATEGORY = ITEM_COLUMNS + UNDER.format("VALUES (?)")
TASKS = ITEM_COLUMNS + UNDER.format("SELECT id FROM category WHERE tasks = 1 AND ended_at IS NULL")
ALL_ITEMS = ITEM_COLUMNS + "WHERE i.id <> 'unlisted' AND i.ended_at IS NULL GROUP BY i.id ORDER BY i.position"
BY_CODE = ITEM_COLUMNS + "WHERE i.code = ? AND i.ended_at IS NULL GROUP BY i.id"
SERVICES = ITEM_COLUMNS + "WHERE i.minutes IS NOT NULL AND i.ended_at IS NULL GROUP BY i.id ORDER BY i.position"
ADDONS = (
    ITEM_COLUMNS + "WHERE i.category IN (SELECT id FROM category WHERE first_for = 'booking') AND i.minutes IS NULL "
    "AND i.ended_at IS NULL GROUP BY i.id ORDER BY i.position"
)
KINDS = """
SELECT DISTINCT report_group, tax FROM item
WHERE id <> 'unlisted' AND id NOT IN (SELECT item FROM series_kind UNION SELECT item FROM membership_item)
ORDER BY position
"""
ITEMS = ITEM_COLUMNS + "WHERE i.id IN (SELECT value FROM json_each(?)) GROUP BY i.id"
FOUND = (
    ITEM_COLUMNS
    + "WHERE i.id <> 'unlisted' AND i.ended_at IS NULL AND (i.number = ? OR i.code = ? OR ("
    + "i.name LIKE ? ESCAPE '\\' AND i.name LIKE ? ESCAPE '\\' AND i.name LIKE ? ESCAPE '\\')) "
    + "GROUP BY i.id ORDER BY i.position LIMIT 24"
)
GROUPS = """
SELECT g.id, g.name, g.least, g.most FROM choice_group g JOIN item_group ig ON ig.choice_group = g.id
WHERE ig.item = ? AND g.ended_at IS NULL ORDER BY ig.position
"""
CHOICES = "SELECT id, label, price FROM choice WHERE choice_group = ? ORDER BY position"
LAST_KIND = "SELECT report_group FROM line WHERE item = 'unlisted' ORDER BY added_at DESC LIMIT 1"
VARIABLE = "SELECT id FROM item WHERE variable = 1 OR id = 'unlisted'"
SET_VARIABLE = "UPDATE item SET variable = ? WHERE id = ?"
TAXES = """
SELECT t.id, t.label, t.rate, t.category, t.exemption, p.label AS part, p.rate AS part_rate
FROM tax t LEFT JOIN tax_part p ON p.tax = t.id ORDER BY t.position, p.position
"""
DENOMINATIONS = "SELECT value, is_note FROM denomination ORDER BY value"
ADD_CATEGORY = """
INSERT INTO category (id, name, icon, parent, first_for, tasks, tills, roles, position)
VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)
"""
ADD_ITEM = """
INSERT INTO item (id, number, name, category, price, tax, place, report_group, minutes, code, unit, job_days, position)
VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
"""
ADD_GROUP = "INSERT INTO choice_group (id, name, least, most) VALUES (?, ?, ?, ?)"
ADD_CHOICE = "INSERT INTO choice (id, choice_group, label, price, position) VALUES (?, ?, ?, ?, ?)"
ADD_ITEM_GROUP = "INSERT INTO item_group (item, choice_group, position) VALUES (?, ?, ?)"
ADD_TAX_PART = "INSERT INTO tax_part (tax, position, label, rate) VALUES (?, ?, ?, ?)"
ADD_TAX = "INSERT INTO tax (id, label, rate, position, category, exemption) VALUES (?, ?, ?, ?, ?, ?)"
ADD_DENOMINATION = "INSERT INTO denomination (value, is_note) VALUES (?, ?)"


def _item(row: Row) -> Item:
    return record(Item, row)


def variable_items(connection: Connection) -> set[str]:
    """Items whose unit price may be overtyped."""
    return {row["id"] for row in connection.execute(VARIABLE)}


def set_variable(connection: Connection, item: str, *, variable: bool) -> None:
    """Whether an item's price may be overtyped."""
    connection.execute(SET_VARIABLE, (int(variable), item))


def list_categories(connection: Connection) -> list[Category]:
    """The categories in their order, without that of unlisted items."""
    return [record(Category, row) for row in connection.execute(CATEGORIES)]


def items_in(connection: Connection, category: str) -> list[Item]:
    """The items of a category and of those that lie in it."""
    return [_item(row) for row in connection.execute(IN_CATEGORY, (category,))]


def list_tasks(connection: Connection) -> list[Item]:
    """What can be done in a job."""
    return [_item(row) for row in connection.execute(TASKS)]


def find_items(connection: Connection, text: str) -> list[Item]:
    """Items by parts of their name in any order, by number or by code."""
    plain = text.replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_")
    parts = [*plain.split(maxsplit=2), "", ""][:3] if plain.split() else [plain, "", ""]
    number = int(text) if text.isascii() and text.isdigit() and len(text) < 10 else -1
    return [_item(row) for row in connection.execute(FOUND, (number, text, *(f"%{part}%" for part in parts)))]


def list_items(connection: Connection) -> list[Item]:
    """Everything that can be sold, in the house's order."""
    return [_item(row) for row in connection.execute(ALL_ITEMS)]


def by_code(connection: Connection, code: str) -> Item | None:
    """The item with this barcode."""
    row = connection.execute(BY_CODE, (code,)).fetchone()
    return _item(row) if row else None


def list_services(connection: Connection) -> list[Item]:
    """Items that take time."""
    return [_item(row) for row in connection.execute(SERVICES)]


def list_addons(connection: Connection) -> list[Item]:
    """What is had along with a booked service."""
    return [_item(row) for row in connection.execute(ADDONS)]


def list_kinds(connection: Connection) -> list[tuple[str, str | None]]:
    """Report groups with the tax that goes with each."""
    return [(row["report_group"], row["tax"]) for row in connection.execute(KINDS)]


def for_group(groups: str, report_group: str) -> bool:
    """Whether something for these report groups (divided by semicolons, empty for all) is for a line of one of them."""
    return not groups or report_group in groups.split(";")


def last_kind(connection: Connection) -> str:
    """The report group of the last unlisted item that was sold; empty when there was none."""
    row = connection.execute(LAST_KIND).fetchone()
    return str(row["report_group"]) if row else ""


def read_items(connection: Connection, items: Iterable[str]) -> dict[str, Item]:
    """Items by id; those that are not there are left out."""
    rows = connection.execute(ITEMS, (json.dumps(list(items)),))
    return {row["id"]: _item(row) for row in rows}


def list_groups(connection: Connection, item: str) -> list[ChoiceGroup]:
    """The choice groups of an item."""
    return [
        record(ChoiceGroup, row, choices=tuple(GroupChoice(*c) for c in connection.execute(CHOICES, (row["id"],))))
        for row in connection.execute(GROUPS, (item,)).fetchall()
    ]


def list_taxes(connection: Connection) -> tuple[Tax, ...]:
    """The house's taxes with their parts."""
    found: dict[str, Tax] = {}
    for row in connection.execute(TAXES):
        category = TaxCategory(row["category"]) if row["category"] else None
        one = Tax(row["id"], Fraction(row["rate"]), row["label"], category=category, exemption=row["exemption"])
        tax = found.get(one.id) or one
        parts = () if row["part"] is None else (TaxPart(row["part"], Fraction(row["part_rate"])),)
        found[tax.id] = replace(tax, parts=(*tax.parts, *parts))
    return tuple(found.values())


def list_denominations(connection: Connection) -> list[tuple[int, bool]]:
    """(minor units, is it a note), ascending."""
    return [(row["value"], bool(row["is_note"])) for row in connection.execute(DENOMINATIONS)]


def add_category(connection: Connection, category: Category, position: int) -> None:
    """Keep a category at its place."""
    c = category
    facts = (c.id, c.name, c.icon, c.parent, c.first_for, c.tasks, c.tills, c.roles)
    connection.execute(ADD_CATEGORY, (*facts, position))


def add_item(connection: Connection, item: Item, position: int, groups: Iterable[str]) -> None:
    """Keep an item at its place, with its choice groups."""
    row = (
        item.id,
        item.number,
        item.name,
        item.category,
        item.price,
        item.tax,
        item.place,
        item.report_group,
        item.minutes,
        item.code,
    )
    connection.execute(ADD_ITEM, (*row, item.unit, item.job_days, position))
    connection.executemany(ADD_ITEM_GROUP, [(item.id, group, place) for place, group in enumerate(groups)])


def add_group(connection: Connection, group: ChoiceGroup) -> None:
    """Keep a choice group."""
    connection.execute(ADD_GROUP, (group.id, group.name, group.least, group.most))
    rows = [(choice.id, group.id, choice.label, choice.price, place) for place, choice in enumerate(group.choices)]
    connection.executemany(ADD_CHOICE, rows)


def add_tax(connection: Connection, tax: Tax, rate: str, position: int) -> None:
    """Keep a tax; `rate` as it is written. Its parts' rates have to be finite decimals."""
    connection.execute(ADD_TAX, (tax.id, tax.label, rate, position, tax.category, tax.exemption))
    rows = [(tax.id, place, part.label or "", _decimal(part.rate)) for place, part in enumerate(tax.parts)]
    connection.executemany(ADD_TAX_PART, rows)


def _decimal(rate: Fraction) -> str:
    return f"{Decimal(rate.numerator) / Decimal(rate.denominator):f}"


def add_denomination(connection: Connection, value: int, is_note: bool) -> None:
    """Keep a note or coin, minor units."""
    connection.execute(ADD_DENOMINATION, (value, int(is_note)))
