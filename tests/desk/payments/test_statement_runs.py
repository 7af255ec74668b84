"""Statements of many accounts at once: what the list says is what each statement says; each is made once, or not."""

from __future__ import annotations

import csv
import io
from datetime import date, timedelta
from pathlib import Path

import pypdf
import pytest

from abrazo.core.errors import Code, Refused
from abrazo.core.ledger import CUSTOMERS, customer_account
from abrazo.desk.act import Act
from abrazo.desk.context import Actor, Devices, House
from abrazo.desk.output import statement_runs
from abrazo.desk.output.account_list import account_list, account_list_file
from abrazo.desk.output.outbox import send_waiting
from abrazo.desk.output.statements import post_statement
from abrazo.desk.payments.statements import Statement, statement_of
from abrazo.desk.setup.founding import close_house, open_house
from abrazo.formats.statement import statements_pdf
from abrazo.store import journal, outbox, people
from abrazo.store import statement_runs as kept
from abrazo.worker.worker import Worker
from tests.refusals import refuses
from tests.stories.house import demo_template

TODAY, MONTH = date(2026, 6, 13), (date(2026, 5, 14), date(2026, 6, 13))
ROWERS, THEO, KEES = 4, 5, 15
KEY = "a key of sixteen"


@pytest.fixture
def house(tmp_path: Path) -> House:
    database = demo_template(tmp_path) / "house.db"
    return open_house(database, Devices.beside(database))


def boss(house: House) -> Actor:
    return Actor(house.staff()["odile"], house.tills()["landing"])


def mailed(house: House) -> list[str]:
    """To whom statements went since the demo's own."""
    found = house.connection.execute(
        "SELECT o.recipient FROM statement_run_row w JOIN outbox o ON o.id = w.sheet WHERE w.run > 1 ORDER BY o.id"
    )
    return [row[0] for row in found]


@pytest.mark.parametrize("back", [0, 8, 9, 20, 30, 47, 56, 85])
def test_the_list_says_what_every_statement_says(house: House, back: int) -> None:
    last = TODAY - timedelta(days=back)
    first = last - timedelta(days=31)
    told = account_list(house, boss(house), first, last)
    for row in told.rows:
        one = statement_of(house, row.person.id, first, last)
        assert (row.opening, row.closing, row.ages) == (one.opening, one.closing, one.ages)
        assert sum(row.ages.values()) == max(row.closing, 0)
    booked = house.connection.execute(
        "SELECT coalesce(sum(p.amount), 0) FROM posting p JOIN journal j ON j.number = p.entry JOIN day d ON d.id = j.day "
        "WHERE p.account LIKE ? AND d.business_date <= ?",
        (f"{CUSTOMERS}%", last.isoformat()),
    ).fetchone()[0]
    assert told.closing == booked == sum(row.closing for row in told.rows)
    assert told.ages == {days: sum(row.ages[days] for row in told.rows) for days in told.ages}
    if back == 0:
        owed = {row.person.id: row.closing for row in told.rows}
        assert owed == {
            who: journal.balance(house.connection, customer_account(who)) for who in (KEES, THEO, ROWERS)
        } and list(owed) == [THEO, KEES, ROWERS]  # who owes most first
        assert told.rows[1].ages["31-60"] and told.rows[1].ages["61-90"]
        table = list(csv.reader(io.StringIO(account_list_file(house, boss(house), first, last))))
        assert [row[0] for row in table[1:]] == [row.person.name for row in told.rows]
        assert [row[2] for row in table[1:]] == [house.settings.currency.text(row.closing) for row in told.rows]


def test_each_is_made_once_whatever_ends_the_process(
    house: House, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    run = statement_runs.ask_for(house, boss(house), MONTH, (THEO, KEES, ROWERS, THEO), KEY)
    assert run == statement_runs.ask_for(house, boss(house), MONTH, (THEO, KEES, ROWERS), KEY)  # pressed twice
    assert statement_runs.make_next(house)
    assert mailed(house) == ["theo@brandvold.example"]
    # The process ends between the message and the note of it: neither is there, and it is made again.
    with monkeypatch.context() as patch:
        patch.setattr("abrazo.store.statement_runs.end_row", lambda *_: (_ for _ in ()).throw(KeyboardInterrupt))
        with pytest.raises(KeyboardInterrupt):
            statement_runs.make_next(house)
    close_house(house)
    again = open_house(tmp_path / "house.db", Devices.beside(tmp_path / "house.db"))
    assert len(statement_runs.progress_of(again, boss(again), run).waiting) == 2
    while statement_runs.make_next(again):
        pass
    assert not statement_runs.make_next(again)
    send_waiting(again)
    told = statement_runs.progress_of(again, boss(again), run)
    assert mailed(again) == ["theo@brandvold.example", "boats@saltpan.example"]
    assert [person.id for person, _ in told.sent] == [THEO, ROWERS]
    assert [person.id for person, _ in told.on_paper] == [KEES]
    papers = statement_runs.papers_of(again, boss(again), run)
    pdf = pypdf.PdfReader(io.BytesIO(statements_pdf([*papers, *papers])))
    assert len(pdf.pages) == 2 and "Kees Tarrant" in pdf.pages[1].extract_text()
    said = again.connection.execute("SELECT count(*) FROM journal WHERE kind = 'statement sent'").fetchone()[0]
    assert said == 2 + 2  # with those of the first of June


def test_it_waits_while_the_line_is_down_or_no_day_is_open(house: House) -> None:
    run = statement_runs.ask_for(house, boss(house), MONTH, (THEO, ROWERS), KEY)
    house.connection.execute("UPDATE day SET closed_at = opened_at WHERE closed_at IS NULL")
    assert not statement_runs.make_next(house)
    told = statement_runs.progress_of(house, boss(house), run)
    assert told.needs_day and len(told.waiting) == 2
    house.connection.execute("UPDATE day SET closed_at = NULL WHERE id = (SELECT max(id) FROM day)")
    house.forget()
    house.devices.post.line_down = True
    while statement_runs.make_next(house):
        pass
    send_waiting(house)
    told = statement_runs.progress_of(house, boss(house), run)
    assert (told.waiting, len(told.held_up), told.sent) == ([], 2, [])


def test_what_is_stopped_is_not_made_and_who_is_erased_is_left_out(house: House) -> None:
    first = statement_runs.ask_for(house, boss(house), MONTH, (THEO, KEES, ROWERS), KEY)
    assert statement_runs.make_next(house)
    statement_runs.stop(house, boss(house), first)
    second = statement_runs.ask_for(house, boss(house), MONTH, (KEES, ROWERS), f"{KEY} more")
    house.connection.execute("UPDATE person SET erased_at = 'then' WHERE id = ?", (ROWERS,))
    house.connection.execute("UPDATE person SET email = 'no address' WHERE id = ?", (KEES,))
    while statement_runs.make_next(house):
        pass
    assert mailed(house) == ["theo@brandvold.example"]
    outcomes = {
        run: [row.outcome for _, row in statement_runs.progress_of(house, boss(house), run).rows]
        for run in (first, second)
    }
    assert outcomes == {first: ["mailed", None, None], second: ["paper", "left out"]}
    latest = statement_runs.latest_runs(house, boss(house))
    assert [(one.id, one.made, one.number, bool(one.stopped_at)) for one in latest[:2]] == [
        (second, 2, 2, False),
        (first, 1, 3, True),
    ]


def test_one_that_cannot_be_made_keeps_the_others_waiting_no_longer(
    house: House, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """The worker leaves it out and goes on; what waits to be printed goes out meanwhile."""
    statement_runs.ask_for(house, boss(house), MONTH, (THEO, ROWERS), KEY)
    made = post_statement

    def broken(act: Act, told: Statement, to: str) -> int:
        if told.person.id == THEO:
            raise ValueError("no such letter")
        return made(act, told, to)

    monkeypatch.setattr(statement_runs, "post_statement", broken)
    worker = Worker(tmp_path / "house.db", Devices.beside(tmp_path / "house.db"))
    while worker._try("a statement could not be made", worker._make_statement) or kept.next_row(house.connection):
        pass
    close_house(worker.house)
    outcomes = [row.outcome for _, row in statement_runs.progress_of(house, boss(house), 2).rows]
    assert outcomes == ["left out", "mailed"] and mailed(house) == ["boats@saltpan.example"]


def test_refused(house: House) -> None:
    with refuses("Tick whose") as refusal:
        statement_runs.ask_for(house, boss(house), MONTH, (), KEY)
    assert isinstance(refusal.value, Refused) and refusal.value.where == "person"
    clerk = Actor(house.staff()["wren"], house.tills()["landing"])
    for act in (
        lambda: statement_runs.ask_for(house, clerk, MONTH, (THEO,), KEY),
        lambda: statement_runs.stop(house, clerk, 1),
        lambda: statement_runs.progress_of(house, clerk, 1),
        lambda: statement_runs.papers_of(house, clerk, 1),
        lambda: account_list(house, clerk, *MONTH),
    ):
        with pytest.raises(Refused) as found:
            act()
        assert found.value.code == Code.RIGHT_SEE_REPORTS
    assert not mailed(house) and people.read(house.connection, THEO)
    assert outbox.last_about(house.connection, ["statement 5", "statement 99"]).keys() == {"statement 5"}
