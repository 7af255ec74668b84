"""What is owed to customers now: every gift card, credit, deposit and point, beside what the books say."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from abrazo.core.ledger import STORED, Role
from abrazo.core.loyalty import booked_worth
from abrazo.core.money import total
from abrazo.desk.context import Actor, House
from abrazo.desk.permissions import Right, need
from abrazo.store import jobs, journal, people, stored_value
from abrazo.words import phrases as w

POINTS = "points"


@dataclass(frozen=True, slots=True)
class Owed:
    """Something that a customer can still use: how it is told from others, since when (UTC, or empty), minor units."""

    name: str
    since: str
    amount: int


@dataclass(frozen=True, slots=True)
class OwedKind:
    """All of one kind, and what the books say that the house owes for it; minor units."""

    kind: str
    rows: tuple[Owed, ...]
    booked: int

    @property
    def amount(self) -> int:
        """What the list comes to."""
        return total(one.amount for one in self.rows)


def owed(house: House, actor: Actor) -> list[OwedKind]:
    """What is owed to customers, by kind. Refused without the right."""
    need(actor, Right.SEE_REPORTS)
    found = stored_value.everything(house.connection)
    points = stored_value.points_by_person(house.connection)
    names = people.read_many(house.connection, {one.person for one in found if one.person} | set(points))
    rows: list[tuple[str, Owed]] = []
    for one in found:
        who = names[one.person].name if one.person else ""
        name = house.say(w.ENDING, ending=one.code[-4:]) if one.code else who
        rows.append((one.kind, Owed(name, one.made_at, one.amount)))
    rows += [(Role.DEPOSIT, one) for one in _deposits(house)]
    lot, value = house.settings.points_lot, house.settings.points_value
    for person, number in points.items():
        name = house.say(w.POINTS_OF, name=names[person].name, number=number)
        rows.append((POINTS, Owed(name, "", booked_worth(number, lot, value))))
    kinds = (Role.GIFT_CARD, Role.VOUCHER, Role.STORE_CREDIT, Role.DEPOSIT, POINTS)
    return [_kind(house, kind, (one for of, one in rows if of == kind)) for kind in kinds]


def _deposits(house: House) -> Iterable[Owed]:
    found = jobs.with_deposits(house.connection)
    held = jobs.held_for(house.connection, (job.id for job in found))
    known = people.read_many(house.connection, {job.person for job in found})
    for job in found:
        left = total(one.amount for one in held[job.id])
        yield Owed(f"{job.name}, {known[job.person].name}", job.dropped_at, left)


def _kind(house: House, kind: str, rows: Iterable[Owed]) -> OwedKind:
    standing = tuple(one for one in rows if one.amount)
    return OwedKind(kind, standing, total((0, -journal.balance(house.connection, STORED[kind]))))
