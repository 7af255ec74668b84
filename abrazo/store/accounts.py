"""Invoices on accounts, what pays and moves them; members, reminders, what is written off."""

from __future__ import annotations

import json
from collections.abc import Iterable
from dataclasses import dataclass

from abrazo.store.db import Connection, record


@dataclass(frozen=True, slots=True)
class OnAccount:
    """What was left unpaid on a ticket, on an account: an invoice. Minor units.

    `paper` and `paper_number` are of the invoice that was made of it; None of what is older than those.
    """

    payment: int
    ticket: int
    number: int
    person: int
    at: str
    business_date: str
    amount: int
    paper: int | None
    paper_number: str | None


@dataclass(frozen=True, slots=True)
class Received:
    """What paid somebody's account, minor units: for which invoice, if one was chosen; `pending` on an open ticket.

    `ticket` and its `number` are None for what was written off.
    """

    person: int
    invoice: int | None
    amount: int
    pending: bool
    ticket: int | None = None
    number: int | None = None


@dataclass(frozen=True, slots=True)
class Stood:
    """How a ledger account stood before some business dates and after them, minor units, and how often it moved."""

    account: str
    opening: int
    closing: int
    moves: int


@dataclass(frozen=True, slots=True)
class Moved:
    """What one ticket came to on an account on a business date, minor units; below zero: it came in.

    `papers` are the numbers of the invoices and credit notes that were made of it to the account, with blanks between.
    """

    business_date: str
    ticket: int | None
    number: int | None
    amount: int
    papers: str | None


@dataclass(frozen=True, slots=True)
class Member:
    """Somebody who may put sums on a company's account, up to a limit of what they owe there (minor units)."""

    company: int
    person: int
    limit: int | None


@dataclass(frozen=True, slots=True)
class WriteOff:
    """What of an invoice will never be paid, with its tax; minor units."""

    payment: int
    account: int
    amount: int
    tax: int
    reason: str
    at: str
    day: int
    till: str
    staff: str
    lender: str | None


ALWAYS = "9999-12-31"  # a business date after all others
INVOICES = """
SELECT p.id AS payment, t.id AS ticket, t.number, p.account AS person, p.at, d.business_date, p.amount + p.tip
  - (SELECT coalesce(sum(r.amount), 0) FROM refund r WHERE r.payment = p.id AND r.state = 'done') AS amount,
  i.id AS paper, i.document ->> '$.number' AS paper_number
FROM payment p JOIN ticket t ON t.id = p.ticket JOIN day d ON d.id = p.day LEFT JOIN invoice i ON i.id = (
  SELECT max(m.id) FROM invoice m WHERE m.ticket = p.ticket AND m.payer = p.payer AND m.kind = 'invoice')
WHERE p.tender = 'account' AND p.account IN (SELECT value FROM json_each(?)) AND p.taken_back_at IS NULL
  AND d.business_date <= ?
UNION ALL SELECT b.payment, b.ticket, t.number, b.person, b.at, d.business_date, b.amount, NULL, NULL
FROM debit_back b JOIN ticket t ON t.id = b.ticket JOIN day d ON d.id = b.day
WHERE b.besides AND b.person IN (SELECT value FROM json_each(?)) AND d.business_date <= ?
ORDER BY 5, 1
"""
OWING = """
SELECT DISTINCT p.account AS person FROM payment p
WHERE p.tender = 'account' AND p.taken_back_at IS NULL AND p.at < ?
UNION ALL SELECT NULL FROM debit_back
"""
RECEIVED = """
SELECT l.account AS person, l.invoice, l.unit_price - (
   SELECT coalesce(sum(g.amount), 0) FROM refund_part g JOIN refund r ON r.id = g.refund
   WHERE g.kind = 'line' AND g.ref = l.id AND r.state <> 'not done') AS unit_price,
  t.state = 'open' AS pending, t.id AS ticket, t.number
FROM line l JOIN ticket t ON t.id = l.ticket JOIN day d ON d.id = t.day
WHERE l.account IN (SELECT value FROM json_each(:people)) AND l.removed_at IS NULL AND t.voided_at IS NULL
  AND d.business_date <= :until
UNION ALL SELECT w.account, w.payment, w.amount, 0, NULL, NULL FROM write_off w JOIN day d ON d.id = w.day
WHERE w.account IN (SELECT value FROM json_each(:people)) AND d.business_date <= :until
"""
MOVED = """
SELECT d.business_date, j.ticket, t.number, sum(p.amount) AS amount,
  (SELECT group_concat(i.document ->> '$.number', ' ') FROM invoice i
   WHERE i.ticket = j.ticket AND i.day = j.day AND i.buyer = :person) AS papers
FROM posting p JOIN journal j ON j.number = p.entry JOIN day d ON d.id = j.day LEFT JOIN ticket t ON t.id = j.ticket
WHERE p.account = :account AND d.business_date BETWEEN :start AND :end
GROUP BY d.business_date, j.ticket HAVING sum(p.amount) <> 0 ORDER BY max(j.number)
"""
STOOD = """
SELECT p.account, coalesce(sum(p.amount) FILTER (WHERE d.business_date < :start), 0) AS opening,
  sum(p.amount) AS closing, count(*) FILTER (WHERE d.business_date >= :start) AS moves
FROM posting p JOIN journal j ON j.number = p.entry JOIN day d ON d.id = j.day
WHERE p.account GLOB :under || '*' AND d.business_date <= :end GROUP BY p.account
"""
BEFORE = """
SELECT coalesce(sum(p.amount), 0) FROM posting p JOIN journal j ON j.number = p.entry JOIN day d ON d.id = j.day
WHERE p.account = ? AND d.business_date < ?
"""


def invoices_of(connection: Connection, people: Iterable[int], until: str = ALWAYS) -> list[OnAccount]:
    """Everything that some people left unpaid up to a business date, the oldest first."""
    return [record(OnAccount, row) for row in connection.execute(INVOICES, (json.dumps(list(people)), until) * 2)]


def owing_since(connection: Connection, at: str) -> list[int | None]:
    """People who left something unpaid before then; None for each charge of a bank account that ever came back."""
    return [row["person"] for row in connection.execute(OWING, (at,))]


def received(connection: Connection, people: Iterable[int], until: str = ALWAYS) -> list[Received]:
    """What paid the accounts of some people up to a business date, or was written off."""
    asked = {"people": json.dumps(list(people)), "until": until}
    return [
        Received(
            *(row["person"], row["invoice"], row["unit_price"], bool(row["pending"])), row["ticket"], row["number"]
        )
        for row in connection.execute(RECEIVED, asked)
    ]


def moved(connection: Connection, person: int, account: str, start: str, end: str) -> list[Moved]:
    """What moved somebody's account from one business date to another, both counted, the oldest first."""
    asked = {"person": person, "account": account, "start": start, "end": end}
    return [record(Moved, row) for row in connection.execute(MOVED, asked)]


def stood(connection: Connection, under: str, start: str, end: str) -> list[Stood]:
    """How all ledger accounts whose names begin so stood over some business dates, both counted."""
    asked = {"under": under, "start": start, "end": end}
    return [record(Stood, row) for row in connection.execute(STOOD, asked)]


def balance_before(connection: Connection, account: str, start: str) -> int:
    """What stood on an account before a business date, minor units."""
    return int(connection.execute(BEFORE, (account, start)).fetchone()[0])


MEMBERS_OF = """
SELECT company, person, limit_amount AS "limit" FROM account_member WHERE ended_at IS NULL AND company = ? ORDER BY id
"""
COMPANIES_OF = """
SELECT company, person, limit_amount AS "limit" FROM account_member WHERE ended_at IS NULL AND person = ? ORDER BY id
"""
END_MEMBER = "UPDATE account_member SET ended_at = ? WHERE company = ? AND person = ? AND ended_at IS NULL"
ADD_MEMBER = "INSERT INTO account_member (company, person, limit_amount) VALUES (?, ?, ?)"
PUT_BY = """
SELECT p.id, t.person FROM payment p JOIN ticket t ON t.id = p.ticket WHERE p.account = ? AND p.taken_back_at IS NULL
"""
ADD_WRITE_OFF = """
INSERT INTO write_off (payment, account, amount, tax, reason, at, day, till, staff, lender)
VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
"""
WRITTEN_OFF = """
SELECT payment, account, amount, tax, reason, at, day, till, staff, lender FROM write_off WHERE payment = ? ORDER BY id
"""
REMINDED = (
    "SELECT payment, max(step) AS step FROM reminder WHERE payment IN (SELECT value FROM json_each(?)) GROUP BY payment"
)
ADD_REMINDER = "INSERT INTO reminder (payment, step, at, staff) VALUES (?, ?, ?, ?)"
LIMIT = "UPDATE person SET account_limit = ?, wants_reference = ? WHERE id = ?"


def members_of(connection: Connection, company: int) -> list[Member]:
    """Who may put sums on a company's account."""
    return [record(Member, row) for row in connection.execute(MEMBERS_OF, (company,))]


def companies_of(connection: Connection, person: int) -> list[Member]:
    """On which companies' accounts somebody may put sums."""
    return [record(Member, row) for row in connection.execute(COMPANIES_OF, (person,))]


def set_member(connection: Connection, member: Member, at: str) -> None:
    """Somebody may put sums on a company's account, up to this limit from now on."""
    end_member(connection, member.company, member.person, at)
    connection.execute(ADD_MEMBER, (member.company, member.person, member.limit))


def end_member(connection: Connection, company: int, person: int, at: str) -> None:
    """Somebody may not put sums on a company's account any more."""
    connection.execute(END_MEMBER, (at, company, person))


def put_by(connection: Connection, company: int) -> dict[int, int]:
    """Who made each invoice of a company."""
    return {row["id"]: row["person"] for row in connection.execute(PUT_BY, (company,))}


def set_terms(connection: Connection, person: int, limit: int | None, wants_reference: bool) -> None:
    """What may be owed on an account at most, and whether a purchase reference is asked for."""
    connection.execute(LIMIT, (limit, wants_reference, person))


def add_write_off(connection: Connection, given: WriteOff) -> None:
    """Keep what of an invoice will never be paid."""
    g = given
    who = (g.at, g.day, g.till, g.staff, g.lender)
    connection.execute(ADD_WRITE_OFF, (g.payment, g.account, g.amount, g.tax, g.reason, *who))


def written_off(connection: Connection, payment: int) -> list[WriteOff]:
    """What was written off of an invoice."""
    return [record(WriteOff, row) for row in connection.execute(WRITTEN_OFF, (payment,))]


def reminded(connection: Connection, payments: Iterable[int]) -> dict[int, int]:
    """The last reminder of each invoice; those of which none was sent are left out."""
    found = connection.execute(REMINDED, (json.dumps(list(payments)),))
    return {row["payment"]: row["step"] for row in found}


def add_reminder(connection: Connection, payment: int, step: int, at: str, staff: str) -> None:
    """A reminder of an invoice was sent."""
    connection.execute(ADD_REMINDER, (payment, step, at, staff))
