"""A membership: sold at the desk, its benefits used by themselves, paused, renewed from its old end; `kill -9` in between."""

from __future__ import annotations

import re

import pytest

from tests.stories.desk import MakeClerk, in_balance, killed_in_between, noted, sheet_of_petra, sold_to_petra, wren
from tests.stories.house import Running


@pytest.mark.acts
def test_a_membership_is_sold_used_and_renewed(clerk: MakeClerk, running: Running) -> None:
    desk = wren(clerk)
    sold_to_petra(desk, running, "Tidekeeper, a year", "96.00")
    desk.counted("a membership sold to a known person, cash", 4)
    desk.touch("button", "All paid, close the ticket")

    desk.acts = 0
    sheet_of_petra(desk)
    desk.sees("Tidekeeper, Sat 13 Jun to Sat 12 Jun 2027")
    desk.touch("button", "A sale for Petra")
    desk.touch("link", "Sessions", check=False)
    desk.touch("button", re.compile("First paddle"), check=False)
    desk.sees("Tidekeeper: 12 % off sessions")
    killed_in_between(desk, running)
    desk.touch("link", re.compile("^Pay €42.24"), check=False)
    noted(desk, 0)
    desk.counted("a membership used by a member, cash", 7)
    desk.touch("button", "All paid, close the ticket")

    sold_to_petra(desk, running, "Tidekeeper, a year", "96.00")
    desk.touch("button", "All paid, close the ticket")
    desk.page.goto(f"{running.url}/people/8")
    desk.sees("Tidekeeper, Sun 13 Jun 2027 to Mon 12 Jun 2028")  # on from the old end
    in_balance(running)
