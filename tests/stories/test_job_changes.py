"""Two things left at once; one is changed, agreed upon and paid; the other is called off and its deposit given back."""

from __future__ import annotations

import re

import pytest

from tests.stories.desk import MakeClerk, in_balance, killed_in_between, wren
from tests.stories.house import Running


@pytest.mark.acts
def test_two_things_are_left_and_changed(clerk: MakeClerk, running: Running) -> None:
    desk = wren(clerk)
    desk.expected = {422}
    desk.touch("link", re.compile("^Job drop-off"), check=False)
    desk.type("Customer: any part of a name, phone or e-mail", "petra moe", enter=True)
    desk.touch("link", re.compile(r"^Petra Moe \(020\)"), check=False)
    desk.type("The thing", "Drysuit, green")
    desk.page.get_by_label("Wrist seals €42.00").check()
    desk.touch("button", "Take it in, and one more thing")
    desk.sees("S-1045 is taken in, its tag is printed.")
    desk.type("The thing", "Paddle, blue")
    desk.page.get_by_text("A task with its own price, on the list or not").click()
    desk.type("What it is called", "Glue the blade")
    desk.type("Price of one", "a lot")
    desk.touch("button", "Take in the job, print its tag")
    desk.sees("a lot")
    assert desk.page.get_by_label("What it is called").input_value() == "Glue the blade"
    desk.type("Price of one", "14.00")
    desk.type("Deposit, paid first", "5")
    desk.touch("button", "Take in the job, print its tag")
    desk.touch("button", re.compile("^Charge €5.00"), check=False)
    desk.page.wait_for_url("**/done")
    desk.touch("button", re.compile("^Close the ticket"), check=False)
    killed_in_between(desk, running)
    desk.page.goto(f"{running.url}/find?q=S-1045")
    desk.touch("link", "Change it")
    desk.page.get_by_label("Price of one, Wrist seals").fill("50")
    desk.type("What it is called", "Rush")
    desk.page.get_by_label("Price of one", exact=True).fill("8.00")
    desk.touch("button", "Keep these changes")
    desk.sees("€16.00 more than the €42.00 that was agreed: ask them.")
    desk.type("How they said yes", "by phone, 14:30")
    desk.touch("button", "They said yes")
    desk.sees("by phone, 14:30")
    desk.page.get_by_text("What was done").click()
    desk.sees("Rush added")
    desk.touch("button", "ready", exact=True)
    desk.touch("button", re.compile("^Charge €58.00 on card machine 2"), check=False)
    desk.page.wait_for_url("**/done")
    desk.touch("button", re.compile("^Hand over S-1045"), check=False)
    desk.page.goto(f"{running.url}/find?q=S-1046")
    desk.page.get_by_text("Call it off").first.click()
    desk.type("Why", "bought a new one")
    desk.touch("button", "Call it off")
    desk.sees("Called off: bought a new one")
    desk.touch("button", re.compile("^Give €5.00 of the deposit back to ••"), check=False)
    desk.sees("goes back to its card")
    desk.touch("button", "Hand over S-1046, nothing is to pay")
    desk.sees("Handed over.")
    in_balance(running)
