"""Lines changed in place, a ticket cleared, and tables that free themselves."""

from __future__ import annotations

import pytest

from abrazo.core.errors import Refused
from abrazo.core.tenders import cash_due
from abrazo.desk.context import Actor
from abrazo.desk.output.views.receipt import receipt_of
from abrazo.desk.payments import tenders
from abrazo.desk.setup import house_settings
from abrazo.desk.tickets import line_changes, prep, sharing, starting, ticket_lines
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.ticket_lines import Picked
from abrazo.desk.tickets.views.prep import queue_of
from abrazo.worker import auto_close
from tests.desk.conftest import Desk
from tests.desk.tickets.test_change import add
from tests.refusals import refuses


def test_choices_and_note_change_in_place_and_the_kitchen_hears_of_it(desk: Desk) -> None:
    number = starting.seat(desk.house, desk.tamsin, "G2", 2, desk.key())
    soup = Picked("fish-soup", "2", ("bread-1",), ("A",), "hot")
    ticket_lines.add_line(desk.house, desk.tamsin, OnTicket(number, None, desk.key()), soup)
    prep.send(desk.house, desk.tamsin, OnTicket(number, None, desk.key()), ())
    line = desk.whole(number).standing[0]
    assert line_changes.chosen_of(desk.house, line) == ("bread-1",)
    act = (desk.house, desk.tamsin)
    desk.clock.time = desk.clock.time.replace(hour=22, minute=30)  # the soup costs more by now; this one does not
    with refuses("bread first"):
        line_changes.change_line(*act, desk.on(number), line.id, Picked("fish-soup", "2", (), ("A",)))
    now = Picked("fish-soup", "2", ("bread-3", "out-1"), ("A",), "no hurry", "jory")
    line_changes.change_line(*act, desk.on(number), line.id, now)
    changed = desk.whole(number).standing[0]
    assert (changed.unit_price, changed.note, changed.staff) == (line.unit_price, "no hurry", "jory")
    assert [label for label, _ in changed.choices] == ["gluten-free", "no cream"]
    assert [slip.slip.kind for slip in queue_of(desk.house, "kitchen").cards] == ["make", "stop"]
    assert [one.quantity for one in prep.unsent(desk.house, desk.whole(number))] == ["2"]
    line_changes.change_line(*act, desk.on(number), line.id, now)  # nothing new: nothing is stopped
    assert len(queue_of(desk.house, "kitchen").cards) == 2
    with refuses("where it was booked"):
        line_changes.change_line(*act, desk.on(number), line.id, Picked("lemon-posset"))


def test_parts_by_hand_stay_when_only_a_note_changes(desk: Desk) -> None:
    number = starting.seat(desk.house, desk.tamsin, "G2", 3, desk.key())
    add(desk, number, "bottle-of-cider")
    line = desk.whole(number).standing[0].id
    act = (desk.house, desk.tamsin)
    ticket_lines.give_parts(*act, desk.on(number), line, "A 2, C 1")
    line_changes.change_line(*act, desk.on(number), line, Picked("bottle-of-cider", "1", (), ("A", "C"), "cold"))
    assert sorted(weight for _, weight in desk.whole(number).standing[0].shares) == [1, 2]


def test_a_ticket_is_cleared_once_and_not_when_something_is_paid(desk: Desk) -> None:
    number = starting.seat(desk.house, desk.tamsin, "B1", 1, desk.key())
    for item in ("apple-juice", "lemon-posset"):
        add(desk, number, item)
    line_changes.clear(desk.house, desk.tamsin, desk.on(number))
    whole = desk.whole(number)
    assert (whole.standing, len(whole.lines), whole.bill.total) == ([], 2, 0)
    add(desk, number, "apple-juice")
    payer = desk.whole(number).payers[0].id
    tenders.take_cash(desk.house, desk.tamsin, desk.on(number), payer, tenders.Sum(100), 100)
    with refuses("Take that back first"):
        line_changes.clear(desk.house, desk.tamsin, desk.on(number))


def test_a_paid_table_frees_itself_where_the_house_says_so(desk: Desk) -> None:
    odile = Actor(desk.house.staff()["odile"], desk.house.tills()["galley"])
    with refuses("supervisor"):
        house_settings.decide(desk.house, desk.tamsin, "free_after", "5")
    for bad in ("0", "five", "121", "-1"):
        with pytest.raises(Refused) as refused:
            house_settings.decide(desk.house, odile, "free_after", bad)
        assert refused.value.where == "free_after"
    number = starting.seat(desk.house, desk.tamsin, "G2", 2, desk.key())
    add(desk, number, "apple-juice", "A")
    add(desk, number, "lemon-posset", "A")
    sharing.by_seat(desk.house, desk.tamsin, desk.on(number))  # B owes nothing, and does not hold it up
    ticket_lines.remove_line(desk.house, desk.tamsin, desk.on(number), desk.whole(number).standing[1].id)
    payer = desk.whole(number).payers[0].id
    due = cash_due(desk.whole(number).payer_bill(payer).account.due, 5)
    payment = tenders.take_cash(desk.house, desk.tamsin, desk.on(number), payer, tenders.Sum(due), due)
    desk.clock.on(301)
    assert auto_close.free_paid(desk.house) == []  # by a touch
    house_settings.decide(desk.house, odile, "free_after", "5")
    tenders.take_back(desk.house, desk.tamsin, desk.on(number), payment)
    assert auto_close.free_paid(desk.house) == []
    tenders.take_cash(desk.house, desk.tamsin, desk.on(number), payer, tenders.Sum(due), due)
    desk.clock.on(299)
    assert auto_close.free_paid(desk.house) == []
    desk.clock.on(2)
    assert auto_close.free_paid(desk.house) == [number]
    assert desk.whole(number).head.state == "closed"
    words = [row[0] for row in receipt_of(desk.house, desk.whole(number), payer).rows]
    assert not any("Removed" in one for one in words)
    house_settings.decide(desk.house, odile, "show_removed", "yes")
    words = [row[0] for row in receipt_of(desk.house, desk.whole(number), payer).rows]
    assert any(one.startswith("Removed 14:2") and one.endswith("Lemon posset") for one in words)
