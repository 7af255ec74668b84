"""Hires as pages show them: what is out, late, due back and free; a hire's sheet; bars over time."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime, timedelta

from abrazo.core.moments import wall_of, wall_text
from abrazo.core.states import HireStanding
from abrazo.desk.context import House
from abrazo.desk.doors.hires import Returned, cost_now, early_back
from abrazo.desk.people.people import known
from abrazo.desk.tickets.hires import kind_of, kinds
from abrazo.store import cards, hires
from abrazo.store.cards import Card
from abrazo.store.hires import Hire, HireKind, Unit
from abrazo.store.people import Person


@dataclass(frozen=True, slots=True)
class HireCard:
    """A hire with what it is, who has it and how it stands."""

    hire: Hire
    kind: str
    person: Person
    standing: HireStanding


@dataclass(frozen=True, slots=True)
class KindCard:
    """How many of a kind are free now."""

    name: str
    item: str
    free: int
    units: int


@dataclass(frozen=True, slots=True)
class HireDay:
    """What is out with what is due first, how many are free, and each unit's hires within the days that are shown."""

    cards: list[HireCard]
    kinds: list[KindCard]
    rows: list[tuple[Unit, list[HireCard]]]
    begin: datetime
    end: datetime


DAYS_BEFORE, DAYS_SHOWN = 1, 7


def standing_of(house: House, hire: Hire) -> HireStanding:
    """How a hire stands now."""
    now = house.wall_now()
    if hire.returned_at is not None:
        return HireStanding.BACK
    if hire.starts_at > now:
        return HireStanding.BOOKED
    if hire.due_at < now:
        return HireStanding.LATE
    return HireStanding.DUE_TODAY if hire.due_at[:10] == now[:10] else HireStanding.OUT


def cards_of(house: House, several: Iterable[Hire]) -> list[HireCard]:
    """Hires as they are listed."""
    found = list(several)
    house.people(one.person for one in found)
    return [HireCard(one, one.kind, known(house, one.person), standing_of(house, one)) for one in found]


def late_hires(house: House) -> list[HireCard]:
    """What should be back already."""
    return cards_of(house, _late(house) or [])


def hires_out(house: House) -> bool:
    """Whether the house hires anything out."""
    return _late(house) is not None


def _late(house: House) -> list[Hire] | None:
    return house.once("late hires", lambda: hires.late(house.connection, house.wall_now()))


def hire_day(house: House) -> HireDay:
    """What is out now, and a week of every unit."""
    begin = house.now().replace(hour=0, minute=0, second=0, microsecond=0) - timedelta(days=DAYS_BEFORE)
    end = begin + timedelta(days=DAYS_SHOWN)
    units, out = hires.list_units(house.connection), cards_of(house, hires.out(house.connection))
    shown = cards_of(house, hires.between(house.connection, wall_text(begin), wall_text(end)))
    away = {one.hire.unit for one in out if one.standing is not HireStanding.BOOKED}
    found = list[KindCard]()
    for kind in kinds(house):
        mine = [unit for unit in units if unit.item == kind.item]
        if kind.ended and not mine:
            continue
        item = house.item(kind.item)
        free = sum(unit.id not in away for unit in mine)
        found.append(KindCard(item.name if item else kind.item, kind.item, free, len(mine)))
    rows = [(unit, [one for one in shown if one.hire.unit == unit.id]) for unit in units]
    return HireDay(out, found, rows, begin, end)


@dataclass(frozen=True, slots=True)
class HireSheet:
    """All about one hire."""

    card: HireCard
    terms: HireKind
    unit_note: str
    secured: Card
    minutes_late: int
    early: int  # what could be given back because it came back early, minor units
    if_lost: int  # what the card is charged should it never come back, minor units


def hire_sheet(house: House, hire: Hire) -> HireSheet:
    """A hire's sheet."""
    (card,) = cards_of(house, [hire])
    terms, secured = kind_of(house, hire.item), cards.read(house.connection, hire.card)
    assert terms is not None
    assert secured is not None
    note = next((unit.note for unit in hires.list_units(house.connection) if unit.id == hire.unit), "")
    late = (house.now() - wall_of(hire.due_at, house.zone)).total_seconds() // 60
    out = hire.returned_at is None
    minutes = max(0, int(late)) if out else 0
    if_lost = cost_now(house, hire, Returned(lost=True)).comes_to if out else 0
    return HireSheet(card, terms, note, secured, minutes, early_back(house, hire), if_lost)


def of_person(house: House, person: int) -> list[HireCard]:
    """Somebody's hires, the latest first."""
    return cards_of(house, hires.of_person(house.connection, person))


def on_ticket(house: House, ticket: int) -> list[tuple[Hire, Card]]:
    """The hires that a ticket sells, each with the card that secures it."""
    on_it = house.once(("hires", ticket), lambda: hires.on_ticket(house.connection, ticket))
    found = [(one, cards.read(house.connection, one.card)) for one in on_it]
    return [(one, card) for one, card in found if card is not None]
