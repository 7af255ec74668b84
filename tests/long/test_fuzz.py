"""Forms as nobody would fill them in: each answer is a page or a way on, never a breakdown, and the books balance."""

from __future__ import annotations

import random
import re
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from abrazo.core.journal import chain_faults
from abrazo.desk.context import Devices
from abrazo.desk.setup.founding import open_house
from abrazo.store import journal
from tests.web.demo_pages import every_page

FORM = re.compile(r'<form[^>]*method="post"[^>]*action="([^"]+)"[^>]*>(.*?)</form>', re.S)
FIELD = re.compile(r"<(?:input|textarea|select|button)\b[^>]*>")
NAME, VALUE = re.compile(r'\bname="([^"]+)"'), re.compile(r'\bvalue="([^"]*)"')
NASTY = ["", " ", "0", "-1", "1e9", "0.001", "99999999999999", "1" * 40, "NaN", "12,50", "12.50", "١٢", "\x00", "‮abc"]
NASTY += [
    "'; DROP TABLE ticket; --",
    "<script>x</script>",
    "x" * 5000,
    "2026-02-30",
    "24:61",
    "tip",
    "credit",
    "🛶" * 50,
]
NASTY += ["/../..", "%s", "{0}", "\r\nSet-Cookie: a=b", "A", "all", "yes", "2026-06-13", "12:00"]
KEPT = {"csrf", "key"}
LEAVES = ("/lock", "/sign-in", "/devices/")  # they end the session, or stand in for the world outside


@pytest.mark.parametrize("seed", range(12))  # about ten thousand forms
def test_any_form_with_anything_in_it(client: TestClient, tmp_path: Path, seed: int) -> None:
    chance = random.Random(seed)
    page = client.get("/sign-in?who=odile").text
    token = re.search(r'name="csrf" value="([^"]*)"', page)
    assert token
    client.post("/sign-in", data={"csrf": token[1], "who": "odile", "till": "galley", "pin": "407118", "back": ""})
    ends: list[int | str] = []
    pages = every_page(client)
    for _ in range(4):
        for path in chance.sample(pages, 40):
            forms = FORM.findall(client.get(path).text)
            for action, body in chance.sample(forms, min(6, len(forms))):
                if not action.startswith(LEAVES):
                    ends.append(_filled_in(client, action, body, chance))
    assert set(ends) >= {200, 422}
    assert [end for end in ends if isinstance(end, str) or end >= 500] == []
    _stands(tmp_path / "house" / "house.db")


def _filled_in(client: TestClient, action: str, body: str, chance: random.Random) -> int | str:
    """Send a form with some fields as they were found; gives the answer's status, or the fault that broke it."""
    data = {}
    for field in FIELD.findall(body):
        named, valued = NAME.search(field), VALUE.search(field)
        if not named:
            continue
        name, value = named[1], valued[1] if valued else ""
        as_found = name in KEPT or chance.random() < (0.8 if name == "version" else 0.5)
        data[name] = value if as_found else chance.choice(NASTY)
    try:
        return client.post(action.replace("&amp;", "&"), data=data).status_code
    except Exception as fault:  # the application's own: the client hands it on
        return f"{action} {data}: {fault!r}"


def _stands(database: Path) -> None:
    house = open_house(database, Devices.beside(database))
    assert journal.unbalanced(house.connection) == []
    assert chain_faults(journal.chain(house.connection)) == []
    house.connection.close()
