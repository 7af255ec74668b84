"""What is owed to customers on any date: every gift card, credit, deposit and point, beside what the books say."""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Kind
from abrazo.core.layaway import KIND
from abrazo.core.ledger import STORED, Role
from abrazo.core.moments import read_day
from abrazo.core.money import total
from abrazo.desk.context import Actor, House
from abrazo.desk.permissions import Right, need
from abrazo.desk.till.owed_standing import POINTS, standing_now
from abrazo.store import deposits, journal, layaways, owed_standing, people, series, stored_value
from abrazo.store.deposits import HeldDeposit
from abrazo.store.owed_standing import OwedStanding
from abrazo.store.stored_value import Stored
from abrazo.words import phrases as w


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


def owed(house: House, actor: Actor, date: str = "") -> list[OwedKind]:
    """What is owed to customers now, or was at the end of a business date (ISO), by kind. Refused without the right.

    Refused for a date from which nothing is kept. A date on which no day was closed is that of the last one before it.
    """
    need(actor, Right.SEE_REPORTS)
    day = _day(house, date) if date else None
    found = standing_now(house) if day is None else owed_standing.until(house.connection, day)
    standing = [one for one in found if one.amount]
    named = {kind: name(house, [one.ref for one in standing if one.kind == kind]) for kind, name in NAMES.items()}
    rows = {kind: [_row(house, one, named[kind][one.ref]) for one in standing if one.kind == kind] for kind in NAMES}
    return [OwedKind(kind, tuple(many), _booked(house, STORED[kind], day)) for kind, many in rows.items()]


def _day(house: House, date: str) -> int:
    read_day(date, "on")
    first, day = owed_standing.first_date(house.connection), owed_standing.last_day(house.connection, date)
    if day is None or first is None or date < first:
        raise Refused(Code.OWED_NOT_KEPT, "on", first=first or house.wall_now()[:10])
    return day


def _booked(house: House, account: str, day: int | None) -> int:
    c, until = house.connection, 2**62 if day is None else day
    balance = journal.balance(c, account) if day is None else journal.balance_until(c, account, day)
    return total((-balance, journal.posted_by(c, account, Kind.ADVANCE_TAX, until)))  # owed with the tax that is in it


def _row(house: House, one: OwedStanding, known: tuple[str, str]) -> Owed:
    name, since = known
    if one.kind == POINTS:
        name = house.say(w.POINTS_OF, name=name, number=one.points)
    return Owed(name, since, one.amount)


def _cards(house: House, refs: list[int]) -> dict[int, tuple[str, str]]:
    """What tells stored values from one another, and since when they are."""
    found = stored_value.read_many(house.connection, refs)
    names = people.read_many(house.connection, {one.person for one in found if one.person})

    def name(one: Stored) -> str:
        return house.say(w.ENDING, ending=one.code[-4:]) if one.code else names[one.person or 0].name

    return {one.id: (name(one), one.made_at) for one in found}


def _deposits(house: House, refs: list[int]) -> dict[int, tuple[str, str]]:
    """Each by its line and whose it is, which the line of a booking's says itself."""

    def name(one: HeldDeposit) -> str:
        return one.label if one.label.endswith(f", {one.person}") else f"{one.label}, {one.person}"

    return {one.line: (name(one), one.at) for one in deposits.read_many(house.connection, refs)}


def _series(house: House, refs: list[int]) -> dict[int, tuple[str, str]]:
    found = series.read_many(house.connection, refs)
    known = people.read_many(house.connection, {one.person for one in found})
    return {one.id: (f"{one.name}, {known[one.person].name}", one.sold_on or "") for one in found}


def _layaways(house: House, refs: list[int]) -> dict[int, tuple[str, str]]:
    found = dict[int, tuple[str, str]]()
    for ticket in refs:
        one, head = layaways.of_ticket(house.connection, ticket), house.head(ticket)
        who = house.person(head.person) if head and head.person else None
        found[ticket] = (f"{one.name}, {who.name}" if one and who else str(ticket), one.at if one else "")
    return found


def _people(house: House, refs: list[int]) -> dict[int, tuple[str, str]]:
    return {id: (one.name, "") for id, one in people.read_many(house.connection, refs).items()}


NAMES = {
    Role.GIFT_CARD.value: _cards,
    Role.VOUCHER.value: _cards,
    Role.STORE_CREDIT.value: _cards,
    Role.DEPOSIT.value: _deposits,
    Role.SERIES.value: _series,
    KIND: _layaways,
    POINTS: _people,
}
