"""Held cards: nothing is paid by holding, a hold ends once, and the books agree with the machine whatever it says."""

from __future__ import annotations

import pytest

from abrazo.core.errors import Refused
from abrazo.desk import tenders, ticket
from abrazo.desk.look.tabs import held_for, tab_card
from abrazo.store import tenders as kept
from tests.desk.conftest import MACHINE, Desk
from tests.desk.doors import tab
from tests.desk.test_ticket import add


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
    return tenders.charge_held(
        desk.house, desk.jory, number, whole.head.version, payer, hold.id, amount, key or desk.key()
    )


def test_a_hold_is_nothing_paid(desk: Desk) -> None:
    number = tab(desk)
    add(desk, number, "bottle-of-cider")
    assert (desk.whole(number).bill.paid, machine_holds(desk)) == (0, 3000)
    with pytest.raises(Refused, match="still to pay"):
        ticket.free_table(desk.house, desk.jory, number, None, desk.key())
    agree(desk)


def test_more_than_is_held_is_taken_once(desk: Desk) -> None:
    number = tab(desk)
    for _ in range(3):
        add(desk, number, "bottle-of-cider")
    assert tab_card(desk.house, desk.whole(number)).over == 720
    assert charge_held(desk, number, 3720, "one key for all") == charge_held(desk, number, 3720, "one key for all")
    desk.follow()
    assert (desk.whole(number).bill.due, held_for(desk.house, number), desk.charged()) == (0, None, 3720)
    ticket.free_table(desk.house, desk.jory, number, None, desk.key())
    agree(desk)


def test_a_tab_paid_otherwise_must_let_go_first(desk: Desk) -> None:
    number = tab(desk)
    add(desk, number, "bottle-of-cider")
    payer = desk.whole(number).payers[0].id
    tenders.take_cash(desk.house, desk.jory, number, desk.version(number), payer, 1240, 1240, desk.key())
    with pytest.raises(Refused, match="Let it go first"):
        ticket.free_table(desk.house, desk.jory, number, None, desk.key())
    hold = held_for(desk.house, number)
    assert hold
    tenders.let_go(desk.house, desk.jory, number, hold.id, desk.key())
    desk.follow()
    ticket.free_table(desk.house, desk.jory, number, None, desk.key())
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
        reference = tenders.hold_card(desk.house, desk.jory, number, MACHINE, 3000, desk.key())
    elif what == "capture":
        reference = charge_held(desk, number, 1240)
    else:
        hold = held_for(desk.house, number)
        assert hold
        reference = tenders.let_go(desk.house, desk.jory, number, hold.id, desk.key())
    tenders.follow(desk.house)
    desk.die()
    desk.follow()
    ask = kept.read_ask(desk.house.connection, reference)
    assert ask and ask.state == (
        "unknown" if outcome.startswith("silent") else "declined" if outcome == "decline" else "cancelled"
    )
    if ask.open:
        desk.tell("approve")
        tenders.ask_again(desk.house, reference)
    agree(desk)
    done = outcome == "silent, charged"
    assert desk.whole(number).bill.paid == (1240 if what == "capture" and done else 0)
    assert (held_for(desk.house, number) is not None) == (done if what == "hold" else not done)


def test_no_card_number_is_kept_anywhere(desk: Desk) -> None:
    tab(desk)
    desk.house.connection.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    for file in desk.folder.iterdir():
        digits = "".join(c if c.isdigit() else " " for c in file.read_bytes().decode("latin-1"))
        assert not any(13 <= len(run) <= 19 and not run.startswith("21") for run in digits.split() if "." not in run), (
            file.name
        )
