"""Practice: a card sale with its paper on a copy, over a kill, until it is ended; the house knows nothing of it."""

from __future__ import annotations

import os
import sqlite3
from contextlib import suppress
from pathlib import Path

from tests.stories.desk import MakeClerk, in_balance
from tests.stories.house import Running
from tests.stories.waiting import until

UNTOUCHED = ("ticket", "line", "payment", "posting", "journal", "card_request", "outbox", "item", "settings")


def everything(running: Running) -> dict[str, list[tuple[object, ...]]]:
    """What the house holds of all that counts."""
    connection = sqlite3.connect(running.db)
    found = {table: connection.execute(f"SELECT * FROM {table} ORDER BY rowid").fetchall() for table in UNTOUCHED}
    connection.close()
    return found


def copy(running: Running) -> Path | None:
    """The copy that somebody practises on."""
    return next(running.db.parent.glob("house-practice/*/house.db"), None)


def held_open(running: Running) -> list[str]:
    """Files of copies that the process still holds: what is gone takes room until nobody does."""
    found = list[str]()
    for one in Path(f"/proc/{running.pid}/fd").iterdir():
        with suppress(FileNotFoundError):
            found.append(os.readlink(one))
    return [one for one in found if "house-practice" in one]


def test_a_sale_is_practised(clerk: MakeClerk, running: Running) -> None:
    before, machine = everything(running), running.db.with_name("house-card-machine-2.jsonl").read_bytes()
    one = clerk()
    one.page.goto(f"{running.url}/sign-in?who=odile&till=landing")
    one.page.get_by_label("Only practise, on a copy of the house").check()
    one.page.keyboard.type("407118")
    one.page.wait_for_url(f"{running.url}/")
    one.sees("Nothing goes out, your PIN is everybody's")
    one.check()
    one.touch("button", "Go to till Galley")  # nobody else stands there: a day can be closed alone
    one.sees("Odile, till Galley")
    one.touch("button", "Go to till Landing")
    one.sees("Odile, till Landing")
    one.touch("button", "Check out Marguerite Oyelaran, €51.04")
    one.touch("link", "Pay €51.04")
    one.touch("button", "Charge €51.04 on card machine 2", check=False)
    one.sees("Marguerite Oyelaran is paid")
    running.kill()
    running.start()
    one.page.reload()
    one.sees("Practice")
    one.touch("link", "Receipt for A")
    one.touch("button", "Print the receipt")
    practised = copy(running)
    assert practised is not None
    paper = practised.with_name("house-paper.txt")
    until(lambda: paper.exists() and "PRACTICE: DOES NOT COUNT" in paper.read_text("utf-8"))
    assert "PRACTICE: Marram" in paper.read_text("utf-8")
    one.touch("button", "End practice", check=False)
    one.page.wait_for_url("**/sign-in**")
    until(lambda: copy(running) is None, "the copy is still there")
    until(lambda: not held_open(running), lambda: f"still held: {held_open(running)}")
    one.sign_in("odile", "407118", "landing")
    assert not one.page.get_by_text("Nothing goes out").count()
    assert everything(running) == before
    assert running.db.with_name("house-card-machine-2.jsonl").read_bytes() == machine
    in_balance(running)
