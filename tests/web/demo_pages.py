"""Every page of the demo's house, for tests that go through all of them."""

from __future__ import annotations

import re

from fastapi.testclient import TestClient

VIEWS = ("lines", "share", "pay")
SET_UP = (  # house settings, lists, sheets, files: each made of the same parts
    *("/set-up/bookings", "/set-up/house", "/set-up/house?section=numbers", "/set-up/house?section=ahead"),
    *("/set-up/list/items", "/set-up/list/items/new", "/set-up/list/choices/toastie-extra", "/set-up/list/staff/wren"),
    *("/set-up/list/hire", "/set-up/list/hire/board", "/set-up/list/price-lists/late-tide", "/set-up/list/own-fields"),
    *("/set-up/list/memberships/tidekeeper", "/set-up/list/series/five-paddles", "/set-up/list/units/new"),
    *("/set-up/changes", "/set-up/files/items", "/set-up/out", "/set-up/brought", "/set-up/brought?kind=series-held"),
)
PAGES = [
    *("/", "/?lens=bookings", "/?lens=jobs", "/?lens=tabs", "/people", "/people/1", "/people/14", "/past"),
    *("/past?span=all", "/till", "/till/report", "/till/match", "/find?q=amari", "/find?q=bread"),
    *(
        "/prep/kitchen",
        "/prep/workshop",
        "/counter-mode",
        "/jobs/1",
        "/jobs/2/change",
        "/jobs/new",
        "/goods",
        "/devices",
        "/my-tips",
        "/orders/new",
        "/hire",
        "/hire/2",
        "/set-aside",
        "/people/4",
        "/people/4/invoices",
        "/people/4/statement",
        "/invoices/1",
        "/bookings",
        "/bookings?span=3",
        "/bookings/new",
        "/bookings/9/change",
        "/?lens=bookings&booking=9",
        *SET_UP,
    ),
    *("/tables/G2/seat", "/display", "/set-up/tenders", "/set-up/floor", "/till/pool", "/till/owed", "/calendar"),
    *("/accounts", "/accounts/statements/1", "/hire/owners", "/courses", "/courses/1"),
]


def tickets(client: TestClient) -> list[int]:
    """The open tickets of the room, and one that is closed."""
    rooms, past = client.get("/").text, client.get("/past").text
    found = re.findall(r'href="/tickets/([0-9]+)', rooms)
    closed = re.findall(r'href="/past\?[^"]*chosen=([0-9]+)', past)
    return [*dict.fromkeys(int(id) for id in found), int(closed[0])]


def every_page(client: TestClient) -> list[str]:
    """The addresses of all pages, with every view of every open ticket."""
    *open_, closed = tickets(client)
    pages = [*PAGES, f"/past?chosen={closed}", f"/tickets/{closed}/history"]
    pages += [f"/tickets/{id}?view={view}" for id in open_ for view in VIEWS]
    return pages + [
        f"/tickets/{open_[0]}/{part}"
        for part in ("history", "why", "move", "adjust", "person", "take-off", "set-aside")
    ]
