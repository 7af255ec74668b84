"""What the stories of the desk's doors share: Wren at the Landing, a scanner, a kill in between, the books."""

from __future__ import annotations

import re
import time
from collections.abc import Callable

from playwright.sync_api import Page

from abrazo.core.states import RequestState
from abrazo.devices.ports import NotKnown
from abrazo.store import tenders as tenders_store
from tests.stories.conftest import Clerk
from tests.stories.house import Running, books
from tests.stories.test_table_settled import machine_tells
from tests.stories.waiting import until

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
    """What a machine has charged is in the books a moment later."""
    found = list[tuple[int, int]]()

    def so() -> bool:
        found[:] = [books(running)]
        return found[0][1] - found[0][0] == machine_only

    until(so, lambda: f"the machines charged more than our books say, not by {machine_only}: {found}")


def until_at_the_machine(running: Running) -> None:
    """Wait until the machines themselves have what they are asked for, however soon a page says that it is under way."""

    def so() -> bool:
        house = running.look()
        try:
            for ask in tenders_store.open_requests(house.connection):
                if ask.state != RequestState.UNKNOWN:  # as the demo's own charge without an answer
                    house.devices.taker(ask.machine).look(ask.reference)
        except NotKnown:
            return False
        finally:
            house.connection.close()
        return True

    until(so, "it never reached the machine")


def killed_in_between(desk: Clerk, running: Running) -> None:
    """`kill -9`, a start, and the page again: what was confirmed is there."""
    running.kill()
    running.start()
    desk.page.reload()


GAP = 0.004  # seconds between the keys of a scanner


def scan(page: Page, code: str) -> None:
    """What a scanner does: fast keys, then Enter, wherever focus is.

    Each key carries the time at which it was struck, so that a busy machine does not make a slow typist of a scanner.
    """
    keyboard, at = page.context.new_cdp_session(page), time.time()
    with page.expect_request("**/scan"):
        for number, key in enumerate([*code, "Enter"]):
            struck = {"key": key, "text": "\r" if key == "Enter" else key, "timestamp": at + GAP * number}
            keyboard.send("Input.dispatchKeyEvent", {"type": "keyDown", **struck})
            keyboard.send("Input.dispatchKeyEvent", {"type": "keyUp", **struck, "text": ""})
    keyboard.detach()


def code_of(running: Running, name: str) -> str:
    house = running.look()
    code = house.connection.execute("SELECT code FROM item WHERE name = ?", (name,)).fetchone()[0]
    house.connection.close()
    return str(code)


def scanned(one: Clerk, code: str) -> None:
    """One scan."""
    scan(one.page, code)
    one.acts += 1
    one.settle()


def opened(one: Clerk, line: str) -> None:
    """One touch on a line."""
    one.page.locator("a.line, summary.line", has_text=line).click()
    one.acts += 1
    one.settle()


def noted(one: Clerk, nth: int = 0) -> None:
    """One touch on a likely sum of cash."""
    one.page.get_by_role("group", name="Likely cash").get_by_role("button").nth(nth).click()
    one.acts += 1
    one.settle()


def tipped(running: Running, number: int) -> None:
    """Wait until so many payments of D1 have a tip: it is on the machine for a while."""
    sql = (
        "SELECT count(*) FROM payment p JOIN ticket t ON t.id = p.ticket"
        " WHERE t.spot = 'D1' AND t.state = 'open' AND p.tip > 0"  # not of those who sat there on days before
    )

    def so() -> bool:
        house = running.look()
        found = house.connection.execute(sql).fetchone()[0]
        house.connection.close()
        return bool(found >= number)

    until(so, f"fewer than {number} tips")


def cash(one: Clerk, handed: str, said: str) -> None:
    """A sum of cash that is not likely: one field, one touch on what it comes to."""
    one.type("Cash handed over", handed, enter=True)
    one.touch("button", re.compile(said, re.I), check=False)


def sold_to_petra(desk: Clerk, running: Running, item: str, price: str) -> None:
    """Something that needs a person is scanned, sold to Petra Moe in cash and closed; a kill in between. Four acts."""
    scanned(desk, code_of(running, item))
    desk.sees(f"For whom is {item}?")
    desk.touch("button", re.compile("^Petra Moe"))
    desk.sees("Petra Moe")
    killed_in_between(desk, running)
    desk.touch("link", re.compile(f"^Pay €{price}"))
    noted(desk, 0)


def sheet_of_petra(desk: Clerk) -> None:
    """From anywhere to Petra Moe's sheet, by the finder. Two acts."""
    desk.type("Find or scan a table, ticket, job, name or phone", "petra moe", enter=True)
    desk.touch("link", re.compile(r"^Petra Moe \(020\)"), check=False)
