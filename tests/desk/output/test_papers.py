"""What papers say: copies, gifts, reasons where they belong, comped lines, and at whose till the money was taken."""

from __future__ import annotations

from abrazo.desk.output.outbox import print_bills, print_receipt
from abrazo.desk.output.views.receipt import receipt_of
from abrazo.desk.payments import tenders
from abrazo.desk.payments.views.pay_pad import Typed, pay_pad
from abrazo.desk.setup.house_settings import decide
from abrazo.desk.tickets import adjustments, sharing, starting
from abrazo.desk.tickets.adjustments import Wanted
from abrazo.desk.tickets.moving import Parting, move_guests, stays_behind
from abrazo.formats.receipt_text import gift_text, receipt_text
from tests.desk.conftest import MACHINE, Desk
from tests.desk.payments.test_tenders import one_payer
from tests.desk.scenes import tab, wren
from tests.desk.tickets.test_change import add


def test_an_unpaid_bill_is_no_copy_of_the_receipt(desk: Desk) -> None:
    number, payer = one_payer(desk)
    for _ in range(2):
        print_bills(desk.house, desk.tamsin, number, desk.key())
    tenders.take_cash(desk.house, desk.tamsin, desk.on(number), payer, tenders.Sum(980), 980)
    for _ in range(2):
        print_receipt(desk.house, desk.boss, number, payer, desk.key())
    sheets = desk.house.devices.printer.shown().split("- - -")
    told = [("copy 2" in sheet, "Still to pay" in sheet) for sheet in sheets if "ticket 2101" in sheet]
    assert told == [(False, True), (True, True), (False, False), (True, False)]


def test_a_receipt_says_what_the_house_wants_under_its_address(desk: Desk) -> None:
    number = tab(desk)
    add(desk, number, "kelp-soap")
    decide(desk.house, desk.boss, "receipt_head", "Open 8 to 22\n+353 20 910 0100")
    decide(desk.house, desk.boss, "tax_number", "IE1234567T")
    payer = desk.whole(number).payers[0].id
    assert "IE1234567T" not in receipt_text(receipt_of(desk.house, desk.whole(number), payer))
    decide(desk.house, desk.boss, "tax_number_on_receipts", "yes")
    said = [line.strip() for line in receipt_text(receipt_of(desk.house, desk.whole(number), payer)).splitlines()]
    begin = said.index("Open 8 to 22")
    assert said[begin : begin + 3] == ["Open 8 to 22", "+353 20 910 0100", "Tax number IE1234567T"]


def test_reasons_stand_where_they_took_something_off_and_never_on_a_gift(desk: Desk) -> None:
    number, payer = one_payer(desk)
    line = desk.whole(number).standing[0]
    given = Wanted("comp", reason="waited an hour")
    adjustments.give(desk.house, desk.boss, desk.on(number), line.id, given)
    given = Wanted("discount", percent="10", reason="for the club")
    adjustments.give(desk.house, desk.boss, desk.on(number), None, given)
    before = receipt_of(desk.house, desk.whole(number), payer)
    due = desk.whole(number).bill.due
    tenders.take_cash(desk.house, desk.tamsin, desk.on(number), payer, tenders.Sum(due), due)
    after = receipt_of(desk.house, desk.whole(number), payer)
    for receipt in (before, after):
        rows = dict(receipt.rows)
        assert rows["Apple juice, waited an hour"] == "0.00"
        assert "Lemon posset, for the club" in rows
    gift = gift_text(after)
    assert "Lemon posset" in gift
    assert not any(word in gift for word in ("waited", "club", "0.00", "Service"))


def test_cash_taken_by_somebody_else_says_by_whom_and_where(desk: Desk) -> None:
    number, payer = one_payer(desk)
    tenders.take_cash(desk.house, wren(desk), desk.on(number), payer, tenders.Sum(980), 980)
    text = receipt_text(receipt_of(desk.house, desk.whole(number), payer))
    assert "Served by Tamsin Rook\nPaid to Wren Achterberg, till Landing" in text


def test_a_guest_who_moves_leaves_a_part_of_what_is_shared_and_it_is_said(desk: Desk) -> None:
    number = starting.seat(desk.house, desk.tamsin, "G2", 3, desk.key())
    add(desk, number, "bottle-of-cider")
    add(desk, number, "lemon-posset", "A")
    there = starting.seat(desk.house, desk.tamsin, "G3", 1, desk.key())
    assert stays_behind(desk.whole(number), ["A"]) == ["Bottle of cider"]
    move_guests(desk.house, desk.tamsin, desk.on(number), Parting(("A",)), there)
    said = desk.told(number)[-1]
    assert said == "A went to Table G3; their part of Bottle of cider stays with the others"


def test_a_held_card_is_offered_to_whose_it_is(desk: Desk) -> None:
    number = tab(desk)
    desk.follow()
    add(desk, number, "lemon-posset")
    sharing.equal_parts(desk.house, desk.jory, desk.on(number), 2)
    pads = [pay_pad(desk.house, desk.jory, desk.whole(number), p.id, Typed()) for p in desk.whole(number).payers]
    assert [pad.held is not None for pad in pads] == [True, False]
    assert [pad.way.id if pad.way else "" for pad in pads] == ["held", MACHINE]
