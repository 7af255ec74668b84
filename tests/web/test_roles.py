"""Who may: every route stands in one table, compared with the application's own list, and is tried by every role."""

from __future__ import annotations

import html
import re
import sqlite3
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from abrazo.core.errors import Code
from abrazo.demo.day import MARRAM
from abrazo.words.refusals import REFUSALS
from tests.web.routes import routes_of
from tests.web.test_pages import client, hidden, made

__all__ = ["client", "made"]

ANYBODY = {"GET /sign-in", "POST /sign-in", "POST /lock"}
# Acts that need a right of one's own: the form that reaches the right, and what others are told.
BY_RIGHT: dict[str, tuple[dict[str, str], Code]] = {
    "POST /set-up/tenders": ({"what": "off cheque"}, Code.RIGHT_SET_UP),
    "POST /set-up/tenders/tips": ({"tips_to": "pool"}, Code.RIGHT_SET_UP),
    "POST /set-up/tenders/add": ({"name": "Shells", "reference": "How many"}, Code.RIGHT_SET_UP),
    "POST /people/{person:int}/account/terms": ({"limit": "100"}, Code.RIGHT_SET_UP),
    "POST /set-up/rights": ({"role": "clerk", "right": "comp", "allowed": "yes"}, Code.RIGHT_SET_UP),
    "POST /goods/count": ({"item": "enamel-mug", "counted": "3", "reason": "recount"}, Code.RIGHT_COUNT_GOODS),
    "POST /people/{person:int}/erase": ({}, Code.RIGHT_SET_UP),
    "POST /set-up/bookings/hours": ({"staff": "idris", "seen": "999999"}, Code.RIGHT_SET_UP),
    "POST /set-up/bookings/terms": ({"item": "first-paddle", "deposit": "5"}, Code.RIGHT_SET_UP),
    "POST /set-up/house": ({"free_after": "5", "key": "a" * 32}, Code.RIGHT_SET_UP),
    "POST /set-up/list/{kind}/new": (
        {"name": "Oar", "home": "desk", "machine": "card machine 1", "key": "b" * 32},
        Code.RIGHT_SET_UP,
    ),
    "POST /set-up/list/{kind}/{ref}": ({"name": "Oar", "key": "c" * 32}, Code.RIGHT_SET_UP),
    "POST /set-up/list/{kind}/{ref}/retire": ({"what": "retire"}, Code.RIGHT_SET_UP),
    "POST /set-up/test": ({"what": "mail", "to": "ada@example.org"}, Code.RIGHT_SET_UP),
    "POST /set-up/floor": ({"what": "turn", "spot": "G2"}, Code.RIGHT_SET_UP),
    "POST /prep/{place}/sending": ({"how": "at once"}, Code.RIGHT_CHANGE_SENDING),
}
# Pages that need a right of one's own to be seen.
SEEN_BY_RIGHT = {
    "GET /set-up/files/{kind}/{name}.{form}",
    "GET /set-up/out/file",
    "GET /till/report",
    "POST /till/report",
    "GET /till/report.{form}",
    "GET /till/auditor.zip",
    "GET /till/owed",
    "GET /accounts",
    "GET /hire/owners",
    "GET /hire/owners/owner.csv",
    "GET /accounts/accounts.csv",
    "POST /accounts/statements",
    "GET /accounts/statements/{run:int}",
    "POST /accounts/statements/{run:int}/stop",
    "GET /accounts/statements/{run:int}/statements.pdf",
    "GET /till/match",
    "POST /till/match",
    "POST /till/payout",
}
SEEN_BY_RIGHT |= {"POST /calendar", "GET /bookings.ics", "POST /people/import", "GET /people/{person:int}/held.json"}
SEEN_BY_RIGHT |= {f"POST /devices/{one}" for one in ("machine", "printer", "scanner", "drawer", "faults")}
SEEN_BY_RIGHT |= {"GET /till/pool", "POST /till/pool", "GET /till/pool/{division:int}"}
SEEN_BY_RIGHT |= {"POST /till/pool/{division:int}/print"}
SEEN_BY_RIGHT |= {"POST /people/{person:int}/membership"}
# Acts that need a right, own or lent by PIN; they are tried with neither. tests/desk tries each of them in full.
LENT = {
    "POST /new-item", "POST /set-up/changes", "POST /set-up/logo", "POST /set-up/files/{kind}", "POST /set-up/files/{kind}/look", "POST /set-up/brought", "POST /set-up/brought/look", "POST /set-up/brought/back",
    "POST /past/{number}/correct", "POST /past/{number}/refund", "POST /tickets/{ticket}/adjust", "POST /till/close",
    "POST /jobs/{job}/keep-deposit", "POST /tickets/{ticket}/remove", "POST /tickets/{ticket}/quantity",
    "POST /tickets/{ticket}/change", "POST /tickets/{ticket}/clear", "POST /till/open", "POST /counter-mode/hold",
    "POST /bookings/{booking:int}/keep-deposit", "POST /people/{person:int}/account/write-off", "POST /tickets/{ticket}/set-aside/cancel",
}  # fmt: skip
SIGNED_IN = """
GET / GET /find POST /scan POST /unlisted POST /counter GET /tables/{spot}/seat POST /tables/{spot}/seat
POST /people/{person:int}/account/remind GET /set-aside GET /tickets/{ticket}/set-aside POST /tickets/{ticket}/set-aside
POST /tickets/{ticket}/set-aside/tag
GET /hire POST /hire GET /hire/{hire:int} POST /hire/{hire:int}/back GET /tickets/{ticket}/hire POST /tickets/{ticket}/hire
POST /tickets/{ticket}/hire/card
GET /bookings GET /bookings/new POST /bookings/new GET /bookings/{booking:int}/change POST /bookings/move
POST /bookings/{booking:int}/change POST /bookings/{booking:int}/cancel POST /bookings/{booking:int}/bring-back
POST /bookings/{booking:int}/other-date GET /courses POST /courses GET /courses/{course:int} POST /courses/{course:int}
POST /courses/{course:int}/join POST /courses/{course:int}/call-off POST /courses/{course:int}/print
GET /courses/{course:int}/participants.csv POST /tickets/{ticket}/places
POST /bookings/{booking:int}/deposit POST /bookings/{booking:int}/give-back POST /bookings/{booking:int}/fee
GET /set-up/bookings GET /jobs/{job:int}/change POST /jobs/{job:int}/change POST /jobs/{job:int}/agree
POST /people/{person:int}/merge POST /people/{person:int}/part
POST /jobs/{job:int}/cancel POST /jobs/{job:int}/remind
GET /invoices/{invoice:int} GET /invoices/{invoice:int}/invoice.{kind} POST /invoices/{invoice:int}/mail
GET /tickets/{ticket}/invoice/{payer} POST /tickets/{ticket}/invoice/{payer}
GET /people/{person:int}/invoices POST /people/{person:int}/invoices
GET /tickets/{ticket} GET /tickets/{ticket}/history GET /tickets/{ticket}/why POST /tickets/{ticket}/add
POST /tickets/{ticket}/again POST /tickets/{ticket}/unlisted POST /tickets/{ticket}/swap
GET /tickets/{ticket}/change-line POST /tickets/{ticket}/guests POST /tickets/{ticket}/give POST /tickets/{ticket}/for-member POST /tickets/{ticket}/parts
POST /tickets/{ticket}/name POST /tickets/{ticket}/bill GET /tickets/{ticket}/done POST /tickets/{ticket}/free
POST /tickets/{ticket}/afterwards
GET /tickets/{ticket}/take-off POST /tickets/{ticket}/tip POST /tickets/{ticket}/send
POST /tickets/{ticket}/cash POST /tickets/{ticket}/invoices GET /tickets/{ticket}/payments/{payment}
POST /tickets/{ticket}/card POST /tickets/{ticket}/keyed POST /tickets/{ticket}/stored-card POST /tickets/{ticket}/spend
POST /tickets/{ticket}/sell-stored POST /tickets/{ticket}/record POST /tickets/{ticket}/account
POST /tickets/{ticket}/card/stop POST /tickets/{ticket}/card/ask POST /tickets/{ticket}/card/free
POST /tickets/{ticket}/card/late POST /tickets/{ticket}/take-back
POST /tickets/{ticket}/slip-tip POST /tickets/{ticket}/slips GET /tickets/{ticket}/live
POST /tickets/{ticket}/signed GET /tickets/{ticket}/payments/{payment}/sign POST /tickets/{ticket}/payments/{payment}/sign
GET /tickets/{ticket}/payments/{payment}/signature.svg POST /tickets/{ticket}/void-on
POST /past/{number}/refunds/{refund}/print
GET /tickets/{ticket}/adjust POST /tickets/{ticket}/adjust/off POST /tickets/{ticket}/adjust/charge
POST /tickets/{ticket}/adjust/benefit POST /tickets/{ticket}/adjust/list POST /tickets/{ticket}/adjust/price
POST /tickets/{ticket}/share POST /tickets/{ticket}/share/amount POST /tickets/{ticket}/share/print
POST /tickets/{ticket}/share/for POST /tickets/{ticket}/share/line POST /tickets/{ticket}/share/fees
POST /tickets/{ticket}/share/charge GET /tickets/{ticket}/move POST /tickets/{ticket}/move
POST /tickets/{ticket}/unmove POST /tickets/{ticket}/unmerge POST /tickets/{ticket}/hand-to POST /tickets/{ticket}/aside POST /tickets/{ticket}/back GET /tickets/{ticket}/person POST /tickets/{ticket}/person
POST /tickets/{ticket}/bookings POST /tickets/{ticket}/jobs POST /tickets/{ticket}/hold POST /tickets/{ticket}/held
POST /tickets/{ticket}/let-go GET /tickets/{ticket}/receipts/{payer} POST /tickets/{ticket}/receipts/{payer}
POST /tickets/{ticket}/receipts/{payer}/mail POST /tickets/{ticket}/receipts/{payer}/text
POST /tickets/{ticket}/receipts/{payer}/prefer GET /tickets/{ticket}/receipts/{payer}/receipt.{kind}
POST /bookings/{booking}/check-out POST /bookings/{booking}/state POST /bookings/{booking}/price
POST /people/{person:int}/sale POST /people/{person}/book POST /tickets/{ticket}/next-visit POST /walk-ins GET /walk-ins/{walk_in} POST /walk-ins/{walk_in}
GET /people POST /people GET /people/{person:int} POST /people/{person:int}
POST /people/{person:int}/account GET /people/{person:int}/statement
POST /people/{person:int}/statement GET /people/{person:int}/statement/statement.{kind} POST /people/{person:int}/store-card
POST /people/{person:int}/store-account
POST /people/{person:int}/forget-card GET /jobs/new POST /jobs/new POST /jobs/estimate GET /jobs/{job}
POST /jobs/{job}/state POST /jobs/{job}/settle POST /jobs/{job}/hand-over POST /jobs/{job}/undo POST /jobs/{job}/give-back
POST /jobs/{job}/print GET /tabs/new POST /tabs GET /orders/new POST /orders GET /prep/{place} GET /prep/workshop POST /prep/slips/{slip}
GET /counter-mode POST /counter-mode/add POST /counter-mode/give POST /counter-mode/send POST /counter-mode/remove POST /counter-mode/pay
GET /counter-mode/change-line POST /counter-mode/change POST /counter-mode/put-by POST /counter-mode/bring-back POST /counter-mode/gift
POST /counter-mode/sold-from POST /counter-mode/leave GET /goods GET /past GET /my-tips
POST /last-receipt POST /notes GET /till POST /till/petty POST /till/petty/{row}/back POST /till/tips POST /till/bank GET /till/close GET /till/count POST /till/count POST /till/sum
GET /till/open GET /set-up/tenders GET /set-up/house GET /set-up GET /set-up/list/{kind} GET /set-up/list/{kind}/new
GET /set-up/list/{kind}/{ref} GET /set-up/changes GET /set-up/files/{kind} GET /set-up/logo GET /set-up/out GET /set-up/brought GET /set-up/rights GET /set-up/floor
GET /display GET /display/live GET /calendar GET /kept POST /practice/till GET /files/{file:int} GET /devices POST /devices/outbox GET /devices/listen
"""
TABLE = ANYBODY | set(BY_RIGHT) | SEEN_BY_RIGHT | LENT | set(re.findall(r"(?:GET|POST) \S+", SIGNED_IN))


def routes(client: TestClient) -> list[str]:
    return [
        f"{method} {route.path}" for route in routes_of(client) for method in route.methods or () if method != "HEAD"
    ]


def sign_in(client: TestClient, who: str) -> str:
    """Somebody signs in, whoever was; gives the token of their forms."""
    client.cookies.clear()
    page = client.get(f"/sign-in?who={who}").text
    form = {"csrf": hidden(page, "csrf"), "who": who, "till": "galley", "pin": MARRAM.pins[who], "back": ""}
    assert client.post("/sign-in", data=form).status_code == 200
    return hidden(client.get("/tables/G2/seat").text, "csrf")


def entries(database: Path) -> int:
    """Every act that was kept: one of set-up stands in the day's journal too."""
    raw = sqlite3.connect(database)
    (number,) = raw.execute("SELECT count(*) FROM journal WHERE kind <> 'right refused'").fetchone()
    raw.close()
    return int(number)


def address(route: str) -> str:
    path = (
        route.partition(" ")[2]
        .replace("{kind}/{ref}/retire", "staff/pilar/retire")
        .replace("{kind}/{ref}", "tills/galley")
        .replace("list/{kind}", "list/tills")
    )
    return re.sub(r"\{[a-z_]+(?::int)?\}", "1", path).replace("/prep/1/", "/prep/kitchen/")


@pytest.mark.parametrize("path", ["/till/report", "/till/report?day=3", "/till/report.csv", "/till/report.json?day=2"])
def test_reports_are_seen_by_supervisors_only(client: TestClient, path: str) -> None:
    said = str(REFUSALS[Code.RIGHT_SEE_REPORTS])
    for who in ("tamsin", "wren"):
        csrf = sign_in(client, who)
        printed = client.post("/till/report?day=1", data={"csrf": csrf, "key": "k" * 20})
        for answer in (client.get(path), printed):
            assert answer.status_code == 422 and said in html.unescape(answer.text)
        assert "report" not in re.findall(r'href="/till/([a-z]+)', client.get("/till").text)
    sign_in(client, "odile")
    assert client.get(path).status_code == 200
    assert "/till/report" in client.get("/till").text


def test_every_route_stands_in_the_table(client: TestClient) -> None:
    listed = routes(client)
    assert (set(listed) - TABLE, TABLE - set(listed)) == (set(), set())
    assert len(listed) == len(set(listed))


def test_who_has_not_signed_in_sees_nothing(client: TestClient, tmp_path: Path) -> None:
    csrf = sign_in(client, "tamsin")
    client.post("/lock", data={"csrf": csrf})
    before = entries(tmp_path / "house" / "house.db")
    for route in TABLE - ANYBODY:
        method = route.partition(" ")[0]
        answer = client.request(
            method, address(route), data={"csrf": csrf} if method == "POST" else None, follow_redirects=False
        )
        at_sign_in = answer.status_code == 303 and answer.headers["location"].startswith("/sign-in")
        assert at_sign_in or (method == "POST" and answer.status_code == 403), route
    assert entries(tmp_path / "house" / "house.db") == before


def test_who_may_not_close_the_day_closes_no_sale_with_it(client: TestClient, tmp_path: Path) -> None:
    csrf = sign_in(client, "tamsin")
    client.post("/counter-mode/add", data={"csrf": csrf, "key": "a" * 20, "item": "apple-juice"})
    page = client.get("/counter-mode").text
    paid = {"ticket": hidden(page, "ticket"), "version": hidden(page, "version"), "handed": "5.00"}
    paid["ticket"] = re.findall(r'name="ticket" value="([0-9]+)"', page)[-1]
    assert client.post("/counter-mode/pay", data={"csrf": csrf, "key": "b" * 20, **paid}).status_code == 200
    before = entries(tmp_path / "house" / "house.db")
    answer = client.post("/till/close", data={"csrf": csrf, "key": "c" * 20})
    assert answer.status_code == 422
    assert entries(tmp_path / "house" / "house.db") == before


@pytest.mark.parametrize("route", BY_RIGHT)
def test_what_needs_a_right_is_refused_to_every_other_role(client: TestClient, tmp_path: Path, route: str) -> None:
    """A server, a clerk and then a supervisor send the same form."""
    form, code = BY_RIGHT[route]
    database = tmp_path / "house" / "house.db"
    before = entries(database)
    for who in ("tamsin", "wren"):
        answer = client.post(address(route), data={"csrf": sign_in(client, who), "key": "k" * 20, **form})
        assert str(REFUSALS[code]) in answer.text, who
    assert entries(database) == before
    answer = client.post(address(route), data={"csrf": sign_in(client, "odile"), "key": "k" * 20, **form})
    assert (str(REFUSALS[code]) in answer.text, entries(database)) == (False, before + 1)
