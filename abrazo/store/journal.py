"""The append-only record: who, when, which till, what; its postings; and requests already carried out."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from abrazo.core.ledger import Posting
from abrazo.store.db import Connection


@dataclass(frozen=True, slots=True)
class Entry:
    """One thing that somebody did, in words. `version` is the ticket's version after it."""

    id: int
    at: str
    day: int
    till: str
    staff: str
    ticket: int | None
    version: int | None
    kind: str
    what: str


ADD = """
INSERT INTO journal (at, day, till, staff, ticket, version, kind, what)
VALUES (?, ?, ?, ?, ?, (SELECT version FROM ticket WHERE id = ?), ?, ?)
"""
COLUMNS = "SELECT id, at, day, till, staff, ticket, version, kind, what FROM journal "
OF_TICKET = COLUMNS + "WHERE ticket = ? ORDER BY id"
SINCE = COLUMNS + "WHERE ticket = ? AND version > ? ORDER BY id"
ADD_POSTING = "INSERT INTO posting (journal, account, amount) VALUES (?, ?, ?)"
LATEST_AT = "SELECT id, ticket FROM journal WHERE till = ? AND ticket IS NOT NULL ORDER BY id DESC LIMIT 1"
BALANCES = "SELECT account, sum(amount) AS amount FROM posting GROUP BY account ORDER BY account"
BALANCE = "SELECT coalesce(sum(amount), 0) FROM posting WHERE account = ?"
LAST_OF = "SELECT coalesce(max(id), 0) FROM journal WHERE ticket = ?"
LATEST = "SELECT coalesce(max(id), 0) FROM journal"
TICKETS_AFTER = "SELECT DISTINCT ticket FROM journal WHERE id > ? AND ticket IS NOT NULL"
POSTED_ON = """
SELECT j.ticket, max(j.at) AS at, sum(p.amount) AS amount FROM posting p JOIN journal j ON j.id = p.journal
WHERE p.account = ? AND j.day = ? GROUP BY j.ticket HAVING sum(p.amount) <> 0 ORDER BY max(j.id) DESC
"""
UNBALANCED = "SELECT journal FROM posting GROUP BY journal HAVING sum(amount) <> 0"
POSTED = """
SELECT j.id, d.business_date, j.staff, j.what, p.account, p.amount FROM posting p
JOIN journal j ON j.id = p.journal JOIN day d ON d.id = j.day ORDER BY j.id, p.account
"""
READ_ACT = "SELECT kind, about, answer FROM act WHERE key = ?"
ADD_ACT = "INSERT INTO act (key, kind, about, at, answer) VALUES (?, ?, ?, ?, ?)"


def add(
    connection: Connection,
    entry: Entry,
    postings: Iterable[Posting] = (),
) -> int:
    """Write an entry (its id and version are given anew) with its postings."""
    e = entry
    row = connection.execute(ADD, (e.at, e.day, e.till, e.staff, e.ticket, e.ticket, e.kind, e.what)).lastrowid
    assert row is not None
    legs: dict[str, int] = {}
    for posting in postings:
        legs[posting.account] = legs.get(posting.account, 0) + posting.amount
    connection.executemany(ADD_POSTING, [(row, account, amount) for account, amount in legs.items()])
    return row


def of_ticket(connection: Connection, ticket: int) -> list[Entry]:
    return [Entry(*row) for row in connection.execute(OF_TICKET, (ticket,))]


def since(connection: Connection, ticket: int, version: int) -> list[Entry]:
    """What was done to a ticket after a version."""
    return [Entry(*row) for row in connection.execute(SINCE, (ticket, version))]


def last_of(connection: Connection, ticket: int) -> int:
    """The id of the last entry about a ticket."""
    return int(connection.execute(LAST_OF, (ticket,)).fetchone()[0])


def latest(connection: Connection) -> int:
    """The id of the last entry; 0 without any."""
    return int(connection.execute(LATEST).fetchone()[0])


def tickets_after(connection: Connection, entry: int) -> list[int]:
    """Tickets that entries after this one are about."""
    return [int(row["ticket"]) for row in connection.execute(TICKETS_AFTER, (entry,))]


def latest_at(connection: Connection, till: str) -> tuple[int, int] | None:
    """The last entry about a ticket at a till: its id, and the ticket."""
    row = connection.execute(LATEST_AT, (till,)).fetchone()
    return (row["id"], row["ticket"]) if row else None


def balances(connection: Connection) -> dict[str, int]:
    """Every account's balance in minor units; debits positive."""
    return {row["account"]: row["amount"] for row in connection.execute(BALANCES)}


def balance(connection: Connection, account: str) -> int:
    """One account's balance in minor units."""
    return int(connection.execute(BALANCE, (account,)).fetchone()[0])


def posted_on(connection: Connection, account: str, day: int) -> list[tuple[int | None, str, int]]:
    """What one day brought to an account by ticket, the latest first: ticket, when, minor units (debits positive)."""
    return [tuple(row) for row in connection.execute(POSTED_ON, (account, day))]


def unbalanced(connection: Connection) -> list[int]:
    """Entries whose postings do not add up to 0; always empty unless there is a bug."""
    return [row["journal"] for row in connection.execute(UNBALANCED)]


@dataclass(frozen=True, slots=True)
class DoneAct:
    """A request that was carried out: what kind of act, about what, and its answer."""

    kind: str
    about: str
    answer: str


def read_act(connection: Connection, key: str) -> DoneAct | None:
    """What a request's key was used for; None when it was not."""
    row = connection.execute(READ_ACT, (key,)).fetchone()
    return DoneAct(row["kind"], row["about"], row["answer"]) if row else None


def add_act(connection: Connection, key: str, kind: str, about: str, at: str, answer: str) -> None:
    connection.execute(ADD_ACT, (key, kind, about, at, answer))


def posted(connection: Connection) -> list[tuple[str, str, str, tuple[Posting, ...]]]:
    """Entries that moved money, oldest first: (business date, staff, what, postings)."""
    found: dict[int, tuple[str, str, str, list[Posting]]] = {}
    for row in connection.execute(POSTED):
        entry = found.setdefault(row["id"], (row["business_date"], row["staff"], row["what"], []))
        entry[3].append(Posting(row["account"], row["amount"]))
    return [(date, staff, what, tuple(postings)) for date, staff, what, postings in found.values()]
