"""An amount on a link or a button is what is found behind it: in the house with tax inside, and in the one that adds it.

The lists of work are gone through, and what they lead to; buttons of each kind that say an amount are pressed, each on
a copy of the house as it stands.
"""

from __future__ import annotations

import re
import shutil
from collections import Counter, defaultdict
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from lxml import html

from abrazo.demo.houses import HOUSES
from abrazo.desk.context import Devices
from abrazo.web.main import create_app
from abrazo.worker.worker import Worker
from tests.stories.house import demo_template
from tests.web.test_pages import hidden

LISTS = (
    *(
        "/?everything=yes",
        "/?lens=bookings",
        "/?lens=jobs",
        "/?lens=tabs",
        "/bookings",
        "/hire",
        "/set-aside",
        "/goods",
    ),
    *("/accounts", "/till/close", "/till/owed", "/till/report", "/counter-mode", "/hire/owners", "/courses"),
)
SHEETS = re.compile(r"^/(tickets|hire|jobs|people|bookings)/[0-9]+([?].*)?$|[?&]booking=")
NO_PAGES = re.compile(r"\.(csv|pdf|xlsx|json|html|ics|txt|eml)\b|[?&]as=|^/past")  # a receipt says no sign of currency
OF_EACH, STEPS, PRESSED = 3, 2, 2
AMOUNT = re.compile(r"[€$][0-9][0-9,]*\.[0-9]{2}")
PRICES = re.compile(r"/(add|move|adjust)$")  # of one item, of another ticket: no sum that is asked for now
MACHINES = re.compile(r"/held$|/give-back$")  # the machine is asked, the page waits; stories follow it to its end
SUPERVISORS = {"marram": ("odile", "landing"), "quarry-lake": ("ottilie", "yard")}


@dataclass(frozen=True, slots=True)
class Button:
    """A button that says an amount: where it stands, where its form goes, its words; and what it would send."""

    page: str
    action: str
    words: str
    sent: dict[str, list[str]] = field(compare=False)

    @property
    def kind(self) -> str:
        """Its action and first words, whatever number or name is meant."""
        words = [word for word in self.words.split() if word.isalpha() and word.islower()]
        return " ".join([re.sub("[0-9]+", "9", self.action), *words[:3]])


@contextmanager
def signed_in(folder: Path, name: str) -> Iterator[TestClient]:
    database, (who, till) = folder / "house.db", SUPERVISORS[name]
    with TestClient(create_app(database, Devices.beside(database), worker=Worker)) as client:
        page = client.get(f"/sign-in?who={who}").text
        form = {"csrf": hidden(page, "csrf"), "who": who, "till": till, "pin": HOUSES[name].pins[who], "back": ""}
        assert client.post("/sign-in", data=form).status_code == 200
        yield client


def main_of(client: TestClient, page: str) -> html.HtmlElement:
    answer = client.get(page)
    assert answer.status_code == 200, page
    return html.fromstring(answer.text).get_element_by_id("main")


def said(element: html.HtmlElement) -> str:
    """What is read there, and read out."""
    return " ".join(f"{element.text_content()} {element.get('aria-label', '')}".split())


def links(main: html.HtmlElement) -> Iterator[tuple[str, str]]:
    """Where a page leads to, and what the link says first of money: what is to pay there; "" without."""
    for link in main.iter("a"):
        address, amount = link.get("href", "").partition("#")[0], AMOUNT.search(said(link))
        if (amount or SHEETS.search(address)) and not NO_PAGES.search(address):
            yield address, amount[0] if amount else ""


def buttons(page: str, main: html.HtmlElement, words: re.Pattern[str] = AMOUNT) -> Iterator[Button]:
    """Those that say these words, and send something."""
    for button in main.iter("button"):
        form = next(button.iterancestors("form"), None)
        if form is None or form.method != "POST" or not words.search(said(button)):
            continue
        sent = defaultdict[str, list[str]](list)
        for name, value in (*form.form_values(), (button.get("name"), button.get("value", ""))):
            if name:
                sent[name].append(value)
        yield Button(page, button.get("formaction") or form.get("action"), said(button), sent)


def walked(client: TestClient, apart: list[str]) -> dict[str, html.HtmlElement]:
    """The pages of the work, some steps from the lists; `apart` gets what they do not say as a link to them does."""
    found, alike, now = dict[str, html.HtmlElement](), Counter[str](), dict.fromkeys(LISTS, "")
    for _ in range(STEPS + 1):
        now = {page: amount for page, amount in now.items() if page not in found}
        shown = {page: main_of(client, page) for page in now}
        apart += [f"{page} does not say {amount}" for page, amount in now.items() if amount not in said(shown[page])]
        found |= shown
        now = {}
        for address, amount in (link for main in shown.values() for link in links(main)):
            alike.update([kind := re.sub("[0-9]+", "9", address)])
            if alike[kind] <= OF_EACH or amount:
                now[address] = now.get(address) or amount
    return found


@pytest.mark.parametrize("name", HOUSES)
def test_what_is_said_is_what_is_asked(name: str, tmp_path: Path) -> None:
    folder, apart = demo_template(tmp_path / name, name), list[str]()
    kinds = defaultdict[str, dict[str, Button]](dict)
    with signed_in(folder, name) as client:
        for page, main in walked(client, apart).items():
            for button in buttons(page, main):
                if not PRICES.search(button.action) and not MACHINES.search(button.action):
                    kinds[button.kind][button.words] = button
    for button in (one for alike in kinds.values() for one in list(alike.values())[:PRESSED]):
        copied = shutil.copytree(folder, tmp_path / "copy")
        with signed_in(copied, name) as client:
            again = next(one for one in buttons(button.page, main_of(client, button.page)) if one == button)
            answer = client.post(again.action, data=again.sent)
            if answer.status_code != 422:  # else it wants a reason, a number, a name first
                shown = said(html.fromstring(answer.text).get_element_by_id("main"))
                apart += [f"{one}: {button}" for one in AMOUNT.findall(button.words) if one not in shown]
        shutil.rmtree(copied)
    assert len(kinds) > 10
    assert apart == []
