"""What the stories of the desk's doors share: Wren at the Landing, a scanner, a kill in between, the books."""

from __future__ import annotations

from collections.abc import Callable

from playwright.sync_api import Page
from playwright.sync_api import TimeoutError as PlaywrightTimeout

from tests.stories.conftest import Clerk
from tests.stories.house import Running, books
from tests.stories.test_table_settled import machine_tells

MakeClerk = Callable[..., Clerk]
SILENT = 2790  # the demo's own charge without an answer


def wren(
    clerk: MakeClerk, outcome: str = "approved", width: int = 1280, height: int = 800, *, deaf: bool = False
) -> Clerk:
    one = clerk(width, height, deaf=deaf)
    one.sign_in("wren", "5512", "landing")
    machine_tells(one, outcome, machine="card machine 2")
    return one


def in_balance(running: Running, machine_only: int = SILENT) -> None:
    ours, theirs = books(running)
    assert theirs - ours == machine_only, (theirs, ours)


def killed_in_between(desk: Clerk, running: Running) -> None:
    """`kill -9`, a start, and the page again: what was confirmed is there."""
    running.kill()
    running.start()
    desk.page.reload()


SCANNER = """code => { for (const key of [...code, "Enter"]) {
  const at = document.activeElement || document.body;
  const goes = at.dispatchEvent(new KeyboardEvent("keydown", { key, bubbles: true, cancelable: true }));
  if (goes && key.length === 1 && at.matches("input, textarea")) {
    at.value += key;
    at.dispatchEvent(new Event("input", { bubbles: true }));
  }
} }"""


def scan(page: Page, code: str, *, in_page: bool = False) -> None:
    """What a scanner does: fast keys, then Enter, wherever focus is.

    `in_page`: the keys are made in the page, where a busy machine that hands them on too slowly would do another thing;
    else they are so only after the machine was too busy twice.
    """
    for _ in range(0 if in_page else 2):
        try:
            with page.expect_request("**/scan", timeout=3000):
                page.keyboard.type(code)
                page.keyboard.press("Enter")
            return
        except PlaywrightTimeout:  # the machine was too busy to type as fast as a scanner
            page.evaluate("document.activeElement.value = ''")
    with page.expect_request("**/scan"):
        page.evaluate(SCANNER, code)


def code_of(running: Running, name: str) -> str:
    house = running.look()
    code = house.connection.execute("SELECT code FROM item WHERE name = ?", (name,)).fetchone()[0]
    house.connection.close()
    return str(code)
