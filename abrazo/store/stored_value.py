"""Gift cards and vouchers by number, store credit by person, points. What is on one is the sum of what was done."""

from __future__ import annotations

import json
from collections.abc import Iterable
from dataclasses import dataclass

from abrazo.core.money import totals
from abrazo.store.db import Connection, record


@dataclass(frozen=True, slots=True)
class Stored:
    """A gift card, a voucher, or somebody's store credit. `good_until` is an ISO date, or empty.

    `opening` is what was on it (minor units) when it was `brought` in with a file.
    """

    id: int
    kind: str
    code: str | None
    person: int | None
    made_at: str
    made_by: str
    good_until: str | None = None
    opening: int = 0
    brought: int | None = None

    @property
    def ending(self) -> str:
        """How its number ends: enough to tell it, too little to use it."""
        return (self.code or "")[-4:]


COLUMNS = "SELECT id, kind, code, person, made_at, made_by, good_until, opening, brought FROM stored_value "
ONE = COLUMNS + "WHERE id = ?"
BY_CODE = COLUMNS + "WHERE code = ?"
CREDIT_OF = COLUMNS + "WHERE kind = 'store credit' AND person = ?"
ADD = """
INSERT INTO stored_value (kind, code, person, made_at, made_by, good_until, opening, brought)
VALUES (?, ?, ?, ?, ?, ?, ?, ?)
"""
# What it was brought in with; sold or topped up on closed tickets, less what was given back of that; credit given by
# payments; less what was spent, and again what was refunded to it.
BALANCE = """
SELECT coalesce((SELECT opening FROM stored_value WHERE id = :one), 0)
     + coalesce((SELECT sum(l.unit_price - (SELECT coalesce(sum(g.amount), 0)
                        FROM refund_part g JOIN refund r ON r.id = g.refund
                        WHERE g.kind = 'line' AND g.ref = l.id AND r.state <> 'not done'))
                 FROM line l JOIN ticket t ON t.id = l.ticket
                 WHERE l.stored = :one AND l.removed_at IS NULL AND t.state = 'closed'), 0)
     + coalesce((SELECT sum(p.credit - CASE WHEN p.tender IN ('gift card', 'voucher', 'store credit')
                                            THEN p.amount + p.tip ELSE 0 END)
                 FROM payment p WHERE p.stored = :one AND p.taken_back_at IS NULL), 0)
     + coalesce((SELECT sum(r.amount) FROM refund r JOIN payment p ON p.id = r.payment
                 WHERE p.stored = :one AND p.tender IN ('gift card', 'store credit') AND r.state = 'done'), 0)
"""
MANY = COLUMNS + "WHERE id IN (SELECT value FROM json_each(?)) ORDER BY id"
EVERY = f"""
SELECT s.id, s.kind, ({BALANCE.replace(":one", "s.id")}) AS amount, s.code, s.person
FROM stored_value s ORDER BY s.id
"""
EVERY_POINTS = "SELECT person, sum(points) AS points FROM points GROUP BY person ORDER BY person"
SPENT = """
SELECT count(*) FROM payment
WHERE stored = ? AND tender IN ('gift card', 'voucher', 'store credit') AND taken_back_at IS NULL
"""
MOVES = """
SELECT at, kind, number, amount FROM (
  SELECT made_at AS at, 'brought in' AS kind, NULL AS number, opening AS amount
  FROM stored_value WHERE id = :one AND brought IS NOT NULL
  UNION ALL
  SELECT t.closed_at AS at, 'sold' AS kind, t.number, l.unit_price AS amount
  FROM line l JOIN ticket t ON t.id = l.ticket WHERE l.stored = :one AND l.removed_at IS NULL AND t.state = 'closed'
  UNION ALL SELECT r.at, 'given back', t.number, -g.amount
  FROM refund_part g JOIN refund r ON r.id = g.refund JOIN line l ON l.id = g.ref JOIN ticket t ON t.id = l.ticket
  WHERE g.kind = 'line' AND l.stored = :one AND r.state <> 'not done'
  UNION ALL SELECT p.at, 'left over', t.number, p.credit
  FROM payment p JOIN ticket t ON t.id = p.ticket WHERE p.stored = :one AND p.credit > 0 AND p.taken_back_at IS NULL
  UNION ALL SELECT p.at, 'spent', t.number, -(p.amount + p.tip)
  FROM payment p JOIN ticket t ON t.id = p.ticket
  WHERE p.stored = :one AND p.tender IN ('gift card', 'voucher', 'store credit') AND p.taken_back_at IS NULL
  UNION ALL SELECT r.at, 'refunded', t.number, r.amount
  FROM refund r JOIN payment p ON p.id = r.payment JOIN ticket t ON t.id = r.ticket
  WHERE p.stored = :one AND p.tender IN ('gift card', 'store credit') AND r.state = 'done'
) ORDER BY at
"""
ADD_POINTS = "INSERT INTO points (person, ticket, payment, points, at) VALUES (?, ?, ?, ?, ?)"
BRING_POINTS = "INSERT INTO points (person, points, at, brought) VALUES (?, ?, ?, ?)"
POINTS = "SELECT coalesce(sum(points), 0) FROM points WHERE person = ?"
EARNED_ON = "SELECT coalesce(sum(points), 0) FROM points WHERE ticket = ? AND person = ? AND payment IS NULL"
POINTS_OF_PAYMENT = "SELECT coalesce(sum(points), 0) FROM points WHERE payment = ?"


def read(connection: Connection, stored: int) -> Stored | None:
    """A gift card, voucher or credit, None when there is no such."""
    row = connection.execute(ONE, (stored,)).fetchone()
    return record(Stored, row) if row else None


def by_code(connection: Connection, code: str) -> Stored | None:
    """The same by its number."""
    row = connection.execute(BY_CODE, (code,)).fetchone()
    return record(Stored, row) if row else None


def credit_of(connection: Connection, person: int) -> Stored | None:
    """Somebody's store credit, if there ever was any."""
    row = connection.execute(CREDIT_OF, (person,)).fetchone()
    return record(Stored, row) if row else None


def add(connection: Connection, stored: Stored) -> int:
    """Keep a gift card or the like; its id is given anew."""
    s = stored
    facts = (s.kind, s.code, s.person, s.made_at, s.made_by, s.good_until, s.opening, s.brought)
    row = connection.execute(ADD, facts).lastrowid
    assert row is not None
    return row


def balance(connection: Connection, stored: int) -> int:
    """What is on it, in minor units."""
    return int(connection.execute(BALANCE, {"one": stored}).fetchone()[0])


def owed_by_kind(connection: Connection) -> dict[str, int]:
    """What is on all gift cards, vouchers and credits together, in minor units, by kind."""
    return totals((one.kind, one.amount) for one in everything(connection))


@dataclass(frozen=True, slots=True)
class Standing:
    """A gift card, a voucher or somebody's credit with what is on it now, in minor units."""

    id: int
    kind: str
    amount: int
    code: str | None = None
    person: int | None = None


def read_many(connection: Connection, stored: Iterable[int]) -> list[Stored]:
    """Stored values by id; those that are not there are left out."""
    return [record(Stored, row) for row in connection.execute(MANY, (json.dumps(list(stored)),))]


def everything(connection: Connection) -> list[Standing]:
    """Every gift card, voucher and credit that there ever was, with what is on it."""
    return [record(Standing, row) for row in connection.execute(EVERY)]


def points_by_person(connection: Connection) -> dict[int, int]:
    """The points of everybody who ever had any."""
    return {row["person"]: row["points"] for row in connection.execute(EVERY_POINTS)}


def is_spent(connection: Connection, stored: int) -> bool:
    """Whether anything was paid with it."""
    return bool(connection.execute(SPENT, (stored,)).fetchone()[0])


def moves(connection: Connection, stored: int) -> list[tuple[str, str, int | None, int]]:
    """Everything that was put on and taken off: when, what (sold, spent, refunded and the like), ticket number, sum."""
    return [tuple(row) for row in connection.execute(MOVES, {"one": stored})]


def add_points(connection: Connection, person: int, ticket: int, payment: int | None, points: int, at: str) -> None:
    """Note points that somebody earned or spent."""
    connection.execute(ADD_POINTS, (person, ticket, payment, points, at))


def bring_points(connection: Connection, person: int, points: int, at: str, brought: int) -> None:
    """Points that somebody had before came in with a file; negative takes them back."""
    connection.execute(BRING_POINTS, (person, points, at, brought))


def points_of(connection: Connection, person: int) -> int:
    """How many points somebody has."""
    return int(connection.execute(POINTS, (person,)).fetchone()[0])


def earned_on(connection: Connection, ticket: int, person: int) -> int:
    """What a ticket has earned for somebody so far."""
    return int(connection.execute(EARNED_ON, (ticket, person)).fetchone()[0])


def points_of_payment(connection: Connection, payment: int) -> int:
    """The points that a payment stands for, negative while it stands."""
    return int(connection.execute(POINTS_OF_PAYMENT, (payment,)).fetchone()[0])
