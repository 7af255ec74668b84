"""Figures of the day's report, and the reports that were sealed when their day was closed."""

from __future__ import annotations

import json
from collections.abc import Iterable
from dataclasses import dataclass

from abrazo.store.db import Connection, record


@dataclass(frozen=True, slots=True)
class FigureRow:
    """Figures of a day about the same at one till, within ten minutes; `at` is a stamp without its last digits."""

    kind: str
    name: str
    detail: str
    till: str
    at: str
    count: int
    amount: int
    base: int


OF_DAY = """
SELECT f.kind, f.name, f.detail, j.till, substr(j.at, 1, 15) AS at, sum(f.count) AS count, sum(f.amount) AS amount,
       sum(f.base) AS base
FROM journal j JOIN figure f ON f.entry = j.number WHERE j.day = ?
GROUP BY f.kind, f.name, f.detail, j.till, substr(j.at, 1, 15) ORDER BY min(j.number), min(f.rowid)
"""
FIRST_AND_LAST = "SELECT min(at) AS first, max(at) AS last FROM journal WHERE day = ? AND kind = 'settled'"
MOVED_ON = """
SELECT coalesce(sum(p.amount), 0) FROM journal j JOIN posting p ON p.entry = j.number WHERE j.day = ? AND p.account = ?
"""
BALANCE_BEFORE = """
SELECT coalesce(sum(p.amount), 0) FROM posting p JOIN journal j ON j.number = p.entry WHERE p.account = ? AND j.day < ?
"""
EXCEPTIONS = """
WITH entries AS (SELECT * FROM journal WHERE day = ?)
SELECT kind, staff, till, count(*) AS count, coalesce(sum(json_extract(facts, '$.amount')), 0) AS amount FROM entries
WHERE (
  kind IN ('refunded', 'reopened', 'reopened to void', 'line repriced', 'adjusted', 'right refused', 'wrong pin')
  OR kind = 'receipt printed' AND json_extract(facts, '$.copy') > 1
     AND EXISTS (SELECT 1 FROM ticket t WHERE t.id = entries.ticket AND t.state = 'closed')
  OR kind = 'drawer counted' AND json_extract(facts, '$.again')
  OR kind IN ('line removed', 'line changed', 'cleared')
     AND EXISTS (SELECT 1 FROM journal_text t WHERE t.entry = number AND t.name = 'reason'))
GROUP BY kind, staff, till
UNION ALL
SELECT 'right lent', staff, till, count(*), 0 FROM entries
WHERE json_extract(facts, '$.lender') IS NOT NULL GROUP BY staff, till
ORDER BY 1, 2, 3
"""
SEAL = "INSERT INTO sealed_report (day, report, entries, head, owed_kept) VALUES (?, ?, ?, ?, 1)"
SEALED = "SELECT day, report FROM sealed_report WHERE day IN (SELECT value FROM json_each(?))"
SEALED_BEFORE = "SELECT report FROM sealed_report WHERE day < ? ORDER BY day DESC LIMIT 1"
HEAD_OF = "SELECT entries, head FROM sealed_report WHERE day = ?"
TURNED = """
SELECT j.ticket, j.at, -sum(f.amount) AS amount FROM journal j JOIN figure f ON f.entry = j.number
WHERE j.ticket IN (SELECT value FROM json_each(?)) AND j.kind IN ('reopened', 'reopened to void') AND f.kind = 'ticket'
GROUP BY j.number
"""


def of_day(connection: Connection, day: int) -> list[FigureRow]:
    """What a day's entries put into its report, in the order in which it first came; minor units."""
    return [record(FigureRow, row) for row in connection.execute(OF_DAY, (day,))]


def first_and_last_sale(connection: Connection, day: int) -> tuple[str, str]:
    """When the first and the last ticket of a day were closed; empty without any."""
    row = connection.execute(FIRST_AND_LAST, (day,)).fetchone()
    return row["first"] or "", row["last"] or ""


def moved_on(connection: Connection, account: str, day: int) -> int:
    """What a day brought to an account, minor units; debits positive."""
    return int(connection.execute(MOVED_ON, (day, account)).fetchone()[0])


def balance_before(connection: Connection, account: str, day: int) -> int:
    """An account's balance before a day, minor units; debits positive."""
    return int(connection.execute(BALANCE_BEFORE, (account, day)).fetchone()[0])


def exceptions(connection: Connection, day: int) -> list[tuple[str, str, str, int, int]]:
    """What an owner looks at, of a day: (kind of entry, person, till, how often, minor units)."""
    return [tuple(row) for row in connection.execute(EXCEPTIONS, (day,))]


def seal(connection: Connection, day: int, report: str, entries: int, head: str) -> None:
    """Keep the figures of a day that is closed, with the journal's count and head."""
    connection.execute(SEAL, (day, report, entries, head))


def sealed(connection: Connection, days: Iterable[int]) -> dict[int, str]:
    """The figures that were sealed when days were closed, by day; those that were not are left out."""
    return {row["day"]: row["report"] for row in connection.execute(SEALED, (json.dumps(list(days)),))}


def sealed_before(connection: Connection, day: int) -> str | None:
    """The figures of the last sealed day before a day."""
    row = connection.execute(SEALED_BEFORE, (day,)).fetchone()
    return None if row is None else str(row["report"])


def head_of(connection: Connection, day: int) -> tuple[int, str] | None:
    """How many entries the journal had when a day was sealed, and the hash of the last; None when it was not."""
    row = connection.execute(HEAD_OF, (day,)).fetchone()
    return None if row is None else (row["entries"], row["head"])


def turned_totals(connection: Connection, tickets: Iterable[int]) -> dict[tuple[int, str], int]:
    """What tickets came to when they were opened again or made void, by ticket and moment; minor units."""
    rows = connection.execute(TURNED, (json.dumps(list(tickets)),))
    return {(row["ticket"], row["at"]): row["amount"] for row in rows}
