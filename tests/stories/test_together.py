"""Three screens on one house at once: what one does shows on the others within a second, without a reload."""

from __future__ import annotations

import re

from playwright.sync_api import Route

from tests.stories.conftest import Clerk
from tests.stories.desk import MakeClerk, in_balance
from tests.stories.house import Running
from tests.stories.test_paying import FINDER
from tests.stories.test_table_settled import machine_tells

SOON = 5_000  # milliseconds: a second, and more for a busy test machine


def three(clerk: MakeClerk) -> tuple[Clerk, Clerk, Clerk]:
    tamsin, wren, kitchen = clerk(), clerk(), clerk()
    tamsin.sign_in()
    wren.sign_in("wren", "5512", "galley")
    kitchen.sign_in("odile", "407118")
    kitchen.touch("link", "Kitchen")
    return tamsin, wren, kitchen


def test_a_round_goes_from_the_table_to_the_kitchen(clerk: MakeClerk, running: Running) -> None:
    tamsin, wren, kitchen = three(clerk)
    wren.page.keyboard.press("/")
    tamsin.touch("link", "G2 free, seat guests")
    tamsin.touch("button", "Seat 3 guests at G2")
    wren.page.get_by_role("link", name=re.compile("^G2.*just seated")).wait_for(timeout=SOON)
    assert wren.page.evaluate("document.activeElement.id") == "finder"  # what wren types next goes where it was meant
    tamsin.touch("button", "Add Clam and leek pot")
    tamsin.touch("button", "Add Soup of the tide")
    tamsin.touch("button", "Send 2 to kitchen")
    kitchen.page.get_by_text("Soup of the tide").first.wait_for(timeout=SOON)
    kitchen.check()
    wren.touch("link", re.compile("^G2"))
    tamsin.touch("button", "Add Clam and leek pot")
    wren.page.locator(".foot .total").get_by_text("€39.20").wait_for(timeout=SOON)  # 15.80, 7.60 and 15.80 again
    assert tamsin.page.get_by_role("button", name="Send 1 to kitchen").is_visible()
    tamsin.page.locator("a.line, summary.line").first.click()
    tamsin.expected = {422}
    tamsin.touch("button", re.compile("^Remove"))  # the kitchen makes it already: a reason, and a supervisor's right
    tamsin.page.get_by_label("changed their mind").check()
    tamsin.page.get_by_label("Supervisor's PIN").first.fill("407118")
    tamsin.touch("button", re.compile("^Take .* off"))
    tamsin.expected = set()
    kitchen.page.get_by_role("button", name=re.compile("Seen: Table G2")).wait_for(timeout=SOON)
    kitchen.touch("button", re.compile("Seen: Table G2"))
    kitchen.touch("button", re.compile("Done: Table G2"))
    kitchen.touch("button", re.compile("Call back Table G2"))
    kitchen.page.get_by_role("button", name=re.compile("(Done|Seen): Table G2")).wait_for(timeout=SOON)
    in_balance(running)


def test_one_table_is_paid_by_two_servers_while_a_third_looks_on(clerk: MakeClerk, running: Running) -> None:
    """Nobody pays twice, and a screen on which somebody types is left alone until they have done."""
    tamsin, wren, other = three(clerk)
    machine_tells(tamsin, "approved")
    ticket = f"{running.url}/tickets/{running.ticket('D4')}"
    for one in (tamsin, wren):
        one.page.goto(f"{ticket}?view=lines")
    tamsin.touch("button", "Share out")
    wren.page.get_by_role("link", name="See the shares").wait_for(timeout=SOON)
    wren.page.goto(f"{ticket}?view=pay")
    other.page.goto(f"{ticket}?view=pay")
    other.page.get_by_label("Cash handed over").fill("5")
    wren.touch("button", re.compile("charge .* on card machine 1", re.I), check=False)
    other.page.get_by_text("Somebody else changed this ticket meanwhile.").wait_for(timeout=30_000)
    assert other.page.get_by_label("Cash handed over").input_value() == "5"
    tamsin.page.get_by_text("paid").first.wait_for(timeout=30_000)
    other.touch("link", "Show it")
    other.page.get_by_text("paid").first.wait_for()
    house = running.look()
    taken = house.connection.execute(
        "SELECT count(*) FROM payment WHERE ticket = ?", (int(ticket.rsplit("/", 1)[1]),)
    ).fetchone()
    house.connection.close()
    assert taken[0] == 1
    in_balance(running)


def dragged(boss: Clerk, name: str, by: tuple[int, int]) -> None:
    """A table taken near its corner and moved by so many pixels."""
    box = boss.page.get_by_role("link", name=name).bounding_box()
    assert box is not None
    mouse = boss.page.mouse
    mouse.move(box["x"] + 30, box["y"] + 30)
    mouse.down()
    mouse.move(box["x"] + 30 + by[0], box["y"] + 30 + by[1], steps=4)
    mouse.up()
    boss.settle()


def test_of_two_supervisors_at_the_floor_plan_the_second_is_told(clerk: MakeClerk, running: Running) -> None:
    first, second = clerk(), clerk()
    for boss in (first, second):
        boss.sign_in("odile", "407118")
        boss.page.goto(f"{running.url}/set-up/floor")
    first.check()
    dragged(first, "Table G7, 4 seats", (0, 14))
    first.sees("Table G7, Indoors")
    second.expected = {422}
    dragged(second, "Table G7, 4 seats", (0, 20))
    second.sees("Odile Marsh changed this a moment ago")
    second.check()
    second.touch("button", re.compile("Undo: Table G7"))  # what stands there is known now
    second.sees("From the top: 512")
    second.type("Another area", "Jetty")
    second.touch("button", "Add a table there")
    second.sees("Table J1, Jetty")
    second.touch("link", "Tables: as a list, and as a file")
    second.sees("Jetty, square, 4")
    in_balance(running)


def test_a_table_is_dragged_and_stands_there_on_every_screen(clerk: MakeClerk, running: Running) -> None:
    boss, tamsin = clerk(), clerk()
    boss.sign_in("odile", "407118")
    tamsin.sign_in()
    boss.page.goto(f"{running.url}/set-up/floor")
    boss.check()
    dragged(boss, "Table G7, 4 seats", (4, 14))
    boss.sees("Table G7, Indoors")
    lower = int(boss.page.get_by_label("From the top").input_value())
    assert lower > 512
    boss.type("Name", "Q7", enter=True)
    boss.sees("Table Q7, Indoors")
    boss.check()
    tamsin.page.get_by_role("link", name="Q7 free, seat guests").first.wait_for(timeout=SOON)


def test_what_was_looked_for_is_not_replaced_by_the_page_before_it(clerk: MakeClerk, running: Running) -> None:
    """The page is fetched anew for another's change while this one looks somebody up: what is found stays."""
    tamsin, wren = clerk(), clerk()
    tamsin.sign_in()
    wren.sign_in("wren", "5512", "galley")
    held: list[Route] = []
    tamsin.page.route(f"{running.url}/", lambda route: held.append(route))
    wren.touch("link", re.compile("^G1"))
    with tamsin.page.expect_request(lambda one: "x-fresh" in one.headers, timeout=SOON):
        wren.touch("button", "Hold", exact=True)
    tamsin.type(FINDER, "petra moe", enter=True)
    found = tamsin.page.get_by_role("link", name=re.compile("^Petra Moe"))
    found.first.wait_for()
    for route in held:
        route.continue_()
    tamsin.page.wait_for_timeout(500)  # the answer comes, and is not wanted any more
    assert found.first.is_visible()
    tamsin.touch("link", re.compile("^Petra Moe"))


def test_what_somebody_presses_or_stands_on_stays_under_their_hands(clerk: MakeClerk, running: Running) -> None:
    """Another's change is shown when the finger is up again; the keyboard's place is found again."""
    tamsin, wren = clerk(), clerk()
    tamsin.sign_in()
    wren.sign_in("wren", "5512", "galley")
    main, table = tamsin.page.locator("#main"), tamsin.page.get_by_role("link", name=re.compile("^D4"))
    seen = main.get_attribute("data-seen")
    wren.touch("link", re.compile("^G1"))
    table.focus()
    wren.touch("button", "Hold", exact=True)
    tamsin.page.locator(f"#main:not([data-seen='{seen}'])").wait_for(timeout=SOON)
    assert str(tamsin.page.evaluate("document.activeElement.textContent")).strip().startswith("D4")
    table.hover()
    tamsin.page.mouse.down()
    pressed = table.element_handle()
    wren.touch("button", "Undo", check=False)
    tamsin.page.wait_for_timeout(1_000)
    assert pressed.evaluate("one => one.isConnected")
    tamsin.page.mouse.up()
    tamsin.page.wait_for_url(re.compile(f"/tickets/{running.ticket('D4')}"))


def test_what_was_done_here_stays_in_sight_while_others_work(clerk: MakeClerk, running: Running) -> None:
    """The message line and its undo outlive the showing of another's change."""
    tamsin, wren = clerk(), clerk()
    tamsin.sign_in()
    wren.sign_in("wren", "5512", "galley")
    tamsin.touch("link", re.compile("^G1"))
    tamsin.touch("button", "Hold", exact=True)
    tamsin.sees("Table G1 is on hold")
    seen = tamsin.page.locator("#main").get_attribute("data-seen")
    wren.touch("link", "G2 free, seat guests")
    wren.touch("button", "Seat 3 guests at G2")
    tamsin.page.locator(f"#main:not([data-seen='{seen}'])").wait_for(timeout=SOON)
    tamsin.check()
    tamsin.touch("button", "Undo")
    tamsin.page.get_by_role("heading", name="Table G1").wait_for()
    in_balance(running)
