"""A party that grows, changes its mind, parts and pays in mixed ways; goods that ask which; benefits, invoices, whose."""

from __future__ import annotations

import re

from abrazo.demo.house import code_of as demo_code
from tests.stories.desk import MakeClerk, in_balance, scan, wren
from tests.stories.house import Running
from tests.stories.test_table_settled import machine_tells


def test_a_party_grows_parts_and_one_gives_an_amount(clerk: MakeClerk, running: Running) -> None:
    server = clerk()
    server.sign_in()
    machine_tells(server, "approved")
    ticket = running.ticket("D4")
    server.page.goto(f"{running.url}/tickets/{ticket}")
    server.touch("button", "One more guest")
    server.touch("link", "Ale & cider")
    server.touch("link", "One more of the next item")
    server.touch("link", "For seat E")
    server.touch("button", "Add Small cider")
    server.sees("2 × Small cider")
    server.page.locator("a.line, summary.line", has_text="Fish soup").click()
    server.touch("link", "Change choices, note of fish soup")
    server.page.get_by_label("sourdough").check()
    server.type("Note", "no hurry")
    server.touch("button", "Change fish soup on Table D4")
    server.sees("sourdough, no cream")
    server.sees("“no hurry”")

    server.touch("link", "Move")
    server.page.get_by_label("Seat C").check()
    server.page.get_by_label("Seat D").check()
    server.touch("button", re.compile("^Table D6"))
    server.touch("button", "It stays with the others")
    server.page.get_by_role("heading", name="Table D6").wait_for()
    server.sees("Crab toastie")
    server.page.goto(f"{running.url}/")
    server.touch("link", "Back to the ticket in work, Table D6")
    server.page.goto(f"{running.url}/tickets/{ticket}?view=share")
    server.page.get_by_role(
        "heading", name=re.compile("€54.90")
    ).wait_for()  # 92.30 and 9.20 of cider, less 46.60 that C and D had
    server.touch("link", "By amounts")
    server.expected = {422}
    server.type("One gives", "70")
    server.touch("button", "Make it one part")
    server.sees("at most €54.90")
    assert server.page.get_by_label("One gives").input_value() == "70"
    server.expected = set()
    server.type("One gives", "20")
    server.touch("button", "Make it one part")
    server.touch("button", "By seat")
    server.sees("Both sides meet: €54.90 shared, €0.00 left over")
    server.touch("link", re.compile("Part Z"))
    server.touch("button", "Charge €20.00 on card machine 1", check=False)
    server.sees("charged on card machine 1")
    server.page.goto(f"{running.url}/tickets/{ticket}?view=share")
    server.touch("button", "Undo")
    server.touch("link", re.compile("^Take €34.90 from"))
    server.touch("button", "€40.00 €5.10 back")
    server.touch("button", "Change given, free D4")
    in_balance(running)


def test_goods_that_fit_several_ask_which(clerk: MakeClerk, running: Running) -> None:
    server = clerk()
    server.sign_in()
    server.touch("button", re.compile("^Counter sale"))
    scan(server.page, demo_code(170))
    server.sees("Dry bag: which one?")
    server.check()
    server.touch("button", re.compile("^Add Dry bag ?M ?teal"))
    server.sees("Dry bag M, teal")
    server.type("Find an item by part of its name, or its number", "teal bag")
    server.page.get_by_text("3 kinds").wait_for()
    server.touch("link", re.compile("^Dry bag"))
    server.sees("none left by the count")  # the one teal M is on this ticket
    server.page.goto(f"{running.url}/goods")
    server.touch("link", "Count Dry bag M, teal")
    server.expected = {422}
    server.type("There are now", "some")
    server.touch("button", "Delivery")
    server.sees("Goods are counted by a supervisor, or with their PIN")
    server.type("Supervisor's PIN", "407118")
    server.touch("button", "Do it with this right")
    assert server.page.get_by_label("There are now").input_value() == "some"
    server.type("There are now", "6")
    server.touch("button", "Delivery")
    server.type("Supervisor's PIN", "407118")
    server.expected = set()
    server.touch("button", "Do it with this right")
    server.sees("6 here")


def test_a_benefit_is_kept_for_another_day_and_an_old_invoice_is_paid_along(clerk: MakeClerk, running: Running) -> None:
    desk = wren(clerk)
    desk.touch("button", "Check out Marguerite Oyelaran, €51.04")
    desk.sees("Tidekeeper until 30 Apr 2027")
    desk.touch("button", "Keep it for another day: Tidekeeper: 12 % off sessions")
    desk.sees("Pay €58.00")
    desk.touch("button", "Use it today: Tidekeeper: 12 % off sessions")
    desk.touch("link", "Pay €51.04")
    desk.touch("button", "Charge €51.04 on card machine 2", check=False)
    desk.page.wait_for_url("**/done")

    desk.page.goto(f"{running.url}/")
    desk.touch("button", re.compile("^Counter sale"))
    desk.touch("link", "Add customer")
    desk.type("Any part of a name, phone or e-mail", "brandv")
    desk.touch("button", re.compile("Theo Brandvold"))
    desk.sees("owes €123.00")
    desk.touch("button", re.compile("^Add €123.00 of"))
    desk.touch("link", "Shop")
    desk.touch("button", "Add Kelp soap")
    desk.touch("link", "Pay €130.50")
    desk.touch("button", "Charge €130.50 on card machine 2", check=False)
    desk.page.wait_for_url("**/done")
    desk.settle()
    desk.touch("button", "Close the ticket")
    desk.page.goto(f"{running.url}/people?q=Theo")
    desk.touch("link", re.compile("Theo Brandvold"))
    desk.sees("Nothing is owed.")
    in_balance(running)
