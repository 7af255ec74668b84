"""After closing: opened again, void, refunded, handed on. Old and new stay; money goes back by the way it came."""

from __future__ import annotations

import pytest

from abrazo.core.errors import Refused
from abrazo.core.states import Extra, FloatDifference
from abrazo.desk.context import Actor, NotFound
from abrazo.desk.output import outbox
from abrazo.desk.output.views.receipt import receipt_of
from abrazo.desk.output.views.report import day_report
from abrazo.desk.overview.day_end import day_end
from abrazo.desk.overview.finder import find
from abrazo.desk.overview.room import open_tickets, room_of
from abrazo.desk.payments import closing, refunds, reopening, tenders
from abrazo.desk.payments.reopening import HandedOnAs
from abrazo.desk.payments.views.past import handed_on
from abrazo.desk.tickets import starting
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.till import business_day, counting, opening
from abrazo.desk.till.views.till import drawer_of
from abrazo.devices.ports import Script
from abrazo.formats.day_report import day_report_text
from abrazo.formats.receipt_text import receipt_text
from abrazo.store import corrections, journal
from abrazo.store import stored_value as kept_stored
from tests.desk.books import holds
from tests.desk.conftest import Desk
from tests.desk.payments.test_stored_value import keyed, sold, spend, visit
from tests.desk.payments.test_tenders import ask, one_payer
from tests.desk.scenes import lent, pay, wren
from tests.refusals import refuses


def odile(desk: Desk) -> Actor:
    return Actor(desk.house.staff()["odile"], desk.house.tills()["landing"])


def closed(desk: Desk, route: str = "cash") -> tuple[int, int]:
    """A closed ticket of 9.80 and its payment, by cash, card or as recorded."""
    number, payer = one_payer(desk)
    version = desk.version(number)
    if route == "cash":
        tenders.take_cash(desk.house, desk.tamsin, OnTicket(number, version, desk.key()), payer, tenders.Sum(980), 1000)
    elif route == "card":
        ask(desk, number, payer)
        desk.follow()
    else:
        tenders.record(
            desk.house,
            desk.tamsin,
            OnTicket(number, version, desk.key()),
            payer,
            tenders.Recorded(980, "card elsewhere", "0417"),
        )
    closing.free_table(desk.house, desk.tamsin, OnTicket(number, None, desk.key()))
    return number, desk.whole(number).payments[0].id


def next_day(desk: Desk) -> None:
    """The day is counted and closed, the next one opened by Odile."""
    for name in ("galley", "landing"):
        actor = Actor(desk.house.staff()["odile"], desk.house.tills()[name])
        day = desk.house.day()
        drawer = drawer_of(desk.house, day.id, name)
        total = drawer.float_ + drawer.cash_in - drawer.change_and_refunds
        counting.count_drawer(desk.house, actor, counting.Counted({}, total), desk.key())
    business_day.close_day(desk.house, odile(desk), desk.key())
    desk.clock.on(20 * 3600)
    floats = {
        "galley": opening.Float(15000, why=FloatDifference.BANK),
        "landing": opening.Float(12000, why=FloatDifference.BANK),
    }
    opening.open_day(desk.house, odile(desk), floats, desk.key())


def in_balance(desk: Desk) -> None:
    assert journal.unbalanced(desk.house.connection) == []
    assert desk.charged() == desk.balance("assets:card")
    assert desk.balance("") == 0
    holds(desk)


def test_opening_again_is_a_supervisors_right_and_needs_a_reason(desk: Desk) -> None:
    number, _ = closed(desk)
    with pytest.raises(Refused) as refusal:
        reopening.reopen(desk.house, desk.tamsin, OnTicket(number, None, desk.key()), "wrong tender")
    assert refusal.value.where == "pin"
    with pytest.raises(Refused) as refusal:
        reopening.reopen(desk.house, odile(desk), OnTicket(number, None, desk.key()), "  ")
    assert refusal.value.where == "reason"
    for _ in range(2):
        reopening.reopen(desk.house, lent(desk), OnTicket(number, None, "the same"), "wrong tender")
    whole = desk.whole(number)
    assert (whole.head.state, whole.bill.due, desk.balance("income")) == ("open", 0, 0)
    assert "allowed by Odile Marsh" in desk.told(number)[-1]
    with refuses("not closed"):
        reopening.reopen(desk.house, odile(desk), OnTicket(number, None, desk.key()), "again")


def test_a_wrong_tender_is_put_right_and_both_stay(desk: Desk) -> None:
    number, payment = closed(desk)
    books = desk.balance("income"), desk.balance("liabilities:tax")
    reopening.reopen(desk.house, odile(desk), OnTicket(number, None, desk.key()), "it was a card")
    tenders.take_back(desk.house, odile(desk), desk.on(number), payment)
    ask(desk, number, desk.whole(number).payers[0].id)
    desk.follow()
    closing.free_table(desk.house, odile(desk), OnTicket(number, None, desk.key()))
    whole = desk.whole(number)
    assert [(p.tender, bool(p.taken_back_at)) for p in whole.payments] == [("cash", True), ("card", False)]
    assert (desk.balance("income"), desk.balance("liabilities:tax")) == books
    assert (whole.head.state, whole.head.reopened_at, desk.cash()) == ("closed", None, 0)
    in_balance(desk)
    report = " ".join(day_report_text(day_report(desk.house, desk.house.day().id)).split())
    assert "opened again: it was a card" in report


def test_recorded_but_never_charged_is_charged_on_a_later_day(desk: Desk) -> None:
    """The slip people make (L2): both days' reports say so, the old day's figures stay."""
    number, payment = closed(desk, "recorded")
    first = desk.house.day().id
    next_day(desk)
    before = day_report_text(day_report(desk.house, first))
    reopening.reopen(desk.house, odile(desk), OnTicket(number, None, "one key"), "never charged", payment=payment)
    reopening.reopen(desk.house, odile(desk), OnTicket(number, None, "one key"), "never charged", payment=payment)
    assert (desk.whole(number).bill.due, desk.balance("assets:recorded")) == (980, 0)
    ask(desk, number, desk.whole(number).payers[0].id)
    desk.follow()
    closing.free_table(desk.house, odile(desk), OnTicket(number, None, desk.key()))
    assert (desk.charged(), desk.balance("assets:card"), desk.whole(number).head.day) == (980, 980, first)
    old, new = (day_report_text(day_report(desk.house, day)) for day in (first, desk.house.day().id))
    assert old.startswith(before[: before.rindex("-" * 42)])  # to the letter; what was corrected stands below
    for report in (old, new):
        assert "never charged -9.80" in " ".join(report.split())
    assert "1 x another card machine, recorded" in old and "1 x card machine 1" in new
    assert "-1 x another card machine, recorded" in new
    in_balance(desk)


def test_only_what_was_recorded_can_be_charged_instead(desk: Desk) -> None:
    number, payment = closed(desk, "card")
    with refuses("Only a payment that was recorded"):
        reopening.reopen(desk.house, odile(desk), OnTicket(number, None, desk.key()), "x", payment=payment)
    assert desk.whole(number).head.state == "closed"


@pytest.mark.parametrize("told", ["approve", "decline", "silent, charged", "silent, not charged", "answer lost"])
def test_a_void_gives_everything_back_by_its_own_route(desk: Desk, told: str) -> None:
    number, payer, who = visit(desk, 4)  # 28.00
    code = sold(desk, amount=1000)
    spend(desk, number, payer, "gift card", 1000, code)
    ask(desk, number, payer, 500)
    desk.follow()
    keyed(desk, number, payer, 500)
    desk.follow()
    pay(desk, number)
    assert kept_stored.points_of(desk.house.connection, who) == 28
    desk.tell(told)
    reopening.void(desk.house, odile(desk), OnTicket(number, None, "void it"), "wrong table")
    reopening.void(desk.house, odile(desk), OnTicket(number, None, "void it"), "wrong table")
    desk.follow()
    for _ in range(3):
        desk.settle_unknown(number)
        reopening.go_on_voiding(desk.house, odile(desk), number)
        desk.follow()
    whole = desk.whole(number)
    assert (whole.head.state, bool(whole.head.voided_at), whole.taken) == ("left", True, [])
    assert (desk.charged(), desk.cash(), desk.balance("liabilities:gift-cards")) == (0, 1000, -1000)
    assert (desk.balance("income"), kept_stored.points_of(desk.house.connection, who)) == (0, 0)
    in_balance(desk)


def test_a_void_goes_on_after_the_process_died(desk: Desk) -> None:
    number, _ = closed(desk, "card")
    desk.house.devices.machines["card machine 1"].tell(Script(pace=0))
    reopening.void(desk.house, odile(desk), OnTicket(number, None, desk.key()), "twice")
    payer = desk.whole(number).payers[0].id
    with refuses("being made void"):
        tenders.take_cash(desk.house, desk.tamsin, desk.on(number), payer, tenders.Sum(980), 980)
    desk.die()
    desk.follow()
    reopening.go_on_voiding(desk.house, odile(desk), number)
    desk.follow()
    assert (desk.whole(number).head.voided_at is not None, desk.charged()) == (True, 0)
    paper = receipt_text(receipt_of(desk.house, desk.whole(number), payer))
    for words in ("VOID", "Made void by Odile Marsh", "Why: twice", "Went back, card machine 1"):
        assert words in " ".join(paper.split())
    assert "Still to pay" not in paper
    in_balance(desk)


@pytest.mark.parametrize("route", ["cash", "card", "recorded"])
def test_a_refund_goes_to_the_tender_it_came_from(desk: Desk, route: str) -> None:
    number, payment = closed(desk, route)
    line = desk.whole(number).standing[0]
    for _ in range(3):
        refunds.refund(
            desk.house,
            odile(desk),
            OnTicket(number, None, "one key"),
            refunds.RefundWanted(payment, line.unit_price, [line.id]),
            "off",
        )
        desk.follow()
    (kept,) = corrections.refunds_of(desk.house.connection, number)
    assert (kept.state, kept.amount, desk.whole(number).head.state) == ("done", line.unit_price, "closed")

    def left() -> int:
        return desk.cash() if route == "cash" else desk.balance(f"assets:{route}")

    assert left() == 980 - line.unit_price
    with refuses("can still go back"):
        refunds.refund(
            desk.house, odile(desk), OnTicket(number, None, desk.key()), refunds.RefundWanted(payment, 980, []), "all"
        )
    refunds.refund(
        desk.house,
        odile(desk),
        OnTicket(number, None, desk.key()),
        refunds.RefundWanted(payment, 980 - line.unit_price, []),
        "all",
    )
    desk.follow()
    assert (left(), desk.balance("liabilities:tax")) == (0, 0)
    with refuses("refund the rest"):
        reopening.reopen(desk.house, odile(desk), OnTicket(number, None, desk.key()), "x")
    in_balance(desk)


@pytest.mark.parametrize(
    ("told", "state", "moved"),
    [
        ("decline", "not done", 0),
        ("cancel", "not done", 0),
        ("duplicate", "not done", 0),
        ("silent, charged", "asked", -300),
        ("silent, not charged", "asked", 0),
        ("answer lost", "asked", -300),
    ],
)
def test_every_fault_of_a_refund(desk: Desk, told: str, state: str, moved: int) -> None:
    """docs/faults.md, the rows 'refund': nothing is posted before the machine has said so."""
    number, payment = closed(desk, "card")
    desk.tell(told)
    refunds.refund(
        desk.house, odile(desk), OnTicket(number, None, desk.key()), refunds.RefundWanted(payment, 300, []), "cold"
    )
    desk.follow()
    assert corrections.refunds_of(desk.house.connection, number)[0].state == state
    assert (desk.charged(), desk.balance("assets:card")) == (980 + moved, 980)
    desk.settle_unknown(number)
    assert desk.charged() == desk.balance("assets:card")
    left = refunds.left_on(desk.house, desk.whole(number))
    assert left[payment] == desk.balance("assets:card")
    in_balance(desk)


def test_what_cannot_be_refunded(desk: Desk) -> None:
    number, payment = closed(desk)
    for amount, reason, where in ((0, "x", "refund"), (981, "x", "refund"), (100, " ", "reason")):
        with pytest.raises(Refused) as refusal:
            refunds.refund(
                desk.house,
                odile(desk),
                OnTicket(number, None, desk.key()),
                refunds.RefundWanted(payment, amount, []),
                reason,
            )
        assert refusal.value.where == where
    with pytest.raises(NotFound):
        refunds.refund(
            desk.house,
            odile(desk),
            OnTicket(number, None, desk.key()),
            refunds.RefundWanted(payment + 99, 100, []),
            "x",
        )
    with pytest.raises(NotFound):
        refunds.refund(
            desk.house, odile(desk), OnTicket(number, None, desk.key()), refunds.RefundWanted(payment, 100, [999]), "x"
        )
    with pytest.raises(Refused) as refusal:
        refunds.refund(
            desk.house, wren(desk), OnTicket(number, None, desk.key()), refunds.RefundWanted(payment, 100, []), "x"
        )
    assert refusal.value.where == "pin"
    assert corrections.refunds_of(desk.house.connection, number) == []


@pytest.mark.parametrize(
    ("told", "tip", "moved"), [("approve", 150, 150), ("decline", 0, 0), ("silent, charged", 150, 150)]
)
def test_a_tip_from_the_signed_slip_is_added_to_its_charge(desk: Desk, told: str, tip: int, moved: int) -> None:
    number, payer = one_payer(desk)
    ask(desk, number, payer)
    desk.follow()
    charge = desk.whole(number).taken[0]
    desk.tell(told)
    for _ in range(2):
        tenders.add_tip(desk.house, desk.tamsin, desk.on(number, "one slip"), charge.id, 150)
    desk.follow()
    desk.settle_unknown(number)
    whole = desk.whole(number)
    assert (whole.payer_bill(payer).account.tip, desk.charged(), whole.bill.due) == (tip, 980 + moved, 0)
    if tip:
        with refuses("Take the tip back first"):
            tenders.take_back(desk.house, desk.tamsin, desk.on(number), charge.id)
    closing.free_table(desk.house, desk.tamsin, OnTicket(number, None, desk.key()))
    assert desk.balance("liabilities:tips") == -tip
    in_balance(desk)


def test_a_tip_is_corrected_until_the_day_is_closed(desk: Desk) -> None:
    number, _ = closed(desk, "card")
    reopening.reopen(desk.house, odile(desk), OnTicket(number, None, desk.key()), "the slip says 2.00")
    charge = desk.whole(number).taken[0]
    tenders.add_tip(desk.house, odile(desk), desk.on(number), charge.id, 200)
    desk.follow()
    added = desk.whole(number).taken[1]
    tenders.take_back(desk.house, odile(desk), desk.on(number), added.id)
    desk.follow()
    tenders.add_tip(desk.house, odile(desk), desk.on(number), charge.id, 100)
    desk.follow()
    closing.free_table(desk.house, odile(desk), OnTicket(number, None, desk.key()))
    assert (desk.charged(), desk.balance("liabilities:tips")) == (1080, -100)
    in_balance(desk)


def test_somebody_without_the_right_hands_it_on(desk: Desk) -> None:
    number, payment = closed(desk, "recorded")
    for _ in range(2):
        reopening.hand_on(
            desk.house, desk.tamsin, OnTicket(number, None, "one key"), HandedOnAs(payment, "never charged, I think")
        )
    (waiting,) = corrections.waiting(desk.house.connection)
    assert (waiting.payment, waiting.staff, waiting.reason) == (payment, "tamsin", "never charged, I think")
    reopening.reopen(desk.house, odile(desk), OnTicket(number, None, desk.key()), "never charged", payment=payment)
    ask(desk, number, desk.whole(number).payers[0].id)
    desk.follow()
    assert len(corrections.waiting(desk.house.connection)) == 1  # until it is done
    closing.free_table(desk.house, odile(desk), OnTicket(number, None, desk.key()))
    assert corrections.waiting(desk.house.connection) == []


def test_a_refund_has_a_slip_of_its_own(desk: Desk) -> None:
    number, payment = closed(desk)
    line, boss = desk.whole(number).standing[0], odile(desk)
    wanted = refunds.RefundWanted(payment, None, [line.id])
    refunds.refund(desk.house, boss, OnTicket(number, None, desk.key()), wanted, "spilt")
    (refund,) = corrections.refunds_of(desk.house.connection, number)
    key = desk.key()
    for _ in range(2):
        outbox.print_refund(desk.house, boss, number, refund.id, key)
    printed = desk.house.devices.printer.shown()
    assert printed.count("REFUND") == 1
    for words in (line.label, "spilt", boss.staff.name, desk.house.settings.currency.text(refund.handed), "contained"):
        assert words in " ".join(printed.split()), words
    with pytest.raises(NotFound):
        outbox.print_refund(desk.house, boss, number + 1, refund.id, desk.key())


def test_a_refund_is_handed_on_as_it_was_filled_in(desk: Desk) -> None:
    number, payment = closed(desk)
    typed = {"about": "refund", "refund": "3.00", "payment": str(payment), "reason": "cold"}
    reopening.hand_on(desk.house, wren(desk), OnTicket(number, None, desk.key()), HandedOnAs(payment, "cold", typed))
    (waiting,) = handed_on(desk.house)
    assert (waiting.typed, waiting.words, waiting.by) == (typed, "Refund: cold", "Wren Achterberg")
    other = HandedOnAs(payment, "the tip is wrong", {"about": "open"})
    reopening.hand_on(desk.house, wren(desk), OnTicket(number, None, desk.key()), other)
    wanted = refunds.RefundWanted(payment, 300)
    refunds.refund(desk.house, odile(desk), OnTicket(number, None, desk.key()), wanted, "cold")
    assert [one.reason for one in handed_on(desk.house)] == ["the tip is wrong"], "what else was handed on waits on"
    in_balance(desk)


def test_a_gift_card_that_is_spent_keeps_its_sale(desk: Desk) -> None:
    code = sold(desk, amount=2000)
    number, payer, _ = visit(desk)
    spend(desk, number, payer, "gift card", 700, code)
    sale = desk.house.connection.execute("SELECT ticket FROM line WHERE stored IS NOT NULL").fetchone()[0]
    with refuses("spent already"):
        reopening.reopen(desk.house, odile(desk), OnTicket(sale, None, desk.key()), "x")
    assert (desk.whole(sale).head.state, desk.balance("liabilities:gift-cards")) == ("closed", -1300)


def test_cash_that_goes_back_at_another_till_leaves_that_drawer(desk: Desk) -> None:
    number, payment = closed(desk)
    reopening.reopen(desk.house, odile(desk), OnTicket(number, None, desk.key()), "x")
    tenders.take_back(desk.house, odile(desk), desk.on(number), payment)
    assert (desk.cash("galley"), desk.cash("landing")) == (980, -980)
    day = desk.house.day().id
    drawers = [drawer_of(desk.house, day, name) for name in ("galley", "landing")]
    assert [d.cash_in - d.change_and_refunds for d in drawers] == [980, -980]


def test_a_table_is_its_new_partys_while_the_old_ticket_is_open_again(desk: Desk) -> None:
    number, _ = closed(desk)
    reopening.reopen(desk.house, odile(desk), OnTicket(number, None, desk.key()), "x")
    there = starting.seat(desk.house, desk.tamsin, "G2", 2, desk.key())
    table = next(table for table in room_of(desk.house, open_tickets(desk.house)).tables if table.spot.id == "G2")
    assert (table.ticket, find(desk.house, "G2").goes_to) == (there, ("table", "G2"))
    closing.free_table(desk.house, odile(desk), OnTicket(number, None, desk.key()))
    assert desk.whole(there).head.state == "open"


def test_a_void_waits_for_the_credit_that_came_of_it(desk: Desk) -> None:
    """What was left over became store credit and is spent: the ticket stays closed, and nothing is half given back."""
    first, payer, who = visit(desk, 1)
    due = desk.whole(first).bill.due
    tenders.take_cash(desk.house, wren(desk), desk.on(first), payer, tenders.Sum(due + 500, Extra.CREDIT), due + 500)
    closing.free_table(desk.house, wren(desk), OnTicket(first, None, desk.key()))
    second, other, _ = visit(desk, 1, who)
    spend(desk, second, other, "store credit", 500)
    with refuses("spent already"):
        reopening.void(desk.house, odile(desk), OnTicket(first, None, desk.key()), "by mistake")
    assert desk.whole(first).head.state == "closed"
    spent = desk.whole(second).taken[0].id
    tenders.take_back(desk.house, wren(desk), desk.on(second), spent)
    reopening.void(desk.house, odile(desk), OnTicket(first, None, desk.key()), "by mistake")
    assert (desk.whole(first).head.state, desk.balance("liabilities:store-credit"), desk.balance("")) == ("left", 0, 0)


def test_a_refund_that_is_under_way_stands_in_the_way_of_closing(desk: Desk) -> None:
    """Its ticket is closed: it is among what is read before the day is closed, and leads there."""
    number, payment = closed(desk, "card")
    line = desk.whole(number).standing[0]
    desk.tell("silent, charged")
    wanted = refunds.RefundWanted(payment, line.unit_price, [line.id])
    refunds.refund(desk.house, odile(desk), OnTicket(number, None, desk.key()), wanted, "off")
    desk.follow()
    desk.house.forget()
    (charge,) = day_end(desk.house, odile(desk)).charges
    assert (charge.ticket, charge.closed, charge.machine) == (number, True, "card machine 1")
    with refuses("without an answer, 1"):
        business_day.close_day(desk.house, odile(desk), desk.key())
