"""Goods set aside: a first payment, the tag, the rest on another visit, handed over; `kill -9` in between."""

from __future__ import annotations

import re

import pytest

from tests.stories.desk import MakeClerk, code_of, in_balance, killed_in_between, noted, scanned, wren
from tests.stories.house import Running
from tests.stories.test_paying import FINDER


@pytest.mark.acts
def test_goods_are_set_aside_and_handed_over(clerk: MakeClerk, running: Running) -> None:
    desk = wren(clerk)
    desk.type(FINDER, "petra moe", enter=True)
    desk.touch("link", re.compile(r"^Petra Moe \(020\)"), check=False)
    desk.touch("button", "A sale for Petra", check=False)
    scanned(desk, code_of(running, "Sun hat"))
    desk.touch("link", "Set aside until it is paid")
    desk.sees("At least €4.40 of €22.00 is paid first; €0.00 is.")
    desk.touch("link", "Take the first payment", check=False)
    noted(desk, 0)
    desk.sees("Paid €4.40")
    killed_in_between(desk, running)
    desk.page.goto(ticket_of(desk.page.url))
    desk.touch("link", "Set aside until it is paid", check=False)
    desk.touch("button", "Set aside and print the tag")
    desk.sees("L-1003 is set aside until Wed 12 Aug.")
    desk.touch("link", re.compile("^L-1003, Petra Moe"))
    desk.sees("Set aside until Wed 12 Aug")
    killed_in_between(desk, running)
    desk.touch("link", re.compile("^Pay €17.60"), check=False)
    noted(desk, 0)
    desk.touch("button", "All paid, close the ticket", check=False)
    desk.type(FINDER, "l-1003", enter=True)
    desk.sees("Sun hat")
    in_balance(running)


def ticket_of(url: str) -> str:
    return re.sub(r"(/tickets/[0-9]+).*", r"\1?view=lines", url)
