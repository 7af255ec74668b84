"""All entries that moved money, for the plain-text journal."""

from __future__ import annotations

from abrazo.desk.context import House
from abrazo.formats.journal import JournalEntry, journal_text
from abrazo.store import journal


def day_journal(house: House) -> str:
    """The double-entry journal of every day, as text."""
    people = house.staff()
    entries = [
        JournalEntry(date, people[staff].name, what, postings)
        for date, staff, what, postings in journal.posted(house.connection)
    ]
    return journal_text(entries, house.settings.currency)
