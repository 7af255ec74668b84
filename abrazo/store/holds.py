"""Cards held for tabs. Never a card number: brand, last four, expiry and the machine's token."""

from __future__ import annotations

import json
from collections.abc import Iterable
from dataclasses import dataclass

from abrazo.core.states import HoldState
from abrazo.store.db import Connection, record


@dataclass(frozen=True, slots=True)
class Hold:
    """A sum reserved on a card, in minor units; `state` is held, used or released. Not paid before it is used."""

    id: int
    ticket: int
    machine: str
    reference: str
    amount: int
    brand: str
    last_four: str
    expiry: str
    token: str
    held_at: str
    lapses_at: str
    state: HoldState


COLUMNS = """
SELECT id, ticket, machine, reference, amount, brand, last_four, expiry, token, held_at, lapses_at, state FROM hold
"""
ONE = COLUMNS + "WHERE id = ?"
OF_TICKET = COLUMNS + "WHERE ticket = ? ORDER BY id"
HELD_NOW = COLUMNS + "WHERE ticket IN (SELECT value FROM json_each(?)) AND state = 'held' ORDER BY id DESC"
ADD = """
INSERT INTO hold (ticket, machine, reference, amount, brand, last_four, expiry, token, held_at, lapses_at)
VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
"""
END = "UPDATE hold SET state = ?, ended_at = ? WHERE id = ?"
MOVE = "UPDATE hold SET ticket = ? WHERE ticket = ?"


def read(connection: Connection, hold: int) -> Hold | None:
    """A hold, None when there is no such."""
    row = connection.execute(ONE, (hold,)).fetchone()
    return record(Hold, row) if row else None


def of_ticket(connection: Connection, ticket: int) -> list[Hold]:
    """The holds of a ticket, oldest first."""
    return [record(Hold, row) for row in connection.execute(OF_TICKET, (ticket,))]


def held_now(connection: Connection, tickets: Iterable[int]) -> dict[int, Hold]:
    """The card that stands held for each ticket, the first of them; tickets without one are left out."""
    return {row["ticket"]: record(Hold, row) for row in connection.execute(HELD_NOW, (json.dumps(list(tickets)),))}


def add(connection: Connection, hold: Hold) -> None:
    """Keep a hold on a card."""
    h = hold
    card = (h.brand, h.last_four, h.expiry, h.token, h.held_at, h.lapses_at)
    connection.execute(ADD, (h.ticket, h.machine, h.reference, h.amount, *card))


def end(connection: Connection, hold: int, state: HoldState, at: str) -> None:
    """A hold was released or used."""
    connection.execute(END, (state, at, hold))


def move(connection: Connection, ticket: int, to: int) -> None:
    """A hold follows its ticket into another."""
    connection.execute(MOVE, (to, ticket))
