"""The guests of a ticket and its payers."""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.core.states import RowKind, Share
from abrazo.store.db import Connection, record


@dataclass(frozen=True, slots=True)
class GuestRow:
    """A guest of a ticket."""

    id: int
    letter: str
    name: str | None
    payer: int | None


@dataclass(frozen=True, slots=True)
class PayerRow:
    """A payer; at most one of the tip's two figures is set. `stated`: what they give, in minor units.

    `fees`: how they take the charges, even or proportional; None: as the charges say.
    """

    id: int
    letter: str
    position: int
    tip_percent: str | None
    tip_amount: int | None
    settled_at: str | None
    stated: int | None = None
    fees: Share | None = None


MOVE_GUEST = "UPDATE guest SET ticket = ?, letter = ?, payer = ? WHERE id = ?"


def move_guest(connection: Connection, guest: int, ticket: int, letter: str, payer: int | None) -> None:
    """A guest goes to another ticket, with a letter of theirs there."""
    connection.execute(MOVE_GUEST, (ticket, letter, payer, guest))


GUESTS = "SELECT id, letter, name, payer FROM guest WHERE ticket = ? ORDER BY length(letter), letter"


def list_guests(connection: Connection, ticket: int) -> list[GuestRow]:
    """The guests of a ticket."""
    return [record(GuestRow, row) for row in connection.execute(GUESTS, (ticket,))]


ADD_GUEST = "INSERT INTO guest (ticket, letter, payer, name) VALUES (?, ?, ?, ?)"


def add_guest(connection: Connection, ticket: int, letter: str, payer: int | None, name: str | None = None) -> int:
    """One more guest; gives their id."""
    row = connection.execute(ADD_GUEST, (ticket, letter, payer, name)).lastrowid
    assert row is not None
    return row


SET_GUEST_PAYER = "UPDATE guest SET payer = ? WHERE id = ?"


def set_guest_payer(connection: Connection, guest: int, payer: int | None) -> None:
    """Who pays for a guest."""
    connection.execute(SET_GUEST_PAYER, (payer, guest))


NAME_GUEST = "UPDATE guest SET name = ? WHERE id = ?"


def name_guest(connection: Connection, guest: int, name: str | None) -> None:
    """The name of a guest."""
    connection.execute(NAME_GUEST, (name, guest))


END_GUEST = "DELETE FROM guest WHERE id = ?"
SHARED_BY = "SELECT 1 FROM line_share WHERE guest = ? LIMIT 1"


def end_guest(connection: Connection, guest: int) -> bool:
    """A guest leaves; False when some line, removed ones too, was ever for them."""
    if connection.execute(SHARED_BY, (guest,)).fetchone():
        return False
    connection.execute(END_GUEST, (guest,))
    return True


PAYERS = """
SELECT id, letter, position, tip_percent, tip_amount, settled_at, stated, fees FROM payer
WHERE ticket = ? AND gone_at IS NULL ORDER BY position
"""


def list_payers(connection: Connection, ticket: int) -> list[PayerRow]:
    """The payers of a ticket, in their order."""
    return [record(PayerRow, row) for row in connection.execute(PAYERS, (ticket,))]


ADD_PAYER = "INSERT INTO payer (ticket, letter, position, stated) VALUES (?, ?, ?, ?)"


def add_payer(connection: Connection, ticket: int, letter: str, position: int, stated: int | None = None) -> int:
    """One more payer; gives their id."""
    row = connection.execute(ADD_PAYER, (ticket, letter, position, stated)).lastrowid
    assert row is not None
    return row


SET_FEES = "UPDATE payer SET fees = ? WHERE id = ?"


def set_fees(connection: Connection, payer: int, share: Share | None) -> None:
    """How a payer takes the charges: even, proportional, or as the charges say."""
    connection.execute(SET_FEES, (share, payer))


SET_STATED = "UPDATE payer SET stated = ? WHERE id = ?"


def set_stated(connection: Connection, payer: int, stated: int | None) -> None:
    """What a payer gives, minor units; None: their share."""
    connection.execute(SET_STATED, (stated, payer))


SET_PAYER = "UPDATE payer SET letter = ?, position = ? WHERE id = ?"


def set_payer(connection: Connection, payer: int, letter: str, position: int) -> None:
    """A payer's letter and place."""
    connection.execute(SET_PAYER, (letter, position, payer))


END_PAYER = "UPDATE payer SET gone_at = ? WHERE id = ?"


def end_payer(connection: Connection, payer: int, at: str) -> None:
    """A payer has settled."""
    connection.execute(END_PAYER, (at, payer))


SET_TIP = "UPDATE payer SET tip_percent = ?, tip_amount = ? WHERE id = ?"


def set_tip(connection: Connection, payer: int, percent: str | None, amount: int | None) -> None:
    """A payer's tip: percent as decimal text, or minor units."""
    connection.execute(SET_TIP, (percent, amount, payer))


SET_SETTLED = "UPDATE payer SET settled_at = ? WHERE id = ?"
ADD_KEPT = "INSERT INTO settled_part (payer, kind, ref, amount) VALUES (?, ?, ?, ?)"


def settle_payer(connection: Connection, payer: int, at: str, kept: dict[tuple[RowKind, str], int]) -> None:
    """Mark a payer as settled and keep what they paid for, by (kind, ref)."""
    connection.execute(SET_SETTLED, (at, payer))
    connection.executemany(ADD_KEPT, [(payer, kind, ref, amount) for (kind, ref), amount in kept.items()])


DROP_KEPT = "DELETE FROM settled_part WHERE payer = ?"


def unsettle_payer(connection: Connection, payer: int) -> None:
    """A payer has not settled any more."""
    connection.execute(SET_SETTLED, (None, payer))
    connection.execute(DROP_KEPT, (payer,))
