"""Goods on shelves: families of variants, and what was counted."""

from __future__ import annotations

import json
from collections.abc import Iterable
from dataclasses import astuple, dataclass

from abrazo.core.states import GoodsMove
from abrazo.store.db import Connection, record


@dataclass(frozen=True, slots=True)
class Family:
    """Goods that differ in size and colour only; `code` is the barcode that they share, if any."""

    id: str
    name: str
    code: str | None = None


@dataclass(frozen=True, slots=True)
class Variant:
    """One of a family's goods."""

    item: str
    family: str
    size: str
    colour: str


FAMILY = "SELECT id, name, code FROM family WHERE id = ?"
BY_CODE = "SELECT id FROM family WHERE code = ?"
VARIANTS = """
SELECT v.item, v.family, v.size, v.colour FROM variant v JOIN item i ON i.id = v.item
WHERE v.family = ? ORDER BY i.position
"""
SHELVES = "SELECT id, shelf FROM item WHERE id IN (SELECT value FROM json_each(?))"
LAST = "SELECT max(id) FROM stock_count WHERE item IN (SELECT value FROM json_each(?)) GROUP BY item"
COUNTED = f"SELECT item, quantity FROM stock_count WHERE id IN ({LAST})"
ALL_COUNTED = "SELECT DISTINCT item FROM stock_count"
GONE = "coalesce(l.removed_at, t.voided_at, '')"
MOVED = f"""
SELECT c.item, CASE WHEN l.added_at > c.at THEN '-' ELSE '' END || l.quantity AS quantity
FROM stock_count c JOIN line l ON l.item = c.item JOIN ticket t ON t.id = l.ticket
WHERE c.id IN ({LAST}) AND (l.added_at > c.at) <> ({GONE} > c.at)
UNION ALL
SELECT c.item, m.quantity FROM stock_count c JOIN stock_move m ON m.item = c.item
WHERE c.id IN ({LAST}) AND m.at > c.at
"""
ADD_FAMILY = "INSERT INTO family (id, name, code) VALUES (?, ?, ?)"
ADD_VARIANT = "INSERT INTO variant (item, family, size, colour) VALUES (?, ?, ?, ?)"
SET_SHELF = "UPDATE item SET shelf = ? WHERE id = ?"
NOT_FOLLOWING = """
SELECT DISTINCT c.item FROM stock_count c WHERE c.reason <> 'first stock' AND NOT EXISTS (
  SELECT 1 FROM journal j WHERE j.kind = 'goods counted' AND j.at = c.at AND json_extract(j.facts, '$.item') = c.item
    AND json_extract(j.facts, '$.quantity') = c.quantity)
UNION
SELECT DISTINCT m.item FROM stock_move m WHERE NOT EXISTS (
  SELECT 1 FROM journal j WHERE j.kind = 'goods moved' AND j.at = m.at AND json_extract(j.facts, '$.item') = m.item
    AND json_extract(j.facts, '$.quantity') = m.quantity)
UNION
SELECT json_extract(j.facts, '$.item') FROM journal j WHERE j.kind = 'goods moved' AND NOT EXISTS (
  SELECT 1 FROM stock_move m WHERE m.at = j.at AND m.item = json_extract(j.facts, '$.item'))
"""
ADD_MOVE = """
INSERT INTO stock_move (item, at, quantity, why, refund, petty, staff, till) VALUES (?, ?, ?, ?, ?, ?, ?, ?)
"""
MOVES_OF_PETTY = """
SELECT item, at, quantity, why, refund, petty, staff, till FROM stock_move WHERE petty = ? ORDER BY id
"""
ADD_COUNT = "INSERT INTO stock_count (item, at, quantity, reason, staff, till) VALUES (?, ?, ?, ?, ?, ?)"


def read_family(connection: Connection, family: str) -> Family | None:
    """A family of goods, None when there is no such."""
    row = connection.execute(FAMILY, (family,)).fetchone()
    return record(Family, row) if row else None


def family_by_code(connection: Connection, code: str) -> str | None:
    """The family whose goods share this barcode."""
    row = connection.execute(BY_CODE, (code,)).fetchone()
    return str(row["id"]) if row else None


def variants_of(connection: Connection, family: str) -> list[Variant]:
    """The goods of a family."""
    return [record(Variant, row) for row in connection.execute(VARIANTS, (family,))]


def shelves_of(connection: Connection, items: Iterable[str]) -> dict[str, str]:
    """Where items lie; empty when nothing is said."""
    return {row["id"]: row["shelf"] for row in connection.execute(SHELVES, (json.dumps(list(items)),))}


def last_counts(connection: Connection, items: Iterable[str]) -> dict[str, tuple[str, list[str]]]:
    """What was counted last of each item, and what came since; negative when it went.

    A line that was added before the count and taken off, or made void, after it has come back. Items that were never
    counted are left out.
    """
    among = (json.dumps(list(items)),)
    found: dict[str, tuple[str, list[str]]] = {}
    for row in connection.execute(COUNTED, among):
        found[row["item"]] = (row["quantity"], [])
    for row in connection.execute(MOVED, among * 2):
        found[row["item"]][1].append(row["quantity"])
    return found


def counted_items(connection: Connection) -> set[str]:
    """Items that were ever counted."""
    return {row["item"] for row in connection.execute(ALL_COUNTED)}


def add_family(connection: Connection, family: Family) -> None:
    """Keep a family of goods."""
    connection.execute(ADD_FAMILY, (family.id, family.name, family.code))


def add_variant(connection: Connection, variant: Variant) -> None:
    """Keep an item as one of a family."""
    connection.execute(ADD_VARIANT, (variant.item, variant.family, variant.size, variant.colour))


def set_shelf(connection: Connection, item: str, shelf: str) -> None:
    """Where an item lies."""
    connection.execute(SET_SHELF, (shelf, item))


@dataclass(frozen=True, slots=True)
class GoodsCount:
    """How many of an item were there, as decimal text, and why they were counted."""

    item: str
    at: str
    quantity: str
    reason: str
    staff: str
    till: str


@dataclass(frozen=True, slots=True)
class StockMove:
    """Goods that came without a sale, or went (negative), as decimal text; with which refund or money paid out."""

    item: str
    at: str
    quantity: str
    why: GoodsMove
    refund: int | None
    petty: int | None
    staff: str
    till: str


def add_move(connection: Connection, move: StockMove) -> None:
    """Note goods that came or went."""
    connection.execute(ADD_MOVE, astuple(move))


def moves_of_petty(connection: Connection, petty: int) -> list[StockMove]:
    """Goods that were bought with money out of a drawer."""
    return [record(StockMove, row) for row in connection.execute(MOVES_OF_PETTY, (petty,))]


def not_following(connection: Connection) -> list[str]:
    """Items with a count or a movement that no entry of the journal speaks of, or an entry without its movement."""
    return [row["item"] for row in connection.execute(NOT_FOLLOWING)]


def add_count(connection: Connection, count: GoodsCount) -> None:
    """Note a count."""
    connection.execute(ADD_COUNT, astuple(count))
