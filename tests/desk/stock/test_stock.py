"""Goods in variants: a search or scan that fits several asks which; what is there follows what is sold."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction

import pytest

from abrazo.core.errors import Refused
from abrazo.core.states import GoodsMove
from abrazo.demo.house import code_of
from abrazo.desk.overview.finder import find
from abrazo.desk.overview.soundness import soundness
from abrazo.desk.payments import refunds, reopening
from abrazo.desk.payments.refunds import RefundWanted
from abrazo.desk.stock import stock
from abrazo.desk.tickets import starting, ticket_lines
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.ticket_lines import Picked
from abrazo.desk.tickets.views.catalogue import Sought, pick_page
from abrazo.desk.tickets.views.goods import shelf_list
from abrazo.store import stock as stock_store
from abrazo.store.db import atomic
from abrazo.store.stock import StockMove
from tests.desk.books import holds
from tests.desk.conftest import Desk
from tests.desk.scenes import pay


def test_what_fits_several_asks_which(desk: Desk) -> None:
    tiles = [item.id for item in pick_page(desk.house, desk.tamsin, Sought("shop", "", "")).items]
    assert "family:dry-bag" in tiles
    assert not any(id.startswith("dry-bag") for id in tiles)
    found = pick_page(desk.house, desk.tamsin, Sought("", "teal bag", "")).items
    assert [(item.name, item.price, item.variants) for item in found] == [("Dry bag", 1900, 3)]
    assert [item.id for item in pick_page(desk.house, desk.tamsin, Sought("", "m, red", "")).items] == ["dry-bag-m-red"]
    page = pick_page(desk.house, desk.tamsin, Sought("", "teal", "family:dry-bag"))
    assert page.family is not None
    assert [(kind.size, kind.colour) for kind in page.family.kinds] == [("S", "teal"), ("M", "teal"), ("L", "teal")]
    assert len(find(desk.house, code_of(170)).items) == 6
    assert find(desk.house, code_of(173)).goes_to == ("item", "dry-bag-m-red")
    assert pick_page(desk.house, desk.tamsin, Sought("", "", "family:nothing")).family is None


def test_what_is_there_is_the_count_less_what_stands_since(desk: Desk) -> None:
    bag = "dry-bag-l-teal"

    def left() -> str:
        page = pick_page(desk.house, desk.tamsin, Sought("", "", "family:dry-bag"))
        assert page.family is not None
        return next(kind.left for kind in page.family.kinds if kind.item.id == bag)

    assert left() == "not counted"
    for typed, reason in (("", "recount"), ("-1", "recount"), ("1.5", "recount"), ("three", "recount"), ("3", "magic")):
        with pytest.raises(Refused):
            stock.count_goods(desk.house, desk.boss, bag, typed, reason, desk.key())
    key = desk.key()
    for _ in range(2):
        stock.count_goods(desk.house, desk.boss, bag, "3", "recount", key)
    desk.clock.on(60)
    number = starting.open_counter(desk.house, desk.tamsin, desk.key())
    ticket_lines.add_line(desk.house, desk.tamsin, OnTicket(number, None, desk.key()), Picked(bag, "2"))
    assert left() == "1 here"
    assert [kind.item.id for kind in shelf_list(desk.house) if kind.low] == [bag]
    line = desk.whole(number).standing[0]
    ticket_lines.set_quantity(desk.house, desk.tamsin, desk.on(number), line.id, "4")
    assert left() == "none left by the count"
    ticket_lines.remove_line(desk.house, desk.tamsin, desk.on(number), line.id)
    assert left() == "3 here"


def sold(desk: Desk, item: str, quantity: str) -> tuple[int, int, int]:
    """A closed ticket of one item, paid in cash: the ticket, its line, its payment."""
    number = starting.open_counter(desk.house, desk.tamsin, desk.key())
    ticket_lines.add_line(desk.house, desk.tamsin, OnTicket(number, None, desk.key()), Picked(item, quantity))
    pay(desk, number)
    whole = desk.whole(number)
    return number, whole.standing[0].id, whole.payments[0].id


def there(desk: Desk, item: str) -> str:
    return str(stock.here(desk.house, item))


def give_back(desk: Desk, number: int, wanted: RefundWanted) -> int:
    """What went back, in minor units."""
    before = desk.cash()
    refunds.refund(desk.house, desk.boss, OnTicket(number, None, desk.key()), wanted, "torn")
    return before - desk.cash()


def test_pieces_that_are_refunded_come_back_unless_they_are_not_for_sale(desk: Desk) -> None:
    bag = "dry-bag-l-teal"
    stock.count_goods(desk.house, desk.boss, bag, "5", "recount", desk.key())
    desk.clock.on(60)
    number, line, paid = sold(desk, bag, "3")
    assert there(desk, bag) == "2"
    one = RefundWanted(paid, None, [line], pieces={line: Fraction(1)})
    net = desk.whole(number).bill.total
    assert (give_back(desk, number, one), there(desk, bag)) == (net // 3, "3")
    assert (give_back(desk, number, replace(one, for_sale=False)), there(desk, bag)) == (net // 3, "3")
    for wrong in (
        replace(one, pieces={line: Fraction(2)}),
        replace(one, amount=100),
        replace(one, pieces={line: Fraction(0)}),
    ):
        with pytest.raises(Refused):
            give_back(desk, number, wrong)
    assert give_back(desk, number, RefundWanted(paid, 100, [line])) == 100
    assert there(desk, bag) == "3", "an amount brings nothing back"
    assert give_back(desk, number, RefundWanted(paid, None, [line])) == net // 3 - 100
    assert (there(desk, bag), desk.cash()) == ("4", 0)
    assert [words for words in desk.told(number) if "came back" in words]
    holds(desk)
    assert soundness(desk.house) == []


def test_what_was_sold_before_a_count_and_comes_back_after_it_is_there_again(desk: Desk) -> None:
    bag = "dry-bag-l-teal"
    number, *_ = sold(desk, bag, "2")
    desk.clock.on(60)
    stock.count_goods(desk.house, desk.boss, bag, "5", "recount", desk.key())
    desk.clock.on(60)
    assert there(desk, bag) == "5"
    reopening.void(desk.house, desk.boss, OnTicket(number, None, desk.key()), "wrong")
    assert there(desk, bag) == "7"


def test_a_movement_that_the_journal_does_not_speak_of_is_found(desk: Desk) -> None:
    bag = "dry-bag-l-teal"
    stock.count_goods(desk.house, desk.boss, bag, "5", "recount", desk.key())
    assert soundness(desk.house) == []
    with atomic(desk.house.connection):
        moved = StockMove(bag, "2026-06-13T12:00:00Z", "4", GoodsMove.BOUGHT, None, None, "odile", "landing")
        stock_store.add_move(desk.house.connection, moved)
    assert [(found.fault, found.where) for found in soundness(desk.house)] == [("stock", bag)]
