"""The pool of tips, divided by hours or points: what was everybody's is each one's own, and is paid out as such."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from fractions import Fraction

from abrazo.core.errors import Code, Refused, chosen
from abrazo.core.figures import Booked
from abrazo.core.journal import Kind
from abrazo.core.ledger import pool_divided_postings
from abrazo.core.money import read_decimal
from abrazo.core.states import PoolMeasure, TipsTo
from abrazo.core.tips import divide_pool
from abrazo.desk.act import acting
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.permissions import Right
from abrazo.desk.till.tips_paid import owed_tips
from abrazo.store import tip_pool as store
from abrazo.store.tip_pool import PoolDivision, PoolShare

MOST = 999  # hours or points of one person
MOST_DECIMALS = 2


@dataclass(frozen=True, slots=True)
class Division:
    """How a pool is to be divided: by hours or points as they were typed by person, and how much, in minor units."""

    measure: str
    weights: Mapping[str, str]
    amount: int


def in_pool(house: House) -> int:
    """What lies in the pool, in minor units."""
    return {person: left for person, _, left in owed_tips(house)}.get(TipsTo.POOL, 0)


def work_out(house: House, wanted: Division) -> list[PoolShare]:
    """Who would have what. Refused for an amount that the pool does not hold, and beside what was typed."""
    held = in_pool(house)
    if not held:
        raise Refused(Code.POOL_EMPTY, "amount")
    if wanted.amount <= 0:
        raise Refused(Code.NO_AMOUNT, "amount")
    if wanted.amount > held:
        raise Refused(Code.MORE_THAN_POOL, "amount", owed=held)
    chosen(PoolMeasure, wanted.measure, Code.PAGE_EXPIRED)
    typed = {person: wanted.weights.get(person, "").strip().replace(",", ".") for person in house.staff()}
    weights = {person: _weight(text, person) for person, text in typed.items() if text}
    weights = {person: weight for person, weight in weights.items() if weight}
    if not weights:
        raise Refused(Code.POOL_NO_WEIGHTS, "weights")
    parts = divide_pool(wanted.amount, weights)
    return [PoolShare(person, typed[person], amount) for person, amount in parts.items()]


def _weight(text: str, person: str) -> Fraction:
    try:
        weight, decimals = read_decimal(text)
    except Refused:
        weight, decimals = Fraction(-1), 0
    if not 0 <= weight <= MOST or decimals > MOST_DECIMALS:
        raise Refused(Code.POOL_WEIGHT, f"weight-{person}", most=MOST)
    return weight


def divide(house: House, actor: Actor, wanted: Division, key: str) -> int:
    """Divide the pool, or a part of it, among people; gives its id. By right, own or lent."""
    with acting(house, actor, "pool divided", key, needs=Right.PAY_TIPS) as act:
        if act.done is not None:
            return int(act.done)
        shares = work_out(house, wanted)
        measure = PoolMeasure(wanted.measure)
        new = PoolDivision(0, act.day, actor.till.id, actor.staff.id, act.at, measure, wanted.amount)
        made = store.add(act.connection, new, shares)
        booked = Booked(pool_divided_postings({one.person: one.amount for one in shares}))
        act.record(Kind.POOL_DIVIDED, None, booked, division=made, measure=measure, amount=wanted.amount,
                   people=len(shares), lender=act.by)  # fmt: skip
        act.answer = str(made)
    return made


def read_division(house: House, division: int) -> tuple[PoolDivision, list[PoolShare]]:
    """How a pool was divided, and who has what."""
    found = store.read(house.connection, division) if 0 < division < 2**63 else None
    if found is None:
        raise NotFound(f"no division {division}")
    return found, store.shares_of(house.connection, division)


def divided_today(house: House) -> list[PoolDivision]:
    """Pools that were divided on the open day."""
    return store.on_day(house.connection, house.day().id)
