"""What a house is set up with that lies in rows of other tables: choices, parts, prices, tariffs, benefits.

Each is put in place of those of before; what keeps its name is the same one, and what is used elsewhere is retired.
"""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping, Sequence

from abrazo.store.db import Connection

GROUPS_OF = "SELECT item, choice_group FROM item_group ORDER BY item, position"
CHOICES_OF = "SELECT choice_group, label, price FROM choice ORDER BY choice_group, position"
PARTS_OF = "SELECT tax, label, rate FROM tax_part ORDER BY tax, position"


def item_groups(connection: Connection) -> dict[str, list[str]]:
    """The choice groups of every item that has some."""
    found: dict[str, list[str]] = {}
    for item, group in connection.execute(GROUPS_OF):
        found.setdefault(item, []).append(group)
    return found


def put_item_groups(connection: Connection, item: str, groups: Iterable[str]) -> None:
    """The choice groups of an item, in place of those of before."""
    connection.execute("DELETE FROM item_group WHERE item = ?", (item,))
    rows_of = [(item, group, place) for place, group in enumerate(groups)]
    connection.executemany("INSERT INTO item_group (item, choice_group, position) VALUES (?, ?, ?)", rows_of)


def choices(connection: Connection) -> dict[str, list[tuple[str, int]]]:
    """The choices of every group: (label, price in minor units)."""
    found: dict[str, list[tuple[str, int]]] = {}
    for group, label, price in connection.execute(CHOICES_OF):
        found.setdefault(group, []).append((label, price))
    return found


def put_choices(connection: Connection, group: str, given: Sequence[tuple[str, int]]) -> None:
    """The choices of a group, in place of those of before; one that keeps its label is the same choice."""
    known = dict(connection.execute("SELECT lower(label), id FROM choice WHERE choice_group = ?", (group,)).fetchall())
    kept = [known.get(label.lower()) for label, _ in given]
    connection.execute(
        "DELETE FROM choice WHERE choice_group = ? AND id NOT IN (SELECT value FROM json_each(?))",
        (group, json.dumps([id for id in kept if id])),
    )
    for place, ((label, price), id) in enumerate(zip(given, kept, strict=True)):
        if id:
            connection.execute(
                "UPDATE choice SET label = ?, price = ?, position = ? WHERE id = ?", (label, price, place, id)
            )
        else:
            number = connection.execute("SELECT count(*) FROM choice WHERE id GLOB ? || '-*'", (group,)).fetchone()[0]
            while connection.execute("SELECT 1 FROM choice WHERE id = ?", (f"{group}-{number}",)).fetchone():
                number += 1
            row = (f"{group}-{number}", group, label, price, place)
            connection.execute(
                "INSERT INTO choice (id, choice_group, label, price, position) VALUES (?, ?, ?, ?, ?)", row
            )


def tax_parts(connection: Connection) -> dict[str, list[tuple[str, str]]]:
    """The parts of every tax that has some: (label, rate as decimal text)."""
    found: dict[str, list[tuple[str, str]]] = {}
    for tax, label, rate in connection.execute(PARTS_OF):
        found.setdefault(tax, []).append((label, rate))
    return found


def put_tax_parts(connection: Connection, tax: str, parts: Iterable[tuple[str, str]]) -> None:
    """The parts of a tax, in place of those of before."""
    connection.execute("DELETE FROM tax_part WHERE tax = ?", (tax,))
    rows_of = [(tax, place, label, rate) for place, (label, rate) in enumerate(parts)]
    connection.executemany("INSERT INTO tax_part (tax, position, label, rate) VALUES (?, ?, ?, ?)", rows_of)


PRICES_OF = "SELECT list, item, price FROM price_list_item ORDER BY list, rowid"
SERIES_ITEMS_OF = "SELECT series, item FROM series_item ORDER BY series, rowid"
BENEFITS_OF = """
SELECT kind, id, name, percent, item, report_group, times FROM benefit WHERE ended_at IS NULL ORDER BY kind, rowid
"""
TARIFFS_OF = """
SELECT item, id, name, price, minutes, from_day, from_time, to_day, to_time FROM hire_tariff WHERE ended_at IS NULL
ORDER BY item, position
"""
Row = Mapping[str, object]


def list_prices(connection: Connection) -> dict[str, list[tuple[str, int]]]:
    """The prices of every price list: (item, price in minor units)."""
    found: dict[str, list[tuple[str, int]]] = {}
    for list_, item, price in connection.execute(PRICES_OF):
        found.setdefault(list_, []).append((item, price))
    return found


def put_list_prices(connection: Connection, list_: str, prices: Iterable[tuple[str, int]]) -> None:
    """The prices of a list, in place of those of before."""
    connection.execute("DELETE FROM price_list_item WHERE list = ?", (list_,))
    rows_of = [(list_, item, price) for item, price in prices]
    connection.executemany("INSERT INTO price_list_item (list, item, price) VALUES (?, ?, ?)", rows_of)


def series_items(connection: Connection) -> dict[str, list[str]]:
    """The items that every series covers."""
    found: dict[str, list[str]] = {}
    for series, item in connection.execute(SERIES_ITEMS_OF):
        found.setdefault(series, []).append(item)
    return found


TAXES_BESIDE = """
SELECT s.item AS ref, i.name, i.tax FROM series_item s JOIN item i ON i.id = s.series
UNION ALL SELECT s.series, i.name, i.tax FROM series_item s JOIN item i ON i.id = s.item
"""


def taxes_beside(connection: Connection) -> dict[str, list[tuple[str, str | None]]]:
    """For each item that a series covers, and each series, the others with their taxes: (name, tax)."""
    found: dict[str, list[tuple[str, str | None]]] = {}
    for ref, name, tax in connection.execute(TAXES_BESIDE):
        found.setdefault(ref, []).append((name, tax))
    return found


def put_series_items(connection: Connection, series: str, items: Iterable[str]) -> None:
    """The items that a series covers, in place of those of before."""
    connection.execute("DELETE FROM series_item WHERE series = ?", (series,))
    rows_of = [(series, item) for item in items]
    connection.executemany("INSERT INTO series_item (series, item) VALUES (?, ?)", rows_of)


def _by(connection: Connection, statement: str, owner: str) -> dict[str, list[Row]]:
    found: dict[str, list[Row]] = {}
    for row in connection.execute(statement):
        found.setdefault(row[owner], []).append(dict(row))
    return found


def benefits(connection: Connection) -> dict[str, list[Row]]:
    """What every kind of membership gives, as rows of their columns."""
    return _by(connection, BENEFITS_OF, "kind")


def tariffs(connection: Connection) -> dict[str, list[Row]]:
    """What every kind of hire costs for how long, as rows of their columns."""
    return _by(connection, TARIFFS_OF, "item")


def put_benefits(connection: Connection, kind: str, given: Sequence[Row], at: str) -> None:
    """What a kind of membership gives from now on; what keeps its name is the same one."""
    _put_named(connection, ("benefit", "kind"), kind, [dict(one) for one in given], at)


def put_tariffs(connection: Connection, item: str, given: Sequence[Row], at: str) -> None:
    """What hiring something costs from now on, in this order; what keeps its name is the same one."""
    rows_of = [{**one, "position": place} for place, one in enumerate(given)]
    _put_named(connection, ("hire_tariff", "item"), item, rows_of, at)


def _put_named(connection: Connection, where: tuple[str, str], owner: str, given: Sequence[Row], at: str) -> None:
    table, column = where
    mine = f"SELECT name, id FROM {table} WHERE {column} = ? ORDER BY ended_at IS NULL"
    known = dict(connection.execute(mine, (owner,)).fetchall())
    connection.execute(f"UPDATE {table} SET ended_at = ? WHERE {column} = ? AND ended_at IS NULL", (at, owner))
    for one in given:
        if id := known.get(str(one["name"])):
            places = ", ".join(f"{name} = ?" for name in one)
            connection.execute(f"UPDATE {table} SET {places}, ended_at = NULL WHERE id = ?", (*one.values(), id))
            continue
        number = connection.execute(f"SELECT count(*) FROM {table} WHERE {column} = ?", (owner,)).fetchone()[0] + 1
        while connection.execute(f"SELECT 1 FROM {table} WHERE id = ?", (f"{owner}-{number}",)).fetchone():
            number += 1
        marks = ", ".join("?" * (len(one) + 2))
        names = ", ".join(("id", column, *one))
        connection.execute(
            f"INSERT INTO {table} ({names}) VALUES ({marks})", (f"{owner}-{number}", owner, *one.values())
        )


OUT = """
SELECT 1 FROM hire h JOIN line l ON l.id = h.line JOIN ticket t ON t.id = l.ticket
WHERE h.unit = ? AND h.returned_at IS NULL AND l.removed_at IS NULL AND t.state <> 'left' AND t.voided_at IS NULL
"""


def is_out(connection: Connection, unit: str) -> bool:
    """Whether a unit is hired, or will be."""
    return connection.execute(OUT, (unit,)).fetchone() is not None
