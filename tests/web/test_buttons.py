"""Every kind of button of every page that another leads to is pressed: each answer is a page, never a breakdown."""

from __future__ import annotations

import re
from collections import deque
from pathlib import Path

import pytest
from lxml import html

from abrazo.core.journal import chain_faults
from abrazo.demo.houses import HOUSES
from abrazo.desk.context import Devices
from abrazo.desk.setup.founding import close_house, open_house
from abrazo.store import journal
from tests.stories.house import demo_template
from tests.web.test_amounts_agree import NO_PAGES, buttons, signed_in
from tests.web.test_the_other_house import NO_PAGES as ELSEWHERE

ANY, MOST = re.compile(""), 400  # pages
LEFT_OUT = re.compile(r"lock|sign-out|practice|rights|^/devices/")  # they end the session, or what it may
CLOSED = "UPDATE day SET closed_at = opened_at, closed_by = opened_by WHERE closed_at IS NULL"


def alike(address: str) -> str:
    return re.sub("[0-9]+", "9", re.sub("[0-9]{4}-[0-9]{2}-[0-9]{2}", "date", address))


def press_everything(tmp_path: Path, name: str, typed: str, is_open: bool) -> None:
    """With the same words in every field that is empty; on a day that is open, or on one that is not."""
    folder = demo_template(tmp_path / name, name)
    house = open_house(folder / "house.db", Devices.beside(folder / "house.db"))
    if not is_open:
        house.connection.execute(CLOSED)
    close_house(house)
    asked, waiting, pressed, broken = {"/"}, deque(["/"]), set[str](), list[str]()
    with signed_in(folder, name) as client:
        for _ in range(MOST):
            if not waiting:
                break
            page = waiting.popleft()
            answer = client.get(page)
            if 'id="main"' not in answer.text:  # a file; what was pressed before may have taken the page away as well
                continue
            main = html.fromstring(answer.text).get_element_by_id("main")
            for button in list(buttons(page, main, ANY)):
                if button.kind in pressed or LEFT_OUT.search(button.action):
                    continue
                pressed.add(button.kind)
                sent = {field: [one or typed for one in values] for field, values in button.sent.items()}
                if (status := client.post(button.action, data=sent).status_code) >= 500:
                    broken.append(f"{status}: {button}")
            for link in main.iter("a"):
                address = link.get("href", "").partition("#")[0]
                if alike(address) in asked or NO_PAGES.search(address) or ELSEWHERE.search(address):
                    continue
                asked.add(alike(address))
                waiting.append(address)
    assert broken == []
    assert len(pressed) > 100
    house = open_house(folder / "house.db", Devices.beside(folder / "house.db"))
    assert journal.unbalanced(house.connection) == []
    assert chain_faults(journal.chain(house.connection)) == []
    close_house(house)


@pytest.mark.parametrize("name", HOUSES)
def test_every_button_answers(tmp_path: Path, name: str) -> None:
    press_everything(tmp_path, name, "Zebulon 12", is_open=True)
