"""What was done, in words: entries of the journal as people read them."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from abrazo.core.errors import Code, Refused
from abrazo.desk.context import House
from abrazo.store import journal
from abrazo.words.entries import entry_text
from abrazo.words.speaking import Reader


@dataclass(frozen=True, slots=True)
class HistoryLine:
    """One entry: its moment (UTC), who and at which till by name, and what."""

    at: str
    who: str
    till: str
    what: str


def reader(house: House) -> Reader:
    """Who reads: in the house's language, with its currency, zone and names."""
    staff = {one.id: one.name for one in house.staff().values()}
    tills = {one.id: one.name for one in house.tills().values()}
    settings = house.settings
    return Reader(settings.currency, house.zone, staff, tills, settings.language, house.now().year)


def told(house: House, entries: Iterable[journal.Entry]) -> list[HistoryLine]:
    """Entries as they are read."""
    to = reader(house)
    return [
        HistoryLine(one.at, to.staff.get(one.staff, one.staff), to.tills.get(one.till, one.till), described(to, one))
        for one in entries
    ]


def described(to: Reader, entry: journal.Entry) -> str:
    """What an entry says was done."""
    return entry_text(to, entry.kind, {**entry.facts, **entry.texts})


def of_ticket(house: House, ticket: int) -> list[HistoryLine]:
    """Everything that was done to a ticket, oldest first."""
    return told(house, journal.of_ticket(house.connection, ticket))


def of_booking(house: House, booking: int) -> list[HistoryLine]:
    """Everything that was done to a booking, oldest first."""
    return told(house, journal.of_booking(house.connection, booking))


def of_job(house: House, job: int) -> list[HistoryLine]:
    """Everything that was done to a job, oldest first."""
    return told(house, journal.of_job(house.connection, job))


def last_about(house: House, what: str, thing: int) -> int:
    """The last entry about a booking or a job; 0 when there is none."""
    return journal.last_about(house.connection, what, thing)


def not_since(house: House, what: str, thing: int, seen: int | None) -> None:
    """Refused when something was done to a booking or a job after the entry that was seen last (0: none there)."""
    entries = journal.of_booking if what == "booking" else journal.of_job
    if seen is not None and last_about(house, what, thing) > seen:
        last = told(house, entries(house.connection, thing))[-1]
        raise Refused(Code.CHANGED_SINCE, who=last.who, what=last.what)
