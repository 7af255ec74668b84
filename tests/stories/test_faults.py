"""What goes wrong: cards declined, silent machines, double clicks, two servers, killed processes, bad input."""

from __future__ import annotations

import pytest

from tests.stories.conftest import Clerk
from tests.stories.desk import SILENT, MakeClerk, until_at_the_machine
from tests.stories.house import Running, books
from tests.stories.test_table_settled import machine_tells
from tests.stories.waiting import until


def pay_page(server: Clerk, spot: str = "D1") -> None:
    """Straight to the pay pane of table D1 (28.10 for the whole table)."""
    server.page.goto(f"{server.running.url}/tickets/{server.running.ticket(spot)}?view=pay")


@pytest.mark.parametrize("outcome", ["declined", "cancelled by the guest"])
def test_declined_then_another_card(clerk: MakeClerk, running: Running, outcome: str) -> None:
    server = clerk()
    server.sign_in()
    machine_tells(server, outcome)
    pay_page(server)
    server.touch("button", "Charge €28.10 on card machine 1", check=False)
    server.sees("nothing was charged")
    server.check()
    machine_tells(server, "approved")
    server.touch("button", "Charge €28.10 on card machine 1", check=False)
    server.sees("D1 is paid")
    ours, theirs = books(running)
    assert theirs - ours == SILENT


@pytest.mark.parametrize("outcome", ["charged, but no answer", "not charged, no answer"])
def test_no_answer_is_asked_for_and_never_charged_twice(clerk: MakeClerk, running: Running, outcome: str) -> None:
    server = clerk()
    server.sign_in()
    machine_tells(server, outcome)
    pay_page(server)
    server.touch("button", "Charge €28.10 on card machine 1", check=False)
    server.page.get_by_role("heading", name="Card machine 1 did not answer").wait_for(timeout=45_000)
    assert server.page.get_by_role("button", name="Charge").count() == 0
    server.check()
    server.touch("button", "Ask card machine 1 how it ended", check=False)
    server.sees("D1 is paid" if outcome.startswith("charged") else "nothing was charged")
    ours, theirs = books(running)
    assert theirs - ours == SILENT


def test_double_click_charges_once(clerk: MakeClerk, running: Running) -> None:
    """Two submissions of the same form, at once and past the interface's own guard."""
    server = clerk()
    server.sign_in()
    machine_tells(server, "approved")
    pay_page(server)
    known, before = books(running)
    server.page.evaluate(
        """async () => {
          const form = document.querySelector("form[action$='/card']");
          const send = () => fetch(form.action, {method: "POST", body: new URLSearchParams(new FormData(form))});
          await Promise.all([send(), send(), send()]);
        }"""
    )
    server.page.reload()
    until(lambda: books(running)[0] > known)
    ours, theirs = books(running)
    assert (theirs - before, theirs - ours) == (2810, SILENT)


def test_two_servers_on_one_ticket(clerk: MakeClerk) -> None:
    """The second is told what changed, nothing typed is lost, and pressing again does it."""
    first, second = clerk(), clerk()
    first.sign_in()
    second.sign_in("wren", "5512", "galley")
    second.page.goto(f"{second.running.url}/tickets/{second.running.ticket('D1')}?item=fish-soup")
    second.page.get_by_label("rye").check()
    second.type("Note", "for the birthday")
    first.page.goto(f"{first.running.url}/tickets/{first.running.ticket('D1')}?category=sides")
    first.touch("button", "Add Kelp-butter bread")
    second.expected = {409}
    second.touch("button", "Add fish soup")
    second.sees("This ticket was changed meanwhile")
    second.sees("Tamsin Rook")
    second.expected = set()
    assert second.page.get_by_label("Note", exact=True).input_value() == "for the birthday"
    assert second.page.get_by_label("rye").is_checked()
    second.touch("button", "Add fish soup")
    second.sees("“for the birthday”")
    second.sees("Kelp-butter bread")


def test_killed_between_any_two_steps(clerk: MakeClerk, running: Running) -> None:
    """Every confirmed step is there after kill -9, and a charge that was under way is asked for."""
    server = clerk()
    server.sign_in()

    def again() -> None:
        running.kill()
        running.start()

    server.touch("link", "G2 free, seat guests")
    server.touch("button", "Seat 2 guests at G2")
    again()
    ticket = server.page.url
    server.page.goto(f"{ticket}?category=sides")
    server.touch("button", "Add Kelp-butter bread")
    server.touch("button", "Add Pickled samphire")
    again()
    server.page.goto(ticket)
    server.sees("Pickled samphire")
    server.touch("button", "Share out")
    again()
    server.page.goto(f"{ticket}?view=pay")
    server.touch("button", "€5.00 €1.15 back")
    again()
    server.page.goto(f"{ticket}?view=pay")
    server.sees("paid €3.85")
    server.page.get_by_role("button", name="Charge €3.85").click()  # at the machine's usual pace
    server.page.get_by_role("heading", name="Charging €3.85").wait_for()
    until_at_the_machine(running)
    running.kill()
    server.page.wait_for_timeout(5500)  # the machine goes on by itself
    running.start()
    server.page.goto(f"{ticket}?view=pay")
    server.faults.clear()  # the live stream broke with the process, as it must
    server.page.goto(f"{ticket}/done")
    server.sees("G2 is paid")
    server.touch("button", "Free G2")
    again()
    server.page.goto(running.url)
    server.page.get_by_role("link", name="G2 free, seat guests").wait_for()
    ours, theirs = books(running)
    assert theirs - ours == SILENT


def test_bad_input_says_so_beside_its_cause(clerk: MakeClerk) -> None:
    server = clerk()
    server.sign_in()
    server.expected = {422, 404}
    pay_page(server)
    server.type("Amount to take", "12,505", enter=True)
    server.page.get_by_text("“12,505” is not an amount").first.wait_for()
    assert server.page.get_by_label("Amount to take").input_value() == "12,505"
    server.type("Amount to take", "99.00", enter=True)
    server.sees("€70.90 more than is due.")
    pay_page(server)
    server.type("Cash handed over", "20", enter=True)
    server.sees("€20.00 does not cover €28.10")
    server.type("Other tip", "lots")
    server.touch("button", "Set tip")
    server.sees("Only digits, one point")
    assert server.page.get_by_label("Other tip").input_value() == "lots"
    server.page.goto(f"{server.running.url}/tables/G2/seat")
    server.type("More than 12", "many", enter=True)
    server.sees("How many guests? A whole number.")
    server.type("Find or scan a table, ticket, job, name or phone", "Q9", enter=True)
    server.sees("Nothing is known by “Q9”")
    server.check()


def test_five_wrong_pins_lock_that_person(clerk: MakeClerk) -> None:
    server = clerk()
    server.expected = {422}
    for tries in ("4 tries left", "3 tries left", "2 tries left", "1 try left", "wait 60 seconds"):
        server.page.goto(f"{server.running.url}/sign-in?who=odile")
        server.page.get_by_label("PIN", exact=True).fill("000000")
        server.sees(tries)
    server.page.goto(f"{server.running.url}/sign-in?who=odile")
    server.page.get_by_label("PIN", exact=True).fill("407118")
    server.sees("wait another")
    server.sign_in("wren", "5512")


def test_what_is_half_typed_when_the_screen_locks_itself_comes_back(clerk: MakeClerk, running: Running) -> None:
    """To who typed it; whoever else signs in there does not see it."""
    desk = clerk()
    desk.page.clock.install()
    desk.sign_in()
    desk.page.goto(f"{running.url}/till")
    desk.page.get_by_label("Note", exact=True).fill("ice from next door")
    desk.page.clock.fast_forward("06:00")
    desk.touch("link", "Tamsin")
    desk.page.get_by_label("PIN", exact=True).fill("2086")
    desk.page.wait_for_url(f"{running.url}/till")
    assert desk.page.get_by_label("Note", exact=True).input_value() == "ice from next door"
    desk.touch("button", "Lock")
    desk.touch("link", "Wren")
    desk.page.get_by_label("PIN", exact=True).fill("5512")
    desk.page.wait_for_url(f"{running.url}/till")
    assert desk.page.get_by_label("Note", exact=True).input_value() == ""
