"""What somebody may try: a copied cookie, a lent right, a card's number where none belongs, a database that is held,
connections that never finish what they ask for."""

from __future__ import annotations

import html
import socket
import sqlite3
import stat
import threading
import time
from collections.abc import Iterator
from pathlib import Path

import pytest
import uvicorn
from fastapi import APIRouter, FastAPI
from fastapi.testclient import TestClient
from starlette.responses import PlainTextResponse

from abrazo.core.errors import Code
from abrazo.demo.day import MARRAM
from abrazo.desk.context import Devices
from abrazo.web import protocol
from abrazo.web.main import include
from abrazo.web.rights import NotInTable
from abrazo.words import phrases as w
from abrazo.words.refusals import REFUSALS
from abrazo.worker.importer import Importer
from tests.web.test_pages import client, hidden, made
from tests.web.test_roles import sign_in

__all__ = ["client", "made"]


COUNTS_OF_MUGS = "SELECT count(*) FROM stock_count WHERE quantity = '3' AND item = 'enamel-mug'"
OPEN = "SELECT t.id, t.version, p.id FROM ticket t JOIN payer p ON p.ticket = t.id WHERE t.state = 'open' LIMIT 1"


def house(folder: Path) -> Path:
    return folder / "house" / "house.db"


def rows(folder: Path, sql: str) -> list[tuple[object, ...]]:
    raw = sqlite3.connect(house(folder))
    try:
        return raw.execute(sql).fetchall()
    finally:
        raw.close()


def test_a_route_that_nobody_put_into_the_table_does_not_start() -> None:
    router = APIRouter()
    router.get("/till/secret")(lambda: None)
    with pytest.raises(NotInTable, match="GET /till/secret"):
        include(FastAPI(), router)


def test_a_copied_cookie_dies_with_the_lock(client: TestClient) -> None:
    csrf = sign_in(client, "tamsin")
    copied = dict(client.cookies)
    assert client.get("/goods").status_code == 200
    client.post("/lock", data={"csrf": csrf})
    for name, value in copied.items():
        client.cookies.set(name, value)
    assert client.get("/goods", follow_redirects=False).headers["location"].startswith("/sign-in")


def test_behind_tls_cookies_are_secure_and_the_key_is_the_owners_alone(client: TestClient, tmp_path: Path) -> None:
    client.base_url = client.base_url.copy_with(scheme="https")
    answer = client.get("/sign-in?who=tamsin")
    assert "max-age" in answer.headers["strict-transport-security"]
    assert all("; Secure" in one for one in answer.headers.get_list("set-cookie"))
    client.base_url = client.base_url.copy_with(scheme="http")
    plain = client.get("/sign-in?who=jory")
    assert "strict-transport-security" not in plain.headers
    assert stat.S_IMODE((tmp_path / "house" / "house-key").stat().st_mode) == 0o600


def test_a_right_is_lent_on_the_page_that_says_that_it_is_missing(client: TestClient, tmp_path: Path) -> None:
    csrf = sign_in(client, "tamsin")
    form = {"csrf": csrf, "key": "k" * 20, "item": "enamel-mug", "counted": "3", "reason": "recount"}
    refused = client.post("/goods/count", data=form)
    assert (refused.status_code, str(REFUSALS[Code.RIGHT_COUNT_GOODS]) in html.unescape(refused.text)) == (422, True)
    assert 'name="counted" value="3"' in refused.text
    again = form | {"key": hidden(refused.text, "key"), "lender": "odile"}
    assert "is not the PIN" in client.post("/goods/count", data=again | {"pin": "407119"}).text
    assert client.post("/goods/count", data=again | {"pin": "407118"}).status_code == 200
    noted = rows(
        tmp_path, "SELECT kind, staff, json_extract(facts, '$.lender') FROM journal ORDER BY number DESC LIMIT 3"
    )
    assert noted == [
        ("goods counted", "tamsin", "odile"),
        ("wrong pin", "tamsin", None),
        ("right refused", "tamsin", None),
    ]


def test_the_house_decides_who_has_a_right(client: TestClient, tmp_path: Path) -> None:
    def change(role: str, right: str, allowed: str) -> str:
        form = {"csrf": csrf, "key": "k" * 20, "role": role, "right": right, "allowed": allowed}
        return html.unescape(client.post("/set-up/rights", data=form).text)

    csrf = sign_in(client, "odile")
    assert str(REFUSALS[Code.RIGHT_STAYS]) in change("supervisor", "set up", "no")
    assert str(REFUSALS[Code.NO_SUCH_RIGHT]) in change("clerk", "fly", "yes")
    change("server", "count goods", "yes")
    change("server", "sell and take money", "no")
    csrf = sign_in(client, "tamsin")
    form = {"csrf": csrf, "key": "q" * 20, "item": "enamel-mug", "counted": "3", "reason": "recount"}
    assert client.post("/goods/count", data=form).status_code == 200
    assert str(REFUSALS[Code.RIGHT_SELL]) in html.unescape(client.get("/till").text)
    changed = rows(
        tmp_path, "SELECT facts ->> 'ref', facts ->> 'fields' FROM journal WHERE facts ->> 'thing' = 'rights'"
    )
    assert changed == [("server", "count_goods"), ("server", "sell")]


def test_a_card_number_is_refused_in_any_field_and_cell(client: TestClient, tmp_path: Path) -> None:
    csrf = sign_in(client, "odile")
    number = "4000 0012 3456 7899"
    for field in ("counted", "reason", "item"):
        form = {"csrf": csrf, "key": "k" * 20, "item": "enamel-mug", "counted": "3", "reason": "recount"}
        answer = client.post("/goods/count", data=form | {field: number})
        assert answer.status_code == 422 and number not in answer.text
    text = f"name,phone,notes\nBo Lind,0851234567,pays with {number}\n"
    answer = client.post("/people/import", data={"csrf": csrf, "key": "k" * 20}, files={"file": ("p.csv", text)})
    assert (answer.status_code, "data-again" in answer.text) == (200, True)
    importer = Importer(house(tmp_path), Devices.beside(house(tmp_path)))  # with its own process
    importer.start()
    until = time.monotonic() + 60
    while "data-again" in answer.text and time.monotonic() < until:
        answer = client.get(answer.url.path)
    importer.stop()
    assert (number in answer.text, "Line 2" in answer.text, "data-again" in answer.text) == (False, True, False)
    assert rows(tmp_path, "SELECT length(data), instr(fault, '7899') FROM file_import") == [(0, 0)]
    assert rows(tmp_path, "SELECT count(*) FROM person WHERE name = 'Bo Lind'") == [(0,)]


def test_what_files_of_set_up_hold_stays_a_supervisors_and_no_card_is_kept(client: TestClient) -> None:
    csrf = sign_in(client, "odile")
    file = {"file": ("cards.csv", b"kind,number,balance\ngift card,2811004471,40\n", "text/csv")}
    sent = client.post("/set-up/brought/look", data={"csrf": csrf, "kind": "stored-value"}, files=file)
    assert "2811004471" in sent.text and "file=" in str(sent.url)
    for kind, where in (("stored-value", "/set-up/brought/look"), ("items", "/set-up/files/items/look")):
        held = {"file": ("cards.csv", b"name,kind,number,balance\na,gift card,4000 0012 3456 7899,40\n", "text/csv")}
        refused = client.post(where, data={"csrf": csrf, "kind": kind}, files=held)
        assert "Row 2: That holds a card" in refused.text and "7899" not in refused.text
    sign_in(client, "tamsin")
    seen = client.get(str(sent.url))
    assert seen.status_code == 200 and "2811004471" not in seen.text


def test_a_held_database_says_so_keeps_the_form_and_goes_on(
    client: TestClient, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    csrf = sign_in(client, "odile")
    form = {"csrf": csrf, "key": "k" * 20, "item": "enamel-mug", "counted": "3", "reason": "recount"}
    other = sqlite3.connect(house(tmp_path), isolation_level=None)
    other.execute("UPDATE sign_in SET seen_at = strftime('%Y-%m-%dT%H:%M:%SZ', seen_at, '-1 minute')")
    other.execute("BEGIN IMMEDIATE")
    answer = client.post("/goods/count", data=form)
    assert (answer.status_code, w.BUSY in html.unescape(answer.text)) == (503, True)
    assert 'name="counted" value="3"' in answer.text and hidden(answer.text, "key") == "k" * 20
    ((ticket, version, payer),) = rows(tmp_path, OPEN)
    card = {"number": "4000001234567899", "code": "907", "expiry": "09/29"}
    keyed = {"csrf": csrf, "key": "q" * 20, "version": str(version), "payer": str(payer), "take": "1.00", **card}
    told = client.post(f"/tickets/{ticket}/keyed", data=keyed)
    assert (told.status_code, hidden(told.text, "take")) == (503, "1.00")
    assert not any(f'value="{one}"' in told.text for one in card.values())  # a card is never shown again
    assert client.get("/goods").status_code == 200  # who reads waits for nobody
    other.execute("ROLLBACK")
    other.close()
    assert client.post("/goods/count", data=form).status_code == 200
    assert len(rows(tmp_path, "SELECT 1 FROM stock_count WHERE quantity = '3' AND item = 'enamel-mug'")) == 1


def test_what_was_typed_when_a_sign_in_ended_waits_for_the_next(client: TestClient, tmp_path: Path) -> None:
    """A note waits with its PIN left out, is sent once, and only what the session itself had sent."""
    csrf = sign_in(client, "odile")
    form = {"csrf": csrf, "key": "k" * 20, "item": "enamel-mug", "counted": "3", "reason": "recount", "pin": "4071"}

    def end_sign_ins() -> None:
        other = sqlite3.connect(house(tmp_path), isolation_level=None)
        other.execute("UPDATE sign_in SET ended_at = seen_at")
        other.close()

    def sign_in_again() -> str:
        page = client.get("/sign-in?who=odile").text
        pin = {
            "csrf": hidden(page, "csrf"),
            "who": "odile",
            "till": "galley",
            "pin": MARRAM.pins["odile"],
            "back": "/goods",
        }
        return client.post("/sign-in", data=pin).text

    end_sign_ins()
    assert "/sign-in" in str(client.post("/goods/count", data=form).url)
    assert rows(tmp_path, COUNTS_OF_MUGS) == [(0,)]
    page = sign_in_again()
    assert (hidden(page, "counted"), f'name="key" value="{"k" * 20}"' in page) == ("3", True)
    assert 'name="pin"' not in page and "4071" not in page
    again = form | {"csrf": hidden(page, "csrf")}
    assert [client.post("/goods/count", data=again).status_code for _ in range(2)] == [200, 200]
    assert rows(tmp_path, COUNTS_OF_MUGS) == [(1,)]
    assert str(client.get("/kept?back=//elsewhere.example").url).endswith(
        "/"
    )  # it waits once; none but ours is gone to
    end_sign_ins()
    client.post("/goods/count", data=form | {"csrf": "from elsewhere", "key": "q" * 20})
    assert "Not sent yet" not in sign_in_again()
    assert rows(tmp_path, COUNTS_OF_MUGS) == [(1,)]


@pytest.fixture
def served(monkeypatch: pytest.MonkeyPatch) -> Iterator[int]:
    """A server with our connections, impatient; its port."""
    monkeypatch.setattr(protocol, "HEADERS_WITHIN", 0.3)
    monkeypatch.setattr(protocol, "MOST_CONNECTIONS", 20)
    app = FastAPI()
    app.add_api_route("/", lambda: PlainTextResponse("here"), response_model=None)
    taken = socket.create_server(("127.0.0.1", 0))
    server = uvicorn.Server(uvicorn.Config(app, http=protocol.Connection, log_level="critical"))
    thread = threading.Thread(target=server.run, kwargs={"sockets": [taken]}, daemon=True)
    thread.start()
    while not server.started:
        time.sleep(0.01)
    yield taken.getsockname()[1]
    server.should_exit = True
    thread.join(10)
    taken.close()


def asked(port: int, words: bytes) -> bytes:
    """What a connection answers until it closes, or until it has answered."""
    with socket.create_connection(("127.0.0.1", port), timeout=10) as one:
        one.sendall(words)
        found = b""
        while piece := one.recv(4096):
            found += piece
            if found.endswith(b"here"):
                break
        return found


def test_half_a_request_is_hung_up_on_and_others_are_answered(served: int) -> None:
    whole = b"GET / HTTP/1.1\r\nHost: a\r\n\r\n"
    assert asked(served, whole[:20]) == b""
    assert asked(served, b"") == b""
    with socket.create_connection(("127.0.0.1", served), timeout=10) as kept:
        kept.sendall(whole)
        assert kept.recv(4096).startswith(b"HTTP/1.1 200")
        kept.sendall(whole[:20])  # the second request of a connection
        while kept.recv(4096):
            pass
    crowd = [socket.create_connection(("127.0.0.1", served), timeout=10) for _ in range(40)]
    for one in crowd:
        one.close()
    assert asked(served, whole).startswith(b"HTTP/1.1 200")
