"""The counter: two items, a likely note, and the next customer; a till that is locked to it."""

from __future__ import annotations

import re

from tests.stories.desk import MakeClerk, in_balance
from tests.stories.house import Running


def test_three_acts_from_one_customer_to_the_next(clerk: MakeClerk, running: Running) -> None:
    bar = clerk()
    bar.sign_in("jory", "3395")
    bar.touch("link", "Counter mode")
    bar.acts = 0
    bar.touch("button", "Add Lemon posset")
    bar.touch("button", "Add Small cider")
    bar.touch("button", re.compile("^€15.00 €4.20 back"))
    assert bar.acts == 3
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
