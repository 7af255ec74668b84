"""The journal, read by an open-source double-entry program that knows nothing of us."""

from __future__ import annotations

import shutil
from decimal import Decimal
from pathlib import Path

from beancount import loader
from beancount.core import data

from abrazo.core.ledger import Posting
from abrazo.core.money import Currency
from abrazo.desk.context import Devices
from abrazo.desk.setup.founding import open_house
from abrazo.desk.till.views.journal import day_journal
from abrazo.formats.journal import JournalEntry, account_name, journal_text
from abrazo.store import journal
from tests.stories.house import demo_template


def read_by_another(text: str) -> dict[str, Decimal]:
    """Balances by account as the other program has them; it must not complain of anything."""
    entries, errors, _ = loader.load_string(text)
    assert errors == []
    found: dict[str, Decimal] = {}
    for entry in entries:
        for posting in entry.postings if isinstance(entry, data.Transaction) else []:
            assert posting.units is not None and posting.units.number is not None
            found[posting.account] = found.get(posting.account, Decimal(0)) + posting.units.number
    return found


def test_the_demos_day_loads_without_complaint(tmp_path: Path) -> None:
    """Outside: beancount. Its balances are ours, to the cent."""
    database = demo_template(tmp_path / "house") / "house.db"
    house = open_house(database, Devices.beside(database))
    found = read_by_another(day_journal(house))
    ours = journal.balances(house.connection)
    house.connection.close()
    shutil.rmtree(tmp_path / "house")
    assert len(ours) > 8
    assert found == {account_name(account): Decimal(amount) / 100 for account, amount in ours.items()}
    assert sum(found.values()) == 0


def test_awkward_words_are_still_read() -> None:
    what = 'He said "tide\\in"; 2 × Crème — ∗'
    entry = JournalEntry("2026-06-13", "Tamsin", what, (Posting("income:sales:né/e", -5), Posting("assets:cash:1", 5)))
    assert set(read_by_another(journal_text([entry], Currency.of("EUR")))) == {"Income:Sales:N--e", "Assets:Cash:1"}
