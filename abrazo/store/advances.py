"""Deposits as advances: what is held of each, and the taxes in it."""

from __future__ import annotations

import json
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from abrazo.core.advances import AdvanceTax
from abrazo.store.db import Connection, record


@dataclass(frozen=True, slots=True)
class Advance:
    """A line that took a deposit, for a job or a booking, and what is held of it; minor units."""

    line: int
    ticket: int
    job: int | None
    booking: int | None
    deposit: int
    held: int


READ = """
SELECT l.id AS line, l.ticket, l.job, l.booking, l.unit_price AS deposit,
  CASE WHEN l.removed_at IS NOT NULL OR t.state <> 'closed' THEN 0 ELSE l.unit_price
  - (SELECT coalesce(sum(p.amount), 0) FROM payment p JOIN ticket u ON u.id = p.ticket
     WHERE p.deposit = l.id AND p.taken_back_at IS NULL AND u.state = 'closed')
  - (SELECT coalesce(sum(b.amount), 0) FROM petty_cash b WHERE b.deposit = l.id)
  - (SELECT coalesce(sum(r.amount), 0) FROM refund r WHERE r.deposit = l.id AND r.state = 'done')
  - (SELECT coalesce(sum(g.amount), 0) FROM refund_part g JOIN refund r ON r.id = g.refund
     WHERE g.kind = 'line' AND g.ref = l.id AND r.state = 'done')
  - (SELECT coalesce(sum(k.amount), 0) FROM deposit_retained k WHERE k.line = l.id) END AS held
FROM line l JOIN ticket t ON t.id = l.ticket
WHERE l.role = 'deposit' AND l.unit_price > 0 AND l.id IN (SELECT value FROM json_each(?)) ORDER BY l.id
"""
TAXES = "SELECT tax, gross, amount, held_gross, held_amount FROM advance_tax WHERE line = ? ORDER BY rowid"
CLEAR = "DELETE FROM advance_tax WHERE line = ?"
PUT = "INSERT INTO advance_tax (line, tax, gross, amount) VALUES (?, ?, ?, ?)"
SET_HELD = "UPDATE advance_tax SET held_gross = ?, held_amount = ? WHERE line = ? AND tax = ?"
HELD_OF = """
SELECT tax, sum(held_gross) AS gross, sum(held_amount) AS amount FROM advance_tax
WHERE line IN (SELECT value FROM json_each(?)) GROUP BY tax HAVING sum(held_amount) <> 0 ORDER BY min(rowid)
"""
ALL_HELD = "SELECT coalesce(sum(held_amount), 0) FROM advance_tax"


def read(connection: Connection, lines: Iterable[int]) -> list[Advance]:
    """Deposits by their lines, with what is held of each."""
    wanted = list(lines)
    return [record(Advance, row) for row in connection.execute(READ, (json.dumps(wanted),))] if wanted else []


def taxes_of(connection: Connection, line: int) -> list[tuple[AdvanceTax, AdvanceTax]]:
    """The taxes in a deposit: in the whole of it, and in what is held."""
    return [
        (
            AdvanceTax(row["tax"], row["gross"], row["amount"]),
            AdvanceTax(row["tax"], row["held_gross"], row["held_amount"]),
        )
        for row in connection.execute(TAXES, (line,))
    ]


def put(connection: Connection, line: int, taxes: Sequence[AdvanceTax]) -> None:
    """The taxes in the whole of a deposit, of which nothing is held yet."""
    connection.execute(CLEAR, (line,))
    connection.executemany(PUT, [(line, one.tax, one.gross, one.amount) for one in taxes])


def set_held(connection: Connection, line: int, taxes: Sequence[AdvanceTax]) -> None:
    """The taxes in what is held of a deposit now."""
    connection.executemany(SET_HELD, [(one.gross, one.amount, line, one.tax) for one in taxes])


def held_of(connection: Connection, lines: Iterable[int]) -> list[AdvanceTax]:
    """The taxes in what is held of some deposits together."""
    return [record(AdvanceTax, row) for row in connection.execute(HELD_OF, (json.dumps(list(lines)),))]


def held_tax(connection: Connection) -> int:
    """The tax in all that is held, minor units."""
    return int(connection.execute(ALL_HELD).fetchone()[0])
