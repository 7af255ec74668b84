"""Counter mode: one sale after the other, undo until the next begins, and nobody leaves who may not."""

from __future__ import annotations

import pytest

from abrazo.core.errors import Code, Refused
from abrazo.desk.context import Actor
from abrazo.desk.doors import counter, counter_hold
from abrazo.desk.overview.day_end import day_end
from abrazo.desk.payments import tenders
from abrazo.desk.tickets import adjustments, counter_lock, customer, holding, prep, starting, ticket_lines
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.ticket_lines import Picked
from tests.desk.conftest import Desk
from tests.desk.payments.test_corrections import odile
from tests.desk.scenes import lent, person, tab
from tests.refusals import refuses


def pick(desk: Desk, item: str = "lemon-posset", key: str = "") -> int:
    return counter.pick(desk.house, desk.jory, Picked(item), key or desk.key())


def test_a_note_pays_and_the_next_item_begins_the_next_sale(desk: Desk) -> None:
    first = pick(desk)
    assert pick(desk) == first
    due = desk.whole(first).bill.due
    version = desk.version(first)
    assert (
        len(
            {counter.take_note(desk.house, desk.jory, OnTicket(first, version, "pressed twice"), due) for _ in range(2)}
        )
        == 1
    )
    sale = counter.sale_of(desk.house, desk.jory)
    assert sale is not None and sale.head.id == first and counter.is_paid(sale)
    second = pick(desk, key="another key, pressed twice")
    assert pick(desk, key="another key, pressed twice") == second != first
    assert (desk.whole(first).head.state, len(desk.whole(second).standing)) == ("closed", 1)
    assert desk.balance("liabilities:open-tickets") == 0


def test_a_payment_is_taken_back_before_the_next_begins(desk: Desk) -> None:
    number = pick(desk)
    due = desk.whole(number).bill.due
    paid = counter.take_note(desk.house, desk.jory, desk.on(number), due + 500)
    assert desk.whole(number).taken[0].change == 500
    tenders.take_back(desk.house, desk.jory, desk.on(number), paid)
    assert desk.whole(number).bill.due == due
    assert pick(desk) == number
    with refuses("does not cover"):
        counter.take_note(desk.house, desk.jory, desk.on(number), 1)


def test_somebody_elses_sale_and_another_tills_are_left_alone(desk: Desk) -> None:
    number = pick(desk)
    assert counter.sale_of(desk.house, desk.tamsin) is None
    there = Actor(desk.jory.staff, desk.house.tills()["landing"])
    assert counter.sale_of(desk.house, there) is None
    assert counter.pick(desk.house, there, Picked("lemon-posset"), desk.key()) != number


def test_a_discount_at_one_touch_and_off_again(desk: Desk) -> None:
    number = pick(desk, "cardamom-bun")
    due = desk.whole(number).bill.due
    counter.give(desk.house, desk.jory, desk.on(number), "regular")
    (given,) = desk.whole(number).given
    assert (desk.whole(number).bill.due, adjustments.for_one_touch(desk.house, desk.whole(number))) == (
        due * 9 // 10,
        [],
    )
    counter.give_up(desk.house, desk.jory, desk.on(number), given.id)
    assert desk.whole(number).bill.due == due
    other = starting.open_counter(desk.house, desk.tamsin, desk.key())
    with refuses("not the sale in work"):
        counter.give(desk.house, desk.jory, desk.on(other), "regular")


def test_what_is_refused_begins_no_sale_and_closes_none(desk: Desk) -> None:
    wrong = Picked("fish-soup")  # without its bread
    with refuses("bread"):
        counter.pick(desk.house, desk.jory, wrong, desk.key())
    assert counter.sale_of(desk.house, desk.jory) is None
    number = pick(desk)
    counter.take_note(desk.house, desk.jory, desk.on(number), 5000)
    for picked in (wrong, Picked("lemon-posset", "0"), Picked("lemon-posset", "a few")):
        with pytest.raises(Refused):
            counter.pick(desk.house, desk.jory, picked, desk.key())
    sale = counter.sale_of(desk.house, desk.jory)
    assert sale is not None and (sale.head.id, sale.head.state) == (number, "open")


def test_somebodys_own_sale_waits_for_its_end(desk: Desk) -> None:
    number = pick(desk)
    customer.set_person(desk.house, desk.jory, desk.on(number), person(desk))
    counter.take_note(desk.house, desk.jory, desk.on(number), 5000)
    counter.close_paid(desk.house, desk.jory, desk.key())
    counter.close_all_paid(desk.house, desk.boss, desk.key())
    assert pick(desk) != number
    assert desk.whole(number).head.state == "open"


def test_what_is_sent_first_is_not_sent_again_by_paying(desk: Desk) -> None:
    number = pick(desk)
    counter.send(desk.house, desk.jory, desk.on(number))
    assert prep.sent_to(desk.house, number) == ("kitchen",)
    counter.take_note(desk.house, desk.jory, desk.on(number), 5000)
    assert prep.to_send(prep.unsent(desk.house, desk.whole(number))) is None


def test_the_day_closes_over_a_paid_sale(desk: Desk) -> None:
    number = pick(desk)
    with_a_sale_due = len(day_end(desk.house, desk.boss).tickets)
    counter.take_note(desk.house, desk.jory, desk.on(number), 5000)
    assert len(day_end(desk.house, desk.boss).tickets) == with_a_sale_due - 1
    counter.close_all_paid(desk.house, desk.boss, desk.key())
    assert desk.whole(number).head.state == "closed"


def test_leaving_closes_what_is_paid(desk: Desk) -> None:
    number = pick(desk)
    counter.close_paid(desk.house, desk.jory, desk.key())
    assert desk.whole(number).head.state == "open"
    counter.take_note(desk.house, desk.jory, desk.on(number), desk.whole(number).bill.due)
    counter.close_paid(desk.house, desk.jory, desk.key())
    assert desk.whole(number).head.state == "closed"


def test_a_till_is_locked_by_anybody_and_let_out_by_a_supervisor(desk: Desk) -> None:
    counter.hold_till(desk.house, desk.jory, True)
    held = counter_lock.held_to_counter(desk.house, desk.tamsin)
    assert held and held.code == Code.TILL_LOCKED
    assert not counter.may_go(desk.house, desk.jory, "/past", None)
    assert counter.may_go(desk.house, desk.jory, "/display", None)  # the guests' own screen stays
    assert not counter.may_go(desk.house, desk.jory, "/tickets/1", 1)
    own = pick(desk)
    assert counter.may_go(desk.house, desk.jory, f"/tickets/{own}", own)
    with refuses("supervisor"):
        counter.hold_till(desk.house, desk.jory, False)
    counter.hold_till(desk.house, lent(desk, desk.jory), False)
    assert counter_lock.held_to_counter(desk.house, desk.tamsin) is None


def test_a_person_is_held_by_a_supervisor_only(desk: Desk) -> None:
    with pytest.raises(Refused):
        counter.hold_person(desk.house, desk.tamsin, "jory", True)
    counter.hold_person(desk.house, odile(desk), "jory", True)
    assert counter_lock.held_to_counter(desk.house, desk.jory) and not counter_lock.held_to_counter(
        desk.house, desk.tamsin
    )
    with refuses("not held"):
        counter.hold_person(desk.house, odile(desk), "odile", True)
    held, table = tab(desk, "Ro", 0), starting.seat(desk.house, desk.tamsin, "G2", 1, desk.key())
    assert [one.head.id for one in counter.open_tabs(desk.house)] == [held]
    assert counter.may_go(desk.house, desk.jory, f"/tickets/{held}", held)
    assert counter.may_go(desk.house, desk.jory, "/tabs/new", None)
    assert not counter.may_go(desk.house, desk.jory, f"/tickets/{table}", table)
    counter.hold_till(desk.house, desk.jory, True)
    assert not counter.may_go(desk.house, desk.jory, f"/tickets/{held}", held)  # a locked till only sells


def test_a_sale_on_which_nothing_was_done_is_taken_up_again(desk: Desk) -> None:
    """Begun and left, it does not stand about until the day is closed."""
    first = counter.begin(desk.house, desk.jory, "one key, pressed twice")
    assert counter.begin(desk.house, desk.jory, "one key, pressed twice") == first
    assert (
        counter.begin(desk.house, desk.jory, desk.key()) == first != counter.begin(desk.house, desk.tamsin, desk.key())
    )
    ticket_lines.add_line(desk.house, desk.jory, desk.on(first), Picked("lemon-posset"))
    second = counter.begin(desk.house, desk.jory, desk.key())
    assert second != first == counter.begin(desk.house, desk.jory, "one key, pressed twice")


def test_a_sale_on_hold_comes_back_to_whoever_takes_it_up(desk: Desk) -> None:
    """The same held sale, changed in place; what was in work waits; another person at the till serves it on."""
    first = pick(desk)
    counter_hold.put_by(desk.house, desk.jory, desk.on(first))
    assert counter.sale_of(desk.house, desk.jory) is None
    second = pick(desk, "ginger-parkin")
    with refuses("another sale|sale in work|other sale"):
        counter_hold.put_by(desk.house, desk.jory, desk.on(first))
    counter_hold.bring_back(desk.house, desk.jory, desk.on(first))
    sale = counter.sale_of(desk.house, desk.jory)
    assert sale is not None and (sale.head.id, sale.head.name) == (first, None)
    assert [one.id for one in counter_hold.waiting(desk.house, desk.jory)] == [second]
    there = Actor(desk.jory.staff, desk.house.tills()["landing"])
    assert counter_hold.waiting(desk.house, there) == []
    counter_hold.bring_back(desk.house, desk.tamsin, desk.on(second))
    taken_up = counter.sale_of(desk.house, desk.tamsin)
    assert taken_up is not None and (taken_up.head.id, taken_up.head.staff) == (second, "tamsin")
    line = sale.standing[0]
    counter.change_line(desk.house, desk.jory, desk.on(first), line.id, Picked(line.item, "2", note="cold"))
    now = counter.sale_of(desk.house, desk.jory)
    assert now is not None and (now.standing[0].quantity, now.standing[0].note) == ("2", "cold")


def test_nothing_moves_for_what_does_not_wait(desk: Desk) -> None:
    """A table's ticket, another till's sale, one whose prices were not said: the sale in work stays where it is."""
    table = starting.seat(desk.house, desk.tamsin, "G1", 2, desk.key())
    there = Actor(desk.jory.staff, desk.house.tills()["landing"])
    away = counter.pick(desk.house, there, Picked("lemon-posset"), desk.key())
    counter_hold.put_by(desk.house, there, desk.on(away))
    mine = pick(desk)
    own = customer.open_sale(desk.house, desk.jory, person(desk, "Petra Moe"), desk.key())
    holding.put_aside(desk.house, desk.jory, desk.on(own), "Petra Moe")
    for other in (table, away, own):
        with refuses("not the sale in work"):
            counter_hold.bring_back(desk.house, desk.jory, desk.on(other))
    assert desk.whole(table).head.staff == "tamsin"
    counter_hold.bring_back(desk.house, desk.jory, desk.on(mine))  # it is there already
    sale = counter.sale_of(desk.house, desk.jory)
    assert sale is not None and sale.head.id == mine and sale.head.held_at is None


def test_a_sale_that_waited_under_a_name_is_the_sale_in_work_again(desk: Desk) -> None:
    first = pick(desk)
    holding.put_aside(desk.house, desk.jory, desk.on(first), "Green anorak")
    pick(desk, "ginger-parkin")
    counter_hold.bring_back(desk.house, desk.jory, desk.on(first))
    sale = counter.sale_of(desk.house, desk.jory)
    assert sale is not None and (sale.head.id, sale.head.name) == (first, "Green anorak")
    assert pick(desk, "ginger-parkin") == first
