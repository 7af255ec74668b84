"""After a sale: a receipt with the house's picture by itself, left out for one sale; a message that is left out."""

from __future__ import annotations

import io
import re
from pathlib import Path

from PIL import Image

from tests.stories.conftest import Clerk
from tests.stories.desk import MakeClerk, in_balance, noted, wren
from tests.stories.house import Running
from tests.stories.waiting import until

PICTURE = "[picture, 384 by 144 dots]"


def paper(running: Running) -> str:
    """What the printer has printed."""
    file = running.db.with_name("house-paper.txt")
    return file.read_text("utf-8") if file.exists() else ""


def brings_a_picture(boss: Clerk, running: Running, folder: Path) -> None:
    """First something that is none."""
    out = io.BytesIO()
    Image.new("RGB", (800, 300), "black").save(out, "PNG")
    none, picture = folder / "notes.png", folder / "sign.png"
    none.write_text("no picture", "utf-8")
    picture.write_bytes(out.getvalue())
    boss.page.goto(f"{running.url}/set-up/house?section=papers")
    boss.page.get_by_label("PNG, JPEG or GIF").set_input_files(none)
    boss.touch("button", "Use this picture")
    boss.sees("This is no picture that can be read.")
    boss.page.get_by_label("PNG, JPEG or GIF").set_input_files(picture)
    boss.touch("button", "Use this picture")
    boss.page.get_by_role("img", name="The picture at the head of receipts").wait_for()
    boss.check()


def test_what_happens_by_itself(clerk: MakeClerk, running: Running, tmp_path: Path) -> None:
    boss, desk = clerk(), wren(clerk)
    boss.sign_in("odile", "407118", "landing")
    boss.expected = {422}
    brings_a_picture(boss, running, tmp_path)
    boss.touch("link", "After a sale")
    boss.touch("link", "Add", exact=True)
    boss.type("Name", "Receipt on paper")
    boss.page.get_by_label("counter", exact=True).check()
    boss.touch("button", "Add it")
    boss.sees("Receipt on paper")
    boss.check()
    before = paper(running)
    desk.page.goto(f"{running.url}/counter-mode")
    for left_out in (False, True):
        desk.page.locator("button.tile, .tile button").first.click()
        desk.settle()
        if left_out:
            desk.touch("button", "Receipt on paper")
            assert desk.page.get_by_role("button", name="Receipt on paper").get_attribute("aria-pressed") == "false"
        desk.check()
        noted(desk)
        desk.sees("Ready for the next")
    until(lambda: PICTURE in paper(running)[len(before) :])
    assert paper(running)[len(before) :].count(PICTURE) == 1
    desk.page.goto(running.url)
    desk.touch("button", "Check out Marguerite Oyelaran, €51.04")
    desk.touch("link", "Pay €51.04")
    noted(desk)
    desk.touch("link", "On to the receipt and the end")
    desk.touch("button", re.compile("^Ask how it was, Mon 15 Jun 10:00"))
    assert desk.page.get_by_role("button", name=re.compile("^Ask how")).get_attribute("aria-pressed") == "false"
    desk.check()
    desk.touch("button", "Close the ticket", exact=True)
    desk.page.goto(f"{running.url}/past?span=all&q=Marguerite")
    desk.touch("link", re.compile("^Print or send"))
    for pressed in ("true", "false"):  # it goes out after all, and then does not
        desk.touch("button", re.compile("^Ask how it was, Mon 15 Jun 10:00"))
        assert desk.page.get_by_role("button", name=re.compile("^Ask how")).get_attribute("aria-pressed") == pressed
    house = running.look()
    rows = house.connection.execute("SELECT outcome FROM after_sale_task ORDER BY id").fetchall()
    house.connection.close()
    assert [row[0] for row in rows][-1] == "left out"
    in_balance(running)
