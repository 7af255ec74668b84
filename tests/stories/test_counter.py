"""The counter: two items, a likely note, and the next customer; a till that is locked to it."""

from __future__ import annotations

import re
from pathlib import Path

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


@pytest.mark.acts
def test_quick_service_with_a_sale_on_hold(clerk: MakeClerk, running: Running) -> None:
    """Three items with choices, one changed, held for the next customer, brought back, 10 % off, a gift receipt."""
    bar = clerk()
    bar.sign_in()
    bar.page.goto(f"{running.url}/counter-mode?category=toasties")
    bar.acts = 0
    for item, bread in (("Crab toastie", "rye"), ("Mushroom toastie", "rye"), ("Half toastie and soup", "sourdough")):
        bar.touch("link", f"Choose for {item}", check=False)
        bar.touch("button", bread, exact=True, check=False)
    bar.touch("link", "Change Mushroom toastie")
    bar.page.get_by_role("radio", name="gluten-free").check()
    bar.acts += 1
    bar.touch("button", "Change Mushroom toastie")
    bar.sees("€39.50")
    bar.touch("button", "Hold", exact=True)
    acts = bar.acts
    bar.touch("button", "Add Child's toastie")  # somebody else, who pays first
    bar.touch("button", re.compile("^€7.40 exact"))
    bar.acts = acts
    bar.touch("button", re.compile("^Bring back Sale [0-9]+, €39.50"))
    bar.touch("button", "Regular 10 %", check=False)
    bar.touch("button", re.compile("^€40.00 €4.45 back"), check=False)
    bar.touch("button", "Gift receipt")
    bar.counted("quick service: three with choices, one changed, held, 10 % off, gift receipt", 14)
    bar.sees("Gift receipt printed.")
    paper = Path(str(running.db).replace("house.db", "house-paper.txt")).read_text("utf-8")
    gift = paper[paper.rindex("Gift receipt") :]
    assert "Mushroom toastie" in gift and "gluten-free" in gift and "39.50" not in gift and "35.55" not in gift
    in_balance(running)


def test_two_sales_change_places(clerk: MakeClerk, running: Running) -> None:
    """Bringing one back puts the other on hold; a sale that waits keeps the day open, and waits under its number."""
    bar = clerk()
    bar.sign_in()
    bar.page.goto(f"{running.url}/counter-mode?category=sweet")
    bar.touch("button", "Add Lemon posset")
    bar.touch("button", "Hold", exact=True)
    bar.touch("button", "Add Ginger parkin")
    bar.touch("button", re.compile("^Bring back Sale [0-9]+, €6.20"))
    bar.sees("Lemon posset")
    bar.page.get_by_role("button", name=re.compile("^Bring back Sale [0-9]+, €3.60")).wait_for()
    bar.touch("button", re.compile("^Bring back Sale [0-9]+, €3.60"))
    bar.touch("button", re.compile("^Bring back Sale [0-9]+, €6.20"))
    bar.touch("button", re.compile("^€10.00 €3.80 back"))
    bar.touch("button", re.compile("^Bring back Sale [0-9]+, €3.60"))  # closes what is paid
    assert bar.page.get_by_role("button", name=re.compile("^Bring back Sale")).count() == 0
    bar.sees("Ginger parkin")
    bar.touch("button", "Bring back Green anorak, €6.80")  # which somebody named
    bar.page.get_by_role("group", name="Likely cash").get_by_role("button").first.click()
    bar.sees("€6.80 paid in cash")
    in_balance(running)
