"""Goods on shelves: what is there, and counting it.

Rules here
- what is there is the last count, less what stands on tickets since, with what came back or was bought since; what was
  never counted says nothing
- a count has a reason; every one stays, and so does every movement
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from fractions import Fraction

from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Kind, Personal
from abrazo.core.money import read_decimal
from abrazo.desk.act import acting
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.permissions import Right
from abrazo.store import stock
from abrazo.store.catalogue import Item
from abrazo.store.stock import StockMove

REASONS = ("recount", "delivery", "breakage", "loss", "first stock")
MOST = 100_000  # of one item
LOW = 2  # what is left of something before it shows as low


def here(house: House, item: str) -> Fraction | None:
    """How many of an item are there, by the last count; None when it was never counted."""
    return all_here(house, [item])[item]


def all_here(house: House, items: Iterable[str]) -> dict[str, Fraction | None]:
    """The same of several items, by id."""
    wanted = list(items)
    counts = stock.last_counts(house.connection, wanted)
    left = {id: sum(map(Fraction, came), Fraction(counted)) for id, (counted, came) in counts.items()}
    return {id: left.get(id) for id in wanted}


def count_goods(house: House, actor: Actor, item_id: str, typed: str, reason: str, key: str) -> None:
    """Write down how many of an item are there now."""
    with acting(house, actor, "goods counted", key, f"item {item_id}", Right.COUNT_GOODS) as act:
        if act.done is not None:
            return
        item = act.house.item(item_id)
        if item is None:
            raise NotFound(f"no item {item_id}")
        if reason not in REASONS:
            raise Refused(Code.NO_COUNT_REASON, "reason", reasons=", ".join(REASONS))
        plain = _read(item, typed, "counted")
        at = act.at
        count = stock.GoodsCount(item_id, at, plain, reason, actor.staff.id, actor.till.id)
        stock.add_count(act.connection, count)
        name, unit = Personal(item.name), item.unit or "×"
        act.record(Kind.GOODS_COUNTED, item=item_id, quantity=plain, unit=unit, name=name, why=reason, lender=act.by)
        act.answer = item_id


def counted_goods(house: House) -> list[Item]:
    """Items that were ever counted on shelves, by name."""
    found = house.items(stock.counted_items(house.connection)).values()
    return sorted((item for item in found if item is not None), key=lambda item: item.name)


def _read(item: Item, typed: str, where: str) -> str:
    plain = typed.strip().replace(",", ".")
    value, decimals = read_decimal(plain, where) if plain else (Fraction(-1), 0)
    if not 0 <= value < MOST or decimals > (3 if item.unit else 0):
        code = Code.HOW_MUCH_THERE if item.unit else Code.HOW_MANY_THERE
        raise Refused(code, where, unit=item.unit, item=item.name)
    return plain


def read_pieces(house: House, item_id: str, typed: str) -> str:
    """How many pieces of an item move, as decimal text. Refused: none, not a number, or too many."""
    item = house.item(item_id)
    if item is None:
        raise NotFound(f"no item {item_id}")
    plain = _read(item, typed, "pieces")
    if not Fraction(plain):
        raise Refused(Code.HOW_MANY_THERE, "pieces", item=item.name)
    return plain


def on_shelves(house: House, items: Iterable[str]) -> bool:
    """Whether any of some items is counted on shelves."""
    return not stock.counted_items(house.connection).isdisjoint(items)


def write_move(house: House, move: StockMove, record: Callable[..., None]) -> None:
    """Goods came or went, inside the act that moves them. Only what is counted on shelves is kept."""
    item = house.item(move.item)
    if item is None or move.item not in stock.counted_items(house.connection):
        return
    stock.add_move(house.connection, move)
    name, unit = Personal(item.name), item.unit or "×"
    record(Kind.GOODS_MOVED, item=move.item, quantity=move.quantity, unit=unit, name=name, why=move.why)
