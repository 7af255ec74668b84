"""Taking money: applied once, never charged twice, and the books agree with the machines whatever happens."""

from __future__ import annotations

import random
import shutil
from collections.abc import Callable
from pathlib import Path

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from abrazo.core.errors import Code, Refused
from abrazo.core.tenders import cash_due
from abrazo.desk.context import NotFound, Stale
from abrazo.desk.history import of_ticket
from abrazo.desk.payments import card_poller, closing, silent_machines, tenders, tips
from abrazo.desk.tickets import sharing, starting, ticket_lines
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.ticket_lines import Picked
from abrazo.desk.till.business_day import in_the_way
from abrazo.desk.till.views.matching import match_day
from abrazo.store import journal
from tests.desk.conftest import MACHINE, Desk
from tests.desk.tickets.test_change import add
from tests.refusals import refuses


def one_payer(desk: Desk) -> tuple[int, int]:
    """A ticket of 9.80 and its payer."""
    number = starting.seat(desk.house, desk.tamsin, "G2", 1, desk.key())
    add(desk, number, "apple-juice")
    add(desk, number, "lemon-posset")
    return number, desk.whole(number).payers[0].id


def ask(desk: Desk, number: int, payer: int, amount: int = 980, key: str = "") -> str:
    key = key or desk.key()
    return tenders.ask_card(desk.house, desk.tamsin, desk.on(number, key), payer, MACHINE, tenders.Sum(amount))


def test_cash_twice_with_one_key_is_taken_once(desk: Desk) -> None:
    number, payer = one_payer(desk)
    version = desk.version(number)
    made = {
        tenders.take_cash(desk.house, desk.tamsin, OnTicket(number, version, "the same"), payer, tenders.Sum(980), 1000)
        for _ in range(3)
    }
    assert len(made) == len(desk.whole(number).payments) == 1
    assert (desk.whole(number).payments[0].change, desk.cash()) == (20, 980)


@pytest.mark.parametrize(
    ("tender", "reference", "where"),
    [
        ("gold", "1", ""),  # no field of the page: the page itself says so
        ("cheque", " ", "reference"),
        ("cheque", "x" * 41, "reference"),
        ("card elsewhere", "4111 1111 1111 1111", "reference"),
    ],
)
def test_what_is_recorded_needs_a_number_that_is_no_cards(desk: Desk, tender: str, reference: str, where: str) -> None:
    number, payer = one_payer(desk)
    with pytest.raises(Refused) as refusal:
        tenders.record(desk.house, desk.tamsin, desk.on(number), payer, tenders.Recorded(980, tender, reference))
    assert (refusal.value.where, desk.whole(number).bill.paid) == (where, 0)


def test_recorded_once_and_kept_apart(desk: Desk) -> None:
    """It charges nothing, stands apart in the books, keeps its route for good, and can be taken back."""
    number, payer = one_payer(desk)
    version = desk.version(number)
    made = {
        tenders.record(
            desk.house,
            desk.tamsin,
            OnTicket(number, version, "once"),
            payer,
            tenders.Recorded(980, "card elsewhere", "slip 12"),
        )
        for _ in range(3)
    }
    assert (len(made), desk.charged(), desk.balance("assets:recorded:card-elsewhere")) == (1, 0, 980)
    assert desk.whole(number).payments[0].route == "another card machine slip 12"
    assert any("by another card machine slip 12, recorded" in line.what for line in of_ticket(desk.house, number))
    tenders.take_back(desk.house, desk.tamsin, desk.on(number), made.pop())
    assert (desk.balance("assets:recorded"), desk.whole(number).bill.due) == (0, 980)


def test_several_payments_and_cash_rounding(desk: Desk) -> None:
    number, payer = one_payer(desk)
    tips.set_tip(desk.house, desk.tamsin, desk.on(number), payer, tips.TipWanted(percent="5"))
    ask(desk, number, payer, 500)
    desk.follow()
    account = desk.whole(number).payer_bill(payer).account
    assert (account.due, cash_due(account.due, 5)) == (529, 530)
    tenders.take_cash(desk.house, desk.tamsin, desk.on(number), payer, tenders.Sum(530), 530)
    account = desk.whole(number).payer_bill(payer).account
    assert (account.due, account.rounding, account.tip) == (0, 1, 49)
    closing.free_table(desk.house, desk.tamsin, OnTicket(number, None, desk.key()))
    assert (desk.balance("liabilities:tips"), desk.balance("income:cash-rounding")) == (-49, -1)
    assert (desk.balance("liabilities:open-tickets"), desk.balance("")) == (0, 0)


@pytest.mark.parametrize(
    ("amount", "handed", "what"), [(0, 0, "More than 0"), (1000, 1000, "is more than"), (980, 500, "does not cover")]
)
def test_wrong_amounts_are_refused(desk: Desk, amount: int, handed: int, what: str) -> None:
    number, payer = one_payer(desk)
    with refuses(what):
        tenders.take_cash(desk.house, desk.tamsin, desk.on(number), payer, tenders.Sum(amount), handed)
    assert desk.whole(number).payments == []


def test_tip_chosen_on_the_machine(desk: Desk) -> None:
    number, payer = one_payer(desk)
    desk.tell(tip=10)
    ask(desk, number, payer)
    desk.follow()
    account = desk.whole(number).payer_bill(payer).account
    assert (account.tip, account.paid, account.due, desk.charged()) == (98, 1078, 0, 1078)


def test_nothing_more_is_taken_while_an_outcome_is_open(desk: Desk) -> None:
    number, payer = one_payer(desk)
    desk.tell("silent, charged")
    reference = ask(desk, number, payer)
    desk.follow()
    assert desk.whole(number).asks[0].state == "unknown"
    with refuses("still open"):
        ask(desk, number, payer)
    with refuses("still open"):
        tenders.take_cash(desk.house, desk.tamsin, desk.on(number), payer, tenders.Sum(980), 980)
    with refuses("not answered yet"):
        closing.free_table(desk.house, desk.tamsin, OnTicket(number, None, desk.key()))
    desk.tell(down=True)
    with refuses("still does not answer"):
        card_poller.ask_again(desk.house, desk.tamsin, number, reference)
    desk.tell()
    card_poller.ask_again(desk.house, desk.tamsin, number, reference)
    card_poller.ask_again(desk.house, desk.tamsin, number, reference)
    assert (desk.whole(number).bill.paid, desk.charged()) == (980, 980)


def silent(desk: Desk, number: int, payer: int, outcome: str) -> str:
    """A charge that the machine does not answer, nor when it is asked again."""
    desk.tell(outcome)
    reference = ask(desk, number, payer)
    desk.follow()
    return reference


def test_a_silent_machine_locks_nobody_once_a_supervisor_says_so(desk: Desk) -> None:
    number, payer = one_payer(desk)
    reference = silent(desk, number, payer, "silent, charged")
    on = desk.on(number, "free")
    with refuses("a supervisor lets them pay otherwise"):
        silent_machines.let_pay_otherwise(desk.house, desk.tamsin, on, reference)
    for _ in range(2):  # the same request again does nothing more
        silent_machines.let_pay_otherwise(desk.house, desk.boss, on, reference)
    with refuses("has said how it ended"):
        silent_machines.let_pay_otherwise(desk.house, desk.boss, desk.on(number), reference)
    tenders.take_cash(desk.house, desk.tamsin, desk.on(number), payer, tenders.Sum(980), 980)
    closing.free_table(desk.house, desk.tamsin, OnTicket(number, None, desk.key()))
    assert [one.ask.reference for one in silent_machines.freed(desk.house)] == [reference]
    desk.tell()
    card_poller.ask_again(desk.house, desk.tamsin, number, reference)
    (late,) = silent_machines.freed(desk.house)
    assert (late.late, desk.charged(), desk.balance("assets:card")) == (True, 980, 0)
    for _ in range(2):
        silent_machines.give_back(desk.house, desk.tamsin, number, reference, "back")
    desk.follow()
    assert (silent_machines.freed(desk.house), desk.charged(), desk.cash()) == ([], 0, 980)
    with refuses("went back already"):
        silent_machines.give_back(desk.house, desk.tamsin, number, reference, desk.key())
    theirs = match_day(desk.house, desk.house.day().id)
    assert [one for route in theirs.routes for one in route.mismatches if one.ticket == number] == []


def test_a_late_answer_still_pays_what_nobody_paid(desk: Desk) -> None:
    number, payer = one_payer(desk)
    reference = silent(desk, number, payer, "silent, charged")
    silent_machines.let_pay_otherwise(desk.house, desk.boss, desk.on(number), reference)
    desk.tell()
    card_poller.ask_again(desk.house, desk.tamsin, number, reference)
    assert (desk.whole(number).bill.paid, desk.charged(), silent_machines.freed(desk.house)) == (980, 980, [])


def charged_twice(desk: Desk, tip: int = 0) -> tuple[int, str]:
    """A bill paid in cash that the machine charged after all, with a tip chosen on it; ticket and reference."""
    number, payer = one_payer(desk)
    desk.tell("silent, charged", tip)
    reference = ask(desk, number, payer)
    desk.follow()
    silent_machines.let_pay_otherwise(desk.house, desk.boss, desk.on(number), reference)
    tenders.take_cash(desk.house, desk.tamsin, desk.on(number), payer, tenders.Sum(980), 980)
    desk.tell()
    card_poller.ask_again(desk.house, desk.tamsin, number, reference)
    return number, reference


def test_all_that_was_charged_goes_back_with_the_tip(desk: Desk) -> None:
    number, reference = charged_twice(desk, tip=10)
    assert ([one.amount for one in silent_machines.freed(desk.house)], desk.charged()) == ([1078], 1078)
    waits = [one for route in match_day(desk.house, desk.house.day().id).routes for one in route.mismatches]
    assert [(one.theirs, one.remedy, one.ticket) for one in waits] == [(1078, "ask", number)]
    give_back_late(desk, number)
    assert (desk.charged(), desk.balance("assets:card")) == (0, 0)
    with refuses("went back already"):
        silent_machines.give_back(desk.house, desk.tamsin, number, reference, desk.key())


def test_a_silent_giving_back_keeps_nothing_waiting_and_is_asked_for(desk: Desk) -> None:
    number, reference = charged_twice(desk)
    closing.free_table(desk.house, desk.tamsin, OnTicket(number, None, desk.key()))
    desk.tell("silent, charged")
    back = silent_machines.give_back(desk.house, desk.tamsin, number, reference, desk.key()).reference
    desk.follow()
    assert [(one.ask.reference, one.late) for one in silent_machines.freed(desk.house)] == [(back, False)]
    assert not [one for one in in_the_way(desk.house) if one.code == Code.CHARGES_OPEN]
    desk.tell()
    card_poller.ask_again(desk.house, desk.tamsin, number, back)
    assert (silent_machines.freed(desk.house), desk.charged()) == ([], 0)


def test_who_was_freed_may_be_shared_away(desk: Desk) -> None:
    """The payer of a silent charge is gone when it is heard of: it pays for nothing, whatever is due from others."""
    number = starting.seat(desk.house, desk.tamsin, "G2", 2, desk.key())
    add(desk, number, "lemon-posset", "A")
    add(desk, number, "lemon-posset", "B")
    sharing.by_seat(desk.house, desk.tamsin, desk.on(number))
    payer = desk.whole(number).payers[1].id
    desk.tell("silent, charged")
    reference = ask(desk, number, payer, desk.whole(number).payer_bill(payer).account.due)
    desk.follow()
    silent_machines.let_pay_otherwise(desk.house, desk.boss, desk.on(number), reference)
    sharing.undo(desk.house, desk.tamsin, desk.on(number))
    desk.tell()
    card_poller.ask_again(desk.house, desk.tamsin, number, reference)
    assert (desk.whole(number).bill.paid, [one.late for one in silent_machines.freed(desk.house)]) == (0, [True])


def test_a_refused_giving_back_can_be_asked_for_again(desk: Desk) -> None:
    number, reference = charged_twice(desk)
    desk.tell("decline")
    silent_machines.give_back(desk.house, desk.tamsin, number, reference, desk.key())
    desk.follow()
    assert [one.late for one in silent_machines.freed(desk.house)] == [True]
    desk.tell()
    give_back_late(desk, number)
    assert desk.charged() == 0


def test_killed_before_sending_nothing_is_charged(desk: Desk) -> None:
    number, payer = one_payer(desk)
    ask(desk, number, payer)
    desk.die()
    assert desk.whole(number).asks[0].state == "not sent"
    assert (desk.charged(), desk.whole(number).bill.due) == (0, 980)


def test_killed_after_sending_the_charge_is_found(desk: Desk) -> None:
    number, payer = one_payer(desk)
    ask(desk, number, payer)
    card_poller.follow(desk.house)  # sent, not yet looked at
    desk.die()
    assert (desk.charged(), desk.whole(number).bill.paid) == (980, 980)


def test_a_card_goes_back_by_its_own_route(desk: Desk) -> None:
    number, payer = one_payer(desk)
    ask(desk, number, payer)
    desk.follow()
    payment = desk.whole(number).payments[0].id
    tenders.take_back(desk.house, desk.tamsin, desk.on(number, "back"), payment)
    assert desk.whole(number).payments[0].taken_back_at is None  # not before the machine has said so
    desk.follow()
    tenders.take_back(desk.house, desk.tamsin, desk.on(number, "back"), payment)
    assert (desk.charged(), desk.balance("assets:card"), desk.whole(number).bill.due) == (0, 0, 980)


ACTS = (
    "line",
    "seat",
    "equal",
    "undo",
    "tip",
    "cash",
    "part",
    "card",
    "card",
    "ask",
    "back",
    "remove",
    "die",
    "follow",
    "free",
)


@given(st.lists(st.sampled_from(ACTS), min_size=5, max_size=30), st.integers(0, 10**6))
@settings(max_examples=40, suppress_health_check=[HealthCheck.function_scoped_fixture, HealthCheck.too_slow])
def test_books_and_machines_agree_whatever_happens(founded: Path, tmp_path: Path, acts: list[str], seed: int) -> None:
    """Random evenings: pay, fail, kill, retry, undo. When every outcome is known, what the machines charged is in the
    books, every entry balances, nobody has paid too much, and the drawer holds the cash that stands on tickets."""
    shutil.rmtree(tmp_path / "house", ignore_errors=True)
    shutil.copytree(founded, tmp_path / "house")
    desk, chance = Desk(tmp_path / "house"), random.Random(seed)
    number = starting.seat(desk.house, desk.tamsin, "G2", 3, desk.key())
    add(desk, number, "bottle-of-cider")
    add(desk, number, "lemon-posset", "B")
    for name in acts:
        try:
            _act(desk, number, name, chance)
        except (Refused, Stale, NotFound):
            pass  # a refusal changes nothing; the checks below hold all the same
        whole = desk.whole(number)
        assert all(payer.account.due >= 0 for payer in whole.bill.payers)
        assert journal.unbalanced(desk.house.connection) == []
        cash = sum(payment.given for payment in whole.taken if payment.tender == "cash")
        assert desk.cash() == cash
    desk.tell()
    desk.follow()
    desk.settle_unknown(number)
    give_back_late(desk, number)
    assert desk.charged() == desk.balance("assets:card")
    assert desk.balance("") == 0
    desk.house.connection.close()


def give_back_late(desk: Desk, number: int) -> None:
    """What was charged after it was paid otherwise goes back."""
    for one in silent_machines.freed(desk.house):
        silent_machines.give_back(desk.house, desk.tamsin, number, one.ask.reference, desk.key())
        desk.follow()
    assert silent_machines.freed(desk.house) == []


def _act(desk: Desk, number: int, name: str, chance: random.Random) -> None:
    whole, house, who = desk.whole(number), desk.house, desk.tamsin
    version, payer = whole.head.version, chance.choice(whole.payers)
    account = whole.payer_bill(payer.id).account
    outcome = chance.choice(["approve", "approve", "decline", "cancel", "silent, charged", "silent, not charged"])

    def cash(amount: int) -> int:
        return tenders.take_cash(
            house, who, OnTicket(number, version, desk.key()), payer.id, tenders.Sum(amount), amount + 100
        )

    def card() -> None:
        desk.tell(outcome, chance.choice([0, 10]), chance.random() < 0.1)
        machine = chance.choice([MACHINE, "card machine 2"])
        amount = chance.choice([account.due, max(1, account.due // 2)])
        tenders.ask_card(house, who, OnTicket(number, version, desk.key()), payer.id, machine, tenders.Sum(amount))
        if chance.random() < 0.7:
            desk.follow()

    def remove() -> None:
        ticket_lines.remove_line(house, who, OnTicket(number, version), chance.choice(whole.standing).id)

    def line() -> None:
        guests = chance.choice([(), ("A",), ("A", "C")])
        ticket_lines.add_line(house, who, OnTicket(number, version, desk.key()), Picked("apple-juice", guests=guests))

    does: dict[str, Callable[[], object]] = {
        "line": line,
        "seat": lambda: sharing.by_seat(house, who, OnTicket(number, version)),
        "equal": lambda: sharing.equal_parts(house, who, OnTicket(number, version), chance.randint(2, 5)),
        "undo": lambda: sharing.undo(house, who, OnTicket(number, version)),
        "tip": lambda: tips.set_tip(
            house, who, OnTicket(number, version), payer.id, tips.TipWanted(percent=chance.choice(["", "10"]))
        ),
        "cash": lambda: cash(cash_due(account.due, 5)),
        "part": lambda: cash(max(5, account.due // 3)),
        "card": card,
        "free": lambda: [
            silent_machines.let_pay_otherwise(house, desk.boss, OnTicket(number, None, desk.key()), a.reference)
            for a in whole.open_requests
        ],
        "ask": lambda: [card_poller.ask_again(house, who, number, a.reference) for a in whole.open_requests],
        "back": lambda: tenders.take_back(
            house, who, OnTicket(number, version, desk.key()), chance.choice(whole.payments).id if whole.payments else 0
        ),
        "remove": lambda: remove() if whole.standing else None,
        "die": desk.die,
        "follow": desk.follow,
    }
    does[name]()
