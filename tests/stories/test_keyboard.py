"""An evening by keyboard alone: nothing is touched, every step is reached with keys, and where the focus is can be seen."""

from __future__ import annotations

import re
from contextlib import suppress
from typing import Any

from playwright.sync_api import Error, Page

from tests.stories.conftest import Clerk
from tests.stories.desk import MakeClerk
from tests.stories.house import Running

SAID = """() => {
  const one = document.activeElement;
  if (one === document.body) return "";
  const said = one.getAttribute("aria-label") || (one.labels && one.labels[0] && one.labels[0].innerText) || one.innerText || "";
  return said.trim().replace(/\\s+/g, " ");
}"""
SEEN = """() => {
  const one = document.activeElement, style = getComputedStyle(one), around = one.closest("form, label, .option") || one;
  const lit = (look) => look.outlineStyle !== "none" || look.boxShadow !== "none";
  return lit(style) || lit(getComputedStyle(around)) || lit(getComputedStyle(one.parentElement));
}"""


def asked(page: Page, script: str) -> Any:
    """What the page says; once more if it was just being left."""
    for _ in range(20):
        with suppress(Error):
            return page.evaluate(script)
        page.wait_for_load_state()
    return page.evaluate(script)


def press(one: Clerk, name: str, most: int = 140, *, leaves: bool = False) -> None:
    """Tab to what is called so, and press it; with `leaves` another page is loaded by it."""
    page, passed = one.page, list[str]()
    for _ in range(most):
        said = asked(page, SAID)
        if re.match(name, said):
            assert asked(page, SEEN), f"the focus cannot be seen on {said}"
            if leaves:
                with page.expect_navigation():
                    page.keyboard.press("Enter")
                return
            page.keyboard.press("Enter")
            page.wait_for_timeout(100)
            one.settle()
            return
        passed.append(said)
        page.keyboard.press("Tab")
    raise AssertionError((name, passed))


def find_item(page: Page, words: str, name: str) -> None:
    """The item search, by its key; what it finds stands there while it is typed."""
    page.keyboard.press(".")
    page.keyboard.type(words, delay=90)
    page.get_by_role("button", name=name).first.wait_for()


def test_an_evening_by_keyboard(clerk: MakeClerk, running: Running) -> None:
    server = clerk()
    page, keys = server.page, server.page.keyboard
    page.goto(f"{running.url}/sign-in")
    press(server, "TR Tamsin", leaves=True)
    keys.type("2086", delay=90)
    page.get_by_role("heading", name="Next to settle").wait_for()

    keys.press("c")
    page.get_by_role("heading", name="Counter sale").wait_for()
    find_item(page, "posset", "Add Lemon posset")
    press(server, "Add Lemon posset")
    press(server, "Pay €6.20")
    press(server, "€10.00 €3.80 back")
    page.get_by_text("Give them the change").or_(page.get_by_text("Give A the change")).first.wait_for()
    press(server, "Change given, close the ticket")

    keys.press("/")
    keys.type("g2", delay=90)
    keys.press("Enter")
    page.get_by_role("button", name="Seat 2 guests at G2").wait_for()
    press(server, "Seat 2 guests at G2")
    keys.press("2")  # the second seat
    page.get_by_role("link", name="For B").and_(page.locator("[aria-current]")).or_(
        page.locator("[data-seat='2'][aria-current], [data-seat='2'][aria-pressed='true']")
    ).first.wait_for()
    find_item(page, "ginger", "Add Ginger parkin")
    press(server, "Add Ginger parkin")
    press(server, "Send 1 to kitchen")
    press(server, "Share out")
    press(server, "Take €")
    press(server, "€3.60 exact")
    press(server, "All paid, free G2|Change given, free G2")
    page.get_by_role("heading", name="Next to settle").wait_for()

    keys.press("t")
    page.get_by_role("heading", name="Open a tab").wait_for()
    keys.type("Wilhelm")
    press(server, "Open it without a card")
    page.get_by_role("heading", name="Tab Wilhelm").wait_for()
    keys.press("Escape")
    page.get_by_role("heading", name="Next to settle").wait_for()
    press(server, "Till$")
    press(server, "Count the drawer")
    page.get_by_role("heading", name="Count").first.wait_for()
    keys.press("Escape")
    press(server, "Lock")
    page.get_by_role("heading", name="Who is at the till?").wait_for()
    assert server.faults == []
