"""All entries that moved money, for the plain-text journal."""

from __future__ import annotations

from abrazo.desk.context import House
from abrazo.desk.history import described, reader
from abrazo.formats.journal import JournalEntry, journal_text
from abrazo.store import journal


def day_journal(house: House) -> str:
    """The double-entry journal of every day, as text."""
    to = reader(house)
    entries = [
        JournalEntry(date, to.staff[entry.staff], described(to, entry), postings)
        for date, entry, postings in journal.posted(house.connection)
    ]
    return journal_text(entries, house.settings.currency)
