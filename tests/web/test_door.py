"""The guard at the door: whatever is sent, a page answers, and what is typed is kept without control characters."""

from __future__ import annotations

import re
from pathlib import Path
from urllib.parse import quote

import pytest
from fastapi.routing import APIRoute
from fastapi.testclient import TestClient

from abrazo.desk.context import Devices
from abrazo.desk.setup.founding import open_house
from abrazo.formats.escpos import paper_bytes
from tests.web.routes import routes_of
from tests.web.test_pages import client, hidden, made

__all__ = ["client", "made"]

BAD_VALUES = [
    "9" * 19,
    "9" * 400,
    "-1",
    "0",
    "x",
    "\x00",
    "a\x00b\x1b[2J",
    "9999-12-31",
    "0001-01-01",
    "’’’",
    "%",
    "'; --",
]
STREAMS = ("/devices/listen", "/tickets/{ticket}/live", "/display/live")


def gets(client: TestClient) -> list[APIRoute]:
    return [route for route in routes_of(client) if "GET" in (route.methods or ()) and route.path not in STREAMS]


@pytest.mark.parametrize("value", BAD_VALUES)
def test_no_address_breaks_a_page(client: TestClient, value: str) -> None:
    for route in gets(client):
        path = re.sub(r"\{\w+(?::int)?\}", lambda _: quote(value, safe=""), route.path)
        answer = client.get(path)
        assert answer.status_code < 500, path
    names = [
        "q",
        "day",
        "date",
        "span",
        "lens",
        "chosen",
        "page_number",
        "payer",
        "line",
        "category",
        "since",
        "amount",
    ]
    for path in ("/", "/past", "/find", "/tickets/1", "/counter-mode", "/people"):
        for name in names:
            answer = client.get(path, params={name: value})
            assert answer.status_code < 500, (path, name)


def test_a_form_token_is_any_text(client: TestClient) -> None:
    for token in ("ü" * 32, "\x00", "’", "9" * 4000):
        assert client.post("/tables/G2/seat", data={"guests": "2", "csrf": token}).status_code == 403


def test_a_form_that_is_none_is_refused(client: TestClient) -> None:
    csrf = hidden(client.get("/tables/G2/seat").text, "csrf")
    body = f'--x\r\nContent-Disposition: form-data; name="csrf"\r\n\r\n{csrf}\r\n--x--\r\n'.encode()
    odd = {"content-type": "multipart/form-data; boundary=x; charset=no-such-set"}
    assert client.post("/tables/G2/seat", content=body, headers=odd).status_code in (400, 422)
    assert "G2 free" in client.get("/").text


def test_control_characters_are_not_kept(client: TestClient, tmp_path: Path) -> None:
    page = client.get("/people").text
    fields = {"csrf": hidden(page, "csrf"), "key": "k" * 20, "name": "Petra\x00 \x1bMoe\x07", "phone": "020 910 0777"}
    answer = client.post("/people", data=fields, follow_redirects=False)
    assert answer.status_code == 303
    database = tmp_path / "house" / "house.db"
    house = open_house(database, Devices.beside(database))
    (name,) = house.connection.execute("SELECT name FROM person ORDER BY id DESC").fetchone()
    house.connection.close()
    assert name == "Petra Moe"


def test_no_command_of_the_printer_comes_from_data() -> None:
    """ESC (0x1B) and GS (0x1D) begin commands: here only the house's own do."""
    bare, full = paper_bytes("Crab"), paper_bytes("Cr\x1b@\x1dV\x00ab")
    assert full == bare.replace(b"Crab", b"Cr@Vab")
