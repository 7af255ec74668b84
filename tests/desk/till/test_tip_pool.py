"""The pool of tips: divided once, by right, never more than it holds; then each one's part is paid out."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

import pytest

from abrazo.core.errors import Code, Refused
from abrazo.core.states import Extra, TipsTo
from abrazo.desk.context import Actor
from abrazo.desk.output import outbox
from abrazo.desk.payments import closing, tenders, tips
from abrazo.desk.payments.views.own_tips import own_tips
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.till import tip_pool, tips_paid
from abrazo.desk.till.tip_pool import Division
from tests.desk.books import holds
from tests.desk.conftest import Desk
from tests.desk.payments.test_tenders import one_payer


def pool_of(desk: Desk, tip: int) -> None:
    tips.share_tips(desk.house, desk.boss, TipsTo.POOL)
    number, payer = one_payer(desk)
    paid = desk.whole(number).payer_bill(payer).account.due + tip
    tenders.take_cash(desk.house, desk.tamsin, desk.on(number), payer, tenders.Sum(paid, Extra.TIP), paid)
    closing.free_table(desk.house, desk.tamsin, OnTicket(number, None, desk.key()))


def test_divided_by_hours_and_paid_out(desk: Desk) -> None:
    pool_of(desk, 1000)
    first, second = list(desk.house.staff())[:2]
    wanted = Division("hours", {first: "6.5", second: "3,5", "nobody": "9"}, 1000)
    made = {tip_pool.divide(desk.house, desk.boss, wanted, "the same key") for _ in range(3)}
    (division,) = made
    _, shares = tip_pool.read_division(desk.house, division)
    assert {(one.person, one.amount) for one in shares} == {(first, 650), (second, 350)}
    assert {(id, left) for id, _, left in tips_paid.owed_tips(desk.house)} == {(first, 650), (second, 350)}
    holds(desk)
    outbox.print_pool(desk.house, desk.boss, division, desk.key())
    paper = desk.house.devices.printer.shown()
    assert "6.5" in paper and "6.50" in paper
    tips_paid.pay_tips(desk.house, desk.boss, first, 650, desk.key())
    holds(desk)
    mine = own_tips(desk.house, Actor(desk.house.staff()[first], desk.tamsin.till))
    assert (mine.total, mine.from_pool, mine.paid_out, mine.pool) == (650, 650, 650, 0)


@pytest.mark.parametrize(("weights", "amount", "code", "where"), [
    ({}, 1000, Code.POOL_NO_WEIGHTS, "weights"), ({"first": "0"}, 1000, Code.POOL_NO_WEIGHTS, "weights"),
    ({"first": "long"}, 1000, Code.POOL_WEIGHT, "weight-first"), ({"first": "1000"}, 1000, Code.POOL_WEIGHT, "weight-first"),
    ({"first": "1.255"}, 1000, Code.POOL_WEIGHT, "weight-first"), ({"first": "-1"}, 1000, Code.POOL_WEIGHT, "weight-first"),
    ({"first": "1"}, 1001, Code.MORE_THAN_POOL, "amount"), ({"first": "1"}, 0, Code.NO_AMOUNT, "amount"),
])  # fmt: skip
def test_what_cannot_be_divided_is_said_beside_its_field(
    desk: Desk, weights: Mapping[str, str], amount: int, code: Code, where: str
) -> None:
    pool_of(desk, 1000)
    first = next(iter(desk.house.staff()))
    typed = {person.replace("first", first): text for person, text in weights.items()}
    with pytest.raises(Refused) as refusal:
        tip_pool.divide(desk.house, desk.boss, Division("points", typed, amount), desk.key())
    assert (refusal.value.code, refusal.value.where) == (code, where.replace("first", first))
    assert tip_pool.in_pool(desk.house) == 1000


def test_by_right_alone(desk: Desk) -> None:
    pool_of(desk, 1000)
    wanted = Division("points", {"tamsin": "1"}, 1000)
    with pytest.raises(Refused) as refusal:
        tip_pool.divide(desk.house, desk.tamsin, wanted, desk.key())
    assert refusal.value.code == Code.RIGHT_PAY_TIPS
    borrowed = replace(desk.tamsin, lender=desk.boss.staff)
    tip_pool.divide(desk.house, borrowed, Division("points", {desk.boss.staff.id: "1"}, 400), desk.key())
    assert tip_pool.in_pool(desk.house) == 600
