"""The first page of a new house: what cannot be is said beside its field, what was typed stays, and nothing is made."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from starlette.testclient import TestClient

from abrazo.desk.context import Devices
from abrazo.desk.setup import floor
from abrazo.desk.setup.founding import close_house, open_house
from abrazo.web.first_run import create_first_run

CODE = "/?code=5eaf00d5"
TYPED = {
    "name": "The Low Door", "country": "AT", "currency": "EUR", "zone": "Europe/Vienna", "prices": "with tax",
    "language": "en", "person": "Ada Moor", "pin": "604815", "tills": "Bar", "does": "tables",
}  # fmt: skip


@pytest.mark.parametrize(("wrong", "right", "size"), [("81", "80", 60), ("-1", "20", 100), ("a few", "", 0)])
def test_how_many_tables(tmp_path: Path, wrong: str, right: str, size: int) -> None:
    database, made = tmp_path / "house.db", list[bool]()
    client = TestClient(create_first_run(database, CODE[-8:], lambda: made.append(True)))
    token = re.findall(r'name="token" value="([^"]+)"', client.get(CODE).text)[0]
    refused = client.post(CODE, data=TYPED | {"token": token, "tables": wrong})
    assert refused.status_code == 422 and "A number from 0 to 80 goes here." in refused.text
    assert f'value="{wrong}"' in refused.text and not database.exists() and made == []
    assert client.post(CODE, data=TYPED | {"token": token, "tables": right}).status_code == 200
    house = open_house(database, Devices.beside(database))
    assert [one.name for one in floor.spots(house)] == [str(n + 1) for n in range(int(right or 0))]
    assert {one.width for one in floor.spots(house)} == ({size} if size else set())
    close_house(house)
    assert made == [True]
