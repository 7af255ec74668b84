"""Goods set aside: the first payment, paid in parts over days, handed over, cancelled with a fee; the books at each step."""

from __future__ import annotations

from datetime import timedelta

import pytest

from abrazo.core.errors import Code, Refused
from abrazo.desk.overview.owed import owed
from abrazo.desk.overview.soundness import soundness
from abrazo.desk.payments import closing, set_aside, tenders
from abrazo.desk.stock import stock
from abrazo.desk.tickets import moving, ticket_lines
from abrazo.desk.till import opening
from abrazo.desk.till.opening import Float
from abrazo.worker import auto_close
from tests.desk.books import holds
from tests.desk.conftest import MACHINE, Desk
from tests.desk.scenes import person, wren
from tests.desk.tickets.test_benefits import sale_for
from tests.desk.tickets.test_series import close_all, pick
from tests.refusals import refuses


def part(desk: Desk, number: int, amount: int, by: str = "cash") -> None:
    payer = desk.whole(number).payers[0].id
    if by == "cash":
        tenders.take_cash(desk.house, wren(desk), desk.on(number), payer, tenders.Sum(amount), amount)
    else:
        tenders.ask_card(desk.house, wren(desk), desk.on(number), payer, MACHINE, tenders.Sum(amount))
        desk.follow()


def kept(desk: Desk, first: int = 700) -> int:
    """A mug and a hat, 33.00, set aside with a first payment."""
    number = sale_for(desk, person(desk))
    pick(desk, number, "enamel-mug")
    pick(desk, number, "sun-hat")
    part(desk, number, first)
    set_aside.set_aside(desk.house, wren(desk), desk.on(number), "2026-08-12")
    return number


def held(desk: Desk) -> int:
    return -desk.balance("liabilities:layaways")


def test_it_takes_somebody_goods_and_a_first_payment(desk: Desk) -> None:
    number = sale_for(desk, person(desk))
    for until, code in (("2026-08-12", Code.NOT_TO_SET_ASIDE), ("soon", Code.NOT_TO_SET_ASIDE)):
        with pytest.raises(Refused) as refusal:
            set_aside.set_aside(desk.house, wren(desk), desk.on(number), until)
        assert refusal.value.code is code
    pick(desk, number, "enamel-mug")
    pick(desk, number, "sun-hat")
    assert set_aside.terms_for(desk.house, desk.whole(number)).first == 660  # 20 % of 33.00
    for until, code in (
        ("soon", Code.NOT_DATE),
        ("2026-06-12", Code.SET_ASIDE_UNTIL),
        ("2029-01-01", Code.SET_ASIDE_UNTIL),
    ):
        with pytest.raises(Refused) as refusal:
            set_aside.set_aside(desk.house, wren(desk), desk.on(number), until)
        assert refusal.value.code is code
    part(desk, number, 500)
    with refuses("At least €6.60 are paid first; €5.00 are."):
        set_aside.set_aside(desk.house, wren(desk), desk.on(number), "2026-08-12")
    part(desk, number, 160)
    key = desk.key()
    for _ in range(2):
        set_aside.set_aside(desk.house, wren(desk), desk.on(number, key), "2026-08-12")
    assert (held(desk), desk.balance("liabilities:open-tickets")) == (660, 0)
    with refuses("The goods of this ticket were set aside before."):
        set_aside.set_aside(desk.house, wren(desk), desk.on(number), "2026-08-12")
    holds(desk)


def test_paid_over_days_and_handed_over(desk: Desk) -> None:
    stock.count_goods(desk.house, desk.boss, "enamel-mug", "8", "recount", desk.key())
    desk.clock.on(1)
    number = kept(desk)
    begun = desk.whole(number).head.number
    assert stock.here(desk.house, "enamel-mug") == 7  # reserved
    close_all(desk)  # it keeps no day from closing
    holds(desk)
    assert [one.amount for one in owed(desk.house, desk.boss) if one.kind == "layaway"] == [700]
    desk.clock.time += timedelta(days=1)
    opening.open_day(desk.house, desk.boss, {"galley": Float(15000), "landing": Float(12700)}, desk.key())
    part(desk, number, 1000, by="card")
    assert held(desk) == 1700
    sale_for(desk, person(desk, "Between Moe"))
    part(desk, number, 1600)
    (card,) = set_aside.cards(desk.house)
    assert (card.total, card.due, card.late) == (3300, 0, False)
    assert auto_close.free_paid(desk.house) == []
    assert desk.balance("income:sales:") == 0
    closing.free_table(desk.house, wren(desk), desk.on(number))
    assert (held(desk), desk.balance("income:sales:")) == (0, -2750)
    assert desk.whole(number).head.number > begun + 1
    assert set_aside.cards(desk.house) == []
    holds(desk)
    assert soundness(desk.house) == []


def test_cancelled_a_fee_is_kept_and_the_rest_goes_back_latest_first(desk: Desk) -> None:
    number = kept(desk)
    part(desk, number, 1000, by="card")
    with refuses("supervisor"):
        set_aside.cancel(desk.house, wren(desk), desk.on(number))
    key = desk.key()
    on = desk.on(number, key)
    for _ in range(2):  # pressed twice
        assert set_aside.cancel(desk.house, desk.boss, on) == 1530
        desk.follow()
    assert desk.charged() == 0  # the card has all of its 10.00 back
    assert held(desk) == 0 == desk.balance("liabilities:open-tickets")
    assert desk.balance("income:sales:") == -170
    assert desk.cash() == 170
    holds(desk)
    assert soundness(desk.house) == []


def test_what_is_taken_back_is_set_aside_no_more(desk: Desk) -> None:
    number = kept(desk)
    tenders.take_back(desk.house, wren(desk), desk.on(number), desk.whole(number).taken[0].id)
    assert held(desk) == 0
    desk.clock.time += timedelta(days=61)
    assert [one.late for one in set_aside.cards(desk.house)] == [True]
    holds(desk)


def test_nothing_moves_onto_it_or_away(desk: Desk) -> None:
    number, other = kept(desk), sale_for(desk, person(desk, "Other Moe"))
    pick(desk, other, "kelp-soap")
    for one, into in ((other, number), (number, other)):
        with refuses("are set aside: nothing goes onto it or away from it"):
            moving.merge(desk.house, wren(desk), desk.on(one), into)
    tenders.take_back(desk.house, wren(desk), desk.on(number), desk.whole(number).taken[0].id)
    for line in desk.whole(number).standing:
        ticket_lines.remove_line(desk.house, wren(desk), desk.on(number), line.id)
    closing.free_table(desk.house, wren(desk), desk.on(number))
    assert set_aside.cards(desk.house) == []
    holds(desk)
