"""A prepaid series: sold at the desk, used by itself, kept for another day, given back; `kill -9` in between."""

from __future__ import annotations

import re

import pytest

from tests.stories.desk import MakeClerk, in_balance, killed_in_between, sheet_of_petra, sold_to_petra, wren
from tests.stories.house import Running


@pytest.mark.acts
def test_a_series_is_sold_and_used(clerk: MakeClerk, running: Running) -> None:
    desk = wren(clerk)
    sold_to_petra(desk, running, "Five paddles", "200.00")
    desk.counted("a series sold to a known person, cash", 4)
    desk.sees("Five paddles: 5 of 5 left, until Sun 13")
    desk.touch("button", "All paid, close the ticket")

    desk.acts = 0
    sheet_of_petra(desk)
    desk.sees("Five paddles: 5 of 5 left, until Sun 13 Jun 2027")
    desk.touch("button", "A sale for Petra")
    desk.touch("link", "Sessions", check=False)
    desk.touch("button", re.compile("First paddle"), check=False)
    desk.sees("Five paddles, use 1 of 5, 4 left")
    killed_in_between(desk, running)
    desk.touch("button", "Keep it for another day")
    desk.sees("kept for another day")
    desk.touch("button", "Use it today: Five paddles")
    desk.touch("link", "All paid, to the receipts", check=False)
    desk.touch("button", "Close the ticket")

    sheet_of_petra(desk)
    desk.page.get_by_text("What it was used for").click()
    desk.sees("Use 1: ")
    desk.touch("link", re.compile("give back what is left there$"))
    desk.page.get_by_text("Refund lines or an amount").click()
    desk.sees("Five paddles €159.99")
    in_balance(running)
