"""Quarry Lake in the browser: dollars, taxes added in two parts, no tables; its dock, yard and snack counter, and a kill."""

from __future__ import annotations

import re
from collections.abc import Iterator
from pathlib import Path

import pytest

from tests.stories.conftest import Clerk
from tests.stories.desk import MakeClerk, in_balance, killed_in_between
from tests.stories.house import Running, demo_template

VIEWS = ("/", "/?lens=jobs", "/hire", "/prep/grill", "/people/10", "/past", "/till", "/till/report", "/set-up")


@pytest.fixture
def running(tmp_path: Path) -> Iterator[Running]:
    folder = demo_template(tmp_path / "house", "quarry-lake")
    house = Running(folder)
    house.start()
    yield house
    house.stop()


def at_the_dock(clerk: MakeClerk) -> Clerk:
    perrin = clerk()
    perrin.sign_in("perrin", "4419", "dock")
    return perrin


@pytest.mark.acts
def test_a_morning_at_the_dock(clerk: MakeClerk, running: Running) -> None:
    desk = at_the_dock(clerk)
    desk.page.goto(f"{running.url}/people/21")
    desk.acts = 0
    desk.touch("button", "Hire", check=False)
    desk.touch("button", re.compile(r"^two hours \$22.00"))
    desk.touch("link", re.compile(r"^Pay \$23.82"))  # 22.00 and 8.25 %
    desk.touch("button", re.compile(r"^\$23.82 exact"))
    desk.counted("in the other house: hire from the person's sheet, cash", 5)
    desk.sees("Sales tax 8.25 %")
    desk.touch("button", "All paid, close the ticket")

    desk.page.goto(f"{running.url}/?lens=bookings")
    desk.touch("link", re.compile("^Ilka Farnsworth"))
    desk.touch("button", re.compile("^Check out Ilka"), check=False)
    desk.sees("Six saunas, use 1 of 6, 5 left")
    killed_in_between(desk, running)
    desk.touch("link", "All paid, to the receipts")
    desk.sees(re.compile(r"\$20.00"))  # the deposit, for which nothing is to pay
    in_balance(running, 0)


def test_a_job_from_drop_off_to_the_hand_over(clerk: MakeClerk, running: Running) -> None:
    desk = at_the_dock(clerk)
    desk.page.goto(f"{running.url}/jobs/new?person=22")
    desk.type("The thing", "Kayak trailer")
    desk.tick("Trailer bearings", "Ahead of the others")
    desk.sees("Estimate $107.17")
    desk.touch("button", "Take in the job, print its tag")
    desk.sees("W-1039")
    desk.touch("link", re.compile("^Its drop-off ticket is still open"), check=False)
    desk.page.goto(f"{running.url}/?lens=jobs")
    desk.touch("link", re.compile("W-1032"), check=False)
    desk.touch("button", re.compile(r"^Charge \$89.31 on card machine 2"), check=False)
    desk.sees("is paid")
    desk.touch("button", "Hand over W-1032")
    desk.sees("Handed over.")
    in_balance(running, 0)


@pytest.mark.parametrize("width", [1280, 768, 390])
def test_its_pages_are_finished(clerk: MakeClerk, running: Running, width: int) -> None:
    boss = clerk(width, 844 if width < 500 else 800)
    boss.sign_in("ottilie", "640218", "yard")
    for address in VIEWS:
        boss.page.goto(running.url + address)
        boss.settle()
        boss.check()
