"""Prices by the hour touch new lines only; favourites are learned; a round comes again."""

from __future__ import annotations

from datetime import datetime

import pytest

from abrazo.desk.context import NotFound
from abrazo.desk.tickets import holding, price_lists, starting, ticket_lines
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.ticket_lines import Picked
from abrazo.desk.tickets.views.catalogue import often_picked, pick_page
from tests.desk.conftest import Desk
from tests.desk.scenes import tab
from tests.desk.tickets.test_adjustments import party
from tests.refusals import refuses


def test_the_change_at_five_touches_new_lines_only(desk: Desk) -> None:
    desk.clock.time = datetime(2026, 6, 13, 16, 59)
    number = party(desk, "bottle-of-cider")
    desk.clock.on(60)
    ticket_lines.add_line(desk.house, desk.tamsin, OnTicket(number, None, desk.key()), Picked("bottle-of-cider"))
    ticket_lines.add_line(desk.house, desk.tamsin, OnTicket(number, None, desk.key()), Picked("lemon-posset"))
    before, after, other = desk.whole(number).standing
    assert (before.price_list, after.price_list, other.price_list) == ("", "Late tide", "")
    assert after.unit_price == 1090 < before.unit_price
    shown = {item.id: item.price for item in pick_page(desk.house, "ale", "", "").items}
    assert shown["bottle-of-cider"] == 1090


def test_a_list_chosen_by_hand_holds_whatever_the_hour(desk: Desk) -> None:
    number = party(desk, "bottle-of-cider")
    usual = desk.whole(number).standing[0].unit_price
    price_lists.choose_list(desk.house, desk.tamsin, desk.on(number), "late-tide")
    ticket_lines.add_line(desk.house, desk.tamsin, OnTicket(number, None, desk.key()), Picked("bottle-of-cider"))
    desk.clock.time = datetime(2026, 6, 13, 18, 0)
    price_lists.choose_list(desk.house, desk.tamsin, desk.on(number), "usual")
    ticket_lines.add_line(desk.house, desk.tamsin, OnTicket(number, None, desk.key()), Picked("bottle-of-cider"))
    assert [line.unit_price for line in desk.whole(number).standing] == [usual, 1090, usual]
    with pytest.raises(NotFound):
        price_lists.choose_list(desk.house, desk.tamsin, desk.on(number), "no-such")


def test_favourites_are_what_was_picked_most(desk: Desk) -> None:
    for _ in range(3):
        party_of(desk, "still-water-bottle", "lemon-posset")
    party_of(desk, "lemon-posset")
    assert [item.id for item in often_picked(desk.house)][:2] == ["lemon-posset", "still-water-bottle"]


def party_of(desk: Desk, *items: str) -> int:
    number = starting.open_counter(desk.house, desk.jory, desk.key())
    for item in items:
        ticket_lines.add_line(desk.house, desk.jory, OnTicket(number, None, desk.key()), Picked(item))
    return number


def test_a_round_comes_again_once_with_todays_prices(desk: Desk) -> None:
    number = tab(desk, held=0)
    picked = Picked("estuary-pale-ale", "2", ("pint-2",), note="cold glass")
    ticket_lines.add_line(desk.house, desk.jory, OnTicket(number, None, desk.key()), picked)
    first = desk.whole(number).standing[0]
    desk.clock.time = datetime(2026, 6, 13, 17, 30)
    for _ in range(2):
        version = desk.version(number)
        ticket_lines.add_again(desk.house, desk.jory, OnTicket(number, version, "one key, pressed twice"), [first.id])
    again = desk.whole(number).standing
    assert len(again) == 2
    assert (again[1].quantity, again[1].choices, again[1].note) == ("2", first.choices, "cold glass")
    assert (again[1].unit_price, again[1].price_list) == (320, "Late tide")
    ticket_lines.add_unlisted(desk.house, desk.jory, desk.on(number), "Ice", 100, "food")
    with refuses("Pick it anew"):
        ticket_lines.add_again(desk.house, desk.jory, desk.on(number), [desk.whole(number).standing[2].id])


def test_a_saved_order_is_offered_todays_prices(desk: Desk) -> None:
    number = party_of(desk, "bottle-of-cider", "lemon-posset")
    holding.put_aside(desk.house, desk.jory, desk.on(number), "Green anorak")
    assert price_lists.changed_since(desk.house, desk.whole(number)) == []
    desk.clock.time = datetime(2026, 6, 13, 17, 5)
    changed = price_lists.changed_since(desk.house, desk.whole(number))
    assert [(one.label, one.now) for one in changed] == [("Bottle of cider", 1090)]
    price_lists.take_todays(desk.house, desk.jory, desk.on(number))
    assert price_lists.changed_since(desk.house, desk.whole(number)) == []
    assert desk.whole(number).standing[0].unit_price == 1090
