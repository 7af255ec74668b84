"""What pages are shown: states in words, the queue's order, receipts that add up."""

from __future__ import annotations

import re
from pathlib import Path
from typing import Any

import pytest

from abrazo.core.advances import total_tax
from abrazo.core.errors import Refused
from abrazo.core.ledger import Role
from abrazo.desk.context import Actor, Devices
from abrazo.desk.output import outbox
from abrazo.desk.output.views.receipt import receipt_of
from abrazo.desk.overview.room import open_tickets
from abrazo.desk.overview.today import today
from abrazo.desk.payments import tenders, tips
from abrazo.desk.payments.advances import tax_in
from abrazo.desk.payments.views.past import past_page
from abrazo.desk.setup.founding import open_house
from abrazo.desk.tickets import ticket_lines
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.snapshot import load_ticket
from abrazo.desk.tickets.ticket_lines import Picked
from abrazo.desk.till.views.till import till_page
from abrazo.formats.receipt_text import receipt_text
from abrazo.store import journal
from abrazo.store import ticket as ticket_store
from tests.desk.conftest import Desk
from tests.desk.payments.test_tenders import ask, one_payer
from tests.desk.tickets.test_change import add
from tests.stories.house import demo_template

STATES = {
    "D1": "eating", "D2": "ordering", "D3": "bill asked", "D4": "bill asked", "D5": "part paid", "P1": "eating",
    "G1": "eating", "G3": "bill asked", "G5": "card unknown", "G6": "just seated", "B2": "paid",
}  # fmt: skip


@pytest.fixture(scope="module")
def demo(tmp_path_factory: pytest.TempPathFactory) -> Path:
    return demo_template(tmp_path_factory.mktemp("demo")) / "house.db"


def test_the_demos_room_and_queue(demo: Path) -> None:
    house = open_house(demo, Devices.beside(demo))
    people, tills = house.staff(), house.tills()
    seen = today(house, Actor(people["tamsin"], tills["galley"]))
    assert {table.spot.name: table.state for table in seen.room.tables if table.ticket} == STATES
    assert [card.name for card in seen.queue] == [
        "Table G5",
        "Table B2",
        "Table D5",
        "Tab Cass Whitlock",
        "Table D4",
        "Table G3",
    ]
    assert [card.act for card in seen.queue] == ["ask", "free", "pay", "pay", "share", "share"]
    desk = today(house, Actor(people["wren"], tills["landing"]), most=None)
    assert desk.lens == "bookings"
    names = ["Table G5", "Table B2", "Elis Lindqvist-Amari", "Marguerite Oyelaran", "Maren Holt", "Yuki Bramwell"]
    assert [card.name for card in desk.queue][:6] == names
    assert {card.kind for card in desk.queue} == {
        "table",
        "tab",
        "booking",
        "walk-in",
        "job",
        "phone",
        "invoice",
        "hire",
        "counter",
    }
    lenses: tuple[Any, ...] = (desk.room, desk.day, desk.rack)
    for head, lens in zip(desk.heads[:3], lenses, strict=True):
        assert head.owed == lens.owed > 0
    tabs = today(house, Actor(people["wren"], tills["landing"]), "tabs").tabs
    assert desk.tabs is None and tabs is not None  # written through its own lens only
    assert desk.heads[3].owed == sum([*(card.due for card in tabs.tabs), *(one.due for one in tabs.others)]) > 0
    assert desk.heads[3].number == len(tabs.tabs)
    house.connection.close()


def test_every_receipt_of_the_day_adds_up(demo: Path) -> None:
    """Rows add up to the bill, payments to bill, tip and rounding, contained taxes to the ticket's."""
    house = open_house(demo, Devices.beside(demo))

    def cents(text: str | None) -> int:
        return int((text or "0").replace(".", ""))

    closed = ticket_store.find_closed(house.connection, ticket_store.Wanted(), 90)
    assert len(closed) > 20
    for number in closed:
        whole = load_ticket(house, number)
        receipts = [receipt_of(house, whole, payer.id) for payer in whole.payers]
        for receipt in receipts:
            assert sum(cents(amount) for _, amount in receipt.rows) == cents(receipt.total)
            change = sum(cents(amount) for words, amount in receipt.paid if words == "Change")
            taken = sum(cents(amount) for words, amount in receipt.paid if words != "Change") - change
            assert taken == cents(receipt.total) + cents(receipt.tip) + cents(receipt.rounding)
            assert receipt.due is None
            assert re.search(r"(Served by|Paid to) .*, till (Galley|Landing)", receipt_text(receipt))
        shown = sum(cents(amount) for receipt in receipts for _, amount in receipt.taxes)
        ahead = tax_in(house, [line.id for line in whole.standing if line.role is Role.DEPOSIT])
        assert shown == whole.bill.tax_total + total_tax(ahead)  # a deposit says which tax is in it
        assert sum(cents(receipt.total) for receipt in receipts) == whole.bill.total
    house.connection.close()


def test_till_and_books_agree(demo: Path) -> None:
    house = open_house(demo, Devices.beside(demo))
    page = till_page(house, house.tills()["galley"])
    day = (
        "SELECT p.account, sum(p.amount) FROM posting p JOIN journal j ON j.number = p.entry WHERE j.day = ? GROUP BY 1"
    )
    balances = dict(tuple(row) for row in house.connection.execute(day, (page.day.id,)))
    held = journal.balances(house.connection)["assets:cash:galley"]  # its float was left there the day before
    assert page.expected == held
    assert {one.route: one.amount for one in page.cards} == {"card machine 1": balances["assets:card:card-machine-1"]}
    settled = sum(amount for account, amount in balances.items() if account.startswith("liabilities:tips:"))
    assert sum(amount for _, amount in page.tips) == -settled
    house.connection.close()


@pytest.mark.parametrize(
    ("asked", "got", "rows", "more"), [(1, 1, 12, True), (73, 73, 1, False), (999, 999, 0, False), (-5, 1, 12, True)]
)
def test_past_tickets_by_the_page(demo: Path, asked: int, got: int, rows: int, more: bool) -> None:
    house = open_house(demo, Devices.beside(demo))
    page = past_page(house, {"span": "all"}, asked)
    house.connection.close()
    assert (page.page, len(page.tickets), page.more) == (got, rows, more)
    assert [row.closed_at for row in page.tickets] == sorted((row.closed_at for row in page.tickets), reverse=True)


@pytest.mark.parametrize(
    ("typed", "where"),
    [({"date": "yesterday"}, "date"), ({"since": "25:00"}, "since"), ({"amount": "lots"}, "amount")],
)
def test_what_is_not_understood_is_said_and_finds_nothing(demo: Path, typed: dict[str, str], where: str) -> None:
    house = open_house(demo, Devices.beside(demo))
    page = past_page(house, typed, 1)
    house.connection.close()
    assert page.fault is not None
    assert (page.fault.where, page.tickets) == (where, [])


def test_past_tickets_by_what_is_known_of_them(demo: Path) -> None:
    """By number on any day; by name, tender, amount, server, till and time: each finds what fits, and only that."""
    house = open_house(demo, Devices.beside(demo))

    def found(**typed: str) -> list[int]:
        return [row.number for row in past_page(house, {"span": "all", **typed}, 1).tickets]

    (recorded,) = found(tender="card elsewhere")
    assert found(q=str(recorded), span="today") == found(q=f"t{recorded}") == [recorded]
    assert recorded in found(q="abara")
    assert recorded in found(amount="64.00", staff="wren", till="landing")
    assert recorded not in found(amount="64.01")
    assert recorded not in found(till="galley")
    page = past_page(house, {"date": "2026-06-13", "since": "11:30", "until": "11:40"}, 1)
    assert recorded in [row.number for row in page.tickets]
    assert all("11:30" <= house.hour(row.closed_at) <= "11:40" for row in page.tickets)
    house.connection.close()


def test_open_tickets_are_what_was_confirmed_last(desk: Desk) -> None:
    """Those that are kept from an earlier look are the same as read anew, whatever happened, also after a refusal."""
    number, payer = one_payer(desk)

    def looked() -> None:
        anew = [load_ticket(desk.house, one.head.id) for one in open_tickets(desk.house)]
        assert open_tickets(desk.house) == anew and anew

    looked()
    add(desk, number, "lemon-posset")
    looked()
    with pytest.raises(Refused):
        ticket_lines.add_line(desk.house, desk.tamsin, OnTicket(number, None, desk.key()), Picked("lemon-posset", "0"))
    looked()
    desk.tell("silent, charged")
    ask(desk, number, payer, 500)
    looked()
    desk.follow()
    looked()
    desk.settle_unknown(number)
    looked()
    tenders.take_back(desk.house, desk.tamsin, desk.on(number), desk.whole(number).taken[0].id)
    looked()
    desk.follow()
    looked()
    tips.set_tip(desk.house, desk.tamsin, desk.on(number), payer, tips.TipWanted(percent="10"))
    looked()


def test_no_name_and_no_contact_stands_in_the_facts_of_the_journal(demo: Path) -> None:
    """What can be erased stands apart; the facts are ids, figures and codes."""
    house = open_house(demo, Devices.beside(demo))
    number = next(t.head.id for t in open_tickets(house) if any(guest.name for guest in t.guests))
    payer = next(p.id for p in load_ticket(house, number).payers)
    outbox.print_receipt(house, Actor(house.staff()["wren"], house.tills()["landing"]), number, payer, "k" * 16)
    known = "SELECT name FROM person UNION SELECT name FROM guest UNION SELECT phone FROM person UNION SELECT email FROM person"
    names = [row[0] for row in house.connection.execute(known) if row[0] and len(row[0]) > 3]
    facts = [row[0] for row in house.connection.execute("SELECT facts FROM journal")]
    assert len(names) > 100 and len(facts) > 1000
    assert [(name, one) for one in facts for name in names if name in one] == []
    house.connection.close()
