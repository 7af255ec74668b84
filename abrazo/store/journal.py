"""The append-only record: who, when, which till, what; its postings; and requests already carried out."""

from __future__ import annotations

import json
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, field
from secrets import token_hex

from abrazo.core.figures import NOTHING, Booked, summed
from abrazo.core.journal import FIRST, ChainLink, Fact, Kind, canonical, link_hash, text_hash
from abrazo.core.ledger import Posting
from abrazo.core.money import totals
from abrazo.store.db import Connection, Row, record


@dataclass(frozen=True, slots=True)
class Entry:
    """One thing that somebody did: a kind with facts. `version` is the ticket's version after it.

    `facts` are ids, figures and codes; `texts` what stands apart and can be erased.
    """

    number: int
    at: str
    day: int
    till: str
    staff: str
    ticket: int | None
    version: int | None
    kind: Kind
    facts: Mapping[str, Fact] = field(default_factory=dict)
    texts: Mapping[str, str] = field(default_factory=dict)


HEAD = """
SELECT (SELECT version FROM ticket WHERE id = ?) AS version, (SELECT max(number) FROM journal) AS number,
       (SELECT hash FROM journal ORDER BY number DESC LIMIT 1) AS hash
"""
ADD = """
INSERT INTO journal (number, previous, hash, at, day, till, staff, ticket, version, kind, facts)
VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
"""
ADD_TEXT = "INSERT INTO journal_text (entry, name, salt, hash, text) VALUES (?, ?, ?, ?, ?)"
COLUMNS = "SELECT number, at, day, till, staff, ticket, version, kind, facts FROM journal "
OF_TICKET = COLUMNS + "WHERE ticket = ? ORDER BY number"
LAST_OF_BOOKING = "SELECT coalesce(max(number), 0) FROM journal WHERE facts ->> '$.booking' = ?"
LAST_OF_JOB = "SELECT coalesce(max(number), 0) FROM journal WHERE facts ->> '$.job' = ?"
OF_BOOKING = COLUMNS + "WHERE facts ->> '$.booking' = ? ORDER BY number"
OF_JOB = COLUMNS + "WHERE facts ->> '$.job' = ? ORDER BY number"
OF_DAYS = COLUMNS + "WHERE day IN (SELECT value FROM json_each(?)) ORDER BY number"
SINCE = COLUMNS + "WHERE ticket = ? AND version > ? ORDER BY number"
TEXTS = "SELECT entry, name, text FROM journal_text WHERE entry IN (SELECT value FROM json_each(?))"
ADD_FIGURE = "INSERT INTO figure (entry, kind, name, detail, count, amount, base) VALUES (?, ?, ?, ?, ?, ?, ?)"
ADD_POSTING = "INSERT INTO posting (entry, account, amount) VALUES (?, ?, ?)"
LATEST_AT = "SELECT number, ticket FROM journal WHERE till = ? AND ticket IS NOT NULL ORDER BY number DESC LIMIT 1"
BALANCES = "SELECT account, sum(amount) AS amount FROM posting GROUP BY account ORDER BY account"
BALANCES_OF = """
SELECT account, sum(amount) AS amount FROM posting WHERE account IN (SELECT value FROM json_each(?)) GROUP BY account
"""
BALANCE = "SELECT coalesce(sum(amount), 0) FROM posting WHERE account = ?"
LAST_TILL = """
SELECT till FROM journal WHERE number > (SELECT max(number) FROM journal) - ? AND staff = ? AND till IS NOT NULL
ORDER BY number DESC LIMIT 1
"""
LAST_OF = "SELECT coalesce(max(number), 0) FROM journal WHERE ticket = ?"
LATEST = "SELECT coalesce(max(number), 0) FROM journal"
LAST_ENTRY = "SELECT number, hash FROM journal ORDER BY number DESC LIMIT 1"
HASH_OF = "SELECT hash FROM journal WHERE number = ?"
WITH_HASH = "SELECT number FROM journal WHERE hash = ?"
TICKETS_AFTER = "SELECT DISTINCT ticket FROM journal WHERE number > ? AND ticket IS NOT NULL"
POSTED_ON = """
SELECT j.ticket, max(j.at) AS at, sum(p.amount) AS amount FROM posting p JOIN journal j ON j.number = p.entry
WHERE p.account = ? AND j.day = ? GROUP BY j.ticket HAVING sum(p.amount) <> 0 ORDER BY max(j.number) DESC
"""
BALANCE_UNTIL = """
SELECT coalesce(sum(p.amount), 0) FROM posting p JOIN journal j ON j.number = p.entry
WHERE p.account = ? AND j.day <= ?
"""
POSTED_BY = """
SELECT coalesce(sum(p.amount), 0) FROM posting p JOIN journal j ON j.number = p.entry
WHERE p.account = ? AND j.kind = ? AND j.day <= ?
"""
MOVED_ON = """
SELECT d.business_date, j.kind, coalesce(j.facts ->> '$.name', '') AS name, j.ticket, t.number, sum(p.amount) AS amount
FROM posting p JOIN journal j ON j.number = p.entry JOIN day d ON d.id = j.day LEFT JOIN ticket t ON t.id = j.ticket
WHERE p.account = ? AND d.business_date BETWEEN ? AND ? GROUP BY j.number HAVING sum(p.amount) <> 0 ORDER BY j.number
"""
POSTED_SINCE = """
SELECT coalesce(sum(p.amount), 0) FROM posting p JOIN journal j ON j.number = p.entry
WHERE p.account = ? AND j.at > ? AND j.kind <> ?
"""
UNBALANCED = "SELECT entry FROM posting GROUP BY entry HAVING sum(amount) <> 0"
POSTED = """
SELECT j.number, j.at, j.day, j.till, j.staff, j.ticket, j.version, j.kind, j.facts, d.business_date FROM journal j
JOIN day d ON d.id = j.day WHERE j.number IN (SELECT entry FROM posting) ORDER BY j.number
"""
CHAIN = """
SELECT number, previous, at, day, till, staff, ticket, version, kind, facts, hash FROM journal
WHERE number > ? ORDER BY number LIMIT ?
"""
POSTINGS = "SELECT entry, account, amount FROM posting WHERE entry BETWEEN ? AND ? ORDER BY entry, account"
TEXT_HASHES = "SELECT entry, name, hash FROM journal_text WHERE entry BETWEEN ? AND ?"
READ_ACT = "SELECT kind, about, answer FROM request WHERE key = ?"
ADD_ACT = "INSERT INTO request (key, kind, about, at, answer) VALUES (?, ?, ?, ?, ?)"
AT_ONCE = 1000  # entries that are read at once when the chain is walked


def add(
    connection: Connection,
    entry: Entry,
    booked: Booked = NOTHING,
) -> int:
    """Write an entry with its postings and figures, chained to the one before; number and version are given anew."""
    e, head = entry, connection.execute(HEAD, (entry.ticket,)).fetchone()
    number, previous = (head["number"] or 0) + 1, head["hash"] or FIRST
    texts = [(name, salt, text_hash(salt, text), text) for name, text in e.texts.items() for salt in [token_hex(16)]]
    legs = totals((posting.account, posting.amount) for posting in booked.postings)
    parts = tuple(Posting(account, amount) for account, amount in legs.items())
    hashes = {name: known for name, _, known, _ in texts}
    facts = _chained(e.facts, hashes, e.ticket, head["version"])
    link = ChainLink(number, previous, e.at, e.day, e.till, e.staff, e.kind, facts, parts)
    where = (number, previous, link_hash(link), e.at, e.day, e.till, e.staff, e.ticket, head["version"])
    connection.execute(ADD, (*where, e.kind, canonical(dict(e.facts))))
    connection.executemany(ADD_TEXT, [(number, *one) for one in texts])
    connection.executemany(ADD_POSTING, [(number, account, amount) for account, amount in legs.items()])
    figures = [(number, *one.key, one.count, one.amount, one.base) for one in summed(booked.figures)]
    connection.executemany(ADD_FIGURE, figures)
    return number


def _chained(
    facts: Mapping[str, Fact], hashes: Mapping[str, str], ticket: int | None, version: int | None
) -> dict[str, object]:
    """The facts as they are chained: with the ticket, its version and the hashes of the texts."""
    return {**facts, "ticket": ticket, "version": version, "texts": dict(hashes)}


def _entries(connection: Connection, rows: Iterable[Row]) -> list[Entry]:
    """Entries with their texts, in the order of their rows."""
    read = list(rows)
    texts: dict[int, dict[str, str]] = {}
    if read:
        for row in connection.execute(TEXTS, (json.dumps([row["number"] for row in read]),)):
            texts.setdefault(row["entry"], {})[row["name"]] = row["text"]
    return [_entry(row, texts.get(row["number"], {})) for row in read]


def _entry(row: Row, texts: Mapping[str, str]) -> Entry:
    where = (row["number"], row["at"], row["day"], row["till"], row["staff"], row["ticket"], row["version"])
    return Entry(*where, Kind(row["kind"]), json.loads(row["facts"]), texts)


def of_ticket(connection: Connection, ticket: int) -> list[Entry]:
    """Everything that was done to a ticket, oldest first."""
    return _entries(connection, connection.execute(OF_TICKET, (ticket,)))


def last_about(connection: Connection, what: str, thing: int) -> int:
    """The last entry about a booking or a job; 0 when there is none."""
    sql = LAST_OF_BOOKING if what == "booking" else LAST_OF_JOB
    return int(connection.execute(sql, (thing,)).fetchone()[0])


def of_booking(connection: Connection, booking: int) -> list[Entry]:
    """Everything that was done to a booking, oldest first."""
    return _entries(connection, connection.execute(OF_BOOKING, (booking,)))


def of_job(connection: Connection, job: int) -> list[Entry]:
    """Everything that was done to a job, oldest first."""
    return _entries(connection, connection.execute(OF_JOB, (job,)))


def of_days(connection: Connection, days: Iterable[int]) -> list[Entry]:
    """Everything that was done on some days, oldest first."""
    return _entries(connection, connection.execute(OF_DAYS, (json.dumps(list(days)),)))


def since(connection: Connection, ticket: int, version: int) -> list[Entry]:
    """What was done to a ticket after a version."""
    return _entries(connection, connection.execute(SINCE, (ticket, version)))


def last_of(connection: Connection, ticket: int) -> int:
    """The id of the last entry about a ticket."""
    return int(connection.execute(LAST_OF, (ticket,)).fetchone()[0])


def latest(connection: Connection) -> int:
    """The id of the last entry; 0 without any."""
    return int(connection.execute(LATEST).fetchone()[0])


def head(connection: Connection) -> tuple[int, str]:
    """How many entries there are, and the hash of the last."""
    row = connection.execute(LAST_ENTRY).fetchone()
    return (row["number"], row["hash"]) if row else (0, FIRST)


def hash_of(connection: Connection, number: int) -> str:
    """The hash of an entry; empty when there is no such."""
    row = connection.execute(HASH_OF, (number,)).fetchone()
    return str(row["hash"]) if row else ""


def has_hash(connection: Connection, wanted: str) -> bool:
    """Whether an entry has this hash."""
    return connection.execute(WITH_HASH, (wanted,)).fetchone() is not None


def tickets_after(connection: Connection, entry: int) -> list[int]:
    """Tickets that entries after this one are about."""
    return [int(row["ticket"]) for row in connection.execute(TICKETS_AFTER, (entry,))]


def latest_at(connection: Connection, till: str) -> tuple[int, int] | None:
    """The last entry about a ticket at a till: its id, and the ticket."""
    row = connection.execute(LATEST_AT, (till,)).fetchone()
    return (row["number"], row["ticket"]) if row else None


def last_till(connection: Connection, staff: str, within: int = 5000) -> str:
    """The till at which somebody did something last, among the latest entries; empty when they did nothing there."""
    row = connection.execute(LAST_TILL, (within, staff)).fetchone()
    return str(row["till"]) if row else ""


def balances(connection: Connection) -> dict[str, int]:
    """Every account's balance in minor units; debits positive."""
    return {row["account"]: row["amount"] for row in connection.execute(BALANCES)}


def balances_of(connection: Connection, accounts: Iterable[str]) -> dict[str, int]:
    """The balances of some accounts in minor units; debits positive; those that nothing was posted to are left out."""
    return {row["account"]: row["amount"] for row in connection.execute(BALANCES_OF, (json.dumps(list(accounts)),))}


def balance(connection: Connection, account: str) -> int:
    """One account's balance in minor units."""
    return int(connection.execute(BALANCE, (account,)).fetchone()[0])


def balance_until(connection: Connection, account: str, day: int) -> int:
    """What an account came to at the end of a business day, minor units (debits positive)."""
    return int(connection.execute(BALANCE_UNTIL, (account, day)).fetchone()[0])


def posted_by(connection: Connection, account: str, kind: Kind, day: int = 2**62) -> int:
    """What entries of one kind brought to an account until the end of a business day, minor units (debits positive)."""
    return int(connection.execute(POSTED_BY, (account, kind, day)).fetchone()[0])


@dataclass(frozen=True, slots=True)
class MovedBy:
    """What one entry brought to an account, minor units, debits positive; `name` is what the entry says it is about."""

    business_date: str
    kind: Kind
    name: str
    ticket: int | None
    number: int | None
    amount: int


def moved_by(connection: Connection, account: str, start: str, end: str) -> list[MovedBy]:
    """What moved an account from one business date to another, both counted, entry by entry."""
    return [record(MovedBy, row) for row in connection.execute(MOVED_ON, (account, start, end))]


def posted_since(connection: Connection, account: str, at: str, but: Kind) -> int:
    """What came to an account after a moment, but for entries of one kind; minor units (debits positive)."""
    return int(connection.execute(POSTED_SINCE, (account, at, but)).fetchone()[0])


def posted_on(connection: Connection, account: str, day: int) -> list[tuple[int | None, str, int]]:
    """What one day brought to an account by ticket, the latest first: ticket, when, minor units (debits positive)."""
    return [tuple(row) for row in connection.execute(POSTED_ON, (account, day))]


def unbalanced(connection: Connection) -> list[int]:
    """Entries whose postings do not add up to 0; always empty unless there is a bug."""
    return [row["entry"] for row in connection.execute(UNBALANCED)]


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
    """Note that an act was carried out under its key, with its answer."""
    connection.execute(ADD_ACT, (key, kind, about, at, answer))


def posted(connection: Connection) -> list[tuple[str, Entry, tuple[Posting, ...]]]:
    """Entries that moved money, oldest first: (business date, entry, postings)."""
    rows = connection.execute(POSTED).fetchall()
    if not rows:
        return []
    legs = _postings(connection, rows[0]["number"], rows[-1]["number"])
    entries = _entries(connection, rows)
    return [(row["business_date"], e, legs[e.number]) for row, e in zip(rows, entries, strict=True)]


def _postings(connection: Connection, first: int, last: int) -> dict[int, tuple[Posting, ...]]:
    found: dict[int, list[Posting]] = {}
    for row in connection.execute(POSTINGS, (first, last)):
        found.setdefault(row["entry"], []).append(Posting(row["account"], row["amount"]))
    return {entry: tuple(postings) for entry, postings in found.items()}


def chain(connection: Connection) -> Iterator[ChainLink]:
    """Every entry as it is chained, from the first."""
    after = 0
    while rows := connection.execute(CHAIN, (after, AT_ONCE)).fetchall():
        first, after = rows[0]["number"], rows[-1]["number"]
        legs = _postings(connection, first, after)
        hashes: dict[int, dict[str, str]] = {}
        for row in connection.execute(TEXT_HASHES, (first, after)):
            hashes.setdefault(row["entry"], {})[row["name"]] = row["hash"]
        for row in rows:
            number = row["number"]
            facts = _chained(json.loads(row["facts"]), hashes.get(number, {}), row["ticket"], row["version"])
            where = (number, row["previous"], row["at"], row["day"], row["till"], row["staff"], row["kind"])
            yield ChainLink(*where, facts, legs.get(number, ()), row["hash"])
