"""Memberships: what kinds there are, what sells one, who has one, and when it rested."""

from __future__ import annotations

import json
from collections.abc import Iterable
from dataclasses import dataclass

from abrazo.store.db import Connection, record


@dataclass(frozen=True, slots=True)
class MembershipKind:
    """A kind of membership; `household`: it covers everybody of its holder's household."""

    id: str
    name: str
    household: bool = False


@dataclass(frozen=True, slots=True)
class MembershipItem:
    """What sells a membership: the item, the kind, for how many months; `ended`: not any more."""

    item: str
    kind: str
    months: int
    ended: bool = False


@dataclass(frozen=True, slots=True)
class Membership:
    """Somebody's membership; dates are ISO, `until` is its last day.

    One that was sold has its line, the ticket of that with its number, and `net`, once that is closed: what was paid
    without tax, in minor units. `whose` is its holder's name.
    """

    id: int
    person: int
    kind: str
    name: str
    since: str
    until: str
    line: int | None = None
    net: int | None = None
    anchor: str | None = None
    ticket: int | None = None
    number: int | None = None
    whose: str = ""
    brought: int | None = None

    @property
    def being_sold(self) -> bool:
        """Whether the ticket that sells it is not closed yet."""
        return self.line is not None and self.net is None


COLUMNS = """
SELECT m.id, m.person, m.kind, k.name, m.since, m.until, m.line, m.net, m.anchor, l.ticket, t.number, p.name AS whose,
       m.brought
FROM membership m JOIN membership_kind k ON k.id = m.kind JOIN person p ON p.id = m.person
                  LEFT JOIN line l ON l.id = m.line LEFT JOIN ticket t ON t.id = l.ticket
"""
PAID = "(m.line IS NULL OR m.net IS NOT NULL)"
STANDS = "m.ended_at IS NULL AND l.removed_at IS NULL"
KINDS = "SELECT id, name, household FROM membership_kind WHERE ended_at IS NULL ORDER BY position"
OF_PERSON = f"{COLUMNS} WHERE m.person = ? AND {STANDS} AND {PAID} ORDER BY m.until, m.id"
HOLDING = f"""
SELECT w.value AS covers, m.* FROM json_each(:people) w JOIN ({COLUMNS} WHERE {STANDS}) m ON m.person = w.value
  OR (SELECT household FROM membership_kind WHERE id = m.kind)
  AND m.person IN (SELECT o.id FROM person o JOIN person me ON me.household = o.household WHERE me.id = w.value)
WHERE (m.line IS NULL OR m.net IS NOT NULL OR m.ticket = :ticket) AND :today BETWEEN m.since AND m.until
  AND NOT EXISTS (SELECT 1 FROM membership_pause WHERE membership = m.id AND :today BETWEEN first AND last)
ORDER BY m.id
"""
ON_TICKET = f"{COLUMNS} WHERE l.ticket = ? AND {STANDS} ORDER BY m.id"
STANDING = f"{COLUMNS} WHERE {STANDS} ORDER BY m.id"
ONE = f"{COLUMNS} WHERE m.id = ? AND m.ended_at IS NULL"
ITEMS = """
SELECT mi.item, mi.kind, mi.months, i.ended_at IS NOT NULL AS ended
FROM membership_item mi JOIN item i ON i.id = mi.item ORDER BY i.position
"""
ADD_KIND = "INSERT INTO membership_kind (id, name, household, position) VALUES (?, ?, ?, ?)"
ADD_ITEM = "INSERT INTO membership_item (item, kind, months) VALUES (?, ?, ?)"
ADD = """
INSERT INTO membership (person, kind, since, until, staff, line, anchor, brought) VALUES (?, ?, ?, ?, ?, ?, ?, ?)
"""
END = "UPDATE membership SET ended_at = ? WHERE id = ? AND ended_at IS NULL"
SET_PERSON = "UPDATE membership SET person = ? WHERE id = ?"
SET_DAYS = "UPDATE membership SET since = ?, until = ?, anchor = ? WHERE id = ?"
SET_NET = "UPDATE membership SET net = ? WHERE id = ?"
ADD_PAUSE = "INSERT INTO membership_pause (membership, first, last, at, staff) VALUES (?, ?, ?, ?, ?)"
PAUSES = "SELECT first, last FROM membership_pause WHERE membership = ? ORDER BY first"


def list_kinds(connection: Connection) -> list[MembershipKind]:
    """The kinds of membership that the house gives."""
    return [record(MembershipKind, row) for row in connection.execute(KINDS)]


def list_items(connection: Connection) -> list[MembershipItem]:
    """The items that sell memberships."""
    return [record(MembershipItem, row) for row in connection.execute(ITEMS)]


def add_kind(connection: Connection, kind: MembershipKind, position: int) -> None:
    """Keep a kind of membership."""
    connection.execute(ADD_KIND, (kind.id, kind.name, kind.household, position))


def add_item(connection: Connection, item: MembershipItem) -> None:
    """Keep what sells a membership."""
    connection.execute(ADD_ITEM, (item.item, item.kind, item.months))


def of_person(connection: Connection, person: int) -> list[Membership]:
    """Somebody's own memberships that were not ended, those that are over too; the one that ends first comes first."""
    return [record(Membership, row) for row in connection.execute(OF_PERSON, (person,))]


def standing(connection: Connection) -> list[Membership]:
    """All memberships that were not ended, also those that are over."""
    return [record(Membership, row) for row in connection.execute(STANDING)]


def holding(connection: Connection, people: Iterable[int], today: str, ticket: int = 0) -> dict[int, list[Membership]]:
    """Memberships that cover people on a date (ISO), also of their household, by person; and what a ticket sells."""
    found: dict[int, list[Membership]] = {person: [] for person in people}
    given = {"people": json.dumps(list(found)), "ticket": ticket, "today": today}
    for row in connection.execute(HOLDING, given):
        facts = dict(row)
        found[facts.pop("covers")].append(record(Membership, facts))
    return found


def on_ticket(connection: Connection, ticket: int) -> list[Membership]:
    """The memberships that a ticket sells."""
    return [record(Membership, row) for row in connection.execute(ON_TICKET, (ticket,))]


def read(connection: Connection, membership: int) -> Membership | None:
    """A membership that was not ended; None when there is no such."""
    row = connection.execute(ONE, (membership,)).fetchone()
    return record(Membership, row) if row else None


def add(connection: Connection, given: Membership, staff: str) -> None:
    """Somebody is a member, or will be when a line is paid; its id is given anew."""
    g = given
    connection.execute(ADD, (g.person, g.kind, g.since, g.until, staff, g.line, g.anchor, g.brought))


def end(connection: Connection, membership: int, at: str) -> None:
    """A membership does not count any more."""
    connection.execute(END, (at, membership))


def set_person(connection: Connection, membership: int, person: int) -> None:
    """Whose a membership is that is being sold."""
    connection.execute(SET_PERSON, (person, membership))


def set_days(connection: Connection, membership: int, since: str, until: str, anchor: str | None) -> None:
    """From when to when a membership holds, and from when its terms are counted."""
    connection.execute(SET_DAYS, (since, until, anchor, membership))


def set_net(connection: Connection, membership: int, net: int | None) -> None:
    """What was paid for a membership without tax; None when its sale is turned round."""
    connection.execute(SET_NET, (net, membership))


def add_pause(connection: Connection, membership: int, days: tuple[str, str], at: str, staff: str) -> None:
    """A membership rests from a day to a day."""
    connection.execute(ADD_PAUSE, (membership, *days, at, staff))


def pauses(connection: Connection, membership: int) -> list[tuple[str, str]]:
    """When a membership rested or will rest, by their first days."""
    return [(row["first"], row["last"]) for row in connection.execute(PAUSES, (membership,))]
