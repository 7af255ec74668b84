"""More jobs with every preset wrong: whole groups, jobs, households, slips, what is put right."""

from __future__ import annotations

import re

import pytest

from tests.stories.desk import MakeClerk, code_of, in_balance, scanned, tipped, wren
from tests.stories.house import Running
from tests.stories.test_paying import FINDER, key_card, service_tells
from tests.stories.test_phone_order import ordered
from tests.stories.test_table_settled import machine_tells

pytestmark = pytest.mark.acts


def test_a_new_walk_in_by_card(clerk: MakeClerk, running: Running) -> None:
    desk = wren(clerk)
    desk.touch("link", "Walk-in", check=False)
    desk.type("Name", "Rasmus Ley")
    desk.type("Phone", "020 910 0177")
    desk.page.get_by_label("Service", exact=True).select_option("guided-creek-tour")
    desk.page.get_by_label("With", exact=True).select_option("noor")
    desk.acts += 2
    desk.touch("button", "Serve now", check=False)
    desk.touch("link", "Pay €58.00", check=False)
    desk.type("Other tip", "2", enter=True)
    desk.touch("button", "Charge €60.00 on card machine 2", check=False)
    desk.page.wait_for_url("**/done")
    desk.counted("otherwise: walk-in, new person, other service and staff, tip, by card", 9)
    in_balance(running)


def test_a_household_pays_in_cash(clerk: MakeClerk, running: Running) -> None:
    """A booking and the job of somebody else in it, nothing off, all in cash, printed."""
    desk = wren(clerk)
    desk.touch("button", "Check out Elis Lindqvist-Amari, €48.00", check=False)
    desk.touch("button", re.compile("^Add S-1036"), check=False)
    desk.touch("link", "Pay €70.00", check=False)
    desk.touch("button", re.compile("^€100.00 €30.00 back"), check=False)
    desk.touch("link", "Change given, on to the receipt and the end", check=False)
    desk.touch("button", re.compile("^Hand over S-1036"), check=False)
    desk.counted("otherwise: household, a booking and a job, all in cash", 16)
    in_balance(running)


def test_a_counter_order_goes_to_a_table(clerk: MakeClerk, running: Running) -> None:
    boss = clerk()
    boss.sign_in("odile", "407118", "galley")
    boss.touch("button", "Counter sale", check=False)
    boss.touch("button", "Add Clam and leek pot", check=False)
    boss.touch("link", "Move", check=False)
    boss.type("Find", "g6")
    boss.page.get_by_role("button", name="Table D4").wait_for(state="detached")
    boss.touch("button", re.compile("^Table G6"), check=False)
    boss.page.get_by_role("heading", name="Table G6").wait_for()
    boss.counted("otherwise: counter order, found by typing, to a table", 11)


def test_a_household_buys_with_a_machine(clerk: MakeClerk, running: Running) -> None:
    """For another of them, without what is owed, by a tip and the card machine."""
    desk = wren(clerk)
    desk.type(FINDER, "020 910 0101", enter=True)
    desk.touch("button", re.compile("^A sale for "), check=False)
    desk.touch("link", "Shop", check=False)
    desk.touch("button", "Add Sun hat", check=False)
    desk.touch("button", "Signe", exact=True, check=False)
    desk.touch("link", "Pay €22.00", check=False)
    desk.touch("button", "Charge €22.00 on card machine 2", check=False)
    desk.page.wait_for_url("**/done")
    desk.sees("for Signe Amari")
    desk.counted("otherwise: shop sale to a household, another member, by card machine", 9)
    in_balance(running)


def test_a_group_that_ordered_by_phone_pays_as_one(clerk: MakeClerk, running: Running) -> None:
    server = clerk()
    server.sign_in()
    service_tells(server, "approved")
    number = ordered(server)
    server.page.goto(running.url)
    server.acts = 0
    server.type(FINDER, number, enter=True)
    server.touch("link", "Pay €67.20", check=False)
    server.touch("link", "Key a card", check=False)
    key_card(server)
    server.touch("button", re.compile("charge €67.20 on this card", re.I), check=False)
    server.page.wait_for_url("**/done")
    server.counted("otherwise: phone group of four, one pays by a keyed card", 11)
    in_balance(running)


def test_a_repair_on_another_day_with_cash(clerk: MakeClerk, running: Running) -> None:
    desk = wren(clerk)
    desk.touch("link", "Job drop-off", check=False)
    desk.type("Customer: any part of a name, phone or e-mail", "fenna")
    desk.touch("link", "Fenna Okafor-Lind", check=False)
    desk.type("The thing", "Kayak, blue")
    desk.page.get_by_role("checkbox", name="Hull patch").check()
    desk.page.get_by_role("radio", name="Fri 19").check()
    desk.acts += 2
    desk.type("Deposit, paid first", "20")
    desk.touch("button", "Take in the job, print its tag", check=False)
    desk.touch("button", "€20.00 exact", check=False)
    scanned(desk, code_of(running, "Tide tables"))
    desk.touch("link", "Pay €6.50", check=False)
    desk.touch("button", "Charge €6.50 on card machine 2", check=False)
    desk.page.wait_for_url("**/done")
    desk.counted("otherwise: repair on another day, deposit in cash, goods by card", 12 + 2)
    in_balance(running)


def test_wrong_cash_was_a_cheque(clerk: MakeClerk, running: Running) -> None:
    server = clerk()
    server.sign_in()
    server.page.goto(f"{running.url}/tickets/{running.ticket('D1')}?view=pay")
    server.touch("button", "€30.00 €1.90 back", check=False)
    server.acts = 0
    server.touch("button", "Take this payment of €28.10 back", check=False)
    server.touch("link", "Cheque", check=False)
    server.type("The cheque's number", "17", enter=True)
    server.sees("D1 is paid")
    server.counted("otherwise: wrong cash was a cheque", 4)
    in_balance(running)


def test_a_stay_in_two_parts(clerk: MakeClerk, running: Running) -> None:
    """A part on the machine, the rest recorded from elsewhere."""
    server = clerk()
    server.sign_in()
    machine_tells(server, "approved")
    server.page.goto(f"{running.url}/tickets/{running.ticket('D1')}?view=pay")
    server.acts = 0
    server.type("Amount to take", "20", enter=True)
    server.touch("button", "Charge €20.00 on card machine 1", check=False)
    server.page.get_by_role("link", name="Another card machine").wait_for()
    server.touch("link", "Another card machine", check=False)
    server.page.locator("#reference").fill("119")
    server.page.keyboard.press("Enter")
    server.acts += 1
    server.sees("D1 is paid")
    server.counted("otherwise: a stay charged in two parts", 6)
    in_balance(running)


def test_a_phone_sale_for_somebody_new(clerk: MakeClerk, running: Running) -> None:
    server = clerk(390, 844)
    server.sign_in()
    server.page.goto(running.url)
    server.acts = 0
    server.touch("button", "Counter sale", check=False)
    server.touch("button", "Add Soup of the tide", check=False)
    server.touch("link", re.compile("^Lines"), check=False)
    server.touch("link", "Customer", exact=True, check=False)
    server.page.locator("#whose-q").fill("Rasmus Ley")
    server.page.keyboard.press("Enter")
    server.acts += 1
    server.settle()
    server.type("Phone", "020 910 0177")
    server.touch("button", re.compile("^Add and put on"), check=False)
    server.touch("link", re.compile("^Pay €7.60"), check=False)
    server.touch("button", re.compile("^€10.00 €2.40 back"), check=False)
    server.counted("otherwise: on a phone, a new customer, cash", 14)
    in_balance(running)


def test_slips_of_which_one_has_a_tip(clerk: MakeClerk, running: Running) -> None:
    server = clerk()
    server.sign_in()
    machine_tells(server, "approved")
    server.page.goto(f"{running.url}/tickets/{running.ticket('D1')}?view=lines")
    server.touch("button", "Share out", check=False)
    server.touch("link", re.compile("^Take €.* from A"), check=False)
    for letter in "AB":
        server.page.get_by_role("heading", name=f"Seat {letter} pays").wait_for()
        server.touch("button", re.compile("^Charge €"), check=False)
    server.sees("D1 is paid")
    server.page.get_by_label("Tip on the slip").first.fill("3.50")
    server.page.keyboard.press("Enter")
    server.acts += 1
    tipped(running, 1)
    server.counted("otherwise: two seats, one tips on the slip, no bills printed", 8)
    in_balance(running)


def test_all_pieces_at_once(clerk: MakeClerk, running: Running) -> None:
    desk = wren(clerk)
    desk.type(FINDER, "S-1034", enter=True)
    desk.page.get_by_role("heading", name="S-1034").wait_for()
    desk.type("Pieces of 3 × Oar re-leather to hand over", "3")
    desk.touch("button", "Hand over these pieces", check=False)
    desk.sees("3 of oar re-leather")
    desk.counted("otherwise: hand over all pieces of one task", 5)


def test_a_starter_for_one_and_service_in_proportion(clerk: MakeClerk, running: Running) -> None:
    server = clerk()
    server.sign_in()
    server.page.goto(f"{running.url}/tickets/{running.ticket('P1')}?view=lines")
    server.touch("button", "Share out", check=False)
    server.acts = 0
    server.touch("link", "Seat A", check=False)
    server.touch("button", "Only A, Smoked mussel pot", check=False)
    server.page.get_by_role("button", name="Whole table, Smoked mussel pot").wait_for()
    server.counted("otherwise: the shared starter is one's alone", 3)
