"""Quarry Lake as a demo: sound books, every page that another leads to answers, and nothing of Marram stands on one."""

from __future__ import annotations

import html
import re
import tomllib
from collections import deque
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient

from abrazo.demo.houses import HOUSES
from abrazo.desk.context import Actor, Devices, House
from abrazo.desk.overview.soundness import soundness
from abrazo.desk.setup.founding import close_house, open_house
from abrazo.desk.setup.goods import ITEMS
from abrazo.desk.setup.profiles import make_house
from abrazo.desk.setup.things import everything
from abrazo.desk.tickets import starting, ticket_lines
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.till.opening import Float, open_day
from abrazo.web.main import create_app
from abrazo.worker.worker import Worker
from tests.stories.house import demo_template
from tests.web.test_pages import hidden, send

QUARRY = HOUSES["quarry-lake"]
MARRAMS = re.compile(
    r"Marram|Galley|Landing|\bkitchen\b|\bthe Shed\b|Saltpan|Tidekeeper|€|\bVAT\b|\bTables?\b|\btabs?\b", re.I
)
LINKS, MOST = re.compile(r'<a [^>]*href="(/[^"#]*)'), 200
NO_PAGES = re.compile(r"^/(static|sign-out|display|lock)|\.(csv|pdf|xlsx|json|html|ics|txt|eml|journal|zip)\b|[?&]as=")


@pytest.fixture(scope="module")
def quarry(tmp_path_factory: pytest.TempPathFactory) -> Path:
    return demo_template(tmp_path_factory.mktemp("quarry"), "quarry-lake") / "house.db"


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


def walked(client: TestClient, strange_words: re.Pattern[str]) -> tuple[int, dict[str, str]]:
    """How many pages answered that others lead to, and what of some words stands on which."""
    asked, waiting, strange = {"/"}, deque(["/"]), dict[str, str]()
    seen = 0
    while waiting and seen < MOST:
        path = waiting.popleft()
        answer = client.get(path)
        assert answer.status_code == 200, path
        seen += 1
        found = strange_words.search(said := words(answer.text))
        if found and path not in ASKED_WHAT_ELSE:
            strange[path] = said[max(0, found.start() - 40) : found.end() + 30]
        for link in map(html.unescape, LINKS.findall(answer.text)):
            alike = re.sub(r"[0-9]{2,}", "9", link)  # pages that differ by their number only: one of ten
            if alike not in asked and not NO_PAGES.search(link):
                asked.add(alike)
                waiting.append(link)
    return seen, strange


@pytest.fixture
def ottilie(quarry: Path) -> Iterator[TestClient]:
    """Somebody who sees every page of it."""
    with TestClient(create_app(quarry, Devices.beside(quarry), worker=Worker)) as client:
        page = client.get("/sign-in?who=ottilie").text
        pin = QUARRY.pins["ottilie"]
        form = {"csrf": hidden(page, "csrf"), "who": "ottilie", "till": "yard", "pin": pin, "back": ""}
        assert client.post("/sign-in", data=form).status_code == 200
        yield client


def test_every_page_answers_and_speaks_of_itself(ottilie: TestClient) -> None:
    seen, strange = walked(ottilie, MARRAMS)
    assert seen > 90
    assert strange == {}


def test_a_late_thing_costs_what_its_button_says(ottilie: TestClient) -> None:
    """With the tax that is added; and when it costs more than was shown, that is shown first."""
    page = ottilie.get("/hire/1").text
    says = re.search(r"Take it back and charge (\$[0-9.]+)", page)
    assert says is not None
    names = dict(re.findall(r'<input type="hidden" name="([^"]+)" value="([^"]*)">', page.partition("/hire/1/back")[2]))
    asked = ottilie.post("/hire/1/back", data={**names, "sure": "100"})
    assert f"{says[1]} is charged to" in asked.text
    assert says[1] in words(send(ottilie, asked.text, "/hire/1/back"))


TABLES_ALONE = """
[house]
name = "The Low Door"
country = "AT"
currency = "EUR"
zone = "Europe/Vienna"
prices = "with tax"
does = ["tables", "kitchen"]
[[tables]]
name = "T1"
[[taxes]]
label = "VAT 10 %"
rate = "10"
[[categories]]
name = "Food"
icon = "soup"
[[items]]
name = "Broth"
price = "6.50"
category = "Food"
tax = "VAT 10 %"
report_group = "food"
[[staff]]
name = "Ada Moor"
role = "supervisor"
pin = "604815"
[[tills]]
name = "Bar"
home = "room"
"""
NOT_DONE = re.compile(
    r"\b(bookings?|walk-ins?|courses?|jobs?|drop-off|hires?|tabs?|phone orders?|orders? by phone)\b", re.I
)


@contextmanager
def new(folder: Path, profile: dict[str, Any], *, is_open: bool = True) -> Iterator[tuple[TestClient, House, Actor]]:
    """A new house on its first day, or just before, with its supervisor signed in."""
    database = folder / "house.db"
    make_house(database, profile)
    with TestClient(create_app(database, Devices.beside(database), worker=Worker)) as client:
        house = open_house(database, Devices.beside(database))
        actor = Actor(next(iter(house.staff().values())), next(iter(house.tills().values())))
        if is_open:
            open_day(house, actor, {actor.till.id: Float(5000)}, "opened")
        page = client.get(f"/sign-in?who={actor.staff.id}").text
        pin = profile["staff"][0]["pin"]
        form = {"csrf": hidden(page, "csrf"), "who": actor.staff.id, "till": actor.till.id, "pin": pin, "back": ""}
        assert client.post("/sign-in", data=form).status_code == 200
        yield client, house, actor
        close_house(house)


def test_a_house_with_tables_alone_shows_nothing_else(tmp_path: Path) -> None:
    with new(tmp_path, tomllib.loads(TABLES_ALONE)) as (client, house, actor):
        ticket = starting.seat(house, actor, house.spots()[0].id, 2, "seated")
        broth = next(id for id, one in everything(house, ITEMS).items() if one["name"] == "Broth")
        ticket_lines.add_line(house, actor, OnTicket(ticket, None, "picked"), ticket_lines.Picked(broth))
        seen, strange = walked(client, NOT_DONE)
        assert seen > 60
        assert strange == {}


NOTHING_YET = {kind: one for kind, one in tomllib.loads(TABLES_ALONE).items() if kind not in ("categories", "items")}
del NOTHING_YET["house"]["does"]


def test_a_house_before_its_first_day(tmp_path: Path) -> None:
    """No page leads to what is not there yet."""
    with new(tmp_path, NOTHING_YET, is_open=False) as (client, _, _):
        seen, strange = walked(client, re.compile("last close|last day's report", re.I))
        assert seen > 80
        assert strange == {}


def test_a_second_till_on_the_first_day_has_no_last_close(tmp_path: Path) -> None:
    """It joins a day that is open, and no drawer was left with anything before."""
    two = NOTHING_YET | {"tills": [*NOTHING_YET["tills"], {"name": "Door", "home": "room"}]}
    with new(tmp_path, two) as (client, house, actor):
        door = next(till for till in house.tills() if till != actor.till.id)
        page = client.get(f"/sign-in?who={actor.staff.id}&till={door}").text
        form = {"csrf": hidden(page, "csrf"), "who": actor.staff.id, "till": door, "pin": "604815", "back": ""}
        client.post("/sign-in", data=form)
        assert "Skip counting: nothing lies there yet" in words(client.get("/till/open").text)


def test_a_house_that_has_nothing_to_sell_yet(tmp_path: Path) -> None:
    """Whatever it does, every page answers, and says what is missing."""
    with new(tmp_path, NOTHING_YET) as (client, house, actor):
        ticket = starting.seat(house, actor, house.spots()[0].id, 2, "seated")
        seen, _ = walked(client, re.compile("^never$"))
        assert seen > 80
        for page, says in (
            (f"/tickets/{ticket}", "There is nothing to sell yet"),
            (f"/tickets/{ticket}?q=soup", "Nothing is called “soup”"),
            (f"/tickets/{ticket}?item=unlisted", "It counts as the kind of an item, which fixes its tax"),
            ("/counter-mode", "There is nothing to sell yet"),
            ("/bookings/new", "An item that takes some minutes can be booked"),
            ("/jobs/new", "No category of Set-up holds tasks yet"),
            ("/set-up/list/items/new", "There is none yet: Categories"),
            ("/set-up/list/units/new", "There is none yet: Things for hire"),
        ):
            assert says in words(client.get(page).text), page


def test_what_cannot_be_retired_is_said_on_its_sheet(ottilie: TestClient) -> None:
    """Also where a change of it could be planned."""
    page = ottilie.get("/set-up/list/taxes/A").text
    form = re.search(r'<form[^>]*action="(/set-up/list/taxes/A/retire)".*?</form>', page, re.S)
    assert form is not None
    sent = dict(re.findall(r'<input type="hidden" name="([^"]+)" value="([^"]*)">', form[0]))
    answer = ottilie.post(form[1], data=sent | {"what": "retire"})
    assert answer.status_code == 422
    assert "Griddled corn bears it. Give it another tax first." in words(answer.text)


def test_what_is_owed_names_everybody_once(ottilie: TestClient) -> None:
    said = words(ottilie.get("/till/owed").text)
    assert "Deposit on W-1031, Outboard, 8 hp, Tobiah Wren-Kessler" in said
    assert "11:00, Ilka Farnsworth" in said and "Ilka Farnsworth, Ilka" not in said
