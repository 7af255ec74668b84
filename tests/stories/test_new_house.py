"""From an empty folder to the first paid and printed sale, in the browser alone; the process killed on the way."""

from __future__ import annotations

import re
import time
from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Browser

from abrazo.desk.context import Devices
from abrazo.desk.overview.soundness import soundness
from abrazo.desk.setup.founding import close_house, open_house
from tests.stories.conftest import Clerk
from tests.stories.house import Running

ITEMS = """name;price;category;tax;report_group;groups
Broth;6,50;Kitchen;VAT 10 %;food;
Rye toast;4,20;Kitchen;VAT 10 %;food;Spread
Potato cake;7,80;Kitchen;VAT 10 %;food;Spread
Leek pie;9,40;Kitchen;VAT 10 %;food;
Plum bake;5,10;Kitchen;VAT 10 %;food;
Cheese plate;8,90;Kitchen;VAT 10 %;food;
Small beer;3,60;Bar;VAT 20 %;drinks;
Large beer;5,20;Bar;VAT 20 %;drinks;
Elder water;2,90;Bar;VAT 20 %;drinks;
Coffee;2,80;Bar;VAT 20 %;drinks;
Tea;2,60;Bar;VAT 20 %;drinks;
Red wine;4,90;Bar;VAT 20 %;drinks;
"""


@pytest.fixture
def empty(tmp_path: Path) -> Iterator[Running]:
    running = Running(tmp_path / "nothing", what="serve")
    running.start()
    yield running
    running.stop()


@pytest.mark.acts
def test_a_new_house_from_nothing_to_its_first_sale(browser: Browser, empty: Running, tmp_path: Path) -> None:
    context = browser.new_context(viewport={"width": 1280, "height": 800})
    boss, began = Clerk(context, empty), time.monotonic()
    boss.expected = {422, 503}
    boss.page.goto(empty.url)
    boss.type("What is it called?", "The Low Door")
    boss.type("Country", "at")
    press(boss, "Propose currency, zone and language")
    assert boss.page.get_by_label("Time zone").input_value() == "Europe/Vienna"
    for number, (name, percent) in enumerate((("VAT 20 %", "20"), ("VAT 10 %", "10")), start=1):
        boss.type(f"Tax {number}, name", name)
        boss.type(f"Tax {number}, percent", percent)
    boss.type("The first supervisor", "Ada Moor")
    boss.type("PIN", "1234")
    boss.type("Tills", "Bar")
    for door in ("Tabs", "Bookings, walk-ins, courses", "Jobs: repairs, alterations", "Hire", "Orders by phone"):
        boss.page.get_by_label(door).uncheck()
        boss.acts += 1
    boss.type("How many tables?", "4")
    press(boss, "Make this house")
    boss.sees("A PIN here has 6 to 12 digits")
    boss.check()
    assert boss.page.get_by_label("The first supervisor").input_value() == "Ada Moor"
    boss.type("PIN", "604815")
    press(boss, "Make this house")
    boss.cut = True  # the house is just being opened
    boss.page.get_by_role("link", name="Ada Moor").wait_for(timeout=60_000)
    boss.page.wait_for_load_state()  # a script that is still on its way would count as lost when the page is left
    boss.cut = False
    boss.touch("link", "Ada Moor")
    boss.page.get_by_label("PIN", exact=True).fill("604815")
    boss.page.get_by_text("Until the first sale").wait_for()
    boss.acts += 1
    for nowhere in ("Job drop-off", "Walk-in", "Open a tab", "Phone order", "Bookings, 0"):
        assert boss.page.get_by_text(nowhere).count() == 0, nowhere
    boss.touch("link", "Set-up")
    boss.touch("link", "Categories")
    for name in ("Kitchen", "Bar"):
        boss.touch("link", "Add", exact=True)
        boss.type("Name", name)
        boss.touch("button", "Add it")
        boss.touch("link", "Categories", nth=0)
    boss.touch("link", "Choices")
    boss.touch("link", "Add", exact=True)
    boss.type("Name", "Spread")
    boss.type("Choice, row 1", "butter")
    boss.type("Choice, row 2", "plum")
    boss.type("Adds, row 2", "0.80")
    boss.touch("button", "Add it")
    file = tmp_path / "items.csv"
    file.write_text(ITEMS.replace("9,40", "much"), "utf-8")
    boss.touch("link", "Items", exact=True)
    boss.touch("link", "As a file, out and in")
    read(boss, file)
    boss.sees("11 new, 0 changed, 0 as they are, 1 wrong")
    file.write_text(ITEMS, "utf-8")
    read(boss, file)
    boss.sees("12 new, 0 changed, 0 as they are, 0 wrong")
    boss.touch("button", "Do it, all or nothing")
    boss.sees("Leek pie")
    boss.touch("link", "People who work here")
    boss.touch("link", "Add", exact=True)
    boss.type("Name", "Bo Lind")
    boss.type("PIN", "2086")
    boss.touch("button", "Add it")
    empty.kill()
    empty.start()
    boss.page.goto(f"{empty.url}/till")
    boss.type("Or the total", "100")
    boss.touch("button", "Open the day with this float", check=False)
    boss.touch("button", "Lock", check=False)
    boss.touch("link", "Bo Lind")
    boss.page.get_by_label("PIN", exact=True).fill("2086")
    boss.acts += 1
    boss.touch("link", re.compile("^1 free, seat guests"))
    boss.touch("button", re.compile("^Seat 2 guests at 1"))
    boss.touch("link", "Bar", exact=True)
    boss.touch("button", "Add Large beer")
    boss.touch("link", re.compile("^Pay €5.20"), check=False)
    boss.touch("button", re.compile("€5.20 exact"), check=False)
    boss.page.get_by_role("button", name=re.compile("[Pp]rint")).first.click()
    boss.acts += 1
    boss.settle()
    boss.counted("a new house, to its first paid and printed sale", 90)
    print(f"minutes by a fast hand: {(time.monotonic() - began) / 60:.1f}")
    house = open_house(empty.db, Devices.beside(empty.db))
    assert soundness(house) == []
    assert "Large beer" in house.devices.printer.shown()
    close_house(house)
    context.close()


def press(boss: Clerk, name: str) -> None:
    """A button of a page that loads anew."""
    with boss.page.expect_navigation():
        boss.page.get_by_role("button", name=name).click()
    boss.acts += 1


def read(boss: Clerk, file: Path) -> None:
    boss.page.get_by_label("CSV or .xlsx").set_input_files(file)
    boss.acts += 1
    boss.touch("button", "See what it would do")
