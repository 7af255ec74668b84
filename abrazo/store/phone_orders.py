"""Orders by phone: what their ticket does not say."""

from __future__ import annotations

import json
from collections.abc import Iterable
from dataclasses import dataclass

from abrazo.core.states import OrderWay
from abrazo.store.db import Connection, record


@dataclass(frozen=True, slots=True)
class PhoneOrder:
    """How an order reaches its people: `way` is pick-up or delivery; phone as E.164 or empty."""

    way: OrderWay
    phone: str = ""
    address: str = ""
    directions: str = ""


ADD = "INSERT INTO phone_order (ticket, way, phone, address, directions) VALUES (?, ?, ?, ?, ?)"
READ = "SELECT way, phone, address, directions FROM phone_order WHERE ticket = ?"
READ_MANY = """
SELECT ticket, way, phone, address, directions FROM phone_order WHERE ticket IN (SELECT value FROM json_each(?))
"""


def add(connection: Connection, ticket: int, order: PhoneOrder) -> None:
    """Keep how an order reaches those who ordered."""
    connection.execute(ADD, (ticket, order.way, order.phone, order.address, order.directions))


def read_many(connection: Connection, tickets: Iterable[int]) -> dict[int, PhoneOrder]:
    """The orders of tickets, by ticket; those that are no orders are left out."""
    rows = connection.execute(READ_MANY, (json.dumps(list(tickets)),)).fetchall()
    return {row["ticket"]: PhoneOrder(OrderWay(row["way"]), *row[2:]) for row in rows}


def read(connection: Connection, ticket: int) -> PhoneOrder | None:
    """How the order of a ticket reaches them, None when it is no order."""
    row = connection.execute(READ, (ticket,)).fetchone()
    return record(PhoneOrder, row) if row else None
