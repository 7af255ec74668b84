"""The counter: two items, a likely note, and the next customer; a till that is locked to it."""

from __future__ import annotations

import re

import pytest

from tests.stories.desk import MakeClerk, code_of, in_balance, scan
from tests.stories.house import Running


@pytest.mark.acts
def test_four_acts_with_a_choice_and_the_kitchen_knows(clerk: MakeClerk, running: Running) -> None:
    """Two items, one with a choice, a likely note: paid, sent, and the next item begins the next sale."""
    bar = clerk()
    bar.sign_in()
    bar.page.goto(f"{running.url}/prep/kitchen")
    before = bar.page.get_by_role("button", name=re.compile("^Done: ")).count()
    bar.page.goto(f"{running.url}/counter-mode?category=pots")
    bar.acts = 0
    bar.touch("link", "Choose for Fish soup")
    bar.touch("button", "rye", exact=True)
    bar.touch("button", "Add Soup of the tide")
    bar.sees("Send 2 to kitchen and take €17.40")
    bar.touch("button", re.compile("^€20.00 €2.60 back"))
    bar.counted("counter: two items, one with a choice, sent by paying", 4)
    bar.sees("Sent to kitchen")
    bar.page.goto(f"{running.url}/prep/kitchen")
    assert bar.page.get_by_role("button", name=re.compile("^Done: ")).count() == before + 1
    bar.check()
    bar.page.goto(f"{running.url}/counter-mode")
    scan(bar.page, code_of(running, "Tide tables"))
    bar.page.get_by_role("group", name="Likely cash").wait_for()
    assert "/counter-mode" in bar.page.url
    bar.touch("button", "Regular 10 %")
    bar.page.get_by_role("button", name="Regular 10 %", pressed=True).wait_for()
    bar.touch("button", "Lock")
    in_balance(running)


@pytest.mark.acts
def test_three_acts_from_one_customer_to_the_next(clerk: MakeClerk, running: Running) -> None:
    bar = clerk()
    bar.sign_in()
    bar.touch("link", "Counter mode")
    bar.acts = 0
    bar.touch("button", "Add Lemon posset")
    bar.touch("button", "Add Small cider")
    bar.touch("button", re.compile("^€15.00 €4.20 back"))
    bar.counted("counter: two items, a likely note", 4)
    bar.sees("Give the change")
    bar.sees("Ready for the next")
    bar.touch("button", "Not right: take this payment back", check=False)
    bar.page.goto(f"{running.url}/counter-mode")
    bar.touch("button", re.compile("^€20.00 €9.20 back"))
    bar.touch("button", "Add Still water, bottle")
    bar.sees("€3.00")
    bar.page.locator("summary", has_text="Leave, or lock this till").click()
    bar.touch("button", "Lock till Galley to counter mode")
    bar.page.goto(f"{running.url}/past")
    assert bar.page.url.endswith("/counter-mode")
    bar.page.locator("summary", has_text="is locked to counter mode").click()
    bar.expected = {422}
    bar.touch("button", "Let till Galley out of counter mode")
    bar.sees("supervisor's right")
    bar.expected = set()
    bar.page.get_by_label("Supervisor's PIN").fill("407118")
    bar.touch("button", "Let till Galley out of counter mode")
    bar.page.goto(f"{running.url}/past")
    assert bar.page.url.endswith("/past")
    in_balance(running)
