"""The lines of a ticket, with their choices and shares."""

from __future__ import annotations

import json
from collections.abc import Iterable
from dataclasses import dataclass

from abrazo.core.ledger import LineUse, Role
from abrazo.store.db import Connection


@dataclass(frozen=True, slots=True)
class LineRow:
    """A line; `shares` are (guest id, weight), none when it is the whole table's."""

    id: int
    item: str
    label: str
    unit_price: int
    quantity: str
    tax: str | None
    report_group: str
    staff: str
    note: str
    added_at: str
    removed_at: str | None
    removed_by: str | None
    unit: str = ""
    booking: int | None = None
    job: int | None = None
    stored: int | None = None
    invoice: int | None = None  # the payment on an account that this line pays
    price_list: str = ""  # the name of the list that priced it; empty: its usual price
    role: Role = Role.SALE
    account: int | None = None  # the person whose account it pays
    member: int | None = None  # of the household: the person for whom it is
    choices: tuple[tuple[str, int], ...] = ()
    shares: tuple[tuple[int, int], ...] = ()

    @property
    def is_sale(self) -> bool:
        """Whether it sells something: deposits, stored value and payments on accounts do not."""
        return self.role is Role.SALE

    @property
    def sells(self) -> bool:
        """Whether it is a sale or a series: both are taxed, discounted and tipped, and earn points."""
        return self.role in (Role.SALE, Role.SERIES)

    @property
    def use(self) -> LineUse:
        """What it does, in the books."""
        return LineUse(self.role, self.report_group, self.account, measured=bool(self.unit))


ADD_LINE_CHOICE = "INSERT INTO line_choice (line, position, label, price) VALUES (?, ?, ?, ?)"
ADD_LINE = """
INSERT INTO line (ticket, item, label, unit_price, quantity, tax, report_group, staff, note, added_at, unit,
                  booking, job, stored, invoice, price_list, role, account, member)
VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
"""


def add_line(connection: Connection, ticket: int, line: LineRow) -> int:
    """Keep a line (its own id is given anew) with its choices and shares."""
    ln = line
    what = (ln.item, ln.label, ln.unit_price, ln.quantity, ln.tax, ln.report_group, ln.staff, ln.note, ln.added_at)
    hangs_on = (ln.unit, ln.booking, ln.job, ln.stored, ln.invoice)
    whose = (ln.price_list, ln.role, ln.account, ln.member)
    row = connection.execute(ADD_LINE, (ticket, *what, *hangs_on, *whose)).lastrowid
    assert row is not None
    rows = [(row, place, label, price) for place, (label, price) in enumerate(line.choices)]
    connection.executemany(ADD_LINE_CHOICE, rows)
    set_shares(connection, row, line.shares)
    return row


DROP_LINE_SHARES = "DELETE FROM line_share WHERE line = ?"
ADD_LINE_SHARE = "INSERT INTO line_share (line, guest, weight) VALUES (?, ?, ?)"


def set_shares(connection: Connection, line: int, shares: tuple[tuple[int, int], ...]) -> None:
    """Whose a line is: weights by guest."""
    connection.execute(DROP_LINE_SHARES, (line,))
    connection.executemany(ADD_LINE_SHARE, [(line, guest, weight) for guest, weight in shares])


SET_MEMBER = "UPDATE line SET member = ? WHERE id = ?"
DROP_STRANGERS = """
UPDATE line SET member = NULL WHERE ticket = ? AND member NOT IN (SELECT value FROM json_each(?))
"""


def set_member(connection: Connection, line: int, person: int | None) -> None:
    """For which person of the household a line is; None when that is not said."""
    connection.execute(SET_MEMBER, (person, line))


def drop_strangers(connection: Connection, ticket: int, household: Iterable[int]) -> None:
    """Lines of a ticket are for nobody any more who is not of this household (person ids)."""
    connection.execute(DROP_STRANGERS, (ticket, json.dumps(list(household))))


REMOVE_LINE = "UPDATE line SET removed_at = ?, removed_by = ? WHERE id = ?"


def remove_line(connection: Connection, line: int, at: str, by: str) -> None:
    """A line was taken off."""
    connection.execute(REMOVE_LINE, (at, by, line))


MOVE_LINE = "UPDATE line SET ticket = ? WHERE id = ?"
MOVE_GIVEN = "UPDATE adjustment SET ticket = ? WHERE line = ?"


def move_line(connection: Connection, line: int, ticket: int) -> None:
    """A line moves to another ticket."""
    connection.execute(MOVE_LINE, (ticket, line))
    connection.execute(MOVE_GIVEN, (ticket, line))


SWAP_LINE = """
UPDATE line SET item = ?, label = ?, unit_price = ?, tax = ?, report_group = ?, staff = ?, unit = ? WHERE id = ?
"""
DROP_CHOICES = "DELETE FROM line_choice WHERE line = ?"


def swap_line(connection: Connection, line: LineRow, *, drop_choices: bool) -> None:
    """Write what a line is now: item, price, tax, group and who did it."""
    facts = (line.item, line.label, line.unit_price, line.tax, line.report_group, line.staff, line.unit)
    connection.execute(SWAP_LINE, (*facts, line.id))
    if drop_choices:
        connection.execute(DROP_CHOICES, (line.id,))


SET_QUANTITY = "UPDATE line SET quantity = ? WHERE id = ?"


def set_quantity(connection: Connection, line: int, quantity: str) -> None:
    """How many of a line, decimal text."""
    connection.execute(SET_QUANTITY, (quantity, line))


REWRITE_LINE = "UPDATE line SET quantity = ?, note = ?, staff = ? WHERE id = ?"


def rewrite_line(connection: Connection, line: LineRow) -> None:
    """Write a line's quantity, note, choices, shares and who served it as they are now."""
    connection.execute(REWRITE_LINE, (line.quantity, line.note, line.staff, line.id))
    connection.execute(DROP_CHOICES, (line.id,))
    rows = [(line.id, place, label, price) for place, (label, price) in enumerate(line.choices)]
    connection.executemany(ADD_LINE_CHOICE, rows)
    set_shares(connection, line.id, line.shares)


SET_PRICE = "UPDATE line SET unit_price = ? WHERE id = ?"


def set_price(connection: Connection, line: int, price: int) -> None:
    """The unit price of a line, minor units."""
    connection.execute(SET_PRICE, (price, line))
