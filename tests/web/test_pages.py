"""Wiring: plain forms without any script, forged forms, headers, strangers."""

from __future__ import annotations

import re
import shutil
import sqlite3
from collections.abc import Iterator
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from abrazo.desk.context import Devices
from abrazo.devices.ports import Script
from abrazo.web.main import create_app
from abrazo.worker.worker import Worker
from tests.stories.house import demo_template
from tests.stories.waiting import until
from tests.web.demo_pages import tickets


@pytest.fixture(scope="module")
def made(tmp_path_factory: pytest.TempPathFactory) -> Path:
    return demo_template(tmp_path_factory.mktemp("made"))


@pytest.fixture
def client(made: Path, tmp_path: Path) -> Iterator[TestClient]:
    shutil.copytree(made, tmp_path / "house")
    database = tmp_path / "house" / "house.db"
    devices = Devices.beside(database)
    devices.machines["card machine 1"].tell(Script(pace=0))
    with TestClient(create_app(database, devices, worker=Worker)) as client:
        page = client.get("/sign-in?who=tamsin").text
        form = {"csrf": hidden(page, "csrf"), "who": "tamsin", "till": "galley", "pin": "2086", "back": ""}
        assert client.post("/sign-in", data=form).status_code == 200
        yield client


def hidden(page: str, name: str) -> str:
    found = re.search(rf'name="{name}" value="([^"]*)"', page)
    assert found, name
    return found[1]


def sent_on(client: TestClient, page: str, action: str, **fields: str) -> str:
    """Send the form with this action as a browser without scripts would: its hidden fields and what was typed.

    Gives the address to which it leads.
    """
    form = re.search(rf'<form[^>]*action="{re.escape(action)}".*?</form>', page, re.S)
    assert form, action
    names = dict(re.findall(r'<input type="hidden" name="([^"]+)" value="([^"]*)">', form[0]))
    answer = client.post(action, data=names | fields, follow_redirects=False)
    assert answer.status_code == 303, answer.text[:300]
    return answer.headers["location"]


def send(client: TestClient, page: str, action: str, **fields: str) -> str:
    """The same; gives the page that comes of it."""
    return client.get(sent_on(client, page, action, **fields)).text


def test_a_table_settled_with_plain_forms(client: TestClient) -> None:
    page = send(client, client.get("/tables/G2/seat").text, "/tables/G2/seat", guests="2")
    ticket = re.search(r'data-ticket="([0-9]+)"', page)[1]  # type: ignore[index]  # it is there
    page = client.get(f"/tickets/{ticket}?category=sides").text
    page = send(client, page, f"/tickets/{ticket}/add", item="kelp-butter-bread")
    page = send(client, page, f"/tickets/{ticket}/share", way="seat")
    assert "Both sides meet: €4.20 shared" in page
    page = send(client, client.get(f"/tickets/{ticket}?view=pay").text, f"/tickets/{ticket}/cash", handed="5.00")
    assert "Give A the change" in page
    under_way = sent_on(client, client.get(f"/tickets/{ticket}?view=pay").text, f"/tickets/{ticket}/card")
    until(lambda: client.get(under_way).url.path.endswith("/done"))  # a machine that is sooner than the page leads on
    page = client.get(under_way).text
    assert "G2 is paid" in page
    page = send(client, page, f"/tickets/{ticket}/free")
    assert "G2 free, seat guests" in page


def test_forged_forms_do_nothing(client: TestClient) -> None:
    for token in ("", "guess"):
        answer = client.post("/tables/G2/seat", data={"guests": "2", "csrf": token})
        assert answer.status_code == 403
    assert "G2 free" in client.get("/").text


def test_without_a_key_nothing_is_done(client: TestClient) -> None:
    csrf = hidden(client.get("/tables/G2/seat").text, "csrf")
    for fields in ({"csrf": csrf, "guests": "2"}, {"csrf": csrf, "guests": "2", "key": ""}):
        assert client.post("/tables/G2/seat", data=fields).status_code == 422
    assert "G2 free" in client.get("/").text


def test_headers_and_cookie(client: TestClient) -> None:
    answer = client.get("/")
    policy = answer.headers["content-security-policy"]
    assert "default-src 'none'" in policy
    assert "unsafe" not in policy
    client.cookies.clear()
    cookie = client.get("/sign-in").headers["set-cookie"].lower()
    assert "httponly" in cookie
    assert "samesite=strict" in cookie
    assert not re.search(r'\sstyle="|<script>|\son[a-z]+="', answer.text)


def test_strangers_are_sent_to_sign_in(client: TestClient) -> None:
    client.cookies.clear()
    for path in ("/", "/tickets/15", "/till", "/past", "/devices"):
        answer = client.get(path, follow_redirects=False)
        assert (answer.status_code, answer.headers["location"].split("?")[0]) == (303, "/sign-in")


MISSING = ["/tickets/999999", "/tables/Z1/seat", "/tickets/15/receipts/1", "/nowhere", "/tickets/x", "/tickets/0"]
MISSING += ["/tickets/99999999999999999999", "/past?chosen=99999999999999999999"]


@pytest.mark.parametrize("path", MISSING)
def test_what_is_not_here(client: TestClient, path: str) -> None:
    assert client.get(path).status_code in (404, 422)


def test_sign_in_goes_back_only_within_the_house(client: TestClient) -> None:
    for back in ("//elsewhere.example", "https://elsewhere.example", "/\\elsewhere.example"):
        page = client.get("/sign-in?who=tamsin").text
        form = {"csrf": hidden(page, "csrf"), "who": "tamsin", "till": "galley", "pin": "2086", "back": back}
        answer = client.post("/sign-in", data=form, follow_redirects=False)
        assert answer.headers["location"] == "/"


def test_a_till_begins_where_it_was_set_up_to(client: TestClient) -> None:
    page = client.get("/sign-in?who=odile").text
    form = {"csrf": hidden(page, "csrf"), "who": "odile", "till": "galley", "pin": "407118", "back": ""}
    assert client.post("/sign-in", data=form).status_code == 200
    sheet = client.get("/set-up/list/tills/galley").text
    form |= {"csrf": hidden(sheet, "csrf")}
    begins = {"csrf": hidden(sheet, "csrf"), "key": "b" * 32, "begins": "counter mode"}
    assert client.post("/set-up/list/tills/galley", data=begins).status_code == 200
    assert client.post("/sign-in", data=form, follow_redirects=False).headers["location"] == "/counter-mode"
    form |= {"csrf": hidden(client.get("/set-up/list/tills/galley").text, "csrf"), "back": "/past"}
    assert client.post("/sign-in", data=form, follow_redirects=False).headers["location"] == "/past"


def test_a_paper_in_doubt_stands_on_today(client: TestClient, tmp_path: Path) -> None:
    """Its sender died in the middle: whoever is at the till says that it came out, and it stands there no longer."""
    with sqlite3.connect(tmp_path / "house" / "house.db") as raw:
        at = "2026-06-13T12:00:00Z"
        row = (at, "printer", "Receipt for D4", "x", "", at, 1)
        raw.execute(
            "INSERT INTO outbox (at, device, title, body, about, claimed_at, copy) VALUES (?, ?, ?, ?, ?, ?, ?)", row
        )
    page = client.get("/").text
    assert "Receipt for D4 may have gone out" in page
    page = send(client, page, "/devices/outbox", again="no")
    assert "Next to settle" in page
    assert "may have gone out" not in page


def test_why_names_each_thing_once(client: TestClient) -> None:
    pages = (client.get(f"/tickets/{id}/why").text for id in tickets(client)[:-1])
    page = next(page for page in pages if "Fish soup" in page)
    assert not re.search(r"<span>([A-Z][\w ]+)\1", page)


def test_whoever_watches_is_told_that_the_house_is_ready(client: TestClient) -> None:
    client.cookies.clear()
    answer = client.get("/health")
    assert (answer.status_code, answer.json()) == (200, {"ready": True, "day": "2026-06-13"})
