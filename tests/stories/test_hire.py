"""Hire: a kayak out and back, late and charged to the card that secures it; `kill -9` in between."""

from __future__ import annotations

import re

import pytest

from tests.stories.desk import MakeClerk, in_balance, killed_in_between, noted, wren
from tests.stories.house import Running
from tests.stories.test_paying import FINDER


@pytest.mark.acts
def test_a_hire_for_a_known_person(clerk: MakeClerk, running: Running) -> None:
    desk = wren(clerk)
    desk.touch("link", re.compile("^Hire"))
    desk.touch("button", re.compile("^Signe Amari"))
    desk.sees("Hire for Signe Amari")
    desk.page.locator("button[value=double-kayak-day]").click()
    desk.acts += 1
    desk.settle()
    desk.check()
    desk.sees("Double kayak D-03, day")
    killed_in_between(desk, running)
    desk.touch("link", re.compile("^Pay €55.00"))
    noted(desk, 0)
    desk.sees("H-1026: D-03, back by Sun 14")
    desk.counted("hire for a known person, stored card secures it, cash", 7)
    desk.touch("button", "All paid, close the ticket")
    in_balance(running)


@pytest.mark.acts
def test_a_late_one_comes_back(clerk: MakeClerk, running: Running) -> None:
    desk = wren(clerk)
    desk.type(FINDER, "d-01", enter=True)
    desk.sees("H-1022, Double kayak D-01")
    desk.sees(re.compile("5[0-9] minutes late"))
    desk.expected.add(422)
    desk.type("Damage costs", "ten")
    desk.touch("button", re.compile("^Take it back"))
    desk.sees("amount")
    assert desk.page.get_by_label("Damage costs").input_value() == "ten"
    killed_in_between(desk, running)
    desk.type("Condition", "seat torn")
    desk.type("Damage costs", "40.00")
    desk.touch("button", re.compile("^Take it back"))
    desk.sees("Late €14.00, damage or loss €40.00: €54.00 is charged to")
    desk.touch("button", "Take it back and charge €54.00", check=False)
    desk.sees("H-1022 came back: €54.00 is being charged to the card that secures it.")
    desk.page.goto(running.url)
    desk.type(FINDER, "h-1022", enter=True)
    desk.sees("late €14.00, damage or loss €40.00")
    in_balance(running)
