"""A language is one file: the house chooses it, and every page is in it, but for the house's own names."""

from __future__ import annotations

import html
import re
from collections.abc import Iterator
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from abrazo.web.pages import templates
from abrazo.words import catalogue
from tests.made_up_language import written
from tests.web.demo_pages import every_page
from tests.web.test_pages import client, made, send

__all__ = ["client", "made"]

READ_OUT = re.compile(r'(?:aria-label|placeholder|title|alt)="([^"]*)"')
NODE = re.compile(r">([^<>]*[^\W\d_][^<>]*)<")


def bracketed(message: str) -> str:
    return f"⟦{message}⟧"


@pytest.fixture
def made_up(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[set[str]]:
    """A language whose every text is the English one in brackets; gives the texts without placeholders."""
    folder = tmp_path / "languages"
    catalog = written(folder, bracketed)
    monkeypatch.setattr(catalogue, "FOLDER", folder)
    catalogue.catalogue.cache_clear()
    templates.cache_clear()
    yield {str(message.id) for message in catalog if message.id and "{" not in str(message.id)}
    catalogue.catalogue.cache_clear()
    templates.cache_clear()


def read(page: str) -> list[str]:
    """What is read on a page, each text in one piece."""
    body = page[page.index("<main") :]
    found = [html.unescape(text) for text in [*NODE.findall(body), *READ_OUT.findall(body)]]
    return [" ".join(text.split()) for text in found]


def test_every_page_is_in_the_language_of_the_house(client: TestClient, made_up: set[str]) -> None:
    """No text of the catalogue stands on a page as English has it."""
    names = {
        "Points",
        "Store credit",
        "Stored card",
        "Card machine",
        "Kitchen",
        "Bar",
        "Cash",
        "Counter",
        "Deposit",  # as the line was written in the books
        *("Kind", "yes", "no"),
        *("person", "phone", "series"),  # columns of files
        "Stored bank account",  # as its tender was called when the house was made
    }  # the house's own, by chance the same
    page = client.get("/sign-in?who=odile").text
    assert "⟦" not in page
    supervisor = {"who": "odile", "till": "galley", "pin": "407118", "back": ""}
    send(client, page, "/sign-in", **supervisor)
    house = client.get("/set-up/house").text
    forms = re.findall(r'<form[^>]*action="/set-up/house".*?</form>', house, re.S)
    choose = next(one for one in forms if 'value="eo"' in one and ">Esperanto<" in one)
    send(client, choose, "/set-up/house", language="eo")
    left: dict[str, set[str]] = {}
    for path in every_page(client):
        answer = client.get(path)
        assert answer.status_code == 200, path
        assert "⟦" in answer.text, path
        left[path] = {text for text in read(answer.text) if text in made_up - names}
    assert {path: texts for path, texts in left.items() if texts} == {}


def test_a_language_that_there_is_not_is_refused(client: TestClient) -> None:
    page = client.get("/sign-in?who=odile").text
    send(client, page, "/sign-in", who="odile", till="galley", pin="407118", back="")
    house = client.get("/set-up/house").text
    token = re.search(r'name="csrf" value="([^"]+)"', house)
    assert token
    answer = client.post("/set-up/house", data={"csrf": token[1], "key": "k" * 32, "language": "tlh"})
    assert answer.status_code == 422
