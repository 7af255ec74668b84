"""Held cards: nothing is paid by holding, a hold ends once, and the books agree with the machine whatever it says."""

from __future__ import annotations

import re

import pytest

from abrazo.desk.doors import tabs
from abrazo.desk.doors.views.tabs import tab_card
from abrazo.desk.payments import card_poller, closing, tenders
from abrazo.desk.payments.holds import held_for
from abrazo.desk.tickets.change import OnTicket
from abrazo.store import tenders as tenders_store
from tests.desk.conftest import MACHINE, Desk
from tests.desk.scenes import tab
from tests.desk.tickets.test_change import add
from tests.refusals import refuses


def machine_holds(desk: Desk) -> int:
    return sum(amount for machine in desk.house.devices.machines.values() for _, amount in machine.held())


def agree(desk: Desk) -> None:
    assert desk.balance("assets:card:") == desk.charged()
    assert desk.balance("assets:held-on-cards:") == machine_holds(desk)
    assert desk.balance("") == 0


def charge_held(desk: Desk, number: int, amount: int, key: str = "") -> str:
    hold, whole = held_for(desk.house, number), desk.whole(number)
    assert hold
    payer = whole.payers[0].id
    return tabs.charge_held(
        desk.house, desk.jory, OnTicket(number, whole.head.version, key or desk.key()), payer, hold.id, amount
    )


def test_a_hold_is_nothing_paid(desk: Desk) -> None:
    number = tab(desk)
    add(desk, number, "bottle-of-cider")
    assert (desk.whole(number).bill.paid, machine_holds(desk)) == (0, 3000)
    with refuses("still to pay"):
        closing.free_table(desk.house, desk.jory, OnTicket(number, None, desk.key()))
    agree(desk)


def test_more_than_is_held_is_taken_once(desk: Desk) -> None:
    number = tab(desk)
    for _ in range(3):
        add(desk, number, "bottle-of-cider")
    assert tab_card(desk.house, desk.whole(number)).over == 720
    assert charge_held(desk, number, 3720, "one key for all") == charge_held(desk, number, 3720, "one key for all")
    desk.follow()
    assert (desk.whole(number).bill.due, held_for(desk.house, number), desk.charged()) == (0, None, 3720)
    closing.free_table(desk.house, desk.jory, OnTicket(number, None, desk.key()))
    agree(desk)


def test_a_tab_paid_otherwise_must_let_go_first(desk: Desk) -> None:
    number = tab(desk)
    add(desk, number, "bottle-of-cider")
    payer = desk.whole(number).payers[0].id
    tenders.take_cash(desk.house, desk.jory, desk.on(number), payer, tenders.Sum(1240), 1240)
    with refuses("Let it go first"):
        closing.free_table(desk.house, desk.jory, OnTicket(number, None, desk.key()))
    hold = held_for(desk.house, number)
    assert hold
    tabs.let_go(desk.house, desk.jory, OnTicket(number, None, desk.key()), hold.id)
    desk.follow()
    closing.free_table(desk.house, desk.jory, OnTicket(number, None, desk.key()))
    assert machine_holds(desk) == 0
    agree(desk)


@pytest.mark.parametrize("outcome", ["decline", "cancel", "silent, charged", "silent, not charged"])
@pytest.mark.parametrize("what", ["hold", "capture", "release"])
def test_whatever_the_machine_says(desk: Desk, what: str, outcome: str) -> None:
    """A refusal leaves everything as it was; silence is asked about until it is known; a dead process changes nothing."""
    number = tab(desk, held=0 if what == "hold" else 3000)
    add(desk, number, "bottle-of-cider")
    desk.tell(outcome)
    if what == "hold":
        reference = tabs.hold_card(desk.house, desk.jory, OnTicket(number, None, desk.key()), MACHINE, 3000)
    elif what == "capture":
        reference = charge_held(desk, number, 1240)
    else:
        hold = held_for(desk.house, number)
        assert hold
        reference = tabs.let_go(desk.house, desk.jory, OnTicket(number, None, desk.key()), hold.id)
    card_poller.follow(desk.house)
    desk.die()
    desk.follow()
    ask = tenders_store.read_request(desk.house.connection, reference)
    assert ask and ask.state == (
        "unknown" if outcome.startswith("silent") else "declined" if outcome == "decline" else "cancelled"
    )
    if ask.open:
        desk.tell("approve")
        card_poller.ask_again(desk.house, desk.jory, number, reference)
    agree(desk)
    done = outcome == "silent, charged"
    assert desk.whole(number).bill.paid == (1240 if what == "capture" and done else 0)
    assert (held_for(desk.house, number) is not None) == (done if what == "hold" else not done)


def test_of_a_card_only_brand_last_four_expiry_and_token_are_kept(desk: Desk) -> None:
    """What a hold knows of its card; and a number typed where a slip's is meant is refused and reaches no file."""
    number, canary = tab(desk), "4000 0012 3456 7899"
    hold = held_for(desk.house, number)
    assert hold and re.fullmatch("[0-9]{4}", hold.last_four) and re.fullmatch("[01][0-9]/[0-9]{2}", hold.expiry)
    assert hold.last_four not in hold.token and re.fullmatch("t[0-9a-f]{24}", hold.token)
    add(desk, number, "bottle-of-cider")
    payer = desk.whole(number).payers[0].id
    for reference in (canary, canary.replace(" ", ""), f"slip {canary}"):
        version = desk.version(number)
        with refuses("never kept"):
            tenders.record(
                desk.house,
                desk.jory,
                OnTicket(number, version, desk.key()),
                payer,
                tenders.Recorded(1240, "card elsewhere", reference),
            )
    desk.house.connection.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    kept_text = b"".join(file.read_bytes() for file in desk.folder.iterdir())
    assert canary.encode() not in kept_text and canary.replace(" ", "").encode() not in kept_text
