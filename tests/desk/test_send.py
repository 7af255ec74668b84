"""Printing: on paper once per request, second copies say so, paper out loses nothing."""

from __future__ import annotations

import pytest

from abrazo.core.errors import Refused
from abrazo.desk import send
from tests.desk.conftest import Desk
from tests.desk.test_tenders import ask, one_payer


def test_receipts_and_copies(desk: Desk) -> None:
    number, payer = one_payer(desk)
    ask(desk, number, payer)
    desk.follow()
    for key in ("first", "first", "second"):
        send.print_receipt(desk.house, desk.tamsin, number, payer, key)
    paper = desk.house.devices.printer.shown()
    assert paper.count("ticket 2101") == 2
    assert paper.count("copy 2") == 1
    assert "card machine 1, ref 2101-A-1-key" in " ".join(paper.split())


def test_out_of_paper_prints_later(desk: Desk) -> None:
    number, payer = one_payer(desk)
    desk.house.devices.printer.paper_out = True
    with pytest.raises(Refused, match="out of paper"):
        send.print_receipt(desk.house, desk.tamsin, number, payer, "k")
    desk.house.devices.printer.paper_out = False
    assert send.send_waiting(desk.house) == 0
    assert "Still to pay" in desk.house.devices.printer.shown()
