"""What was corrected after closing: tickets opened again or made void, refunds, and what waits for a supervisor."""

from __future__ import annotations

import json
from collections.abc import Iterable
from dataclasses import dataclass

from abrazo.core.money import rest_of, total
from abrazo.core.states import CorrectionKind, RefundState, RowKind
from abrazo.store.db import Connection, Row, record


@dataclass(frozen=True, slots=True)
class Correction:
    """A closed ticket opened again, made void, or a correction handed on.

    `of_day` is the ticket's own day; `typed`, as JSON, what was filled in when it was handed on.
    """

    id: int
    ticket: int
    payment: int | None
    kind: CorrectionKind
    reason: str
    of_day: int
    day: int
    till: str
    staff: str
    lender: str | None
    at: str
    done_at: str | None = None
    typed: str = ""


@dataclass(frozen=True, slots=True)
class Refund:
    """Money given back for a closed ticket, in minor units.

    `taxes` says what went back under each tax: (tax, amount with its tax, the tax in it). `tip` is what of the amount
    is tip; `deposit` the deposit line of which it is the rest; `rounding` what cash rounding adds to it; `for_sale`
    whether goods that come back go on the shelf.
    """

    id: int
    ticket: int
    payment: int
    amount: int
    reason: str
    route: str
    day: int
    till: str
    staff: str
    lender: str | None
    at: str
    state: RefundState
    tip: int = 0
    deposit: int | None = None
    taxes: tuple[tuple[str | None, int, int], ...] = ()
    rounding: int = 0
    for_sale: bool = True

    @property
    def handed(self) -> int:
        """What really went back, cash rounded; minor units."""
        return total((self.amount, self.rounding))

    @property
    def of_bill(self) -> int:
        """What of it is of the bill, tip left out; minor units."""
        return rest_of(self.amount, self.tip)


COLUMNS = (
    "SELECT id, ticket, payment, kind, reason, of_day, day, till, staff, lender, at, done_at, typed FROM correction "
)
OF_TICKET = COLUMNS + "WHERE ticket = ? ORDER BY id"
WAITING = COLUMNS + "WHERE kind = 'handed on' AND done_at IS NULL ORDER BY id"
AMONG = "SELECT value FROM json_each(?)"
OF_DAYS = COLUMNS + f"WHERE (day IN ({AMONG}) OR of_day IN ({AMONG})) AND kind <> 'handed on' ORDER BY id"
ADD = """
INSERT INTO correction (ticket, payment, kind, reason, of_day, day, till, staff, lender, at, typed)
VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
"""
DONE = "UPDATE correction SET done_at = ? WHERE ticket = ? AND done_at IS NULL"
REFUND_DONE = """
UPDATE correction SET done_at = ? WHERE ticket = ? AND done_at IS NULL AND kind = 'handed on'
  AND json_extract(nullif(typed, ''), '$.about') = 'refund'
"""
REFUND_COLUMNS = """
SELECT id, ticket, payment, amount, reason, route, day, till, staff, lender, at, state, tip, deposit, rounding,
       for_sale, (SELECT json_group_array(json_array(tax, amount, contained)) FROM
          (SELECT tax, amount, contained FROM refund_tax WHERE refund = refund.id ORDER BY position)) AS taxes
FROM refund
"""
REFUND = REFUND_COLUMNS + "WHERE id = ?"
REFUNDS_OF = REFUND_COLUMNS + "WHERE ticket = ? ORDER BY id"
REFUNDS_ON = REFUND_COLUMNS + "WHERE day = ? AND state = 'done' ORDER BY id"
REFUNDS_OF_DAYS = f"""{REFUND_COLUMNS} WHERE state = 'done' AND (day IN ({AMONG}) OR ticket IN (
  SELECT id FROM ticket WHERE day IN ({AMONG}))) ORDER BY id
"""
ADD_REFUND = """
INSERT INTO refund (ticket, payment, amount, reason, route, day, till, staff, lender, at, state, tip, deposit, rounding,
                    for_sale)
VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
"""
ADD_TAX = "INSERT INTO refund_tax (refund, position, tax, amount, contained) VALUES (?, ?, ?, ?, ?)"
ADD_PART = "INSERT INTO refund_part (refund, kind, ref, amount, pieces) VALUES (?, ?, ?, ?, ?)"
PARTS_GIVEN = """
SELECT p.kind, p.ref, sum(p.amount) AS amount FROM refund r JOIN refund_part p ON p.refund = r.id
WHERE r.ticket = ? AND r.state <> 'not done' GROUP BY p.kind, p.ref
"""
PARTS_OF = "SELECT kind, ref, amount FROM refund_part WHERE refund = ? ORDER BY kind, ref"
PIECES_OF = "SELECT ref, pieces FROM refund_part WHERE refund = ? AND pieces IS NOT NULL ORDER BY ref"
PIECES_GIVEN = """
SELECT p.ref, p.pieces, p.amount FROM refund r JOIN refund_part p ON p.refund = r.id
WHERE r.ticket = ? AND r.state <> 'not done' AND p.pieces IS NOT NULL
"""
SET_REFUND = "UPDATE refund SET state = ? WHERE id = ? AND state = 'asked'"


def of_ticket(connection: Connection, ticket: int) -> list[Correction]:
    """The corrections of a ticket, oldest first."""
    return [record(Correction, row) for row in connection.execute(OF_TICKET, (ticket,))]


def waiting(connection: Connection) -> list[Correction]:
    """What was handed on to a supervisor and is not done."""
    return [record(Correction, row) for row in connection.execute(WAITING)]


def of_days(connection: Connection, days: Iterable[int]) -> list[Correction]:
    """Corrections made on some days, or on other days of what they sold; those that were handed on are left out."""
    among = json.dumps(list(days))
    return [record(Correction, row) for row in connection.execute(OF_DAYS, (among, among))]


def add(connection: Connection, correction: Correction) -> None:
    """Keep a correction."""
    c = correction
    what = (c.ticket, c.payment, c.kind, c.reason, c.of_day, c.day)
    connection.execute(ADD, (*what, c.till, c.staff, c.lender, c.at, c.typed))


def done(connection: Connection, ticket: int, at: str) -> None:
    """A ticket's corrections have come to their end."""
    connection.execute(DONE, (at, ticket))


def refund_done(connection: Connection, ticket: int, at: str) -> None:
    """The refunds of a ticket that were handed on have come to their end; what else was handed on waits on."""
    connection.execute(REFUND_DONE, (at, ticket))


def _refund(row: Row) -> Refund:
    taxes = tuple((tax, amount, contained) for tax, amount, contained in json.loads(row["taxes"]))
    return record(Refund, row, taxes=taxes)


def read_refund(connection: Connection, refund: int) -> Refund | None:
    """A refund, None when there is no such."""
    row = connection.execute(REFUND, (refund,)).fetchone()
    return _refund(row) if row else None


def refunds_of(connection: Connection, ticket: int) -> list[Refund]:
    """A ticket's refunds, also those asked of a machine and those that came to nothing."""
    return [_refund(row) for row in connection.execute(REFUNDS_OF, (ticket,))]


def refunds_on(connection: Connection, day: int) -> list[Refund]:
    """What was given back on a day."""
    return [_refund(row) for row in connection.execute(REFUNDS_ON, (day,))]


def refunds_of_days(connection: Connection, days: Iterable[int]) -> list[Refund]:
    """What was given back on some days, or on other days of what they sold."""
    among = json.dumps(list(days))
    return [_refund(row) for row in connection.execute(REFUNDS_OF_DAYS, (among, among))]


def add_refund(connection: Connection, refund: Refund) -> int:
    """Keep a refund; its id is given anew."""
    r = refund
    facts = (r.ticket, r.payment, r.amount, r.reason, r.route, r.day, r.till, r.staff, r.lender, r.at, r.state)
    row = connection.execute(ADD_REFUND, (*facts, r.tip, r.deposit, r.rounding, r.for_sale)).lastrowid
    assert row is not None
    connection.executemany(ADD_TAX, [(row, place, *part) for place, part in enumerate(r.taxes)])
    return row


def add_refund_parts(connection: Connection, refund: int, parts: list[tuple[RowKind, int, int, str | None]]) -> None:
    """What a refund takes off lines and charges: (line or charge, id, minor units without added tax, pieces)."""
    connection.executemany(ADD_PART, [(refund, *part) for part in parts])


def parts_given(connection: Connection, ticket: int) -> list[tuple[RowKind, int, int]]:
    """What refunds of a ticket gave back, or may be giving back, of each line and charge."""
    return [(RowKind(row["kind"]), row["ref"], row["amount"]) for row in connection.execute(PARTS_GIVEN, (ticket,))]


def parts_of(connection: Connection, refund: int) -> list[tuple[RowKind, int, int]]:
    """What a refund gives back of lines and charges."""
    return [(RowKind(row["kind"]), row["ref"], row["amount"]) for row in connection.execute(PARTS_OF, (refund,))]


def pieces_of(connection: Connection, refund: int) -> list[tuple[int, str]]:
    """Which lines come back with a refund, and how many pieces of each, as decimal text."""
    return [(row["ref"], row["pieces"]) for row in connection.execute(PIECES_OF, (refund,))]


def pieces_given(connection: Connection, ticket: int) -> list[tuple[int, str, int]]:
    """Which lines came back with a ticket's refunds, or may be coming: line, pieces, minor units."""
    return [(row["ref"], row["pieces"], row["amount"]) for row in connection.execute(PIECES_GIVEN, (ticket,))]


def set_refund(connection: Connection, refund: int, state: RefundState) -> None:
    """A refund that was asked of a machine has ended."""
    connection.execute(SET_REFUND, (state, refund))
