"""The end of the day and the next: paid out, counted, closed by a supervisor, reported, opened again."""

from __future__ import annotations

import re
from collections.abc import Callable
from datetime import UTC, datetime
from pathlib import Path
from zoneinfo import ZoneInfo

import pytest

from abrazo.demo.story import Story, StoryClock
from abrazo.desk.context import House
from abrazo.desk.doors import tabs
from abrazo.desk.payments import card_poller, closing
from abrazo.desk.setup.founding import shift_clock
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.snapshot import load_ticket
from abrazo.desk.till import counting
from abrazo.desk.till.views.till import till_page
from abrazo.devices.ports import Script
from abrazo.store import holds
from abrazo.store import ticket as ticket_store
from tests.stories.conftest import Clerk
from tests.stories.house import Running
from tests.stories.test_paying import FINDER
from tests.stories.waiting import until


def answered(house: House, ticket: int) -> None:
    """Wait until what was asked of machines is answered: the house's own process alone follows them."""

    def so() -> bool:
        house.forget()
        return not load_ticket(house, ticket).open_requests

    until(so, "a machine does not answer")


def free_the_room(running: Running) -> None:
    """Settle every open ticket of the demo, as its people would by the evening."""
    house = running.look()
    story = Story(house, StoryClock(house.now()))
    story.acts = 10_000
    for machine in house.devices.machines.values():
        machine.tell(Script(pace=0))
    for number in ticket_store.list_open(house.connection):
        for asked in load_ticket(house, number).open_requests:
            card_poller.ask_again(house, story.tamsin, number, asked.reference)
        for payer in load_ticket(house, number).payers:
            if load_ticket(house, number).payer_bill(payer.id).account.due:
                story.cash(number, payer.id)
        for hold in holds.of_ticket(house.connection, number):
            tabs.let_go(house, story.tamsin, OnTicket(number, None, story.key()), hold.id)
            answered(house, number)
        closing.free_table(house, story.tamsin, OnTicket(number, None, story.key()))
    counting.count_drawer(
        house, story.wren, counting.Counted({}, till_page(house, house.tills()["landing"]).expected), story.key()
    )
    house.connection.close()


@pytest.mark.acts
def test_closing_and_opening_the_day(clerk: Callable[..., Clerk], running: Running) -> None:
    odile = clerk()
    odile.sign_in("odile", "407118")
    odile.touch("link", "Till", exact=True)
    odile.touch("link", "Read and close Sat 13 Jun")
    odile.sees("20 things in the way")
    odile.sees("charge without an answer")
    odile.sees("17 open tickets")
    free_the_room(running)
    odile.touch("link", "Till", exact=True)
    odile.expected = {422}
    odile.type("Amount", "3,50")
    odile.touch("button", "Record paid out")
    odile.sees("Choose what it is for")
    assert odile.page.get_by_label("Amount", exact=True).input_value() == "3,50"
    odile.expected = set()
    odile.page.get_by_label("For", exact=True).select_option(label="ice")
    odile.acts += 1
    odile.touch("button", "Record paid out")
    odile.sees("Paid out: ice")
    odile.touch("button", "Take back €3.50")
    odile.sees("Taken back: ice")
    odile.type("Amount", "3,50")
    odile.page.get_by_label("For", exact=True).select_option(label="ice")
    odile.touch("button", "Record paid out")
    odile.touch("link", "Read and close Sat 13 Jun")
    odile.sees("is not counted yet")
    odile.touch("link", "Count the drawer")
    assert odile.page.get_by_text("Expected").count() == 0
    odile.expected = {422}
    odile.type("How many of €50.00", "four")
    odile.touch("button", "This is what the drawer holds")
    odile.sees("is not a number of notes or coins")
    odile.expected = set()
    odile.acts = 0
    for value, number in (
        ("100", "3"),
        ("50", "4"),
        ("20", "6"),
        ("10", "7"),
        ("5", "9"),
        ("2", "8"),
        ("1", "11"),
        ("0.20", "3"),
    ):
        odile.type(f"How many of €{float(value):.2f}", number)
    odile.touch("button", "This is what the drawer holds")
    odile.sees("counted €762.60")
    odile.touch("link", "Read and close Sat 13 Jun")
    odile.sees("Nothing is in the way")
    odile.type("Galley: to the bank or safe", "612.60")
    odile.touch("button", "Close Sat 13 Jun")
    odile.sees(re.compile(r"Closed \d\d:\d\d"))
    odile.counted("till day: count and close", 12)
    odile.touch("button", "Print the report")
    odile.sees("Printed.")
    odile.page.get_by_label("From").fill("2026-06-11")
    odile.touch("button", "Show")
    odile.page.get_by_role("heading", name="Thu 11 Jun – Sat 13 Jun").wait_for()
    odile.sees("Sales by category")
    odile.page.get_by_label("Till", exact=True).select_option(label="Landing")
    odile.touch("button", "Show")
    odile.page.get_by_role("heading", name="Thu 11 Jun – Sat 13 Jun Landing").wait_for()
    rows = odile.page.request.get(f"{running.url}{odile.page.get_by_role('link', name='CSV').get_attribute('href')}")
    assert "tender,card,card machine 2" in rows.text() and "card machine 1" not in rows.text()
    odile.page.get_by_label("From").fill("2031-06-11")
    odile.page.get_by_label("To", exact=True).fill("2031-06-12")
    odile.expected = {422}
    odile.touch("button", "Show")
    odile.sees("There is no business day from")
    assert odile.page.get_by_label("From").input_value() == "2031-06-11"
    odile.expected = set()
    paper = Path(str(running.db).replace("house.db", "house-paper.txt")).read_text("utf-8")
    assert "7 x 10.00" in paper
    odile.page.goto(running.url)
    odile.touch("link", "G2 free, seat guests")
    odile.touch("button", "Seat 2 guests at G2")
    odile.page.get_by_role("heading", name="Open the day").wait_for()
    odile.expected = {422}
    odile.touch("button", "Open the day with this float")
    odile.sees("Count the float, or enter its total; a supervisor may skip it.")
    odile.type("How many of €20.00", "6")
    odile.type("How many of €0.50", "58")
    odile.touch("button", "Open the day with this float")
    odile.sees("There was a business day Sat 13 Jun already")
    odile.page.get_by_label("The day begins with this date all the same").check()
    odile.touch("button", "Open the day with this float")
    odile.sees("This drawer was left with €150.00, now €149.00 are in it")
    odile.expected = set()
    odile.type("How many of €0.50", "60")
    odile.touch("button", "Open the day with this float")
    odile.page.get_by_role("link", name="G2 free, seat guests").wait_for()
    odile.touch("link", "Till", exact=True)
    odile.sees("€150.00")
    wren = clerk()
    wren.sign_in("wren", "5512", "landing")
    wren.touch("link", "Till", exact=True)
    wren.touch("link", "Count its float")
    wren.expected = {422}
    wren.touch("button", "Skip counting")
    wren.sees("Counting the float is skipped by a supervisor")
    wren.type("Supervisor's PIN", "407110")
    wren.touch("button", "Skip counting")
    wren.sees("That is not the PIN. 4 tries left.")
    wren.expected = set()
    wren.type("Supervisor's PIN", "407118")
    wren.touch("button", "Skip counting")
    wren.touch("link", "Till", exact=True)
    wren.sees("Till Landing, so far")
    assert wren.page.get_by_text("This till has no float yet").count() == 0


def the_next_morning(running: Running, odile: Clerk) -> None:
    """The demo's day is closed; the house's clock stands at nine on the day after."""
    free_the_room(running)
    odile.touch("link", "Till", exact=True)
    odile.touch("link", "Count the drawer", check=False)
    odile.type("Or the total", "766.10")
    odile.touch("button", "This is what the drawer holds")
    odile.touch("link", "Read and close Sat 13 Jun", check=False)
    odile.type("Galley: to the bank or safe", "616.10")
    odile.touch("button", "Close Sat 13 Jun")
    odile.sees(re.compile(r"Closed \d\d:\d\d"))
    odile.page.goto("about:blank")
    running.kill()
    house = running.look()
    morning = datetime(2026, 6, 14, 9, 0, tzinfo=ZoneInfo("Europe/Dublin"))
    shift_clock(house, (morning - datetime.now(UTC)).total_seconds())
    house.connection.close()
    running.start()


@pytest.mark.acts
def test_a_till_day(clerk: Callable[..., Clerk], running: Running) -> None:
    """Float as a total, a cash sale, one on account, paid out, count as a total, close."""
    odile = clerk()
    odile.sign_in("odile", "407118")
    the_next_morning(running, odile)
    odile.sign_in("odile", "407118")
    odile.page.goto(f"{running.url}/till/open")
    odile.acts = 0
    odile.type("Or the total", "150")
    odile.touch("button", "Open the day with this float")
    odile.touch("link", "Counter mode", check=False)
    odile.touch("button", "Add Lemon posset", check=False)
    odile.touch("button", re.compile("^€10.00 €3.80 back"), check=False)
    odile.sees("Ready for the next")
    odile.type(FINDER, "020 910 0120", enter=True)
    odile.touch("button", "A sale for Theo", check=False)
    odile.touch("button", "Add Clam and leek pot", check=False)
    odile.touch("link", "Pay €15.80", check=False)
    odile.touch("link", re.compile("^On account"), check=False)
    odile.touch("button", re.compile("put €15.80 on Theo Brandvold's account", re.I), check=False)
    odile.touch("button", "Close the ticket", check=False)
    odile.touch("link", "Till", exact=True, check=False)
    odile.type("Amount", "3,50")
    odile.page.get_by_label("For", exact=True).select_option(label="ice")
    odile.acts += 1
    odile.touch("button", "Record paid out", check=False)
    odile.touch("link", "Count the drawer", check=False)
    odile.type("Or the total", "152.70")
    odile.touch("button", "This is what the drawer holds", check=False)
    odile.touch("link", "Read and close Sun 14 Jun", check=False)
    odile.type("Galley: to the bank or safe", "2.70")
    odile.touch("button", "Close Sun 14 Jun")
    odile.sees(re.compile(r"Closed \d\d:\d\d"))
    odile.counted("till day: float, cash, on account, paid out, count, close", 22)
