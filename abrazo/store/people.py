"""People and their households. `search_words` is what the search reads; the desk writes it."""

from __future__ import annotations

import json
from collections.abc import Iterable
from dataclasses import dataclass

from abrazo.core.states import ReceiptBy
from abrazo.store.db import Connection, Row, record


@dataclass(frozen=True, slots=True)
class Person:
    """Somebody known to the house, or a company. `phone` is E.164, `birthday` an ISO date."""

    id: int
    name: str
    phone: str | None = None
    email: str | None = None
    birthday: str | None = None
    household: int | None = None
    company: bool = False
    notes: str = ""
    since: str = ""
    account: bool = False  # may pay later; companies may anyway
    account_limit: int | None = None  # what may be owed at most, minor units
    wants_reference: bool = False  # a purchase reference is asked for what is put on the account
    legal_name: str = ""  # as invoices have it; empty: the name
    address: str = ""  # one line
    country: str = ""  # ISO 3166; empty: the house's
    tax_number: str = ""  # as the authority gave it
    language: str = ""  # of papers and messages (BCP 47); empty: the house's
    merged_into: int | None = None  # who they are the same as
    erased_at: str | None = None  # since when nothing personal is held of them

    @property
    def may_owe(self) -> bool:
        """Whether something can be left unpaid on their account."""
        return self.account or self.company

    @property
    def first_name(self) -> str:
        """The first word of the name; the whole of it for a company."""
        return self.name if self.company else self.name.split()[0]


COLUMNS = "SELECT p.id, p.name, p.phone, p.email, p.birthday, p.household, p.company, p.notes, p.since, p.account, "
COLUMNS += "p.account_limit, p.wants_reference, p.legal_name, p.address, p.country, p.tax_number, p.language, "
COLUMNS += "p.merged_into, p.erased_at FROM known_person p "
ONE = COLUMNS + "WHERE p.id = ?"
MANY = COLUMNS + "WHERE p.id IN (SELECT value FROM json_each(?))"
LATEST = COLUMNS + "WHERE p.erased_at IS NULL AND p.merged_into IS NULL ORDER BY p.id DESC LIMIT ?"
COUNT = """
SELECT (SELECT count(*) FROM person WHERE erased_at IS NULL AND merged_into IS NULL) - (
  SELECT count(*) FROM person WHERE file_import IN (SELECT id FROM file_import WHERE state <> 'done'))
"""
FOUND = COLUMNS + "JOIN person_words w ON w.rowid = p.id WHERE person_words MATCH ? ORDER BY p.name, p.id LIMIT ?"
BEGINNING = COLUMNS + "WHERE p.search_words >= ? AND p.search_words < ? ORDER BY p.search_words LIMIT ?"
BY_PHONE = COLUMNS + "WHERE p.phone = ? AND p.merged_into IS NULL"
IN_HOUSEHOLD = COLUMNS + "WHERE p.household = ? AND p.merged_into IS NULL ORDER BY p.id"
ADD = """
INSERT INTO person
  (name, phone, email, birthday, household, company, notes, since, search_words, account, language, file_import)
VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
"""
CHANGE = """
UPDATE person SET name = ?, phone = ?, email = ?, birthday = ?, household = ?, company = ?, notes = ?, search_words = ?,
       account = ?, language = ?
WHERE id = ?
"""
SET_BUYER = "UPDATE person SET legal_name = ?, address = ?, country = ?, tax_number = ? WHERE id = ?"
RECEIPT_BY = "SELECT receipt_by FROM person WHERE id = ?"
SET_RECEIPT_BY = "UPDATE person SET receipt_by = ? WHERE id = ?"
HOUSEHOLD_NAME = "SELECT name FROM household WHERE id = ?"
HOUSEHOLD_NAMES = "SELECT id, name FROM household WHERE id IN (SELECT value FROM json_each(?))"
HOUSEHOLD_CALLED = "SELECT id FROM household WHERE name = ? ORDER BY id LIMIT 1"
ADD_HOUSEHOLD = "INSERT INTO household (name) VALUES (?)"


def _person(row: Row) -> Person:
    return record(Person, row)


def read(connection: Connection, person: int) -> Person | None:
    """Somebody, None when there is no such person."""
    row = connection.execute(ONE, (person,)).fetchone()
    return _person(row) if row else None


def read_many(connection: Connection, people: Iterable[int]) -> dict[int, Person]:
    """People by id; those that are not there are left out."""
    return {row["id"]: _person(row) for row in connection.execute(MANY, (json.dumps(list(people)),))}


LAST_HERE = """
SELECT value AS person, (SELECT opened_at FROM ticket WHERE person = value ORDER BY id DESC LIMIT 1) AS opened_at,
  (SELECT max(starts_at) FROM booking WHERE person = value AND starts_at < ? AND state <> 'cancelled') AS starts_at
FROM json_each(?)
"""


def last_here(connection: Connection, people: Iterable[int], until: str) -> dict[int, tuple[str | None, str | None]]:
    """When the newest ticket of each was opened (UTC), and when their latest booking before a moment began (wall)."""
    rows = connection.execute(LAST_HERE, (until, json.dumps(list(people))))
    return {row["person"]: (row["opened_at"], row["starts_at"]) for row in rows}


def count(connection: Connection) -> int:
    """How many people are known."""
    return int(connection.execute(COUNT).fetchone()[0])


def latest(connection: Connection, most: int) -> list[Person]:
    """The newest first."""
    return [_person(row) for row in connection.execute(LATEST, (most,))]


def find(connection: Connection, parts: list[str], most: int) -> list[Person]:
    """People whose words hold every one of these parts, each of three letters or more."""
    match = " AND ".join('"' + part.replace('"', '""') + '"' for part in parts)
    return [_person(row) for row in connection.execute(FOUND, (match, most))]


def beginning(connection: Connection, start: str, most: int) -> list[Person]:
    """People whose words begin with one or two letters, folded."""
    last = start[:-1] + chr(ord(start[-1]) + 1)
    return [_person(row) for row in connection.execute(BEGINNING, (start, last, most))]


def by_phone(connection: Connection, phone: str) -> list[Person]:
    """Everybody with this phone number (E.164)."""
    return [_person(row) for row in connection.execute(BY_PHONE, (phone,))]


def household_of(connection: Connection, household: int) -> list[Person]:
    """The people of a household."""
    return [_person(row) for row in connection.execute(IN_HOUSEHOLD, (household,))]


def household_name(connection: Connection, household: int) -> str:
    """What a household is called."""
    return str(connection.execute(HOUSEHOLD_NAME, (household,)).fetchone()[0])


def household_names(connection: Connection, households: Iterable[int]) -> dict[int, str]:
    """The names of households, by id."""
    rows = connection.execute(HOUSEHOLD_NAMES, (json.dumps(list(households)),))
    return {row["id"]: row["name"] for row in rows}


def household_called(connection: Connection, name: str) -> int:
    """A household by its name; made when there is none."""
    row = connection.execute(HOUSEHOLD_CALLED, (name,)).fetchone()
    made = row["id"] if row else connection.execute(ADD_HOUSEHOLD, (name,)).lastrowid
    assert made is not None
    return int(made)


def add(connection: Connection, person: Person, words: str, file: int | None = None) -> int:
    """Keep a person; the id is given anew. With `file`, seen only when all that it brings is there."""
    p = person
    facts = (p.name, p.phone, p.email, p.birthday, p.household, int(p.company), p.notes, p.since)
    row = connection.execute(ADD, (*facts, words, int(p.account), p.language, file)).lastrowid
    assert row is not None
    return row


def change(connection: Connection, person: Person, words: str) -> None:
    """Change somebody's facts, and the words that they are found by."""
    p = person
    facts = (p.name, p.phone, p.email, p.birthday, p.household, int(p.company), p.notes)
    connection.execute(CHANGE, (*facts, words, int(p.account), p.language, p.id))


def set_buyer(connection: Connection, person: Person) -> None:
    """What invoices to somebody say of them."""
    p = person
    connection.execute(SET_BUYER, (p.legal_name, p.address, p.country, p.tax_number, p.id))


def receipt_by(connection: Connection, person: int) -> str:
    """How somebody likes their receipts; empty when they are asked each time."""
    return str(connection.execute(RECEIPT_BY, (person,)).fetchone()[0])


def set_receipt_by(connection: Connection, person: int, way: ReceiptBy) -> None:
    """How somebody likes their receipts."""
    connection.execute(SET_RECEIPT_BY, (way, person))
