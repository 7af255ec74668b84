"""Price lists, and notes that are written again and again."""

from __future__ import annotations

from dataclasses import astuple, dataclass

from abrazo.core.states import PresetAbout
from abrazo.store.catalogue import for_group
from abrazo.store.db import Connection, record


@dataclass(frozen=True, slots=True)
class PriceList:
    """A list; `days` are digits, 0 is Monday; begins and ends as 17:00; first and last date, if it has any, are ISO."""

    id: str
    name: str
    days: str
    begins: str
    ends: str
    first_on: str | None = None
    last_on: str | None = None


LISTS = """
SELECT id, name, days, begins, ends, first_on, last_on FROM price_list WHERE ended_at IS NULL ORDER BY position
"""
ADD_LIST = """
INSERT INTO price_list (id, name, days, begins, ends, first_on, last_on, position) VALUES (?, ?, ?, ?, ?, ?, ?, ?)
"""
ITEMS = "SELECT item, price FROM price_list_item WHERE list = ?"
ADD_ITEM = "INSERT INTO price_list_item (list, item, price) VALUES (?, ?, ?)"
WORDS = "SELECT words, groups FROM preset_words WHERE about = ? AND ended_at IS NULL ORDER BY position, id"
ADD_WORDS = "INSERT INTO preset_words (id, words, about, groups, position) VALUES (?, ?, ?, ?, ?)"
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
    connection.execute(ADD_LIST, (*astuple(one), position))
    connection.executemany(ADD_ITEM, [(one.id, item, price) for item, price in prices.items()])


def prices_of(connection: Connection, list_id: str) -> dict[str, int]:
    """A list's prices in minor units by item; other items have their usual price."""
    return {row["item"]: row["price"] for row in connection.execute(ITEMS, (list_id,))}


def preset_notes(connection: Connection, report_group: str) -> list[str]:
    """Requests that are written again and again, for an item of a report group."""
    found = connection.execute(WORDS, (PresetAbout.ITEM,))
    return [row["words"] for row in found if for_group(row["groups"], report_group)]


def job_presets(connection: Connection, about: PresetAbout) -> list[str]:
    """What a drop-off offers at a touch: notes or places."""
    return [row["words"] for row in connection.execute(WORDS, (about,))]


def add_preset(connection: Connection, about: PresetAbout, words: str, position: int, groups: str = "") -> None:
    """Keep what is written again and again; `groups` are report groups divided by semicolons, empty for all."""
    connection.execute(ADD_WORDS, (f"{about}-{position + 1}", words, about, groups, position))


def often(connection: Connection, among: int, most: int) -> list[str]:
    """The items picked most often among the latest lines."""
    return [row["item"] for row in connection.execute(OFTEN, (among, most))]
