"""Fees, deliveries and service charges of tickets."""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.core.states import Share
from abrazo.store.db import Connection


@dataclass(frozen=True, slots=True)
class ChargeRow:
    """A charge of a ticket: percent as decimal text, or an amount in minor units."""

    id: int
    label: str
    percent: str
    tax: str | None
    share: Share
    amount: int | None = None


ADD_CHARGE = "INSERT INTO charge (ticket, label, percent, tax, share, amount) VALUES (?, ?, ?, ?, ?, ?)"
SET_CHARGE_SHARE = "UPDATE charge SET share = ? WHERE id = ? AND ticket = ?"
END_CHARGE = "UPDATE charge SET ended_at = ?, ended_by = ? WHERE id = ? AND ended_at IS NULL"
MOVE_CHARGES = "UPDATE charge SET ticket = ? WHERE ticket = ?"


def add_charge(connection: Connection, ticket: int, charge: ChargeRow) -> None:
    """Put a charge on a ticket."""
    connection.execute(ADD_CHARGE, (ticket, charge.label, charge.percent, charge.tax, charge.share, charge.amount))


def set_charge_share(connection: Connection, ticket: int, charge: int, share: Share) -> None:
    """How a charge is shared."""
    connection.execute(SET_CHARGE_SHARE, (share, charge, ticket))


def end_charge(connection: Connection, charge: int, at: str, by: str) -> None:
    """A charge does not count any more; it stays as a record."""
    connection.execute(END_CHARGE, (at, by, charge))


def move_charges(connection: Connection, ticket: int, to: int) -> None:
    """Charges move to another ticket."""
    connection.execute(MOVE_CHARGES, (to, ticket))
