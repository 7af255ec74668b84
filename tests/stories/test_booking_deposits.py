"""A booking with a deposit: made on a free time, moved, checked out; cancelled with its deposit given back; not come."""

from __future__ import annotations

import re

import pytest

from tests.stories.desk import MakeClerk, in_balance, killed_in_between, wren
from tests.stories.house import Running


@pytest.mark.acts
def test_a_tour_is_booked_with_a_deposit_moved_and_paid(clerk: MakeClerk, running: Running) -> None:
    desk = wren(clerk)
    desk.expected = {422}
    desk.touch("link", "Book Idris Vane on Sat 13 Jun from 15:00")
    desk.type("Name", "petra moe")
    desk.page.get_by_label("Service").select_option(label="Guided creek tour, 150 min, €58.00")
    desk.acts += 1
    desk.touch("button", "Book it")
    desk.touch("button", re.compile("^Charge €20.00"), check=False)
    desk.page.wait_for_url("**/done")
    desk.touch("button", "Close the ticket", exact=True)
    desk.counted("booking with a deposit by card", 6)
    killed_in_between(desk, running)
    desk.touch("link", re.compile("^Petra Moe 15:00"), check=False)
    desk.sees("Deposit, held")
    desk.touch("link", "Change or move it")
    desk.page.get_by_label("How many come").fill("99 of them")
    desk.touch("button", "Keep these changes")
    desk.sees("A whole number from 1 to 99")
    desk.page.get_by_label("How many come").fill("1")
    desk.page.get_by_label("Time", exact=True).fill("15:30")
    desk.touch("button", "Keep these changes")
    desk.sees("15:30–18:00 with Idris Vane")
    desk.touch("button", re.compile("^Check out Petra, €38.00"), check=False)
    desk.touch("link", re.compile("^Pay €38.00"), check=False)
    desk.touch("button", re.compile("^Charge €38.00"), check=False)
    desk.page.wait_for_url("**/done")
    desk.sees("deposit on Guided creek tour")
    desk.touch("button", "Close the ticket", exact=True)
    in_balance(running)


def test_a_cancelled_tour_gives_its_deposit_back(clerk: MakeClerk, running: Running) -> None:
    """Saskia called hers off; the deposit was paid by card."""
    desk = wren(clerk)
    house = running.look()
    who, booking = house.connection.execute(
        "SELECT person, id FROM booking WHERE name = 'Saskia Dunmore' AND state = 'cancelled'"
    ).fetchone()
    house.connection.close()
    desk.page.goto(f"{running.url}/people/{who}")
    desk.touch("link", re.compile("cancelled, deposit €20.00$"))
    desk.sees("Cancelled: travelling that week")
    desk.touch("button", re.compile("^Give €20.00 of the deposit back to ••"), check=False)
    desk.sees("It goes back to its card")
    in_balance(running)
    desk.page.goto(f"{running.url}/?lens=bookings&booking={booking}")
    desk.touch("button", "They come after all")
    desk.sees("Check out Saskia, €58.00")


def test_who_does_not_come(clerk: MakeClerk, running: Running) -> None:
    boss = clerk(1280, 800)
    boss.sign_in("odile", "407118", "landing")
    boss.page.goto(f"{running.url}/set-up/bookings")
    boss.page.get_by_label("If they do not come").nth(0).fill("10")
    boss.touch("button", "Keep this for First paddle")
    desk = wren(clerk)
    desk.touch("link", re.compile("^Juno Ferreira 16:00"), check=False)
    desk.touch("button", "Did not come")
    desk.touch("button", "Charge €10.00 for not coming")
    desk.sees("Did not come: First paddle, Sat 13 Jun 16:00")
    desk.page.goto(f"{running.url}/?lens=bookings")
    desk.touch("link", re.compile("^Juno Ferreira 16:00"), check=False)
    assert desk.page.get_by_role("button", name="Charge €10.00 for not coming").count() == 0


def test_a_booking_is_dragged(clerk: MakeClerk, running: Running) -> None:
    desk = wren(clerk)
    desk.touch("link", re.compile("^Bookings"), check=False)
    block = desk.page.locator("a.visit", has_text="Juno Ferreira").locator("rect").bounding_box()
    head = desk.page.locator(".day text", has_text="Idris Vane").bounding_box()
    assert block and head
    mouse = desk.page.mouse
    mouse.move(block["x"] + 30, block["y"] + 15)
    mouse.down()
    mouse.move(head["x"] + 20, block["y"] - 5, steps=8)
    mouse.up()
    desk.settle()
    desk.sees("15:45–17:15 with Idris Vane")
    in_balance(running)


def test_a_booking_is_dragged_to_another_day(clerk: MakeClerk, running: Running) -> None:
    desk = wren(clerk)
    desk.touch("link", re.compile("^Bookings"), check=False)
    desk.touch("link", "Week", exact=True)
    drawing = desk.page.get_by_role("group", name="Bookings by day and staff member")
    block = drawing.get_by_role("link", name=re.compile("^Juno 16:00")).locator("rect").bounding_box()
    heads = drawing.locator("text.under", has_text="Idris")
    places = [heads.nth(number).bounding_box() for number in (1, 2, 3)]
    mouse = desk.page.mouse
    desk.expected = {422}  # nobody works on Monday
    for head, said in zip(
        places,
        (
            "Juno Ferreira comes Sun 14 Jun 16:00 now, with Idris Vane.",
            "Idris Vane does not work",
            "Juno Ferreira comes Tue 16 Jun 16:00 now, with Idris Vane.",
        ),
        strict=True,
    ):
        assert block and head
        mouse.move(block["x"] + block["width"] / 2, block["y"] + 15)
        mouse.down()
        mouse.move(head["x"] + head["width"] / 2, block["y"] + 15, steps=8)
        mouse.up()
        desk.settle()
        desk.sees(said)
        block = drawing.get_by_role("link", name=re.compile("^Juno 16:00")).locator("rect").bounding_box()
        assert block
    in_balance(running)
