"""Prices by the hour touch new lines only; favourites are learned; a round comes again."""

from __future__ import annotations

from datetime import datetime

import pytest

from abrazo.desk import history
from abrazo.desk.context import NotFound
from abrazo.desk.doors import phone_orders
from abrazo.desk.payments import closing, reopening, tenders
from abrazo.desk.setup.goods import CATEGORIES
from abrazo.desk.setup.things import Change, change, everything
from abrazo.desk.tickets import adjustments, holding, moving, price_lists, starting, ticket_lines
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.ticket_lines import Picked
from abrazo.desk.tickets.views.catalogue import Sought, often_picked, pick_page
from tests.desk.conftest import Desk
from tests.desk.doors.test_phone_orders import SAID
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
    shown = {item.id: item.price for item in pick_page(desk.house, desk.tamsin, Sought("ale", "", "")).items}
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


def late(desk: Desk, hour: int = 17) -> None:
    desk.clock.time = datetime(2026, 6, 13, hour, 5)


def asked(desk: Desk, number: int) -> list[tuple[str, int, int]]:
    return [(one.label, one.then, one.now) for one in price_lists.to_ask(desk.house, desk.whole(number))]


CIDER = ("Bottle of cider", 1240, 1090)


def test_a_saved_order_is_offered_todays_prices(desk: Desk) -> None:
    number = party_of(desk, "bottle-of-cider", "lemon-posset", "bottle-of-cider")
    holding.put_aside(desk.house, desk.jory, desk.on(number), "Green anorak")
    assert asked(desk, number) == []
    adjustments.set_price(desk.house, desk.boss, desk.on(number), desk.whole(number).standing[2].id, 900)
    late(desk)
    assert asked(desk, number) == [CIDER]  # what somebody typed stays
    price_lists.take_todays(desk.house, desk.jory, desk.on(number))
    assert asked(desk, number) == []
    assert [line.unit_price for line in desk.whole(number).standing] == [1090, 620, 900]


def test_it_comes_back_by_no_other_way_before_its_prices_are_said(desk: Desk) -> None:
    number, other = party_of(desk, "bottle-of-cider"), tab(desk, held=0)
    holding.put_aside(desk.house, desk.jory, desk.on(number), "Green anorak")
    late(desk)
    line = desk.whole(number).standing[0].id
    for move in (
        lambda: moving.to_table(desk.house, desk.jory, desk.on(number), "G3"),
        lambda: moving.merge(desk.house, desk.jory, desk.on(number), other),
        lambda: moving.move_lines(desk.house, desk.jory, desk.on(number), [line], other),
    ):
        with refuses("changed while it waited, Bottle of cider among them"):
            move()
    with refuses("open it and say which prices"):
        holding.bring_back(desk.house, desk.jory, number)
    price_lists.keep_prices(desk.house, desk.jory, desk.on(number))
    assert history.of_ticket(desk.house, number)[-1].what == "Keeps its prices; others by then: Bottle of cider"
    moving.to_table(desk.house, desk.jory, desk.on(number), "G3")
    assert [line.unit_price for line in desk.whole(number).standing] == [1240]
    desk.clock.on(60)
    holding.put_aside(desk.house, desk.jory, desk.on(number), "Green anorak")
    assert asked(desk, number) == [CIDER]  # on hold once more, asked once more


def test_an_order_is_asked_for_once_a_day_and_what_is_paid_stays(desk: Desk) -> None:
    number = phone_orders.take_order_as_said(desk.house, desk.tamsin, SAID, desk.key())
    for _ in range(2):
        ticket_lines.add_line(
            desk.house, desk.tamsin, OnTicket(number, None, desk.key()), Picked("bottle-of-cider", "1")
        )
    assert asked(desk, number) == []
    late(desk)
    assert asked(desk, number) == [CIDER, CIDER]
    price_lists.keep_prices(desk.house, desk.tamsin, desk.on(number))
    assert asked(desk, number) == []
    desk.clock.time = datetime(2026, 6, 14, 17, 5)
    assert asked(desk, number) == [CIDER, CIDER]
    payer = desk.whole(number).payers[0].id
    tenders.take_cash(desk.house, desk.tamsin, desk.on(number), payer, tenders.Sum(100), 100)
    assert asked(desk, number) == []
    on, opened = desk.on(number), tenders.Sum(desk.whole(number).bill.due)
    tenders.take_cash(desk.house, desk.tamsin, on, payer, opened, opened.amount)
    closing.free_table(desk.house, desk.tamsin, desk.on(number))
    reopening.reopen(desk.house, desk.boss, desk.on(number), "wrong price")
    assert asked(desk, number) == []
    for payment in desk.whole(number).taken:
        tenders.take_back(desk.house, desk.boss, desk.on(number), payment.id)
    assert asked(desk, number) == [CIDER, CIDER]


def test_a_category_of_others_is_not_offered_and_is_found_all_the_same(both: Desk) -> None:
    categories = [id for id, one in everything(both.house, CATEGORIES).items() if not one["parent"]]
    first, second = categories[:2]
    own = pick_page(both.house, both.tamsin, Sought(first)).items[0]
    for id, typed in ((first, {"tills": [both.of.second_till]}), (second, {"roles": ["supervisor"]})):
        change(both.house, both.boss, CATEGORIES, Change(id, typed), both.key())
    both.house.forget()
    elsewhere = both.actor(both.of.clerk, both.of.second_till)
    shown = {
        name: {one.id for one in pick_page(both.house, actor, Sought()).categories} & {first, second}
        for name, actor in (("clerk", both.tamsin), ("elsewhere", elsewhere), ("boss", both.boss))
    }
    assert shown == {"clerk": set(), "elsewhere": {first}, "boss": {second}}
    assert pick_page(both.house, both.tamsin, Sought(first)).category != first  # nor by its address
    assert own.id in [one.id for one in pick_page(both.house, both.tamsin, Sought(q=own.name)).items]
    for id in categories:
        change(both.house, both.boss, CATEGORIES, Change(id, {"roles": ["craftsman"]}), both.key())
    both.house.forget()
    assert len(pick_page(both.house, both.tamsin, Sought()).categories) > 1  # never nothing
