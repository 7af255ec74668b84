"""The finder: one question over tables, tickets, jobs, tabs, bookings, people and items.

A code or number that fits one thing alone leads straight there; names are listed, since they repeat.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace

from abrazo.core.ledger import customer_account
from abrazo.core.people import folded
from abrazo.core.states import JobStanding, TicketState
from abrazo.desk.context import House
from abrazo.desk.doors.views.bookings import Visit, booked_on, visits_of
from abrazo.desk.doors.views.jobs import JobCard, on_rack, settled_tickets
from abrazo.desk.overview.person import PersonHit, person_hits
from abrazo.desk.overview.room import open_tickets
from abrazo.desk.payments.views.stored_value import OnCard, on_card
from abrazo.desk.people.people import find_people
from abrazo.desk.tickets.naming import place_of
from abrazo.desk.tickets.snapshot import LARGEST, TicketSnapshot, load_ticket
from abrazo.store import catalogue, hires, jobs, journal, layaways, room, stock
from abrazo.store import ticket as ticket_store
from abrazo.store.catalogue import Item
from abrazo.store.room import Spot
from abrazo.words import phrases as w

MOST = 8


@dataclass(frozen=True, slots=True)
class OpenTicket:
    """An open ticket found by its name. Minor units."""

    id: int
    number: int
    name: str
    due: int


@dataclass
class Found:
    """What fits a question. With `goes_to` set, (kind, id) is the one thing meant."""

    question: str
    goes_to: tuple[str, str] | None = None
    code: bool = False  # it looks like a scanned code
    tickets: list[OpenTicket] = field(default_factory=list)
    visits: list[Visit] = field(default_factory=list)
    jobs: list[JobCard] = field(default_factory=list)
    people: list[PersonHit] = field(default_factory=list)
    items: list[Item] = field(default_factory=list)
    card: OnCard | None = None

    @property
    def nothing(self) -> bool:
        """Whether nothing fits."""
        return not (self.goes_to or self.tickets or self.visits or self.jobs or self.people or self.items or self.card)


def find(house: House, question: str) -> Found:
    """Everything that fits a question."""
    plain = question.strip()
    found = Found(plain, code=is_code(plain))
    found.goes_to = _exact(house, plain)
    found.card = on_card(house, plain)
    if found.goes_to or found.card or not plain:
        return found
    if family := stock.family_by_code(house.connection, plain):  # a code that several goods share
        kinds_of = house.items(v.item for v in stock.variants_of(house.connection, family)).values()
        found.items = [item for item in kinds_of if item is not None]
        return found
    words = folded(plain)
    here = open_tickets(house, settled_tickets(house)) if len(words) >= 2 else []
    if len(words) >= 2:
        _by_name(house, found, words, here)
    found.people = _with_today(house, person_hits(house, find_people(house, plain, MOST)), here)
    if len(words) >= 3 and not plain.isdigit():
        found.items = catalogue.find_items(house.connection, plain)[:MOST]
    one = [*found.tickets, *found.visits, *found.jobs, *found.people, *found.items]
    if len(one) == 1 and found.people and plain.lstrip("+0").replace(" ", "").isdigit():
        found.goes_to = ("person", str(found.people[0].person.id))  # a phone number is the safest key
    return found


def is_code(text: str) -> bool:
    """Whether this looks like a scanned code: many digits, or a letter and a number of ours."""
    return bool(re.fullmatch(r"[0-9]{8,14}|[A-Z]{1,4}-?[0-9]{3,9}", text.strip().upper()))


def _exact(house: House, plain: str) -> tuple[str, str] | None:
    upper = plain.upper().removeprefix("TABLE").strip()
    spot = _spot(house, upper)
    if spot is not None:
        return ("table", spot.id)
    if (numbered := _numbered(house, upper)) is not None:
        return numbered
    if (unit := _unit(house, upper)) is not None:
        return unit
    if number := re.fullmatch(r"T?[- ]?([0-9]{1,9})", upper):
        ticket = ticket_store.by_number(house.connection, int(number[1]))
        if ticket is None and upper.isdigit() and (made := _job(house, int(upper))):
            return made
        if ticket is not None:
            head = house.head(ticket)
            return ("ticket" if head and head.state == TicketState.OPEN else "past", str(ticket))
    item = catalogue.by_code(house.connection, plain)
    return ("item", item.id) if item else None


def _numbered(house: House, upper: str) -> tuple[str, str] | None:
    """A job, a hire or goods set aside, by its number with the letters before it."""
    parted = re.fullmatch(r"([A-Z]{1,4})[- ]?([0-9]{1,9})", upper)
    if parted is None:
        return None
    letters, number = parted[1], int(parted[2])
    if (job := _job(house, number, letters)) is not None:
        return job
    if (kept := layaways.by_number(house.connection, letters, number)) is not None:
        return ("past", str(kept.ticket)) if kept.ended_at else ("ticket", str(kept.ticket))
    hire = hires.by_number(house.connection, letters, number)
    return ("hire", str(hire.id)) if hire else None


def _unit(house: House, upper: str) -> tuple[str, str] | None:
    """The hire of a unit that is out, else the unit: by what stands on it, or its barcode."""
    unit = next((one for one in hires.list_units(house.connection) if upper in (one.id.upper(), one.code)), None)
    if unit is None:
        return None
    now = house.wall_now()
    out = [one for one in hires.out(house.connection) if one.unit == unit.id and one.starts_at <= now]
    return ("hire", str(out[0].id)) if out else ("hires", unit.id)


def _job(house: House, number: int, letters: str = "") -> tuple[str, str] | None:
    made = jobs.by_number(house.connection, number, letters)
    return ("job", str(made.id)) if made else None


def meant(house: House, goes_to: tuple[str, str]) -> str:
    """The one thing that is meant, in words."""
    kind, id = goes_to
    named: dict[str, Callable[[House, str], str]] = {
        "hire": _hire_name,
        "hires": lambda _, unit: unit,
        "table": _table_name,
        "job": _job_name,
        "person": _person_name,
    }
    return named.get(kind, _ticket_name)(house, id)


def _table_name(house: House, id: str) -> str:
    spot = house.spot(id)
    return house.say(w.TABLE_NAME, name=spot.name if spot else id)


def _hire_name(house: House, id: str) -> str:
    hire = hires.read(house.connection, int(id))
    return f"{hire.name}, {hire.unit}" if hire else id


def _job_name(house: House, id: str) -> str:
    job = jobs.read(house.connection, int(id))
    return f"{job.name}, {job.thing}" if job else id


def _person_name(house: House, id: str) -> str:
    person = house.person(int(id))
    return person.name if person else id


def _ticket_name(house: House, id: str) -> str:
    whole = load_ticket(house, int(id))
    return f"{place_of(house, whole)}, {house.say(w.TICKET_NAME, number=whole.head.number)}"


def _spot(house: House, name: str) -> Spot | None:
    return next((spot for spot in house.spots() if spot.name.upper() == name), None)


def _with_today(house: House, hits: Sequence[PersonHit], here: Sequence[TicketSnapshot]) -> list[PersonHit]:
    """People with what they owe, the tickets on which they are, and their booking of today."""
    if not hits:
        return []
    ids = {hit.person.id for hit in hits}
    today = visits_of(house, [one for one in booked_on(house, house.now().date()) if one.person in ids])
    accounts = {hit.person.id: customer_account(hit.person.id) for hit in hits}
    owed = journal.balances_of(house.connection, accounts.values())
    found = []
    for hit in hits:
        id = hit.person.id
        mine = [v for v in today if v.booking.person == id][:1]
        booked = [house.say(w.VISIT_TODAY, at=v.booking.starts_at, service=v.service.name) for v in mine]
        on = [house.say(w.ON_TICKET, place=place_of(house, one)) for one in here if one.head.person == id][:2]
        found.append(replace(hit, facts=(*booked, *on), owes=max(0, owed.get(accounts[id], 0))))
    return found


def _by_name(house: House, found: Found, words: str, here: Sequence[TicketSnapshot]) -> None:
    """Open tickets, today's bookings and jobs on the rack whose name or thing holds all the words."""

    def fits(*texts: str | None) -> bool:
        there = folded(" ".join(text for text in texts if text))
        return all(part in there for part in words.split())

    for whole in here:
        names = [guest.name for guest in whole.guests]
        if fits(whole.head.name, *names):
            found.tickets.append(_open(house, whole))
    today = [one for one in booked_on(house, house.now().date()) if fits(one.name)]
    found.visits = visits_of(house, today[:MOST])
    rack = [card for card in on_rack(house) if card.state != JobStanding.HANDED_OVER]
    found.jobs = [card for card in rack if fits(card.person.name, card.job.thing)][:MOST]


def _open(house: House, whole: TicketSnapshot) -> OpenTicket:
    return OpenTicket(whole.head.id, whole.head.number, place_of(house, whole), whole.bill.due)


def item_by_code(house: House, code: str) -> Item | None:
    """What a scanned code is, if the catalogue knows it."""
    return catalogue.by_code(house.connection, code.strip())


def family_by_code(house: House, code: str) -> str | None:
    """The family whose goods share a scanned code, so that it asks which."""
    return stock.family_by_code(house.connection, code.strip())


def kinds(house: House) -> list[tuple[str, str]]:
    """What an unlisted item can be: report group, with the label of its tax."""
    labels = {tax.id: tax.label or tax.id for tax in house.taxes()}
    return [
        (group, labels.get(tax or "", house.say(w.NO_TAX))) for group, tax in catalogue.list_kinds(house.connection)
    ]


def usual_kind(house: House) -> str:
    """What an amount without items counts as unless said otherwise: as the last unlisted item did, else the first."""
    kinds, last = [kind for kind, _ in catalogue.list_kinds(house.connection)], catalogue.last_kind(house.connection)
    return last if last in kinds else next(iter(kinds), "")


def ticket_of_table(house: House, spot: str) -> int | None:
    """The open ticket of a table."""
    return room.seated(house.connection).get(spot)


def targets(house: House, ticket: int, question: str = "") -> tuple[list[Spot], list[OpenTicket]]:
    """Where a ticket or a part of it can move: free tables, and other open tickets; by any part of name or number."""
    busy, wanted = room.seated(house.connection), question.strip().casefold()
    others = [_open(house, whole) for whole in open_tickets(house) if whole.head.id != ticket]
    tables = [spot for spot in house.spots() if spot.id not in busy]
    return (
        [spot for spot in tables if wanted in house.say(w.TABLE_NAME, name=spot.name).casefold()],
        [one for one in others if wanted in f"{one.name} {one.number}".casefold()],
    )


def is_open(house: House, ticket: int) -> bool:
    """Whether a ticket can still be changed."""
    head = house.head(ticket) if 0 < ticket < LARGEST else None
    return head is not None and head.state == TicketState.OPEN
