"""Goods in variants: a search or scan that fits several asks which; what is there follows what is sold."""

from __future__ import annotations

import pytest

from abrazo.core.errors import Refused
from abrazo.demo.house import code_of
from abrazo.desk.overview.finder import find
from abrazo.desk.stock import stock
from abrazo.desk.tickets import starting, ticket_lines
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.ticket_lines import Picked
from abrazo.desk.tickets.views.catalogue import pick_page
from abrazo.desk.tickets.views.goods import shelf_list
from tests.desk.conftest import Desk


def test_what_fits_several_asks_which(desk: Desk) -> None:
    tiles = [item.id for item in pick_page(desk.house, "shop", "", "").items]
    assert "family:dry-bag" in tiles
    assert not any(id.startswith("dry-bag") for id in tiles)
    found = pick_page(desk.house, "", "teal bag", "").items
    assert [(item.name, item.price, item.variants) for item in found] == [("Dry bag", 1900, 3)]
    assert [item.id for item in pick_page(desk.house, "", "m, red", "").items] == ["dry-bag-m-red"]
    page = pick_page(desk.house, "", "teal", "family:dry-bag")
    assert page.family is not None
    assert [(kind.size, kind.colour) for kind in page.family.kinds] == [("S", "teal"), ("M", "teal"), ("L", "teal")]
    assert len(find(desk.house, code_of(170)).items) == 6
    assert find(desk.house, code_of(173)).goes_to == ("item", "dry-bag-m-red")
    assert pick_page(desk.house, "", "", "family:nothing").family is None


def test_what_is_there_is_the_count_less_what_stands_since(desk: Desk) -> None:
    bag = "dry-bag-l-teal"

    def left() -> str:
        page = pick_page(desk.house, "", "", "family:dry-bag")
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
