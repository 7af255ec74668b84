"""Courses: planned, a place booked by phone, one sold to a member of a household, the last one gone meanwhile."""

from __future__ import annotations

import re

import pytest

from tests.stories.desk import MakeClerk, cash, in_balance, killed_in_between, wren
from tests.stories.house import Running


@pytest.mark.acts
def test_a_course_from_the_plan_to_the_list(clerk: MakeClerk, running: Running) -> None:
    desk = wren(clerk)
    desk.page.goto(f"{running.url}/?lens=bookings")
    desk.touch("link", "Courses", exact=True)
    desk.sees("4 of 6 places")
    desk.page.get_by_label("Service").select_option(label="First paddle, 90 min, €48.00")
    desk.page.get_by_label("Date").fill("2026-06-16")
    desk.page.get_by_label("Time", exact=True).fill("9:30")
    desk.page.get_by_label("Places").fill("none")
    desk.expected = {422}
    desk.touch("button", "Plan this course")
    desk.sees("A whole number from 1 to 200, not none.")
    assert desk.page.get_by_label("Time", exact=True).input_value() == "9:30"
    desk.page.get_by_label("Places").fill("2")
    desk.touch("button", "Plan this course")
    desk.page.get_by_role("heading", name="Book a place, 2 left").wait_for()
    desk.acts = 0
    desk.type("Name", "Ada Aldous")
    desk.touch("button", "Book the place")
    desk.sees("1 of 2 places")
    desk.counted("a place in a course, by phone", 3)
    course = desk.page.url

    seller = wren(clerk)
    seller.page.goto(f"{running.url}/people/1")
    seller.acts = 0
    seller.touch("button", "A sale for Elis")
    seller.touch("link", "Sessions", check=False)
    seller.touch("link", re.compile("^First paddle"))
    seller.page.get_by_label("For", exact=True).select_option(label="Ivo Lindqvist-Amari")
    seller.acts += 1
    seller.touch("button", re.compile("^Tue 16 Jun 09:30"), check=False)
    seller.sees(re.compile("First paddle, Tue 16 Jun"))
    killed_in_between(seller, running)
    seller.touch("link", re.compile("^Pay €"), check=False)
    cash(seller, "50", "take €48.00")
    seller.sees(re.compile("€48.00 cash taken"))
    seller.counted("a place in a course, sold to a member of a household in cash", 8)

    desk.type("Name", "Bram Brekke")
    desk.touch("button", "Book the place", check=False)  # the page is older than the sale
    desk.sees("places left 0")
    desk.page.goto(course)
    desk.sees("2 of 2 places")
    desk.touch("button", "Print who comes")
    desk.page.set_viewport_size({"width": 390, "height": 844})
    desk.page.goto(course)
    desk.check()
    in_balance(running)


def test_another_date_and_called_off(clerk: MakeClerk, running: Running) -> None:
    desk = wren(clerk)
    desk.page.goto(f"{running.url}/courses/1")
    desk.touch("link", re.compile("^Pax Ferreira"))
    desk.page.get_by_label("Another date").select_option(index=1)
    desk.touch("button", "Move it there")
    desk.sees("Sun 28 Jun")
    desk.sees("1 of 6 places")
    desk.page.get_by_text("Call it off").first.click()
    desk.type("Why", "the pool is being mended")
    desk.touch("button", "Call it off")
    desk.sees("called off: the pool is being mended")
    desk.page.goto(f"{running.url}/?lens=bookings&day=2026-06-28")
    assert not desk.page.locator("a.visit", has_text="Roll clinic").count()
