"""A person's sheet, and what the household has open."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from abrazo.core.states import JobStanding, TicketState, VisitStanding
from abrazo.desk.context import House
from abrazo.desk.doors.views.bookings import Visit, booked_on, visits_of
from abrazo.desk.doors.views.hires import HireCard
from abrazo.desk.doors.views.hires import of_person as hires_of
from abrazo.desk.doors.views.jobs import JobCard, cards_of
from abrazo.desk.payments.accounts import owed_by
from abrazo.desk.payments.views.stored_value import of_person
from abrazo.desk.people.people import known
from abrazo.desk.tickets import series
from abrazo.desk.tickets.benefits import memberships
from abrazo.desk.tickets.naming import place_of
from abrazo.desk.tickets.snapshot import TicketSnapshot, load_tickets
from abrazo.formats.phone import shown
from abrazo.store import bookings, jobs, layaways, people
from abrazo.store import series as series_store
from abrazo.store import ticket as ticket_store
from abrazo.store.layaways import Layaway
from abrazo.store.memberships import Membership
from abrazo.store.people import Person
from abrazo.store.series import GoneUse, Series
from abrazo.words import phrases as w


@dataclass(frozen=True, slots=True)
class PastVisit:
    """A ticket of somebody's. Minor units."""

    ticket: int
    number: int
    at: str
    words: str
    total: int
    open: bool


@dataclass(frozen=True, slots=True)
class PersonSheet:
    """Facts left, history right."""

    person: Person
    phone: str
    household: str
    members: list[Person]
    coming: list[Visit]  # and what is over, but has a deposit to be given back
    history: list[PastVisit | Visit]  # tickets, and bookings that have none; the newest first
    jobs: list[JobCard]
    last: str
    series: list[SeriesLeft]
    hires: list[HireCard]
    aside: list[Layaway]


@dataclass(frozen=True, slots=True)
class SeriesLeft:
    """Somebody's series: how many uses are left of it, whether its last day is over, and what became of the others."""

    series: Series
    left: int
    over: bool
    gone: list[GoneUse]

    @property
    def ended(self) -> bool:
        """Whether nothing can be had of it any more."""
        return self.over or not self.left


@dataclass(frozen=True, slots=True)
class PersonHit:
    """A person found, with what tells namesakes apart."""

    person: Person
    phone: str
    household: str
    last: str
    facts: tuple[str, ...] = ()  # what they have here today, in words
    owes: int = 0  # on account, in minor units


def person_sheet(house: House, person_id: int) -> PersonSheet:
    """The sheet of a person."""
    connection, person = house.connection, known(house, person_id)
    members = people.household_of(connection, person.household) if person.household else []
    tickets = load_tickets(house, ticket_store.of_person(connection, person_id)).values()
    return PersonSheet(
        person=person,
        phone=shown(person.phone, house.settings.region) if person.phone else "",
        household=people.household_name(connection, person.household) if person.household else "",
        members=[other for other in members if other.id != person.id],
        coming=visits_of(house, bookings.for_sheet(connection, person_id, house.wall_now())),
        history=_history(house, person_id, [_past(house, whole) for whole in tickets]),
        jobs=cards_of(house, jobs.of_person(connection, person_id)),
        last=last_visit(house, person_id),
        series=_series(house, person_id),
        hires=hires_of(house, person_id),
        aside=layaways.of_person(connection, person_id),
    )


def _series(house: House, person_id: int) -> list[SeriesLeft]:
    """Somebody's series, those of which something can be had first."""
    mine = series.of_person(house, person_id)
    today, found = house.business_date() if mine else "", list[SeriesLeft]()
    for one in mine:
        gone = series_store.gone(house.connection, one.id)
        found.append(SeriesLeft(one, len(series.free_of(one)), (one.until or "") < today, gone))
    return sorted(found, key=lambda one: one.ended)


def _history(house: House, person_id: int, tickets: list[PastVisit]) -> list[PastVisit | Visit]:
    came = visits_of(house, bookings.before(house.connection, person_id, house.wall_now()))
    dated: list[tuple[str, PastVisit | Visit]] = [(_day(house, one.at), one) for one in tickets]
    dated += [(one.booking.starts_at[:10], one) for one in came if one.booking.ticket is None]
    return [one for _, one in sorted(dated, key=lambda pair: pair[0], reverse=True)]


def _past(house: House, whole: TicketSnapshot) -> PastVisit:
    labels = ", ".join(dict.fromkeys(line.label for line in whole.standing))
    words = labels or place_of(house, whole)
    head = whole.head
    return PastVisit(head.id, head.number, head.opened_at, words, whole.bill.total, head.state == TicketState.OPEN)


def last_visit(house: House, person_id: int) -> str:
    """The date of somebody's last ticket or booking, empty when there was none."""
    return last_visits(house, [person_id])[person_id]


def last_visits(house: House, several: Iterable[int]) -> dict[int, str]:
    """The same of several people, by id."""
    found = people.last_here(house.connection, several, house.wall_now())
    return {
        id: max(_day(house, opened) if opened else "", (booked or "")[:10]) for id, (opened, booked) in found.items()
    }


def person_hits(house: House, several: Sequence[Person]) -> list[PersonHit]:
    """People as they are listed."""
    names = people.household_names(house.connection, [one.household for one in several if one.household])
    last, region = last_visits(house, [one.id for one in several]), house.settings.region
    return [
        PersonHit(
            person=one,
            phone=shown(one.phone, region) if one.phone else "",
            household=names.get(one.household or 0, ""),
            last=last[one.id],
        )
        for one in several
    ]


MOST_LIKELY = 8


def likely_here(house: House, without: int) -> list[PersonHit]:
    """Whose a ticket may be while nothing is typed: who has an open ticket, or is booked today; not whose it is."""
    heads = house.heads(ticket_store.list_open(house.connection)).values()
    here = [head.person for head in heads if head is not None]
    here += [one.person for one in booked_on(house, house.now().date())]
    ids = [id for id in dict.fromkeys(here) if id is not None and id != without]
    found = (house.person(id) for id in ids[:MOST_LIKELY])
    return person_hits(house, [one for one in found if one is not None])


def known_words(house: House, person: int) -> str:
    """That somebody was recognised by what was typed, with what tells them from namesakes."""
    (hit,) = person_hits(house, [known(house, person)])
    facts = "".join(f", {one}" for one in (hit.phone, hit.person.email) if one)
    return house.say(w.RECOGNISED, name=hit.person.name, facts=facts)


def newest_people(house: House, most: int = 12) -> tuple[list[PersonHit], int]:
    """The newest people, and how many there are."""
    return person_hits(house, people.latest(house.connection, most)), people.count(house.connection)


STILL_HERE = (VisitStanding.ENDED, VisitStanding.NOW, VisitStanding.HERE)


def household_open(house: House, person: int | None, without: int = 0) -> tuple[list[Visit], list[JobCard]]:
    """What somebody and their household have open today and on no ticket yet: bookings, and jobs that are ready."""
    if person is None:
        return [], []
    who = known(house, person)
    ids = {member.id for member in _members(house, who)}
    today = house.now().date()
    theirs = [one for one in booked_on(house, today) if one.person in ids and one.id != without and one.ticket is None]
    open_visits = [v for v in visits_of(house, theirs) if v.state in STILL_HERE]
    left = cards_of(house, jobs.to_settle(house.connection, ids))
    return open_visits, [card for card in left if card.state == JobStanding.READY]


def _members(house: House, who: Person) -> list[Person]:
    """Somebody's household, themselves with it."""
    if not who.household:
        return [who]
    return house.once(("household", who.household), lambda: people.household_of(house.connection, who.household or 0))


@dataclass(frozen=True, slots=True)
class WhoFacts:
    """What is worth knowing of a ticket's person, money in minor units: the sums first, then the rest in words."""

    person: Person
    owes: int
    credit: int
    points: int
    memberships: list[Membership]
    series: list[SeriesLeft]
    last: str
    birthday: bool


def facts_with(house: House, person_id: int | None) -> WhoFacts | None:
    """The facts that stand with a ticket."""
    if person_id is None:
        return None
    person, stored = known(house, person_id), of_person(house, person_id)
    return WhoFacts(
        person=person,
        owes=owed_by(house, person),
        credit=stored.credit,
        points=stored.points,
        memberships=memberships(house, person_id),
        series=[one for one in _series(house, person_id) if not one.ended],
        last=last_before(house, person_id),
        birthday=(person.birthday or "")[5:] == house.wall_now()[5:10],
    )


def last_before(house: House, person_id: int) -> str:
    """The date of somebody's last ticket before today's, or empty."""
    today = house.now().date().isoformat()
    for opened in ticket_store.opened_of_person(house.connection, person_id):
        if _day(house, opened) < today:
            return _day(house, opened)
    return ""


def here_too(house: House, person: int | None, without: int) -> list[TicketSnapshot]:
    """Other open tickets of somebody and their household: who is on the premises now."""
    if person is None:
        return []
    who = known(house, person)
    ids = [id for one in _members(house, who) for id in ticket_store.open_of_person(house.connection, one.id)]
    return list(load_tickets(house, [id for id in ids if id != without]).values())


@dataclass(frozen=True, slots=True)
class ReceiptPreference:
    """Whose receipt it is, and how they like it: '' (ask), print, email, both or none."""

    person: Person | None
    way: str


def receipt_preference(house: House, person_id: int | None) -> ReceiptPreference:
    """How the person of a ticket likes receipts."""
    person = house.person(person_id) if person_id else None
    return ReceiptPreference(person, people.receipt_by(house.connection, person.id) if person else "")


def _day(house: House, stamp: str) -> str:
    return house.wall(stamp).date().isoformat()
