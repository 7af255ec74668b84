"""Cards and bank accounts that the payment service knows. Never a number: brand, last four, expiry, token, mandate."""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.store.db import Connection, record


@dataclass(frozen=True, slots=True)
class Card:
    """A card. Without a person it was keyed for one payment only; `expiry` is MM/YY.

    With a `mandate` it is a bank account of a `holder`, without brand and expiry.
    """

    id: int
    person: int | None
    token: str
    brand: str
    last_four: str
    expiry: str
    added_at: str
    added_by: str
    ended_at: str | None = None
    holder: str = ""
    mandate: str = ""

    @property
    def is_bank(self) -> bool:
        """Whether it is a bank account: what is charged to it can come back days later."""
        return bool(self.mandate)


COLUMNS = "SELECT id, person, token, brand, last_four, expiry, added_at, added_by, ended_at, holder, mandate FROM card "
ONE = COLUMNS + "WHERE id = ?"
OF_PERSON = COLUMNS + "WHERE person = ? AND ended_at IS NULL ORDER BY id"
ADD = """
INSERT INTO card (person, token, brand, last_four, expiry, added_at, added_by, holder, mandate)
VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)
"""
END = "UPDATE card SET ended_at = ? WHERE id = ?"
ADD_TRY = "INSERT INTO keyed_try (at, till, staff) VALUES (?, ?, ?)"
TRIES = "SELECT at FROM keyed_try WHERE till = ? AND at > ? AND at <= ? ORDER BY at"


def read(connection: Connection, card: int) -> Card | None:
    """A stored card, None when there is no such."""
    row = connection.execute(ONE, (card,)).fetchone()
    return record(Card, row) if row else None


def of_person(connection: Connection, person: int) -> list[Card]:
    """The cards and bank accounts that somebody has stored."""
    return [record(Card, row) for row in connection.execute(OF_PERSON, (person,))]


def add(connection: Connection, card: Card) -> int:
    """Keep a card; its id is given anew."""
    c = card
    facts = (c.person, c.token, c.brand, c.last_four, c.expiry, c.added_at, c.added_by, c.holder, c.mandate)
    row = connection.execute(ADD, facts).lastrowid
    assert row is not None
    return row


def end(connection: Connection, card: int, at: str) -> None:
    """A card is not offered any more; what was charged on it stays."""
    connection.execute(END, (at, card))


def add_try(connection: Connection, at: str, till: str, staff: str) -> None:
    """Note that a card's number was tried."""
    connection.execute(ADD_TRY, (at, till, staff))


def tries_between(connection: Connection, till: str, since: str, now: str) -> list[str]:
    """When cards were keyed at a till after one time and until another."""
    return [str(row[0]) for row in connection.execute(TRIES, (till, since, now))]
