"""Set-up in the browser: an item with a choice is added and sold, a setting found by search, changed and undone."""

from __future__ import annotations

import re

import pytest

from tests.stories.conftest import Clerk
from tests.stories.desk import MakeClerk, in_balance, killed_in_between, scanned, wren
from tests.stories.house import Running


@pytest.mark.acts
def test_a_supervisor_sets_up_an_item_and_a_clerk_sells_it(clerk: MakeClerk, running: Running) -> None:
    boss, desk = clerk(1280, 800), wren(clerk)
    boss.sign_in("odile", "407118", "landing")
    boss.expected = {422}
    boss.touch("link", "Set-up")
    boss.touch("link", "Choices")
    boss.touch("link", "Add", exact=True)
    boss.type("Name", "Handle")
    boss.type("Choice, row 1", "ash")
    boss.type("Choice, row 2", "carbon")
    boss.type("Adds, row 2", "a lot")
    boss.touch("button", "Add it")
    boss.sees("Row 2: “a lot” is not an amount")
    assert boss.page.get_by_label("Choice, row 2").input_value() == "carbon"
    boss.type("Adds, row 2", "15")
    boss.touch("button", "Add it")
    boss.sees("Choices: ash 0.00; carbon 15.00")
    boss.touch("link", "Items", exact=True)
    boss.touch("link", "Add", exact=True)
    boss.type("Name", "Spare paddle")
    boss.type("Price", "39,50")
    boss.page.get_by_label("Category").select_option(label="Shop")
    boss.type("Reported under", "goods")
    boss.type("Barcode", "4006381333931")
    boss.page.get_by_label("Handle").check()
    boss.touch("button", "Add it")
    boss.sees("Price: 39.50")
    killed_in_between(boss, running)
    desk.page.goto(running.url)
    desk.touch("button", re.compile("^Counter sale"), check=False)
    scanned(desk, "4006381333931")
    desk.sees("Spare paddle")
    an_unknown_code_becomes_an_item(boss, running)
    boss.page.goto(f"{running.url}/set-up/house?section=tickets")
    boss.type("Service charge from, guests", "many")
    boss.touch("button", "Save: Service charge from, guests")
    boss.sees("A number from 1 to 99 goes here.")
    assert boss.page.get_by_label("Service charge from, guests", exact=True).input_value() == "many"
    boss.page.goto(f"{running.url}/set-up")
    boss.type("Find in set-up", "remove", enter=True)
    boss.page.get_by_label("Receipts show removed lines", exact=True).check()
    boss.touch("button", "Save: Receipts show removed lines")
    boss.sees("Changed by Odile Marsh")
    boss.touch("link", "Who changed what")
    boss.touch("button", re.compile("^Undo: House setting"))
    boss.sees("Receipts show removed lines: no, before yes")
    what_people_held_before_comes_in(boss, running)
    in_balance(running)


def what_people_held_before_comes_in(boss: Clerk, running: Running) -> None:
    def hand_in(*rows: str) -> None:
        text = "\n".join(("kind,number,person,balance", *rows)).encode()
        file = boss.page.get_by_label("CSV or .xlsx")
        file.set_input_files({"name": "cards.csv", "mimeType": "text/csv", "buffer": text})
        boss.touch("button", "See what it would bring")

    boss.acts = 0
    boss.touch("link", "Held from before")
    hand_in("gift card,2811004471,,40", "store credit,,Nobody Here,5")
    boss.sees("1 new, 0 here already or used up, 1 wrong")
    boss.sees("Nobody Here is nobody who is known")
    hand_in("gift card,2811004471,,40", "store credit,,Petra Moe,5")
    boss.sees("The house owes €45.00 more for them.")
    boss.touch("button", "Bring it in, all or nothing")
    boss.sees("2 of them, €45.00 owed")
    boss.page.goto(f"{running.url}/find?q=2811004471")
    boss.sees("Brought in from before")
    boss.page.goto(f"{running.url}/set-up/brought")
    boss.touch("button", "Take it back: cards.csv")
    boss.sees("taken back by Odile Marsh")
    boss.counted("what people held before comes in, and a wrong file goes", 5)


def an_unknown_code_becomes_an_item(boss: Clerk, running: Running) -> None:
    boss.page.goto(running.url)
    boss.expected |= {404}
    boss.acts = 0
    scanned(boss, "5901234123457")
    boss.sees("No ticket, job or item has this code.")
    boss.type("New item", "Tin of wax")
    boss.type("Price", "nine")
    boss.page.get_by_label("Category").select_option(label="Shop")
    boss.touch("button", "Add the item, and sell it")
    boss.sees("is not an amount")
    boss.type("Price", "9")
    boss.touch("button", "Add the item, and sell it")
    boss.sees("Tin of wax")
    boss.counted("an unknown code becomes an item, on the ticket", 6)
