"""Quarry Lake as a demo: sound books, every page that another leads to answers, and nothing of Marram stands on one."""

from __future__ import annotations

import html
import re
from collections import deque
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from abrazo.demo.houses import HOUSES
from abrazo.demo.making import make_demo
from abrazo.desk.context import Devices
from abrazo.desk.overview.soundness import soundness
from abrazo.desk.setup.founding import close_house, open_house
from abrazo.web.main import create_app
from abrazo.worker.worker import Worker
from tests.web.test_pages import hidden

QUARRY = HOUSES["quarry-lake"]
MARRAMS = re.compile(
    r"Marram|Galley|Landing|\bkitchen\b|\bthe Shed\b|Saltpan|Tidekeeper|€|\bVAT\b|\bTables?\b|\btabs?\b", re.I
)
LINKS, MOST = re.compile(r'<a [^>]*href="(/[^"#]*)'), 200
NO_PAGES = re.compile(r"^/(static|sign-out|display|lock)|\.(csv|pdf|xlsx|json|html|ics|txt|eml|journal|zip)\b|[?&]as=")


@pytest.fixture(scope="module")
def quarry(tmp_path_factory: pytest.TempPathFactory) -> Path:
    database = tmp_path_factory.mktemp("quarry") / "house.db"
    make_demo(database, QUARRY)
    return database


def test_its_books_are_sound(quarry: Path) -> None:
    house = open_house(quarry, Devices.beside(quarry))
    assert soundness(house) == []
    close_house(house)


ASKED_WHAT_ELSE = ("/set-up", "/set-up/house", "/set-up/house?section=house")  # the house could do


def words(page: str) -> str:
    """What is read on a page, and read out."""
    inside = re.sub(r"<(script|style|svg)\b.*?</\1>", " ", page, flags=re.S)
    labels = " ".join(re.findall(r'(?:aria-label|title|placeholder)="([^"]*)"', inside))
    return html.unescape(f"{re.sub('<[^>]+>', ' ', inside)} {labels}")


def test_every_page_answers_and_speaks_of_itself(quarry: Path) -> None:
    with TestClient(create_app(quarry, Devices.beside(quarry), worker=Worker)) as client:
        page = client.get("/sign-in?who=ottilie").text
        pin = QUARRY.pins["ottilie"]
        form = {"csrf": hidden(page, "csrf"), "who": "ottilie", "till": "yard", "pin": pin, "back": ""}
        assert client.post("/sign-in", data=form).status_code == 200
        asked, waiting, strange = {"/"}, deque(["/"]), dict[str, str]()
        seen = 0
        while waiting and seen < MOST:
            path = waiting.popleft()
            answer = client.get(path)
            assert answer.status_code == 200, path
            seen += 1
            found = MARRAMS.search(said := words(answer.text))
            if found and path not in ASKED_WHAT_ELSE:
                strange[path] = said[max(0, found.start() - 40) : found.end() + 30]
            for link in map(html.unescape, LINKS.findall(answer.text)):
                alike = re.sub(r"[0-9]{2,}", "9", link)  # pages that differ by their number only: one of ten
                if alike not in asked and not NO_PAGES.search(link):
                    asked.add(alike)
                    waiting.append(link)
        assert seen > 90
        assert strange == {}
