"""Statements say what the books say, on every range; they go out as PDF and CSV that others can read."""

from __future__ import annotations

import csv
import email
import email.policy
import io
from collections.abc import Iterator
from datetime import date, timedelta
from email.message import EmailMessage
from itertools import count

import pytest

from abrazo.core.errors import Refused
from abrazo.core.ledger import customer_account
from abrazo.desk.context import Actor, Devices, House
from abrazo.desk.output.statements import mail_statement, paper_of
from abrazo.desk.payments import accounts, closing, statements, tenders
from abrazo.desk.people.people import known
from abrazo.desk.setup.founding import close_house, open_house
from abrazo.desk.tickets import customer, ticket_lines
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.snapshot import load_ticket
from abrazo.desk.tickets.ticket_lines import Picked
from abrazo.formats.statement import statement_csv, statement_pdf
from abrazo.store import journal
from tests.refusals import refuses
from tests.stories.house import demo_template

THEO = 5
TODAY = date(2026, 6, 13)


@pytest.fixture(scope="module")
def house(tmp_path_factory: pytest.TempPathFactory) -> Iterator[House]:
    """The demo's house, in which Theo buys twice more on account today and pays in two ways."""
    database = demo_template(tmp_path_factory.mktemp("statements")) / "house.db"
    opened = open_house(database, Devices.beside(database))
    boss = Actor(opened.staff()["odile"], opened.tills()["landing"])
    keys = (f"statements-key-{number}" for number in count())

    def on(ticket: int) -> OnTicket:
        return OnTicket(ticket, None, next(keys))

    def pays(ticket: int) -> None:
        due = load_ticket(opened, ticket).bill.due
        tenders.take_cash(opened, boss, on(ticket), load_ticket(opened, ticket).payers[0].id, tenders.Sum(due), due)
        closing.free_table(opened, boss, on(ticket))

    for item in ("sun-hat", "enamel-mug"):
        sale = customer.open_sale(opened, boss, THEO, next(keys))
        ticket_lines.add_line(opened, boss, on(sale), Picked(item))
        whole = load_ticket(opened, sale)
        accounts.put_on_account(opened, boss, on(sale), whole.payers[0].id, accounts.Leave(whole.bill.due))
        closing.free_table(opened, boss, on(sale))
    newest = accounts.open_invoices(opened, known(opened, THEO))[-1]
    pays(accounts.receive_invoices(opened, boss, THEO, [newest.payment], next(keys)))  # chosen, not the oldest
    pays(accounts.receive(opened, boss, THEO, 3000, next(keys)))
    yield opened
    close_house(opened)


def test_every_range_adds_up_to_what_the_books_say(house: House) -> None:
    """Wherever it is cut, the end of one is the beginning of the next, and the last is what is owed now."""
    who = THEO
    whole = statements.statement_of(house, who, TODAY - timedelta(days=400), TODAY)
    assert (whole.opening, whole.closing) == (0, journal.balance(house.connection, customer_account(who)))
    assert len(whole.rows) >= 5 and whole.closing == sum(row.amount for row in whole.rows) == accounts.owed_by(
        house, known(house, who)
    )
    for row in whole.rows:
        cut = date.fromisoformat(row.business_date)
        before = statements.statement_of(house, who, TODAY - timedelta(days=400), cut - timedelta(days=1))
        after = statements.statement_of(house, who, cut, TODAY)
        assert before.closing == after.opening and after.closing == whole.closing
        assert [*before.rows, *after.rows] == whole.rows
        assert sum(before.ages.values()) == max(before.closing, 0)
    assert sum(whole.ages.values()) == max(whole.closing, 0)
    left = {one.payment: one.left for one in accounts.open_invoices(house, known(house, who))}
    assert sum(left.values()) == sum(whole.ages.values())


def test_it_is_sent_once_as_files_that_others_read(house: House) -> None:
    boss = Actor(house.staff()["odile"], house.tills()["landing"])
    told = statements.statement_of(house, THEO, *statements.read_range(house, "", ""))
    assert (told.start, told.end) == ("2026-03-15", "2026-06-13")
    with refuses("e-mail address"):
        mail_statement(house, boss, told, " ", "a key of sixteen")
    for _ in range(2):  # pressed twice
        mail_statement(house, boss, told, "theo@brandvold.example", "a key of sixteen")
    sent = house.connection.execute("SELECT body FROM outbox WHERE about = 'statement 5' ORDER BY id").fetchall()
    assert len(sent) == 1 + 1  # the demo's own of the first of June
    mail = email.message_from_string(sent[-1][0], _class=EmailMessage, policy=email.policy.default)
    assert mail["To"] == "theo@brandvold.example"
    pdf, table = list(mail.iter_attachments())
    assert pdf.get_content().startswith(b"%PDF-1.")
    rows = list(csv.reader(io.StringIO(table.get_content())))
    text = house.settings.currency.text
    assert rows[0] == ["Date", "What", "Amount", "Owed"] and rows[-1][-1] == text(told.closing)
    assert [row[2] for row in rows[2:-1]] == [text(row.amount) for row in told.rows]
    paper = paper_of(house, told)
    assert statement_csv(paper).splitlines() == table.get_content().splitlines() and statement_pdf(paper)


@pytest.mark.parametrize(
    ("start", "end", "where", "said"),
    [
        ("2026-06-14", "2026-06-13", "since", "after the last one"),
        ("2020-01-01", "2026-06-13", "since", "at most 731 days"),
        ("soon", "", "since", "soon"),
        ("", "13/6", "until", "13/6"),
    ],
)
def test_a_range_that_is_none_is_refused_beside_its_field(
    house: House, start: str, end: str, where: str, said: str
) -> None:
    with refuses(said) as refusal:
        statements.read_range(house, start, end)
    assert isinstance(refusal.value, Refused) and refusal.value.where == where
