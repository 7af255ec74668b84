"""The house cannot be reached for a while: nothing typed is lost, what was pressed is done once, the words are true."""

from __future__ import annotations

import re
from collections.abc import Callable

import pytest
from playwright.sync_api import Route, expect

from tests.stories.conftest import Clerk
from tests.stories.house import Running

MakeClerk = Callable[..., Clerk]
TRYING, OLD = "No connection to the house; trying again. Nothing is lost.", "This page is as it was before"


def payments(running: Running, spot: str) -> list[tuple[int, int]]:
    house = running.look()
    found = house.connection.execute(
        "SELECT p.amount, p.tip FROM payment p JOIN ticket t ON t.id = p.ticket WHERE t.spot = ? AND t.state = 'open'",
        (spot,),
    ).fetchall()
    house.connection.close()
    return [tuple(row) for row in found]


def cut(one: Clerk, running: Running) -> None:
    one.cut = True
    running.kill()


def restored(one: Clerk, running: Running) -> None:
    running.start()
    expect(one.page.locator("#no-connection")).to_be_hidden(timeout=20_000)
    one.cut = False


@pytest.mark.parametrize("width", [1280, 390])
def test_killed_as_a_payment_is_pressed(clerk: MakeClerk, running: Running, width: int) -> None:
    server = clerk(width, 844)
    server.sign_in()
    server.page.goto(f"{running.url}/tickets/{running.ticket('D1')}?view=pay")
    cut(server, running)
    server.page.get_by_role("button", name="€30.00").click()
    server.sees(TRYING)
    server.page.wait_for_timeout(2500)  # tried in vain
    assert payments(running, "D1") == []
    restored(server, running)
    server.sees("Give them the change")
    assert payments(running, "D1") == [(2810, 0)]
    server.check()


def test_an_answer_that_was_lost_is_asked_for_and_one_payment_made(clerk: MakeClerk, running: Running) -> None:
    server = clerk()
    server.sign_in()
    server.page.goto(f"{running.url}/tickets/{running.ticket('D1')}?view=pay")
    lost: list[str] = []

    def lose(route: Route) -> None:
        """The house does it; its answer does not arrive."""
        if lost:
            return route.continue_()
        lost.append(route.request.post_data or "")
        route.fetch(max_redirects=0)
        return route.abort("connectionreset")

    server.page.route("**/cash", lose)
    server.cut = True
    server.page.get_by_role("button", name="€30.00").click()
    server.sees("Give them the change")
    server.cut = False
    assert (len(lost), payments(running, "D1")) == (1, [(2810, 0)])
    expect(server.page.locator("#no-connection")).to_be_hidden()


def test_killed_while_picking(clerk: MakeClerk, running: Running) -> None:
    """Two items picked without a connection come once each; a note that was being typed stays until then."""
    server = clerk()
    server.sign_in()
    server.page.goto(f"{running.url}/tickets/{running.ticket('D2')}?category=sweet")
    lines = server.page.get_by_role("region", name="Lines").get_by_text("Lemon posset")
    before = lines.count()
    cut(server, running)
    server.page.get_by_role("button", name="Add Lemon posset").click()
    server.sees(TRYING)
    restored(server, running)
    expect(lines).to_have_count(before + 1)
    server.check()


def test_today_says_that_it_is_old_and_keeps_what_is_typed(clerk: MakeClerk, running: Running) -> None:
    server = clerk()
    server.sign_in()
    server.page.locator("#finder").fill("the")
    expect(server.page.get_by_role("link", name=re.compile("Theo Brandvold")).first).to_be_visible()
    cut(server, running)
    server.sees(re.compile(OLD))
    server.page.locator("#finder").fill("theo b")
    server.sees(TRYING)
    expect(server.page.locator("#finder")).to_have_value("theo b")
    restored(server, running)
    expect(server.page.locator("#finder")).to_have_value("theo b")
    server.page.get_by_role("link", name=re.compile("Theo Brandvold")).first.wait_for()
    with server.page.expect_response("**/devices/listen"):  # heard from again
        server.page.get_by_role("link", name="Today", exact=True).first.click()
        server.sees("Next to settle")
        server.page.reload()
    cut(server, running)
    server.sees(re.compile(OLD))
    server.page.get_by_role("button", name="Lock").click()  # leaves the page: it waits too
    server.sees(TRYING)
    server.page.route("**/static/mark.svg", lambda route: route.abort())
    with server.page.expect_response(lambda answer: "x-fresh" in answer.request.headers):
        running.start()  # the page is shown anew before the press is sent, and the button with it
    server.page.wait_for_timeout(200)
    server.page.unroute("**/static/mark.svg")
    expect(server.page.get_by_role("heading", name="Who is at the till?")).to_be_visible(timeout=20_000)
