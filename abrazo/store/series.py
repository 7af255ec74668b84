"""Prepaid series: what they are, who has one, and which of their uses are gone."""

from __future__ import annotations

import json
from collections.abc import Iterable
from dataclasses import dataclass

from abrazo.store.db import Connection, record


@dataclass(frozen=True, slots=True)
class SeriesKind:
    """A series that the house sells: by which item, how many uses of which items, for how many days."""

    item: str
    uses: int
    days: int
    items: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Series:
    """Somebody's series, by which line of which ticket; `net` without tax (minor units), dates ISO, once it is paid.

    `gone` are the numbers of the uses that are not free; `in_books` is what of `net` the books did not take yet.
    One that was brought in has no line and no ticket; so many uses were `had_before`, and `net` is that of the others.
    """

    id: int
    line: int | None
    item: str
    person: int
    uses: int
    net: int | None
    sold_on: str | None
    until: str | None
    ticket: int | None
    number: int | None
    name: str
    items: tuple[str, ...] = ()
    gone: tuple[int, ...] = ()
    in_books: int = 0
    had_before: int = 0
    brought: int | None = None


@dataclass(frozen=True, slots=True)
class SeriesUse:
    """A use that covers a piece of a line: by which adjustment of how much (minor units), for whom."""

    id: int
    series: int
    number: int
    adjustment: int
    line: int
    amount: int
    worth: int | None
    stands: bool


@dataclass(frozen=True, slots=True)
class GoneUse:
    """What became of a use: had on a ticket (`line` says for what), else given back or expired; UTC."""

    number: int
    at: str
    ticket: int | None
    ticket_number: int | None
    line: str | None
    given_back: bool


KINDS = """
SELECT k.item, k.uses, k.days, (SELECT json_group_array(item) FROM series_item WHERE series = k.item) AS items
FROM series_kind k JOIN item i ON i.id = k.item ORDER BY i.position
"""
ADD_KIND = "INSERT INTO series_kind (item, uses, days) VALUES (?, ?, ?)"
ADD_ITEM = "INSERT INTO series_item (series, item) VALUES (?, ?)"
COLUMNS = """
SELECT s.id, s.line, s.item, s.person, s.uses, s.net, s.sold_on, s.until, l.ticket, t.number,
       coalesce(l.label, i.name) AS name, s.had_before, s.brought,
       (SELECT json_group_array(item) FROM (SELECT item FROM series_item WHERE series = s.item ORDER BY item)) AS items,
       (SELECT json_group_array(number) FROM (SELECT number FROM series_use
                                              WHERE series = s.id AND freed_at IS NULL ORDER BY number)) AS gone,
       coalesce(s.net, 0) - (SELECT coalesce(sum(worth), 0) FROM series_use
                             WHERE series = s.id AND freed_at IS NULL) AS in_books
FROM series s JOIN item i ON i.id = s.item LEFT JOIN line l ON l.id = s.line LEFT JOIN ticket t ON t.id = l.ticket
"""
OF_PEOPLE = f"""
{COLUMNS} WHERE s.person IN (SELECT value FROM json_each(?)) AND l.removed_at IS NULL
  AND (s.net IS NOT NULL AND s.until >= ? OR l.ticket = ?) ORDER BY s.until, s.id
"""
OF_PERSON = f"{COLUMNS} WHERE s.person = ? AND s.net IS NOT NULL ORDER BY s.until, s.id"
ON_TICKET = f"{COLUMNS} WHERE l.ticket = ? AND l.removed_at IS NULL ORDER BY s.id"
MANY = f"{COLUMNS} WHERE s.id IN (SELECT value FROM json_each(?)) ORDER BY s.id"
SOLD = f"{COLUMNS} WHERE s.net IS NOT NULL ORDER BY s.id"
OVER = f"{COLUMNS} WHERE s.until <= ? AND s.net IS NOT NULL ORDER BY s.id"
ANY = "SELECT EXISTS (SELECT 1 FROM series)"
ADD = "INSERT INTO series (line, item, person, uses) VALUES (?, ?, ?, ?)"
BRING = """
INSERT INTO series (item, person, uses, net, sold_on, until, had_before, brought) VALUES (?, ?, ?, ?, ?, ?, ?, ?)
"""
SET_PERSON = "UPDATE series SET person = ? WHERE id = ?"
SELL = "UPDATE series SET net = ?, sold_on = ?, until = ? WHERE id = ?"
USES_ON = """
SELECT u.id, u.series, u.number, u.adjustment, a.line, a.amount, u.worth,
       a.ended_at IS NULL AND l.removed_at IS NULL AS stands
FROM series_use u JOIN adjustment a ON a.id = u.adjustment JOIN line l ON l.id = a.line
WHERE a.ticket = ? AND u.freed_at IS NULL ORDER BY u.id
"""
ADD_USE = "INSERT INTO series_use (series, number, adjustment, refund, at, worth) VALUES (?, ?, ?, ?, ?, ?)"
BOOK_USE = "UPDATE series_use SET worth = ? WHERE id = ?"
FREE_USE = "UPDATE series_use SET freed_at = ? WHERE id = ?"
OF_REFUND = "SELECT series, number FROM series_use WHERE refund = ? AND freed_at IS NULL ORDER BY number"
BOOK_REFUND = "UPDATE series_use SET worth = ? WHERE refund = ? AND series = ? AND number = ? AND freed_at IS NULL"
FREE_REFUND = "UPDATE series_use SET freed_at = ? WHERE refund = ?"
GONE = """
SELECT u.number, u.at, a.ticket, t.number AS ticket_number, l.label AS line, u.refund IS NOT NULL AS given_back
FROM series_use u LEFT JOIN adjustment a ON a.id = u.adjustment LEFT JOIN ticket t ON t.id = a.ticket
                  LEFT JOIN line l ON l.id = a.line
WHERE u.series = ? AND u.freed_at IS NULL ORDER BY u.number
"""
SAVED = "SELECT series FROM series_saved WHERE ticket = ?"
SAVE = "INSERT OR IGNORE INTO series_saved (ticket, series) VALUES (?, ?)"
UNSAVE = "DELETE FROM series_saved WHERE ticket = ? AND series = ?"


def _read(connection: Connection, sql: str, *given: object) -> list[Series]:
    return [
        record(Series, row, items=tuple(json.loads(row["items"])),
               gone=(*range(1, row["had_before"] + 1), *json.loads(row["gone"])))
        for row in connection.execute(sql, given)
    ]  # fmt: skip


def list_kinds(connection: Connection) -> list[SeriesKind]:
    """The series that the house sells."""
    return [record(SeriesKind, row, items=tuple(json.loads(row["items"]))) for row in connection.execute(KINDS)]


def add_kind(connection: Connection, kind: SeriesKind) -> None:
    """Keep what a series is."""
    connection.execute(ADD_KIND, (kind.item, kind.uses, kind.days))
    connection.executemany(ADD_ITEM, [(kind.item, item) for item in kind.items])


def any_sold(connection: Connection) -> bool:
    """Whether a series was ever put on a ticket."""
    return bool(connection.execute(ANY).fetchone()[0])


def add(connection: Connection, line: int, kind: SeriesKind, person: int) -> None:
    """A line sells a series to somebody."""
    connection.execute(ADD, (line, kind.item, person, kind.uses))


def bring(connection: Connection, one: Series) -> None:
    """Somebody has a series from before; its id is given anew, its name is its item's."""
    facts = (one.item, one.person, one.uses, one.net, one.sold_on, one.until, one.had_before, one.brought)
    connection.execute(BRING, facts)


def of_people(connection: Connection, people: Iterable[int], on: str, ticket: int) -> list[Series]:
    """What people can use on a date (ISO), and what is being sold on a ticket; the one that ends first comes first."""
    return _read(connection, OF_PEOPLE, json.dumps(list(people)), on, ticket)


def of_person(connection: Connection, person: int) -> list[Series]:
    """All series that somebody has paid, also those that are used up or over."""
    return _read(connection, OF_PERSON, person)


def on_ticket(connection: Connection, ticket: int) -> list[Series]:
    """The series that a ticket sells."""
    return _read(connection, ON_TICKET, ticket)


def read_many(connection: Connection, series: Iterable[int]) -> list[Series]:
    """Series by id."""
    return _read(connection, MANY, json.dumps(list(series)))


def sold(connection: Connection) -> list[Series]:
    """All series that were paid."""
    return _read(connection, SOLD)


def over_on(connection: Connection, date: str) -> list[Series]:
    """The series whose last day is this one (ISO) or an earlier one."""
    return _read(connection, OVER, date)


def set_person(connection: Connection, series: int, person: int) -> None:
    """Whose a series is that is being sold."""
    connection.execute(SET_PERSON, (person, series))


def set_sold(connection: Connection, series: int, net: int | None, sold_on: str | None, until: str | None) -> None:
    """What was paid for a series without tax, when, and its last day; None when its sale is turned round."""
    connection.execute(SELL, (net, sold_on, until, series))


def uses_on(connection: Connection, ticket: int) -> list[SeriesUse]:
    """The uses on a ticket that are not free, also those whose line was taken off."""
    return [record(SeriesUse, row) for row in connection.execute(USES_ON, (ticket,))]


def add_use(
    connection: Connection,
    use: tuple[int, int],
    at: str,
    *,
    adjustment: int | None = None,
    refund: int | None = None,
    worth: int | None = None,
) -> None:
    """A use (a series, its number) is gone."""
    connection.execute(ADD_USE, (*use, adjustment, refund, at, worth))


def book_use(connection: Connection, use: int, worth: int | None) -> None:
    """What a use took of its series in the books; None when that is turned round."""
    connection.execute(BOOK_USE, (worth, use))


def free_use(connection: Connection, use: int, at: str) -> None:
    """A use is free again."""
    connection.execute(FREE_USE, (at, use))


def of_refund(connection: Connection, refund: int) -> list[tuple[int, int]]:
    """The uses (series, number) that went back with a refund."""
    return [(row["series"], row["number"]) for row in connection.execute(OF_REFUND, (refund,))]


def book_refund(connection: Connection, refund: int, use: tuple[int, int], worth: int) -> None:
    """What a use that went back took of its series in the books."""
    connection.execute(BOOK_REFUND, (worth, refund, *use))


def free_refund(connection: Connection, refund: int, at: str) -> None:
    """A refund came to nothing: its uses are free again."""
    connection.execute(FREE_REFUND, (at, refund))


def gone(connection: Connection, series: int) -> list[GoneUse]:
    """What became of the uses of a series that are not free, by their numbers."""
    return [record(GoneUse, row) for row in connection.execute(GONE, (series,))]


def saved_on(connection: Connection, ticket: int) -> set[int]:
    """The series that are kept for another day on a ticket."""
    return {row["series"] for row in connection.execute(SAVED, (ticket,))}


def save(connection: Connection, ticket: int, series: int) -> None:
    """A series is not used on a ticket, but kept for another day."""
    connection.execute(SAVE, (ticket, series))


def unsave(connection: Connection, ticket: int, series: int) -> None:
    """A series is used on a ticket after all."""
    connection.execute(UNSAVE, (ticket, series))
