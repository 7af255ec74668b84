"""Printing: on paper once per request, second copies say so, paper out loses nothing."""

from __future__ import annotations

from dataclasses import replace

import pytest

from abrazo.core.errors import Refused
from abrazo.desk.output import outbox
from abrazo.desk.people import people
from tests.desk.conftest import Desk
from tests.desk.payments.test_stored_value import visit
from tests.desk.payments.test_tenders import ask, one_payer
from tests.desk.scenes import pay, wren
from tests.refusals import refuses


def test_receipts_and_copies(desk: Desk) -> None:
    number, payer = one_payer(desk)
    ask(desk, number, payer)
    desk.follow()
    for _ in range(2):
        outbox.print_receipt(desk.house, desk.tamsin, number, payer, "first")
    with refuses("printed already"):
        outbox.print_receipt(desk.house, desk.tamsin, number, payer, "second")
    outbox.print_receipt(desk.house, replace(desk.tamsin, lender=desk.boss.staff), number, payer, "second")
    paper = desk.house.devices.printer.shown()
    assert paper.count("ticket 2101") == 2
    assert paper.count("copy 2") == 1
    assert "card machine 1, ref 2101-A-1-key" in " ".join(paper.split())


def test_out_of_paper_prints_later(desk: Desk) -> None:
    number, payer = one_payer(desk)
    desk.house.devices.printer.paper_out = True
    with refuses("out of paper"):
        outbox.print_receipt(desk.house, desk.tamsin, number, payer, "k")
    desk.house.devices.printer.paper_out = False
    assert outbox.send_waiting(desk.house) == 0
    assert "Still to pay" in desk.house.devices.printer.shown()


def test_a_receipt_by_mail_goes_once_and_waits_for_the_line(desk: Desk) -> None:
    number, payer = one_payer(desk)
    post = desk.house.devices.post
    for bad in ("", "nobody", "a@b", "a b@c.test", "x" * 250 + "@a.test"):
        with pytest.raises(Refused) as refusal:
            outbox.mail_receipt(desk.house, desk.tamsin, number, payer, bad, desk.key())
        assert refusal.value.where == "email"
    post.line_down = True
    for _ in range(3):
        outbox.mail_receipt(desk.house, desk.tamsin, number, payer, "petra@example.test", "one key")
    assert post.mails() == []
    post.line_down = False
    outbox.send_waiting(desk.house)
    outbox.send_waiting(desk.house)
    assert len(post.mails()) == 1
    assert "To: petra@example.test" in post.mails()[0]


@pytest.mark.parametrize(
    ("way", "papers", "mails"), [("", 0, 0), ("none", 0, 0), ("print", 1, 0), ("email", 0, 1), ("both", 1, 1)]
)
def test_receipts_go_the_way_that_somebody_likes(desk: Desk, way: str, papers: int, mails: int) -> None:
    number, _, who = visit(desk)
    people.change_person(desk.house, wren(desk), who, {"name": "Petra Moe", "email": "petra@example.test"})
    outbox.prefer(desk.house, who, way)
    pay(desk, number)
    for _ in range(2):
        outbox.by_preference(desk.house, wren(desk), number, "one key")
    devices = desk.house.devices
    assert (devices.printer.shown().count("ticket 2101"), len(devices.post.mails())) == (papers, mails)


def test_a_gift_receipt_is_no_copy(desk: Desk) -> None:
    number, payer = one_payer(desk)
    outbox.print_receipt(desk.house, desk.tamsin, number, payer, "gift", gift=True)
    outbox.print_receipt(desk.house, desk.tamsin, number, payer, "receipt")
    paper = desk.house.devices.printer.shown()
    assert ("Gift receipt" in paper, "copy 2" in paper, paper.count("9.80")) == (True, False, 2)


def test_a_bill_to_be_signed_prints_for_house_and_guest(desk: Desk) -> None:
    number, payer = one_payer(desk)
    for _ in range(2):
        assert outbox.print_slips(desk.house, desk.tamsin, number, payer, "one key")
    paper = desk.house.devices.printer.shown()
    for words in ("copy for the house", "copy for the guest"):
        assert paper.count(words) == 1
    assert [paper.count(word) for word in ("Signature", "Tip  ", "To pay")] == [2, 2, 2]
    desk.house.devices.printer.paper_out = True
    assert not outbox.print_slips(desk.house, desk.tamsin, number, payer, "another key")
