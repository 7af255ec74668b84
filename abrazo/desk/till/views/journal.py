"""All entries that moved money, for the plain-text journal."""

from __future__ import annotations

from abrazo.desk.context import House
from abrazo.desk.history import described, reader
from abrazo.formats.journal import JournalEntry, journal_text
from abrazo.store import journal


def day_journal(house: House, first: str = "", last: str = "9999") -> str:
    """The double-entry journal of the business days from one ISO date to another, as text."""
    to = reader(house)
    entries = [
        JournalEntry(date, to.staff[entry.staff], described(to, entry), postings)
        for date, entry, postings in journal.posted(house.connection)
        if first <= date <= last
    ]
    return journal_text(entries, house.settings.currency)
