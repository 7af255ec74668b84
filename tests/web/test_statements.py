"""How often a page asks the database, and an act with the page that follows: counted on the demo's house."""

from __future__ import annotations

import re
import sqlite3
from collections.abc import Callable
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from abrazo.core import reckon as core
from abrazo.core.bill import Bill
from abrazo.core.ticket import Ticket
from abrazo.desk.context import Actor, Devices
from abrazo.desk.setup.founding import close_house, open_house
from abrazo.desk.tickets import at_rest, snapshot, ticket_lines
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.ticket_lines import Picked
from abrazo.store.db import Connection, ConnectionPool
from tests.web.demo_pages import every_page, tickets
from tests.web.test_pages import client, hidden, made, send
from tests.web.test_roles import sign_in

__all__ = ["client", "made"]

A_PAGE, AN_ACT = 40, 80
NOT_ASKED = ("PRAGMA", "BEGIN", "COMMIT", "ROLLBACK", "--")  # what begins with -- is SQLite's own, inside an index


@pytest.fixture
def asked(monkeypatch: pytest.MonkeyPatch) -> list[str]:
    """Every statement that the pages' connections run; lines put in are not counted."""
    found: list[str] = []
    taken = ConnectionPool.take

    def take(pool: ConnectionPool) -> Connection:
        connection = taken(pool)
        connection.set_trace_callback(note)
        return connection

    def note(statement: str) -> None:
        plain = statement.strip()
        if not plain.startswith((*NOT_ASKED, "INSERT")):
            found.append(plain)

    monkeypatch.setattr(ConnectionPool, "take", take)
    return found


@pytest.fixture
def reckoned(monkeypatch: pytest.MonkeyPatch) -> list[object]:
    """Every ticket that was reckoned."""
    found: list[object] = []

    def reckon(ticket: Ticket) -> Bill:
        found.append(ticket)
        return core.reckon(ticket)

    monkeypatch.setattr(snapshot, "reckon", reckon)
    return found


def test_no_page_asks_more_than_forty_times(client: TestClient, asked: list[str]) -> None:
    counts = {}
    sign_in(client, "odile")  # who sees every page
    for path in (*every_page(client), "/till/report?from=2026-03-01&to=2026-06-13", "/till/report?day=5&till=galley"):
        at_rest._seen.clear()  # nothing is at rest: every ticket is read and reckoned
        asked.clear()
        answer = client.get(path)
        assert answer.status_code == 200, path
        counts[path] = len(asked)
    assert len(counts) > 60
    assert {path: count for path, count in counts.items() if count > A_PAGE} == {}
    assert min(counts.values()) > 3  # the counting counts


def test_no_act_asks_more_than_eighty_times(client: TestClient, asked: list[str], reckoned: list[object]) -> None:
    """A ticket is reckoned as it is now, once more when a payer has settled, and never for what the page showed before."""
    counts: dict[str, tuple[int, int]] = {}

    def act(name: str, run: Callable[[], str]) -> str:
        asked.clear()
        reckoned.clear()
        page = run()
        counts[name] = (len(asked), len(reckoned))
        return page

    seat = client.get("/tables/G2/seat").text
    page = act("seat", lambda: send(client, seat, "/tables/G2/seat", guests="2"))
    ticket = re.search(r'data-ticket="([0-9]+)"', page)[1]  # type: ignore[index]  # it is there
    at = f"/tickets/{ticket}"
    sides = client.get(f"{at}?category=sides").text
    page = act("add", lambda: send(client, sides, f"{at}/add", item="kelp-butter-bread"))
    page = act("send", lambda: send(client, page, f"{at}/send"))
    page = act("share", lambda: send(client, page, f"{at}/share", way="seat"))
    pay = client.get(f"{at}?view=pay&handed=5.00").text
    page = act("cash", lambda: send(client, pay, f"{at}/cash"))
    pay = client.get(f"{at}?view=pay").text
    page = act("card", lambda: send(client, pay, f"{at}/card"))
    assert {name: count for name, (count, _) in counts.items() if count > AN_ACT} == {}
    del counts["card"]  # what the worker reckons beside it is counted as well
    assert {name: count for name, (_, count) in counts.items() if count > (2 if name == "cash" else 1)} == {}
    assert hidden(page, "csrf")


def test_the_connections_are_counted(asked: list[str], tmp_path: object) -> None:
    pool = ConnectionPool(":memory:")
    connection = pool.take()
    assert isinstance(connection, sqlite3.Connection)
    connection.execute("SELECT 1").fetchone()
    assert asked == ["SELECT 1"]
    pool.close()


def test_what_is_at_rest_is_never_old(client: TestClient, tmp_path: Path) -> None:
    """Another process adds a line and takes it off again: each shows on the next page and on Today."""
    database = tmp_path / "house" / "house.db"
    house = open_house(database, Devices.beside(database))
    actor = Actor(house.staff()["wren"], house.tills()["galley"])
    ticket = tickets(client)[0]
    page, words = f"/tickets/{ticket}?view=lines", house.settings.currency.text
    first = snapshot.load_ticket(house, ticket).bill.total
    assert words(first) in client.get(page).text
    ticket_lines.add_line(house, actor, OnTicket(ticket, None, "at-rest-1"), Picked("lemon-posset"))
    more = snapshot.load_ticket(house, ticket)
    assert more.bill.total > first
    for path in (page, "/"):
        assert words(more.bill.total) in client.get(path).text
    ticket_lines.remove_line(house, actor, OnTicket(ticket, more.head.version), more.standing[-1].id)
    for path in (page, "/"):
        now = client.get(path).text
        assert words(first) in now
        assert words(more.bill.total) not in now
    close_house(house)
