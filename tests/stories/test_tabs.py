"""Tabs with held cards, moving between tickets, the finder, and every new page on a phone."""

from __future__ import annotations

import re

import pytest

from abrazo.store import journal
from tests.stories.conftest import device_desk
from tests.stories.desk import MakeClerk, in_balance, killed_in_between, wren
from tests.stories.house import Running
from tests.stories.test_table_settled import machine_tells


@pytest.mark.acts
def test_a_tab_with_a_held_card(clerk: MakeClerk, running: Running) -> None:
    """Open with a card held, two rounds, settle on the held card; the machine's own memory agrees."""
    bar = clerk()
    bar.sign_in("jory", "3395")
    machine_tells(bar, "approved")
    bar.touch("link", "Open a tab")
    bar.type("Name", "Wilhelm")
    bar.touch("button", "Open the tab, hold it on the card machine", check=False)
    bar.sees("30.00 held on")
    bar.touch("link", "Ale & cider")
    bar.touch("button", "Add White wine, glass")
    bar.touch("button", "Add Bottle of cider")
    bar.check()
    killed_in_between(bar, running)
    machine_tells(bar, "approved")
    bar.touch("button", "Add Bottle of cider")
    bar.sees("€0.70 over what is held")
    bar.touch("link", "Pay €30.70")
    bar.touch("button", re.compile("settle €30.70 on ••[0-9]{4}: €30.00 held \\+ €0.70 more", re.I), check=False)
    bar.sees("Tab Wilhelm is paid")
    bar.counted("a tab with a card held, two rounds, settled", 9)
    bar.touch("button", "Close the ticket")
    in_balance(running)
    house = running.look()
    held = sum(amount for machine in house.devices.machines.values() for _, amount in machine.held())
    assert held == journal.balance(house.connection, "assets:held-on-cards:card-machine-1") == 6000 + 3000 + 4000
    house.connection.close()


def test_a_tab_whose_machine_is_busy_is_opened_once(clerk: MakeClerk, running: Running) -> None:
    """The hold is refused, the tab is there, said so, and the card is held from its page."""
    first, second = clerk(), clerk()
    first.sign_in("jory", "3395")
    second.sign_in()
    for bar, name in ((first, "Wilhelm"), (second, "Xenia")):
        bar.expected = {422}
        bar.touch("link", "Open a tab")
        bar.type("Name", name)
        bar.touch("button", "Open the tab, hold it on the card machine", check=False)
    second.sees("The tab is open, but no card is held.")
    first.sees("30.00 held on")
    second.touch("button", "on card machine 1", check=False)
    second.sees("30.00 held on")
    second.page.goto(f"{running.url}/?lens=tabs")
    assert second.page.get_by_role("main").get_by_role("link", name=re.compile("Xenia")).count() == 1
    in_balance(running)


def test_a_tab_paid_otherwise_lets_its_card_go(clerk: MakeClerk, running: Running) -> None:
    bar = clerk()
    bar.sign_in()
    machine_tells(bar, "approved")
    bar.touch("link", "Tabs, 4")
    bar.touch("link", re.compile("^Ro open"))
    bar.sees("Round 2")
    killed_in_between(bar, running)
    bar.touch("link", "Pay €16.30")
    bar.touch("button", "€20.00 €3.70 back")
    bar.touch("link", "Change given, on to the receipt and the end")
    bar.touch("button", re.compile("Let the €40.00 held"), check=False)
    bar.page.get_by_role("button", name="Close the ticket").wait_for()
    bar.touch("button", "Close the ticket")
    in_balance(running)


def test_moving_merging_and_putting_aside(clerk: MakeClerk, running: Running) -> None:
    """A counter sale onto a tab, a guest to another table, a table moved, a ticket on hold and back."""
    server = clerk()
    server.sign_in()
    server.touch("button", "Counter sale")
    server.touch("link", "Salads & sides")
    server.touch("button", "Add Kelp-butter bread")
    server.touch("link", "Move")
    server.type("Find", "ro")
    server.page.get_by_role("button", name="Table D4").wait_for(state="detached")
    server.touch("button", re.compile("Tab Ro"))
    server.page.get_by_role("heading", name="Tab Ro").wait_for()
    server.touch("button", "Undo")
    server.sees("Counter sale is a ticket of its own again.")
    server.touch("link", "Move")
    server.touch("button", re.compile("Tab Ro"))
    server.page.get_by_role("heading", name="Tab Ro").wait_for()
    server.page.locator("a.line, summary.line", has_text="Kelp-butter bread").wait_for()
    server.page.goto(f"{running.url}/tickets/{running.ticket('D1')}?view=lines")  # D1: two guests
    server.touch("link", "Move")
    server.page.get_by_role("checkbox", name="Seat B").check()
    server.touch("button", re.compile("Table D2"))
    server.touch("button", "It stays with the others")
    server.page.get_by_role("heading", name="Table D2").wait_for()
    server.sees("Fish soup")
    killed_in_between(server, running)
    server.page.goto(f"{running.url}/tickets/{running.ticket('D1')}?view=lines")
    server.touch("link", "Move")
    server.touch("button", re.compile("Table G2"))
    server.page.get_by_role("heading", name="Table G2").wait_for()
    server.touch("button", "Undo")
    server.page.get_by_role("heading", name="Table D1").wait_for()
    server.touch("button", "Hold")
    server.sees("Table D1 is on hold")
    server.touch("button", "Undo")
    server.page.get_by_role("heading", name="Table D1").wait_for()
    server.touch("link", "Move")
    server.expected = {422}
    server.type("Under the name", "")
    server.touch("button", "Put it on hold")
    server.sees("Under which name?")
    server.expected = set()
    server.type("Under the name", "Corner couple")
    server.touch("button", "Put it on hold")
    server.sees("on hold since")
    server.touch("button", "Bring back Green anorak")
    server.page.get_by_role("heading", name="Green anorak").wait_for()
    in_balance(running)


def test_money_already_taken_is_only_recorded(clerk: MakeClerk, running: Running) -> None:
    """The third route: nothing is charged, a number is required, what was typed stays, and it stands apart afterwards."""
    desk = wren(clerk)
    desk.page.goto(f"{running.url}/tickets/{running.ticket('D1')}?view=pay")
    desk.touch("link", "Another card machine")
    desk.expected = {422}
    desk.type("Brand and number of the slip", "4111 1111 1111 1111")
    desk.touch("button", "Record €28.10 already taken by another card machine")
    desk.sees("which is never kept")
    desk.expected = set()
    desk.type("Brand and number of the slip", "slip 88")
    desk.touch("button", "Record €28.10 already taken by another card machine")
    desk.sees("Recorded, not charged: another card machine slip 88")
    in_balance(running)


def test_the_finder_and_the_second_screens_scanner(clerk: MakeClerk, running: Running) -> None:
    desk = wren(clerk)
    for asked, heading in (
        ("D4", "Table D4"),
        ("2118", "Table D4"),
        ("S-1034", "S-1034"),
        ("amari", "“amari”"),
        ("020 910 0130", "Marguerite Oyelaran"),
    ):
        desk.type("Find or scan a table, ticket, job, name or phone", asked, enter=True)
        desk.page.get_by_role("heading", name=heading).first.wait_for()
        desk.check()
    desk.touch("link", "Today", exact=True)
    with device_desk(desk, "landing") as second:
        second.get_by_role("button", name=re.compile("Tag S-1036")).click()
        desk.page.get_by_role("heading", name="S-1036").wait_for()


NARROW = (
    "/?lens=bookings",
    "/?lens=jobs",
    "/?lens=tabs",
    "/jobs/4",
    "/jobs/new",
    "/people/1",
    "/tabs/new",
    "/walk-ins/1",
    "/people",
    "D4/move",
    "D4/person?q=marg",
    "D4/adjust",
    "D4?view=share&way=amounts",
    "D4?item=family%3Adry-bag",
    "/goods?item=dry-bag-m-red",
    "/set-up/house",
    "/counter-mode",
)


def test_on_a_phone_nothing_runs_over(clerk: MakeClerk, running: Running) -> None:
    desk = wren(clerk, width=390, height=844)
    desk.page.goto(f"{running.url}/tickets/{running.ticket('D4')}/person?q=nobody")
    desk.type("Or new: name", "W" * 60)
    desk.touch("button", re.compile("^Add and put on"))
    for path in NARROW:
        desk.page.goto(running.url + path.replace("D4", f"/tickets/{running.ticket('D4')}"))
        desk.check()
