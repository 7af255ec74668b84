"""Jobs by the acts they take, against what is wanted: `make acts` prints these and those that other stories count."""

from __future__ import annotations

import re

import pytest

from abrazo.demo.doors import GIFT_CARD
from abrazo.demo.house import DRY_BAG
from abrazo.desk.context import Actor
from abrazo.desk.setup import house_settings
from abrazo.desk.setup.founding import shift_clock
from tests.stories.conftest import Clerk
from tests.stories.desk import MakeClerk, code_of, in_balance, noted, opened, scanned, tipped, wren
from tests.stories.house import Running
from tests.stories.test_paying import FINDER, service_tells
from tests.stories.test_table_settled import machine_tells
from tests.stories.waiting import until

pytestmark = pytest.mark.acts


def longer_service(desk: Clerk, running: Running) -> None:
    """A preset on the line, a product scanned, a tip by percent, gift card and cash."""
    desk.touch("button", "Regular 10 %", check=False)
    scanned(desk, code_of(running, "Kelp soap"))
    desk.touch("link", re.compile("^Pay €"), check=False)
    desk.touch("button", re.compile("^10 % €"), check=False)
    scanned(desk, GIFT_CARD)
    desk.touch("button", re.compile("^Take €40.00 from gift card"), check=False)
    noted(desk, 1)


def minutes_later(running: Running, minutes: int) -> None:
    """The house's clock has gone on; its process is a new one."""
    running.kill()
    house = running.look()
    before = house.connection.execute("SELECT clock_shift FROM settings").fetchone()[0]
    shift_clock(house, before + 60 * minutes)
    house.connection.close()
    running.start()


def closed_by_itself(running: Running, ticket: int) -> None:
    """Wait until it is."""

    def so() -> bool:
        house = running.look()
        state = house.connection.execute("SELECT state FROM ticket WHERE id = ?", (ticket,)).fetchone()[0]
        house.connection.close()
        return bool(state == "closed")

    until(so, "it does not close by itself")


def test_a_finished_booking(clerk: MakeClerk, running: Running) -> None:
    house = running.look()
    boss = Actor(house.staff()["odile"], house.tills()["landing"])
    house_settings.decide(house, boss, "free_after", "2")
    house.connection.close()
    desk = wren(clerk)
    desk.touch("button", "Check out Elis Lindqvist-Amari, €48.00", check=False)
    opened(desk, "First paddle")
    desk.touch("button", "Pilar", exact=True, check=False)
    desk.touch("button", "Roll clinic €64.00", check=False)
    longer_service(desk, running)
    desk.touch("button", re.compile("^Book Elis Lindqvist-Amari again: Roll clinic with Pilar"))
    desk.sees("Booked. It will stand on the receipt.")
    desk.counted("finished booking: all of it, with the next visit", 12)
    ticket = int(re.search(r"/tickets/([0-9]+)/done", desk.page.url)[1])  # type: ignore[index]  # it is the end page
    desk.page.goto("about:blank")
    minutes_later(running, 3)  # closing costs no act: the house closes by itself, and sends the receipt
    closed_by_itself(running, ticket)
    in_balance(running)


def test_a_walk_in_from_the_queue(clerk: MakeClerk, running: Running) -> None:
    desk = wren(clerk)
    desk.touch("link", "Serve Maren Holt", check=False)
    desk.touch("button", "Roll clinic with Pilar Sandoval", check=False)
    opened(desk, "Roll clinic")
    longer_service(desk, running)
    desk.counted("walk-in from the queue, the same without next visit", 10)
    in_balance(running)


@pytest.mark.parametrize("way", ["machine", "keyed", "recorded"])
def test_a_stay_is_charged(clerk: MakeClerk, running: Running, way: str) -> None:
    """From the ticket at hand."""
    server = clerk()
    server.sign_in()
    machine_tells(server, "approved")
    service_tells(server, "approved")
    server.page.goto(f"{running.url}/tickets/{running.ticket('D1')}?view=lines")
    server.touch("link", "Pay €28.10", check=False)
    if way == "machine":
        server.touch("button", "Charge €28.10 on card machine 1", check=False)
    elif way == "keyed":
        server.touch("link", "Key a card", check=False)
        server.type("Card number", "4000 0012 3456 7899")
        server.type("Expiry, MM/YY", "09/29")
        server.type("Security code", "907")
        server.touch("button", re.compile("charge .* through the payment service", re.I), check=False)
    else:
        server.touch("link", "Another card machine", check=False)
        server.page.locator("#reference").fill("118")
        server.page.keyboard.press("Enter")
        server.acts += 1
    server.sees("D1 is paid")
    wanted = {"machine": 3, "keyed": 6, "recorded": 3}[way]
    server.counted(f"a stay charged: {way}", wanted)


def test_by_seat_with_cash_cheque_and_voucher(clerk: MakeClerk, running: Running) -> None:
    server = clerk()
    server.sign_in()
    server.page.reload()
    server.touch("button", "Share out €50.90 on G3", check=False)
    server.touch("link", "Take €19.60 from A", check=False)
    noted(server, 1)
    server.touch("link", "Change given, take €18.90 from B", check=False)
    server.touch("link", "Cheque", check=False)
    server.type("The cheque's number", "118")
    server.touch("button", "Record €18.90 already taken by cheque", check=False)
    server.touch("link", "Other voucher", check=False)
    server.type("The voucher's number", "V 7", enter=True)
    server.sees("G3 is paid")
    server.counted("by seat: three seats, cash, cheque, voucher", 9)


def test_two_seats_with_tip_lines(clerk: MakeClerk, running: Running) -> None:
    server = clerk()
    server.sign_in()
    machine_tells(server, "approved")
    server.page.goto(f"{running.url}/tickets/{running.ticket('D1')}?view=lines")
    server.touch("button", "Share out", check=False)
    server.touch("link", re.compile("^Take €.* from A"), check=False)
    for letter in "AB":
        server.page.get_by_role("heading", name=f"Seat {letter} pays").wait_for()
        server.touch("button", "Print the bill twice, to be signed with a tip", check=False)
        server.touch("button", re.compile("^Charge €"), check=False)
    server.sees("D1 is paid")
    for nth in (0, 1):
        server.page.get_by_label("Tip on the slip").nth(nth if nth == 0 else -1).fill("2")
        server.page.keyboard.press("Enter")
        server.acts += 1
        tipped(running, nth + 1)
        server.page.wait_for_url("**/done")
        server.page.get_by_text("tip added").nth(nth).wait_for()
        server.settle()
    server.counted("two seats, bills with tip lines, both charged with tips", 8)
    in_balance(running)


def test_a_counter_order_moved_to_a_tab(clerk: MakeClerk, running: Running) -> None:
    """A required and an optional choice, a request, one line comped, moved to a tab."""
    boss = clerk()
    boss.sign_in("odile", "407118", "galley")
    boss.touch("button", "Counter sale", check=False)
    boss.page.locator(".tiles a", has_text="Fish soup").first.click()
    boss.page.get_by_label("rye").check()
    boss.page.get_by_label("no cream").check()
    boss.acts += 3
    boss.type("Note", "hot, please")
    boss.touch("button", "Add Fish soup to Counter sale", check=False)
    boss.touch("button", "Add Soup of the tide", check=False)
    opened(boss, "Soup of the tide")
    boss.touch("button", "Waited too long", check=False)
    boss.touch("link", "Move", check=False)
    boss.touch("button", re.compile("^Tab Ro "), check=False)
    boss.page.get_by_role("heading", name="Tab Ro").wait_for()
    boss.counted("counter order: choices, request, one comped, moved to a tab", 11)


def test_handed_over_by_number(clerk: MakeClerk, running: Running) -> None:
    desk = wren(clerk)
    desk.type(FINDER, "1036", enter=True)
    desk.page.get_by_role("heading", name="S-1036").wait_for()
    desk.touch("button", "Charge €22.00 on card machine 2, then hand over", check=False)
    desk.sees("is paid")
    desk.touch("button", "Hand over S-1036")
    desk.counted("hand over by number, rest by card", 4)
    in_balance(running)


def test_a_household_on_one_ticket(clerk: MakeClerk, running: Running) -> None:
    """Two bookings, goods scanned and unlisted, 10 % off, one line comped, cash in part, the rest by card, by e-mail."""
    boss = clerk()
    boss.sign_in("odile", "407118", "landing")
    machine_tells(boss, "approved", machine="card machine 2")
    boss.touch("button", "Check out Elis Lindqvist-Amari, €48.00", check=False)
    boss.touch("button", "Add Signe's skiff lesson", check=False)
    scanned(boss, code_of(running, "Kelp soap"))
    boss.touch("link", "Unlisted item", check=False)
    boss.type("What it is", "Paddle repair tape")
    boss.type("Price", "4.50", enter=True)
    boss.page.get_by_role("region", name="Lines").get_by_role("link", name="Discount", exact=True).click()
    boss.acts += 1
    boss.settle()
    boss.touch("button", re.compile("^Regular 10 %"), check=False)
    opened(boss, "Kelp soap")
    boss.touch("button", "Waited too long", check=False)
    boss.touch("link", re.compile("^Pay €"), check=False)
    boss.type("Amount to take", "50", enter=True)
    noted(boss)
    boss.touch("link", re.compile("^Change given, take €"), check=False)
    boss.touch("button", re.compile("^Charge €"), check=False)
    boss.page.wait_for_url("**/done")
    boss.touch("button", "Close, and e-mail the receipt to elis@lindqvist.example")
    boss.sees("The receipt goes to elis@lindqvist.example.")
    boss.counted("household: two bookings, two goods, cash and card, e-mail", 16)
    in_balance(running)


def owes_for_a_hat(desk: Clerk, person: int) -> None:
    """Somebody who pays by stored card, and may pay later, has bought a hat."""
    desk.page.goto(f"{desk.running.url}/people/{person}?change=yes")
    desk.page.get_by_label("May pay later, on an account").check()
    desk.touch("button", "Keep these facts", check=False)
    desk.touch("button", re.compile("^A sale for "), check=False)
    scanned(desk, code_of(desk.running, "Sun hat"))
    desk.touch("link", re.compile("^Pay €"), check=False)
    desk.touch("link", re.compile("^On account"), check=False)
    desk.touch("button", re.compile("^Put €22.00 on Signe Amari's account"), check=False)
    desk.touch("button", "Close the ticket", exact=True)
    desk.page.goto(f"{desk.running.url}/people/{person}")
    desk.touch("button", re.compile("^A sale for "), check=False)
    scanned(desk, code_of(desk.running, "Kelp soap"))
    desk.touch("link", re.compile("^Pay €"), check=False)
    desk.touch("link", re.compile("7899 stored by Signe"), check=False)
    desk.touch("button", re.compile("charge €7.50 .*7899", re.I), check=False)
    desk.page.wait_for_url("**/done")
    desk.touch("button", "Close the ticket", exact=True)


def test_a_shop_sale_to_a_household(clerk: MakeClerk, running: Running) -> None:
    """A variant for one of them, less by preset, with what is owed from before, by stored card."""
    desk = wren(clerk)
    service_tells(desk, "approved")
    owes_for_a_hat(desk, 2)
    desk.page.goto(running.url)
    desk.acts = 0
    desk.type(FINDER, "020 910 0102", enter=True)
    desk.touch("button", re.compile("^A sale for "), check=False)
    desk.touch("button", "Add €22.00 of Sat 13 Jun", check=False)
    scanned(desk, str(DRY_BAG.code))
    desk.touch("button", re.compile("M.*teal"), check=False)
    desk.touch("button", "Ivo", exact=True, check=False)
    desk.sees("for Ivo Lindqvist-Amari")
    desk.touch("button", "Regular 10 %")
    desk.touch("link", "Pay €43.60", check=False)
    desk.touch("button", re.compile("charge €43.60 .*7899", re.I), check=False)
    desk.counted("shop sale to a household: variant, for whom, preset, old debt, stored card", 9)
    desk.page.wait_for_url("**/done")
    desk.sees("Dry bag M, teal, for Ivo")
    in_balance(running)


def test_a_sale_on_a_phone(clerk: MakeClerk, running: Running) -> None:
    """In one hand: two items, a discount's code, the customer by phone number, a voucher for a part, the rest by card."""
    server = clerk(390, 844)
    server.sign_in()
    machine_tells(server, "approved")
    server.page.goto(running.url)
    server.acts = 0
    server.touch("button", "Counter sale", check=False)
    server.touch("button", "Add Clam and leek pot", check=False)
    server.touch("button", "Add Soup of the tide", check=False)
    server.touch("link", re.compile("^Lines"), check=False)
    server.page.get_by_role("region", name="Lines").get_by_role("link", name="Discount", exact=True).click()
    server.acts += 1
    server.settle()
    server.type("Code", "SALTPAN8", enter=True)
    server.sees("€21.53")
    server.touch("link", "Customer", exact=True)
    server.page.locator("#whose-q").fill("020 910 0101")
    server.page.keyboard.press("Enter")
    server.acts += 1
    server.settle()
    server.touch("button", re.compile("Elis Lindqvist-Amari"), check=False)
    print(server.page.url, server.acts)
    server.touch("link", re.compile("^Pay €"), check=False)
    server.type("Amount to take", "10", enter=True)
    server.touch("link", "Other voucher", check=False)
    server.type("The voucher's number", "V 7", enter=True)
    server.touch("button", re.compile("charge €11.53 on card"), check=False)
    server.page.wait_for_url("**/done")
    server.counted("on a phone: two items, code, customer by phone number, voucher and card", 14, 16)
    in_balance(running)
