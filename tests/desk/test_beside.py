"""What stands beside a payment: pieces of change, signatures, the pool of tips, text receipts, deposits back to cards."""

from __future__ import annotations

import xml.etree.ElementTree as ET

import pytest

from abrazo.core.errors import Refused
from abrazo.desk.context import Actor
from abrazo.desk.doors import jobs
from abrazo.desk.doors.jobs import DropOff
from abrazo.desk.output import outbox
from abrazo.desk.output.views.receipt import receipt_of
from abrazo.desk.output.views.report import day_report
from abrazo.desk.payments import closing, gift_cards, refunds, reopening, signatures, tenders, tips
from abrazo.desk.payments.views.own_tips import own_tips
from abrazo.desk.tickets import starting
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.till import counting, drawer
from abrazo.formats.day_report import day_report_text
from abrazo.formats.receipt_text import receipt_text
from abrazo.store import journal, till
from tests.desk.conftest import MACHINE, Desk
from tests.desk.payments.test_corrections import closed, in_balance, odile
from tests.desk.payments.test_stored_value import sold, spend, visit
from tests.desk.payments.test_tenders import ask, one_payer
from tests.desk.scenes import dropped, pay, person, thing, wren
from tests.refusals import refuses

STROKES = "10,10 20,30 40,90;200,20 260,80"


def test_change_is_made_of_the_pieces_that_the_drawer_holds(desk: Desk) -> None:
    till.set_pieces(desk.house.connection, desk.house.day().id, "galley", drawer.as_kept({500: 1, 200: 3, 20: 1}))
    number, payer = one_payer(desk)
    paid = tenders.take_cash(desk.house, desk.tamsin, desk.on(number), payer, tenders.Sum(980), 1600)
    assert drawer.as_read(desk.whole(number).payments[0].pieces) == {500: 1, 100: 1, 20: 1}  # of 6.20
    assert desk.whole(number).payments[0].id == paid
    tenders.take_back(desk.house, desk.tamsin, desk.on(number), paid)
    held = drawer.as_read(till.read_pieces(desk.house.connection, desk.house.day().id, "galley"))
    assert counting.pieces_total(held) == 500 + 600 + 20


def test_a_signature_is_kept_as_drawn_and_only_once(desk: Desk) -> None:
    number, payer = one_payer(desk)
    desk.tell("signature")
    ask(desk, number, payer)
    desk.follow()
    made = desk.whole(number).taken[0]
    assert made.signature == "wanted"
    for bad in ("", "1,1", "10,10 <script>", "10,10,10 5,5 6,6", "9" * 9000):
        with refuses(r"dr[ae]w|dot"):
            signatures.on_screen(desk.house, desk.tamsin, number, made.id, bad)
    signatures.on_screen(desk.house, desk.tamsin, number, made.id, STROKES)
    signatures.on_screen(desk.house, desk.tamsin, number, made.id, "1,1 2,2 3,3")
    signatures.on_paper(desk.house, desk.tamsin, number, made.id)
    drawn = ET.fromstring(signatures.drawing_of(desk.house, made.id))
    assert [path.get("d") for path in drawn] == ["M10 10 L20 30 L40 90", "M200 20 L260 80"]
    assert desk.whole(number).taken[0].signature == "screen"
    paper = receipt_text(receipt_of(desk.house, desk.whole(number), payer))
    assert "signed on screen" in " ".join(paper.split())


def test_tips_go_to_the_pool_from_the_setting_on(desk: Desk) -> None:
    with pytest.raises(Refused):
        tips.share_tips(desk.house, desk.tamsin, "pool")

    def tipped() -> None:
        number, payer = one_payer(desk)
        tips.set_tip(desk.house, desk.tamsin, desk.on(number), payer, tips.TipWanted(amount="2.00"))
        due = desk.whole(number).payers[0]
        tenders.take_cash(desk.house, desk.tamsin, desk.on(number), due.id, tenders.Sum(1180), 1180)
        closing.free_table(desk.house, desk.tamsin, OnTicket(number, None, desk.key()))

    tipped()
    tips.share_tips(desk.house, odile(desk), "pool")
    tipped()
    mine = own_tips(desk.house, desk.tamsin)
    assert (mine.total, mine.pool, len(mine.tickets)) == (200, 200, 1)
    assert own_tips(desk.house, desk.jory).total == 0
    assert "1 x pool" in day_report_text(day_report(desk.house, desk.house.day().id))
    in_balance(desk)


def test_a_receipt_by_text_message_and_the_last_one(desk: Desk) -> None:
    with refuses("Nothing was paid"):
        outbox.print_last(desk.house, desk.jory, desk.key())
    number, _ = closed(desk, "card")
    payer = desk.whole(number).payers[0].id
    with refuses("no phone number"):
        outbox.text_receipt(desk.house, desk.tamsin, number, payer, "soon", desk.key())
    for _ in range(2):
        outbox.text_receipt(desk.house, desk.tamsin, number, payer, "020 910 0144", "one key, pressed twice")
    sent = desk.house.devices.post.delivered()
    assert len(sent) == 1
    assert sent[0]["to"].startswith("+353") and "9.80 EUR" in sent[0]["body"] and "VAT" in sent[0]["body"]
    assert outbox.print_last(desk.house, desk.tamsin, desk.key()) == (number, payer)


def test_by_preference_a_text_message(desk: Desk) -> None:
    number, _, who = visit(desk)
    outbox.prefer(desk.house, who, "text")
    pay(desk, number)
    outbox.by_preference(desk.house, wren(desk), number, desk.key())
    assert len(desk.house.devices.post.delivered()) == 1


def test_by_preference_to_an_address_that_cannot_be_read_any_more(desk: Desk) -> None:
    """The ticket is closed by then: nobody is stopped, and the receipt comes out on paper."""
    number, _, who = visit(desk)
    outbox.prefer(desk.house, who, "email")
    desk.house.connection.execute("UPDATE person SET email = 'theo@@old' WHERE id = ?", (who,))
    pay(desk, number)
    printed = len(desk.house.devices.printer.shown())
    outbox.by_preference(desk.house, wren(desk), number, desk.key())
    assert desk.house.devices.post.delivered() == []
    assert len(desk.house.devices.printer.shown()) > printed


def by_card(desk: Desk, number: int, actor: Actor) -> None:
    whole = desk.whole(number)
    payer, due = whole.payers[0].id, whole.bill.due
    tenders.ask_card(
        desk.house, actor, OnTicket(number, whole.head.version, desk.key()), payer, MACHINE, tenders.Sum(due)
    )
    desk.follow()
    closing.free_table(desk.house, actor, OnTicket(number, None, desk.key()))


@pytest.mark.parametrize("outcome", ["approve", "decline", "silent, charged"])
def test_the_rest_of_a_deposit_goes_back_to_its_card(desk: Desk, outcome: str) -> None:
    """A deposit of 60.00 by card for a job of less; the rest goes the way it came, or can still go in cash."""
    who = person(desk)
    job, left = _dropped_by_card(desk, who, 6000)
    settling = _settled(desk, job)
    rest = refunds.charged_deposit(desk.house, thing(desk, job))
    assert rest is not None and rest[1].ticket == left
    desk.tell(outcome)
    reference = refunds.give_back_to_card(desk.house, wren(desk), thing(desk, job), "one key, pressed twice")
    assert refunds.give_back_to_card(desk.house, wren(desk), thing(desk, job), "one key, pressed twice") == reference
    with pytest.raises(Refused):
        refunds.give_back_to_card(desk.house, wren(desk), thing(desk, job), desk.key())  # it is under way
    desk.follow()
    desk.settle_unknown(left)
    gone = refunds.charged_deposit(desk.house, thing(desk, job)) is None
    assert gone == (outcome != "decline")
    assert desk.charged() == 6000 - (rest[0].amount if gone else 0)
    assert desk.whole(settling).bill.due == 0
    assert desk.balance("liabilities:deposits") == (0 if gone else -rest[0].amount)
    in_balance(desk)


def _dropped_by_card(desk: Desk, who: int, deposit: int) -> tuple[int, int]:
    drop = DropOff(who, "Drysuit, red", (("wrist-seals", "1", ""),), desk.clock.time.date().isoformat(), "23:30",
                   deposit=deposit, sure=True)  # fmt: skip
    job, left = jobs.drop_off(desk.house, wren(desk), drop, None, desk.key())
    by_card(desk, left, wren(desk))
    return job, left


def _settled(desk: Desk, job: int) -> int:
    number = jobs.settle(desk.house, wren(desk), [job], desk.key())
    pay(desk, number, close=False)
    return number


def test_a_tip_is_refunded_with_its_payment_and_from_those_whose_it_was(desk: Desk) -> None:
    number, payer = one_payer(desk)
    tips.set_tip(desk.house, desk.tamsin, desk.on(number), payer, tips.TipWanted(amount="1.20"))
    tenders.take_cash(desk.house, desk.tamsin, desk.on(number), payer, tenders.Sum(1100), 1100)
    closing.free_table(desk.house, desk.tamsin, OnTicket(number, None, desk.key()))
    paid, boss = desk.whole(number).taken[0].id, odile(desk)
    with refuses(r"1\.20 can still go back"):
        refunds.refund(
            desk.house,
            boss,
            OnTicket(number, None, desk.key()),
            refunds.RefundWanted(paid, 0, [], 121),
            "wrong tip",
        )
    refunds.refund(
        desk.house, boss, OnTicket(number, None, desk.key()), refunds.RefundWanted(paid, 300, [], 70), "cold soup"
    )
    assert refunds.left_on(desk.house, desk.whole(number)) == {paid: 680}
    assert refunds.tips_left_on(desk.house, desk.whole(number)) == {paid: 50}
    assert own_tips(desk.house, desk.tamsin).total == 50
    with refuses("refund the rest"):
        reopening.reopen(desk.house, boss, OnTicket(number, None, desk.key()), "again")
    in_balance(desk)


def test_store_credit_is_sold_to_the_person_of_the_ticket(desk: Desk) -> None:
    number, _, who = visit(desk)
    gift_cards.sell(desk.house, wren(desk), desk.on(number), "store credit", 2500, "")
    pay(desk, number)
    assert -journal.balance(desk.house.connection, "liabilities:store-credit") == 2500
    nobody = starting.open_counter(desk.house, wren(desk), desk.key())
    with refuses("Whose"):
        gift_cards.sell(desk.house, wren(desk), desk.on(nobody), "store credit", 2500, "")
    assert who


def test_dropped_with_cash_has_no_card_to_go_back_to(desk: Desk) -> None:
    job, _ = dropped(desk, person(desk), 6000)
    _settled(desk, job)
    with refuses("in cash"):
        refunds.give_back_to_card(desk.house, wren(desk), thing(desk, job), desk.key())


def test_a_receipt_names_the_way_it_was_paid(desk: Desk) -> None:
    code = sold(desk)
    number, payer, _ = visit(desk)
    spend(desk, number, payer, "gift card", 700, code)
    assert receipt_of(desk.house, desk.whole(number), payer).paid == ((f"Gift card ending {code[-4:]}", "7.00"),)
