"""A group that orders by phone, and what stands beside its payments: a gift card, stored cards, a signature."""

from __future__ import annotations

import re

import pytest

from abrazo.demo.doors import GIFT_CARD
from tests.stories.conftest import Clerk
from tests.stories.desk import MakeClerk, in_balance, scan
from tests.stories.house import Running
from tests.stories.test_paying import FINDER, service_tells
from tests.stories.test_table_settled import machine_tells


def ordered(server: Clerk) -> str:
    """Signe orders for four, to be brought; gives the ticket's number."""
    server.type(FINDER, "020 910 0102", enter=True)
    server.touch("link", "Phone order")
    server.type("Guests, by name", "Ivo, Signe, Elis, Fenna")
    server.touch("radio", "It is brought to them")
    server.expected = {422}
    server.touch("button", "Take the order: pick what they want")
    server.sees("Where is it brought?")
    assert server.page.get_by_label("Guests, by name").input_value() == "Ivo, Signe, Elis, Fenna"
    server.expected = set()
    server.type("Address", "3 Net Loft Row")
    server.touch("button", "Take the order: pick what they want")
    server.sees("Brought to 3 Net Loft Row")
    for name in ("A Ivo", "B Signe", "C Elis", "D Fenna"):
        server.touch("link", f"For {name}")
        server.touch("button", "Add Clam and leek pot")
    found = re.search(r"ticket (\d{4})", server.page.inner_text("header.thead"))
    assert found
    return found[1]


@pytest.mark.acts
def test_a_group_of_four_pays_by_phone(clerk: MakeClerk, running: Running) -> None:
    """Own items, the fee evenly, gift card, two stored cards and cash: at most 11 acts from Today to the end."""
    server = clerk()
    server.sign_in()
    service_tells(server, "approved")
    number = ordered(server)
    server.page.goto(running.url)
    server.acts = 0
    server.type(FINDER, number, enter=True)
    server.touch("button", "Share out")
    server.sees("€16.80")  # 15.80 and a quarter of the 4.00 for bringing it
    scan(server.page, GIFT_CARD)
    server.acts += 1
    server.touch("button", "Take €16.80 from gift card ending 7453, €23.20 stays on it")
    for whose in ("7899", "5542"):
        server.page.get_by_role("button", name=re.compile(f"charge €16.80 .*{whose}", re.I)).wait_for(timeout=45_000)
        server.touch("button", re.compile(f"charge €16.80 .*{whose}", re.I), check=False)
    server.page.get_by_role("button", name="€20.00 €3.20 back").wait_for(timeout=45_000)
    server.touch("button", "€20.00 €3.20 back")
    server.sees("× €2.00")
    server.touch("button", "Change given, close the ticket")
    server.counted("phone group of four pays in four ways", 11)
    in_balance(running)


def test_a_signature_on_the_screen_stays_with_the_payment(clerk: MakeClerk, running: Running) -> None:
    server = clerk()
    server.sign_in()
    machine_tells(server, "approved, to be signed")
    ticket = running.ticket("D1")
    server.page.goto(f"{running.url}/tickets/{ticket}?view=pay")
    server.touch("button", "Charge €28.10 on card machine 1", check=False)
    server.page.wait_for_url("**/done")
    server.settle()
    server.touch("link", "Sign on this screen for €28.10")
    server.expected = {422}
    server.touch("button", "Keep this signature")
    server.sees("Nothing is drawn yet")
    server.expected = set()
    field = server.page.get_by_role("img", name="Field for the signature").bounding_box()
    assert field is not None
    mouse = server.page.mouse
    mouse.move(field["x"] + 80, field["y"] + 90)
    mouse.down()
    for step in range(12):
        mouse.move(field["x"] + 80 + step * 20, field["y"] + 90 + (step % 3) * 25)
    mouse.up()
    server.touch("button", "Keep this signature")
    server.sees("signed on the screen")
    server.touch("button", "Free D1")
    server.page.goto(f"{running.url}/past?chosen={ticket}")
    picture = server.page.get_by_role("img", name="Signature for €28.10")
    picture.wait_for()
    assert picture.evaluate("picture => picture.naturalWidth") > 0
    server.check()
    in_balance(running)


def test_notes_hide_at_a_touch_and_the_last_receipt_comes_again(clerk: MakeClerk, running: Running) -> None:
    server = clerk()
    server.sign_in("wren", "5512", "landing")
    server.touch("button", "Last receipt")
    server.sees("Printed. The paper is on the device desk.")
    server.page.goto(f"{running.url}/people/1")
    server.sees("left-handed paddle")
    server.touch("button", "Hide notes")
    assert server.page.get_by_text("left-handed paddle").count() == 0
    server.touch("button", "Show notes")
    server.sees("left-handed paddle")
    server.expected = {422}
    server.page.goto(f"{running.url}/tickets/{running.ticket('D1')}?item=unlisted")
    server.type("What it is", "card 4000 0012 3456 7899")
    server.type("Price", "3")
    server.page.get_by_role("button", name="Add it to").click()
    server.sees("That holds a card's number, which is never kept")
    assert "3456" not in server.page.content()
