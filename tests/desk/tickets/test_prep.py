"""Kitchen and bar are told each thing once; what is taken off after that is stopped; the queue runs by age."""

from __future__ import annotations

import random
from collections import Counter
from fractions import Fraction

import pytest

from abrazo.core.errors import Refused
from abrazo.core.journal import Kind
from abrazo.core.states import Source
from abrazo.desk.doors import tabs
from abrazo.desk.output import outbox
from abrazo.desk.payments import accounts, closing, reopening, tenders
from abrazo.desk.payments.holds import held_for
from abrazo.desk.setup import house_settings, things
from abrazo.desk.setup.house_settings import ONE, SETTINGS, THINGS
from abrazo.desk.setup.things import latest_changes, undo
from abrazo.desk.tickets import adjustments, prep, starting, ticket_lines
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.ticket_lines import Picked
from abrazo.desk.tickets.views.prep import queue_of
from abrazo.store import prep as prep_store
from abrazo.store import set_up
from tests.desk.conftest import MACHINE, Desk
from tests.desk.payments.test_corrections import odile
from tests.desk.scenes import lent, person
from tests.desk.test_both_houses import sale
from tests.desk.tickets.test_adjustments import party
from tests.refusals import refuses


def told(desk: Desk, number: int) -> dict[int, Fraction]:
    return {line: left for line, left in prep_store.told(desk.house.connection, number).items() if left}


def go(desk: Desk, number: int, *lines: int, key: str = "") -> int:
    return prep.send(desk.house, desk.tamsin, desk.on(number, key or desk.key()), lines)


def test_each_line_is_sent_once_to_its_place(desk: Desk) -> None:
    number = party(desk, "clam-and-leek-pot", "bottle-of-cider")
    assert {go(desk, number, key="one key, pressed twice") for _ in range(2)} == {2}
    with refuses("sent already"):
        go(desk, number)
    ticket_lines.add_line(
        desk.house, desk.tamsin, OnTicket(number, None, desk.key()), Picked("lemon-posset", "2", note="no cream")
    )
    assert go(desk, number) == 1
    kitchen, bar = (queue_of(desk.house, place).cards for place in ("kitchen", "bar"))
    assert [[(one.quantity, one.words) for one in card.slip.lines] for card in kitchen] == [
        [("1", "Clam and leek pot")],
        [("2", "Lemon posset “no cream”")],
    ]
    assert ([card.spot for card in bar], [card.slip.course for card in kitchen]) == (["Table G2"], [1, 2])
    outbox.send_waiting(desk.house)
    paper = (desk.folder / "house-paper.txt").read_text("utf-8")
    assert "Kitchen" in paper and "Table G2" in paper and "2 x Lemon posset" in paper
    assert "Kitchen, course 2" in paper


def test_a_course_is_sent_by_itself(desk: Desk) -> None:
    number = party(desk, "clam-and-leek-pot", "lemon-posset")
    first, second = desk.whole(number).standing
    go(desk, number, first.id)
    assert [one.line.id for one in prep.unsent(desk.house, desk.whole(number))] == [second.id]


def waiting(desk: Desk, place: str = "kitchen") -> int:
    return len(queue_of(desk.house, place).cards)


@pytest.mark.parametrize("how", ["cash", "card", "held card", "account", "comp"])
def test_paying_sends_what_was_not_sent(desk: Desk, how: str) -> None:
    """With the payment after which nothing is left to pay, by every way; closed without one, it goes out with that."""
    who = person(desk, company="yes")
    door = starting.TicketOrigin(Source.COUNTER, who, "Rowers", ("Rowers",))
    number = starting.open_ticket(desk.house, desk.tamsin, door, starting.Beginning(Kind.COUNTER_SALE), desk.key())
    ticket_lines.add_line(desk.house, desk.tamsin, desk.on(number), Picked("clam-and-leek-pot", "2"))
    payer, due, before = desk.whole(number).payers[0].id, desk.whole(number).bill.due, waiting(desk)
    if how == "comp":
        line = desk.whole(number).standing[0].id
        wanted = adjustments.Wanted(kind="comp", percent="100", reason="for the crew")
        adjustments.give(desk.house, odile(desk), desk.on(number), line, wanted)
        closing.free_table(desk.house, odile(desk), OnTicket(number, None, desk.key()))
    elif how == "account":
        accounts.put_on_account(desk.house, desk.tamsin, desk.on(number), payer, accounts.Leave(due))
    else:
        tenders.take_cash(desk.house, desk.tamsin, desk.on(number), payer, tenders.Sum(500), 500)
        assert waiting(desk) == before  # a part of it is no reason yet
        if how == "cash":
            tenders.take_cash(desk.house, desk.tamsin, desk.on(number), payer, tenders.Sum(due - 500), due)
        elif how == "held card":
            tabs.hold_card(desk.house, desk.tamsin, OnTicket(number, None, desk.key()), MACHINE, due)
            desk.follow()
            hold = held_for(desk.house, number)
            assert hold
            tabs.charge_held(desk.house, desk.tamsin, desk.on(number), payer, hold.id, due - 500)
        else:
            tenders.ask_card(desk.house, desk.tamsin, desk.on(number), payer, MACHINE, tenders.Sum(due - 500))
        desk.follow()
    assert waiting(desk) == before + 1
    assert list(told(desk, number).values()) == [2]
    if how != "comp":
        closing.free_table(desk.house, desk.tamsin, OnTicket(number, None, desk.key()))
    assert waiting(desk) == before + 1


def test_what_was_had_before_a_ticket_was_opened_again_is_not_made_once_more(desk: Desk) -> None:
    number = party(desk, "clam-and-leek-pot")
    payer, due = desk.whole(number).payers[0].id, desk.whole(number).bill.due
    tenders.take_cash(desk.house, desk.tamsin, desk.on(number), payer, tenders.Sum(due), due)
    closing.free_table(desk.house, desk.tamsin, OnTicket(number, None, desk.key()))
    desk.house.connection.execute("DELETE FROM prep_slip_line")  # a version that did not send with the payment
    desk.clock.on(60)
    reopening.reopen(desk.house, odile(desk), OnTicket(number, None, desk.key()), "forgot one")
    ticket_lines.add_line(desk.house, desk.tamsin, OnTicket(number, None, desk.key()), Picked("lemon-posset"))
    assert [one.line.label for one in prep.unsent(desk.house, desk.whole(number))] == ["Lemon posset"]


def test_what_is_taken_off_after_it_was_sent_is_stopped(desk: Desk) -> None:
    number = party(desk, "clam-and-leek-pot")
    line = desk.whole(number).standing[0]
    ticket_lines.set_quantity(desk.house, desk.tamsin, desk.on(number), line.id, "3")
    go(desk, number)
    ticket_lines.set_quantity(desk.house, lent(desk), desk.on(number), line.id, "2", "spilt")
    ticket_lines.remove_line(desk.house, lent(desk), desk.on(number), line.id, "spilt")
    stops = [card.slip for card in queue_of(desk.house, "kitchen").cards if card.slip.kind == "stop"]
    assert [[one.quantity for one in slip.lines] for slip in stops] == [["1"], ["2"]]
    unsent = party_removed(desk)
    assert all(card.slip.ticket != unsent for card in queue_of(desk.house, "kitchen").cards)


def party_removed(desk: Desk) -> int:
    """A line that was never sent and is taken off again: nobody hears of it."""
    number = starting.seat(desk.house, desk.tamsin, "G4", 2, desk.key())
    ticket_lines.add_line(desk.house, desk.tamsin, OnTicket(number, None, desk.key()), Picked("clam-and-leek-pot"))
    ticket_lines.remove_line(desk.house, desk.tamsin, desk.on(number), desk.whole(number).standing[0].id)
    return number


def test_at_once_needs_no_sending(desk: Desk) -> None:
    with pytest.raises(Refused):
        prep.set_sending(desk.house, desk.tamsin, "at once")
    prep.set_sending(desk.house, odile(desk), "at once")
    number = party(desk, "clam-and-leek-pot", "bottle-of-cider")
    assert prep.unsent(desk.house, desk.whole(number)) == []
    assert queue_of(desk.house, "bar").counts == {"kitchen": 1, "bar": 1}
    change = latest_changes(desk.house, SETTINGS, ONE)[0]
    assert things.told(desk.house, SETTINGS, change) == [("send_at_once", "no", "yes")]
    undo(desk.house, odile(desk), THINGS, change.id)
    assert not prep.sends_at_once(desk.house)


def test_done_and_called_back(desk: Desk) -> None:
    number = party(desk, "clam-and-leek-pot")
    go(desk, number)
    slip = queue_of(desk.house, "kitchen").cards[0].slip.id
    for _ in range(2):
        prep.done(desk.house, desk.jory, slip)
    assert (queue_of(desk.house, "kitchen").cards, len(queue_of(desk.house, "kitchen").done)) == ([], 1)
    prep.recall(desk.house, desk.jory, slip)
    assert [card.slip.id for card in queue_of(desk.house, "kitchen").cards] == [slip]


@pytest.mark.parametrize("seed", range(8))
def test_places_make_what_stands_on_the_ticket(desk: Desk, seed: int) -> None:
    """Through any picking, changing, removing and sending, what places were told is what was sent and still stands."""
    chance, number, sent = random.Random(seed), party(desk, "clam-and-leek-pot"), Counter[int]()
    for _ in range(25):
        lines = desk.whole(number).standing
        act = chance.choice(["add", "send", "course", "fewer", "remove"])
        if act == "add" or not lines:
            picked = Picked(chance.choice(["lemon-posset", "bottle-of-cider"]), str(chance.randint(1, 4)))
            ticket_lines.add_line(desk.house, desk.tamsin, OnTicket(number, None, desk.key()), picked)
        elif act in ("send", "course"):
            some = [chance.choice(lines).id] if act == "course" else []
            if any(one.line.id in some or not some for one in prep.unsent(desk.house, desk.whole(number))):
                go(desk, number, *some)
            sent.update({line.id: int(line.quantity) - sent[line.id] for line in lines if line.id in some or not some})
        else:
            line = chance.choice(lines)
            left = chance.randint(1, 4) if act == "fewer" else 0
            if left:
                ticket_lines.set_quantity(desk.house, lent(desk), desk.on(number), line.id, str(left), "spilt")
            else:
                ticket_lines.remove_line(desk.house, lent(desk), desk.on(number), line.id, "spilt")
            sent[line.id] = min(sent[line.id], left)
        assert told(desk, number) == {line: many for line, many in sent.items() if many}


def test_where_orders_are_prepared_is_the_houses(both: Desk) -> None:
    house_settings.decide(both.house, both.boss, "prep_places", "Smoke/hut; counter")
    both.house.forget()
    assert both.house.settings.prepared_at == ("smoke hut", "counter")
    set_up.put(both.house.connection, "item", both.of.goods, {"place": "counter"})
    number = sale(both, [both.of.goods, both.of.food])  # the food's place is none any more
    assert [one.place for one in prep.unsent(both.house, both.whole(number))] == ["counter"]
    assert prep.send(both.house, both.tamsin, both.on(number), ()) == 1
    assert queue_of(both.house, "counter").counts == {"smoke hut": 0, "counter": 1}
    house_settings.decide(both.house, both.boss, "prep_places", "")
    both.house.forget()
    assert not both.house.settings.prepared_at
    assert not prep.unsent(both.house, both.whole(sale(both, [both.of.goods])))
