"""Price lists, and notes that are written again and again."""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.store.catalogue import for_group
from abrazo.store.db import Connection, record


@dataclass(frozen=True, slots=True)
class PriceList:
    """A list; `days` are digits, 0 is Monday; begins and ends as 17:00."""

    id: str
    name: str
    days: str
    begins: str
    ends: str


LISTS = "SELECT id, name, days, begins, ends FROM price_list ORDER BY position"
ADD_LIST = "INSERT INTO price_list (id, name, days, begins, ends, position) VALUES (?, ?, ?, ?, ?, ?)"
ITEMS = "SELECT item, price FROM price_list_item WHERE list = ?"
ADD_ITEM = "INSERT INTO price_list_item (list, item, price) VALUES (?, ?, ?)"
NOTES = "SELECT words, groups FROM preset_note ORDER BY position"
JOB_PRESETS = "SELECT words FROM job_preset WHERE kind = ? ORDER BY position"
ADD_JOB_PRESET = "INSERT INTO job_preset (words, kind, position) VALUES (?, ?, ?)"
ADD_NOTE = "INSERT INTO preset_note (words, groups, position) VALUES (?, ?, ?)"
# `+item` keeps the index over all lines out of it: only the latest are looked at.
OFTEN = """
SELECT item FROM line WHERE id > (SELECT max(id) FROM line) - ? AND item <> 'unlisted' AND job IS NULL
AND booking IS NULL GROUP BY +item ORDER BY count(*) DESC, item LIMIT ?
"""


def list_lists(connection: Connection) -> list[PriceList]:
    """The price lists in their order."""
    return [record(PriceList, row) for row in connection.execute(LISTS)]


def add_list(connection: Connection, one: PriceList, position: int, prices: dict[str, int]) -> None:
    """Keep a list with its prices in minor units by item."""
    connection.execute(ADD_LIST, (one.id, one.name, one.days, one.begins, one.ends, position))
    connection.executemany(ADD_ITEM, [(one.id, item, price) for item, price in prices.items()])


def prices_of(connection: Connection, list_id: str) -> dict[str, int]:
    """A list's prices in minor units by item; other items have their usual price."""
    return {row["item"]: row["price"] for row in connection.execute(ITEMS, (list_id,))}


def preset_notes(connection: Connection, report_group: str) -> list[str]:
    """Requests that are written again and again, for an item of a report group."""
    return [row["words"] for row in connection.execute(NOTES) if for_group(row["groups"], report_group)]


def add_note(connection: Connection, words: str, position: int, groups: str = "") -> None:
    """Keep such a request; `groups` are the report groups that it is for, divided by semicolons, empty for all."""
    connection.execute(ADD_NOTE, (words, groups, position))


def job_presets(connection: Connection, kind: str) -> list[str]:
    """What a drop-off offers at a touch; `kind` is note or place."""
    return [row["words"] for row in connection.execute(JOB_PRESETS, (kind,))]


def add_job_preset(connection: Connection, words: str, kind: str, position: int) -> None:
    """Keep a note or a place that a drop-off offers."""
    connection.execute(ADD_JOB_PRESET, (words, kind, position))


def often(connection: Connection, among: int, most: int) -> list[str]:
    """The items picked most often among the latest lines."""
    return [row["item"] for row in connection.execute(OFTEN, (among, most))]
