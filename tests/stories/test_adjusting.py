"""What is taken off and put on: presets, a code that takes another's place, a comp with a lent right, charges."""

from __future__ import annotations

import re

from tests.stories.desk import MakeClerk
from tests.stories.house import Running


def test_discounts_a_comp_and_charges_with_their_reasons(clerk: MakeClerk, running: Running) -> None:
    server = clerk()
    server.sign_in()
    ticket = running.ticket("D4")
    server.page.goto(f"{running.url}/tickets/{ticket}")
    server.page.locator("a.line, summary.line", has_text="Fish soup").click()
    server.touch("link", re.compile("^Discount, comp, surcharge.* on fish soup"))
    server.touch("button", re.compile("^Late tide 2.00 off"))
    server.sees("Late tide 2.00 off, discount 2.00")
    server.sees("Pay €90.30")
    server.page.locator("a.line, summary.line", has_text="Seaweed-salt chips").click()
    server.touch("link", re.compile("^Discount, comp, surcharge.* on seaweed-salt chips"))
    server.expected = {422}
    server.type("Code", "NOSUCH")
    server.touch("button", "Use this code")
    server.sees("There is no code NOSUCH for this line.")
    assert server.page.get_by_label("Code", exact=True).input_value() == "NOSUCH"
    server.type("Code", "saltpan8")
    server.expected = set()
    server.touch("button", "Use this code")
    server.sees("Pay €89.91")  # 8 % of 4.90 is 0.39
    server.page.goto(f"{running.url}/tickets/{ticket}/adjust?line={chips(running, ticket)}")
    server.sees("another code takes its place")
    server.expected = {422}
    server.touch("button", re.compile("^Waited too long"))
    server.sees("supervisor's right")
    server.expected = set()
    server.page.get_by_label("Supervisor's PIN").first.fill("407118")
    server.touch("button", re.compile("^Waited too long"))
    server.sees("Pay €85.40")  # the chips are given away

    server.touch("link", "Discount", exact=True)
    server.touch("button", "Put it on")
    server.sees("€8.54")
    server.touch("button", re.compile("^Corkage"))
    server.sees("Pay €99.94")
    server.touch("link", "Discount", exact=True)
    server.touch("button", "Take it off Corkage")
    server.touch("button", re.compile("^Take it off Service charge"))
    server.page.goto(f"{running.url}/tickets/{ticket}/why?line={chips(running, ticket)}")
    server.sees("Discount: Waited too long, 100 % of €4.51")
    server.check()


def test_what_the_kitchen_was_told_goes_only_by_right(clerk: MakeClerk, running: Running) -> None:
    """Asked for on a page of its own; what was typed stays, and the ticket keeps who allowed it and why."""
    server = clerk()
    server.sign_in()
    ticket = running.ticket("D4")
    server.page.goto(f"{running.url}/tickets/{ticket}?view=lines")
    server.page.locator("a.line, summary.line", has_text="Fish soup").click()
    server.expected = {422}
    server.touch("button", "Remove fish soup")
    server.page.get_by_role("heading", name="Take Fish soup off").wait_for()
    server.type("Or in other words", "dropped on the deck")
    server.touch("button", "Take Fish soup off")
    server.sees("supervisor's right")
    assert server.page.get_by_label("Or in other words").input_value() == "dropped on the deck"
    server.expected = set()
    server.page.get_by_label("Supervisor's PIN").first.fill("407118")
    server.touch("button", "Take Fish soup off")
    server.page.get_by_role("list", name="Removed lines").get_by_text("Fish soup").wait_for()
    server.page.goto(f"{running.url}/tickets/{ticket}/history")
    server.sees("Removed 1 × Fish soup (rye, no cream): dropped on the deck, allowed by Odile Marsh")
    server.check()


def chips(running: Running, ticket: int) -> int:
    house = running.look()
    sql = "SELECT id FROM line WHERE ticket = ? AND item = 'seaweed-salt-chips'"
    line = house.connection.execute(sql, (ticket,)).fetchone()[0]
    house.connection.close()
    return int(line)
