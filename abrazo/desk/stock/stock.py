"""Goods on shelves: what is there, and counting it.

Rules here
- what is there is the last count less what stands on tickets since; what was never counted says nothing
- a count has a reason; every one stays
"""

from __future__ import annotations

from collections.abc import Iterable
from fractions import Fraction

from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Kind, Personal
from abrazo.core.money import read_decimal
from abrazo.desk.act import acting
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.permissions import Right
from abrazo.store import stock

REASONS = ("recount", "delivery", "breakage", "loss", "first stock")
LOW = 2  # what is left of something before it shows as low


def here(house: House, item: str) -> Fraction | None:
    """How many of an item are there, by the last count; None when it was never counted."""
    return all_here(house, [item])[item]


def all_here(house: House, items: Iterable[str]) -> dict[str, Fraction | None]:
    """The same of several items, by id."""
    wanted = list(items)
    counts = stock.last_counts(house.connection, wanted)
    left = {id: Fraction(counted) - sum(map(Fraction, sold), Fraction(0)) for id, (counted, sold) in counts.items()}
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
        plain = typed.strip().replace(",", ".")
        value, decimals = read_decimal(plain, "counted") if plain else (Fraction(-1), 0)
        if not 0 <= value < 100_000 or decimals > (3 if item.unit else 0):
            code = Code.HOW_MUCH_THERE if item.unit else Code.HOW_MANY_THERE
            raise Refused(code, "counted", unit=item.unit, item=item.name)
        at = act.at
        count = stock.GoodsCount(item_id, at, plain, reason, actor.staff.id, actor.till.id)
        stock.add_count(act.connection, count)
        name, unit = Personal(item.name), item.unit or "×"
        act.record(Kind.GOODS_COUNTED, item=item_id, quantity=plain, unit=unit, name=name, why=reason, lender=act.by)
        act.answer = item_id
