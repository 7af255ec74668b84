"""Tickets with their guests, payers and lines, as they are kept. Charges: store/charges.py."""

from __future__ import annotations

import json
from collections.abc import Iterable
from dataclasses import dataclass

from abrazo.core.ledger import LineUse, Role
from abrazo.core.states import RowKind, Share, Source, Split, TicketState, TipsTo
from abrazo.store.db import Connection, record


@dataclass(frozen=True, slots=True)
class TicketRow:
    """The head of a ticket. `state` is open, closed or left (ended with nothing on it).

    `source` is the door it came through: table, booking, walk-in, job, tab, counter or phone. `name` is what it is
    called when it has no table; `held_at` since when it is put aside; `promised_at` when a phone order is wanted.
    """

    id: int
    number: int
    spot: str | None
    staff: str
    till: str
    day: int
    opened_at: str
    bill_asked_at: str | None
    closed_at: str | None
    state: TicketState
    split: Split
    version: int
    source: Source = Source.TABLE
    person: int | None = None
    name: str | None = None
    held_at: str | None = None
    promised_at: str | None = None
    reopened_at: str | None = None
    voiding_at: str | None = None
    voided_at: str | None = None
    tips_to: TipsTo = TipsTo.STAFF
    price_list: str = ""
    anonymous_account: str = ""
    billed_at: str | None = None


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
    choices: tuple[tuple[str, int], ...] = ()
    shares: tuple[tuple[int, int], ...] = ()

    @property
    def is_sale(self) -> bool:
        """Whether it sells something: deposits, stored value and payments on accounts do not."""
        return self.role is Role.SALE

    @property
    def use(self) -> LineUse:
        """What it does, in the books."""
        return LineUse(self.role, self.report_group, self.account)


COUNTER_SALE = """
SELECT id FROM ticket WHERE state = 'open' AND source = 'counter' AND staff = ? AND till = ? AND held_at IS NULL
AND reopened_at IS NULL AND name IS NULL ORDER BY id DESC LIMIT 1
"""
LIST_OPEN = "SELECT id FROM ticket WHERE state = 'open' ORDER BY opened_at"
LIST_OPEN_FROM = "SELECT id FROM ticket WHERE state = 'open' AND source = ? ORDER BY opened_at"
FIND_CLOSED = """
SELECT t.id FROM ticket t
WHERE t.closed_at IS NOT NULL AND (t.state = 'closed' OR (t.state = 'left' AND t.voided_at IS NOT NULL))
"""
# What is asked for narrows it; what is not asked for is left out, so that the indexes of the rest can be used.
NARROWED = {
    "number": "AND t.number = :number",
    "since": "AND t.closed_at >= :since",
    "until": "AND t.closed_at <= :until",
    "staff": "AND t.staff = :staff",
    "till": "AND t.till = :till",
    "name": """AND t.id IN (
        SELECT id FROM ticket WHERE name IS NOT NULL AND name LIKE :name
        UNION SELECT ticket FROM guest WHERE name IS NOT NULL AND name LIKE :name
        UNION SELECT k.id FROM spot s JOIN ticket k ON k.spot = s.id WHERE s.name LIKE :name
        UNION SELECT k.id FROM person p JOIN ticket k ON k.person = p.id WHERE p.name LIKE :name)""",
    "tender": """AND EXISTS (SELECT 1 FROM payment p WHERE p.ticket = t.id AND p.tender = :tender
                             AND p.taken_back_at IS NULL)""",
    "amount": "AND t.id IN (SELECT p.ticket FROM payment p WHERE p.amount + p.tip = :amount)",
}
NEWEST = "ORDER BY t.closed_at DESC, t.id DESC LIMIT :most OFFSET :after"
PAID_UNTIL = """
SELECT t.id FROM ticket t WHERE t.state = 'open'
AND EXISTS (SELECT 1 FROM payer p WHERE p.ticket = t.id AND p.gone_at IS NULL AND p.settled_at IS NOT NULL)
AND NOT EXISTS (SELECT 1 FROM payer p WHERE p.ticket = t.id AND p.gone_at IS NULL AND p.settled_at > ?)
"""
CLOSED_ON = """
SELECT id FROM ticket WHERE day = ? AND (state = 'closed' OR (state = 'open' AND reopened_at IS NOT NULL))
ORDER BY closed_at, id
"""
BY_NUMBER = "SELECT id FROM ticket WHERE number = ?"
NEXT_NUMBER = "SELECT coalesce(max(number), 2100) + 1 FROM ticket"
ADD = """
INSERT INTO ticket (number, spot, staff, till, day, opened_at, source, person, name, tips_to)
VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, coalesce((SELECT tips_to FROM settings), 'staff'))
"""
TOUCH = "UPDATE ticket SET version = version + 1 WHERE id = ?"
SET_SPLIT = "UPDATE ticket SET split = ? WHERE id = ?"
SET_STATE = "UPDATE ticket SET state = ?, closed_at = ? WHERE id = ?"
SET_REOPENED = "UPDATE ticket SET reopened_at = ?, voiding_at = ? WHERE id = ?"
SET_VOIDED = "UPDATE ticket SET voided_at = ?, voiding_at = NULL WHERE id = ?"
SET_SPOT = "UPDATE ticket SET spot = ?, source = ? WHERE id = ?"
SET_WHO = "UPDATE ticket SET person = ?, name = ? WHERE id = ?"
SET_HELD = "UPDATE ticket SET held_at = ? WHERE id = ?"
SET_PROMISED = "UPDATE ticket SET promised_at = ? WHERE id = ?"
OPEN_OF_PERSON = "SELECT id FROM ticket WHERE person = ? AND state = 'open' AND reopened_at IS NULL ORDER BY id"
LAST_OPENED = """
SELECT person, opened_at, max(id) FROM ticket WHERE person IN (SELECT value FROM json_each(?)) GROUP BY person
"""
SET_ANONYMOUS = "UPDATE ticket SET anonymous_account = ? WHERE id = ?"
OF_PERSON = "SELECT id FROM ticket WHERE person = ? ORDER BY id DESC LIMIT ?"
MOVE_LINE = "UPDATE line SET ticket = ? WHERE id = ?"
MOVE_GUEST = "UPDATE guest SET ticket = ?, letter = ?, payer = ? WHERE id = ?"
SWAP_LINE = """
UPDATE line SET item = ?, label = ?, unit_price = ?, tax = ?, report_group = ?, staff = ?, unit = ? WHERE id = ?
"""
DROP_CHOICES = "DELETE FROM line_choice WHERE line = ?"
SET_PRICE_LIST = "UPDATE ticket SET price_list = ? WHERE id = ?"
SET_STAFF = "UPDATE ticket SET staff = ? WHERE id = ?"
SET_BILLED = "UPDATE ticket SET billed_at = ? WHERE id = ?"
SET_BILL_ASKED = "UPDATE ticket SET bill_asked_at = ? WHERE id = ?"

GUESTS = "SELECT id, letter, name, payer FROM guest WHERE ticket = ? ORDER BY length(letter), letter"
ADD_GUEST = "INSERT INTO guest (ticket, letter, payer, name) VALUES (?, ?, ?, ?)"
SET_GUEST_PAYER = "UPDATE guest SET payer = ? WHERE id = ?"
NAME_GUEST = "UPDATE guest SET name = ? WHERE id = ?"

PAYERS = """
SELECT id, letter, position, tip_percent, tip_amount, settled_at, stated, fees FROM payer
WHERE ticket = ? AND gone_at IS NULL ORDER BY position
"""
ADD_PAYER = "INSERT INTO payer (ticket, letter, position, stated) VALUES (?, ?, ?, ?)"
SET_FEES = "UPDATE payer SET fees = ? WHERE id = ?"
SET_STATED = "UPDATE payer SET stated = ? WHERE id = ?"
SET_PAYER = "UPDATE payer SET letter = ?, position = ? WHERE id = ?"
END_PAYER = "UPDATE payer SET gone_at = ? WHERE id = ?"
SET_TIP = "UPDATE payer SET tip_percent = ?, tip_amount = ? WHERE id = ?"
SET_SETTLED = "UPDATE payer SET settled_at = ? WHERE id = ?"
ADD_KEPT = "INSERT INTO settled_part (payer, kind, ref, amount) VALUES (?, ?, ?, ?)"
DROP_KEPT = "DELETE FROM settled_part WHERE payer = ?"

ADD_LINE = """
INSERT INTO line (ticket, item, label, unit_price, quantity, tax, report_group, staff, note, added_at, unit,
                  booking, job, stored, invoice, price_list, role, account)
VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
"""
ADD_LINE_CHOICE = "INSERT INTO line_choice (line, position, label, price) VALUES (?, ?, ?, ?)"
ADD_LINE_SHARE = "INSERT INTO line_share (line, guest, weight) VALUES (?, ?, ?)"
DROP_LINE_SHARES = "DELETE FROM line_share WHERE line = ?"
REMOVE_LINE = "UPDATE line SET removed_at = ?, removed_by = ? WHERE id = ?"
SET_PRICE = "UPDATE line SET unit_price = ? WHERE id = ?"
MOVE_GIVEN = "UPDATE adjustment SET ticket = ? WHERE line = ?"
REWRITE_LINE = "UPDATE line SET quantity = ?, note = ?, staff = ? WHERE id = ?"
SET_QUANTITY = "UPDATE line SET quantity = ? WHERE id = ?"

END_GUEST = "DELETE FROM guest WHERE id = ?"
SHARED_BY = "SELECT 1 FROM line_share WHERE guest = ? LIMIT 1"


def list_open(connection: Connection, source: Source | None = None) -> list[int]:
    """Open tickets, the oldest first; with a source those that came through that door."""
    rows = connection.execute(LIST_OPEN_FROM, (source,)) if source else connection.execute(LIST_OPEN)
    return [row["id"] for row in rows]


@dataclass(frozen=True, slots=True)
class Wanted:
    """Which past tickets are looked for; what is empty or None does not matter. `name` is any part of a name."""

    number: int | None = None
    since: str = ""
    until: str = ""
    staff: str = ""
    till: str = ""
    name: str = ""
    tender: str = ""
    amount: int | None = None


def find_closed(connection: Connection, wanted: Wanted, most: int, after: int = 0) -> list[int]:
    """Closed and void tickets, newest first."""
    asked = {name: getattr(wanted, name) for name in NARROWED if getattr(wanted, name) not in ("", None)}
    sql = "\n".join([FIND_CLOSED, *(NARROWED[name] for name in asked), NEWEST])
    given = asked | {"most": most, "after": after} | ({"name": f"%{wanted.name}%"} if wanted.name else {})
    return [row["id"] for row in connection.execute(sql, given)]


def paid_until(connection: Connection, at: str) -> list[int]:
    """Open tickets of which somebody has settled, and nobody after that time; others may still owe."""
    return [row["id"] for row in connection.execute(PAID_UNTIL, (at,))]


def counter_sale(connection: Connection, staff: str, till: str) -> int | None:
    """Somebody's last open counter sale at a till."""
    row = connection.execute(COUNTER_SALE, (staff, till)).fetchone()
    return int(row["id"]) if row else None


def closed_on(connection: Connection, day: int) -> list[int]:
    """Tickets opened on a day and closed, oldest first."""
    return [row["id"] for row in connection.execute(CLOSED_ON, (day,))]


def by_number(connection: Connection, number: int) -> int | None:
    """The ticket of a number, None when there is no such."""
    row = connection.execute(BY_NUMBER, (number,)).fetchone()
    return row["id"] if row else None


def add(
    connection: Connection,
    spot: str | None,
    staff: str,
    till: str,
    day: int,
    opened_at: str,
    source: Source = Source.TABLE,
    person: int | None = None,
    name: str | None = None,
    number: int | None = None,
) -> int:
    """Keep a new ticket; its number is the next one, unless it is told (history that is loaded)."""
    number = number or connection.execute(NEXT_NUMBER).fetchone()[0]
    row = connection.execute(ADD, (number, spot, staff, till, day, opened_at, source, person, name)).lastrowid
    assert row is not None
    return row


def touch(connection: Connection, ticket: int) -> None:
    """Give the ticket its next version."""
    connection.execute(TOUCH, (ticket,))


def set_split(connection: Connection, ticket: int, split: Split) -> None:
    """How a bill is split."""
    connection.execute(SET_SPLIT, (split, ticket))


def set_state(connection: Connection, ticket: int, state: TicketState, closed_at: str | None) -> None:
    """Whether a ticket is open, closed or void."""
    connection.execute(SET_STATE, (state, closed_at, ticket))


def set_bill_asked(connection: Connection, ticket: int, at: str | None) -> None:
    """When the bill was asked for; None: it was not."""
    connection.execute(SET_BILL_ASKED, (at, ticket))


def set_billed(connection: Connection, ticket: int, at: str) -> None:
    """A bill was printed for somebody who still owes."""
    connection.execute(SET_BILLED, (at, ticket))


def set_spot(connection: Connection, ticket: int, spot: str | None, source: Source) -> None:
    """At which table a ticket sits, and where it came from."""
    connection.execute(SET_SPOT, (spot, source, ticket))


def set_who(connection: Connection, ticket: int, person: int | None, name: str | None) -> None:
    """Whose a ticket is."""
    connection.execute(SET_WHO, (person, name, ticket))


def set_price_list(connection: Connection, ticket: int, price_list: str) -> None:
    """The price list of a ticket's new lines."""
    connection.execute(SET_PRICE_LIST, (price_list, ticket))


def set_staff(connection: Connection, ticket: int, staff: str) -> None:
    """Who serves a ticket."""
    connection.execute(SET_STAFF, (staff, ticket))


def set_held(connection: Connection, ticket: int, at: str | None) -> None:
    """Since when a ticket is on hold; None brings it back."""
    connection.execute(SET_HELD, (at, ticket))


def set_promised(connection: Connection, ticket: int, at: str | None) -> None:
    """For when an order is promised."""
    connection.execute(SET_PROMISED, (at, ticket))


def open_of_person(connection: Connection, person: int) -> list[int]:
    """Somebody's open tickets."""
    return [row["id"] for row in connection.execute(OPEN_OF_PERSON, (person,))]


def last_opened(connection: Connection, people: Iterable[int]) -> dict[int, str]:
    """When the newest ticket of each of these people was opened; those without one are left out."""
    return {row["person"]: row["opened_at"] for row in connection.execute(LAST_OPENED, (json.dumps(list(people)),))}


def set_anonymous(connection: Connection, ticket: int, account: str) -> None:
    """On which of the house's accounts without a customer a sale goes."""
    connection.execute(SET_ANONYMOUS, (account, ticket))


def of_person(connection: Connection, person: int, most: int = 12) -> list[int]:
    """Somebody's tickets, the newest first."""
    return [row["id"] for row in connection.execute(OF_PERSON, (person, most))]


# ---- guests and payers


def move_guest(connection: Connection, guest: int, ticket: int, letter: str, payer: int | None) -> None:
    """A guest goes to another ticket, with a letter of theirs there."""
    connection.execute(MOVE_GUEST, (ticket, letter, payer, guest))


def list_guests(connection: Connection, ticket: int) -> list[GuestRow]:
    """The guests of a ticket."""
    return [record(GuestRow, row) for row in connection.execute(GUESTS, (ticket,))]


def add_guest(connection: Connection, ticket: int, letter: str, payer: int | None, name: str | None = None) -> int:
    """One more guest; gives their id."""
    row = connection.execute(ADD_GUEST, (ticket, letter, payer, name)).lastrowid
    assert row is not None
    return row


def set_guest_payer(connection: Connection, guest: int, payer: int | None) -> None:
    """Who pays for a guest."""
    connection.execute(SET_GUEST_PAYER, (payer, guest))


def name_guest(connection: Connection, guest: int, name: str | None) -> None:
    """The name of a guest."""
    connection.execute(NAME_GUEST, (name, guest))


def end_guest(connection: Connection, guest: int) -> bool:
    """A guest leaves; False when some line, removed ones too, was ever for them."""
    if connection.execute(SHARED_BY, (guest,)).fetchone():
        return False
    connection.execute(END_GUEST, (guest,))
    return True


def list_payers(connection: Connection, ticket: int) -> list[PayerRow]:
    """The payers of a ticket, in their order."""
    return [record(PayerRow, row) for row in connection.execute(PAYERS, (ticket,))]


def add_payer(connection: Connection, ticket: int, letter: str, position: int, stated: int | None = None) -> int:
    """One more payer; gives their id."""
    row = connection.execute(ADD_PAYER, (ticket, letter, position, stated)).lastrowid
    assert row is not None
    return row


def set_fees(connection: Connection, payer: int, share: Share | None) -> None:
    """How a payer takes the charges: even, proportional, or as the charges say."""
    connection.execute(SET_FEES, (share, payer))


def set_stated(connection: Connection, payer: int, stated: int | None) -> None:
    """What a payer gives, minor units; None: their share."""
    connection.execute(SET_STATED, (stated, payer))


def set_payer(connection: Connection, payer: int, letter: str, position: int) -> None:
    """A payer's letter and place."""
    connection.execute(SET_PAYER, (letter, position, payer))


def end_payer(connection: Connection, payer: int, at: str) -> None:
    """A payer has settled."""
    connection.execute(END_PAYER, (at, payer))


def set_tip(connection: Connection, payer: int, percent: str | None, amount: int | None) -> None:
    """A payer's tip: percent as decimal text, or minor units."""
    connection.execute(SET_TIP, (percent, amount, payer))


def settle_payer(connection: Connection, payer: int, at: str, kept: dict[tuple[RowKind, str], int]) -> None:
    """Mark a payer as settled and keep what they paid for, by (kind, ref)."""
    connection.execute(SET_SETTLED, (at, payer))
    connection.executemany(ADD_KEPT, [(payer, kind, ref, amount) for (kind, ref), amount in kept.items()])


def unsettle_payer(connection: Connection, payer: int) -> None:
    """A payer has not settled any more."""
    connection.execute(SET_SETTLED, (None, payer))
    connection.execute(DROP_KEPT, (payer,))


# ---- lines


def add_line(connection: Connection, ticket: int, line: LineRow) -> int:
    """Keep a line (its own id is given anew) with its choices and shares."""
    ln = line
    what = (ln.item, ln.label, ln.unit_price, ln.quantity, ln.tax, ln.report_group, ln.staff, ln.note, ln.added_at)
    hangs_on = (ln.unit, ln.booking, ln.job, ln.stored, ln.invoice)
    row = connection.execute(ADD_LINE, (ticket, *what, *hangs_on, ln.price_list, ln.role, ln.account)).lastrowid
    assert row is not None
    rows = [(row, place, label, price) for place, (label, price) in enumerate(line.choices)]
    connection.executemany(ADD_LINE_CHOICE, rows)
    set_shares(connection, row, line.shares)
    return row


def set_shares(connection: Connection, line: int, shares: tuple[tuple[int, int], ...]) -> None:
    """Whose a line is: weights by guest."""
    connection.execute(DROP_LINE_SHARES, (line,))
    connection.executemany(ADD_LINE_SHARE, [(line, guest, weight) for guest, weight in shares])


def remove_line(connection: Connection, line: int, at: str, by: str) -> None:
    """A line was taken off."""
    connection.execute(REMOVE_LINE, (at, by, line))


def move_line(connection: Connection, line: int, ticket: int) -> None:
    """A line moves to another ticket."""
    connection.execute(MOVE_LINE, (ticket, line))
    connection.execute(MOVE_GIVEN, (ticket, line))


def swap_line(connection: Connection, line: LineRow, *, drop_choices: bool) -> None:
    """Write what a line is now: item, price, tax, group and who did it."""
    facts = (line.item, line.label, line.unit_price, line.tax, line.report_group, line.staff, line.unit)
    connection.execute(SWAP_LINE, (*facts, line.id))
    if drop_choices:
        connection.execute(DROP_CHOICES, (line.id,))


def set_quantity(connection: Connection, line: int, quantity: str) -> None:
    """How many of a line, decimal text."""
    connection.execute(SET_QUANTITY, (quantity, line))


def rewrite_line(connection: Connection, line: LineRow) -> None:
    """Write a line's quantity, note, choices, shares and who served it as they are now."""
    connection.execute(REWRITE_LINE, (line.quantity, line.note, line.staff, line.id))
    connection.execute(DROP_CHOICES, (line.id,))
    rows = [(line.id, place, label, price) for place, (label, price) in enumerate(line.choices)]
    connection.executemany(ADD_LINE_CHOICE, rows)
    set_shares(connection, line.id, line.shares)


def set_price(connection: Connection, line: int, price: int) -> None:
    """The unit price of a line, minor units."""
    connection.execute(SET_PRICE, (price, line))


def set_reopened(connection: Connection, ticket: int, at: str | None, voiding_at: str | None = None) -> None:
    """A closed ticket is opened again, to be made void when `voiding_at` is set; None when it is closed once more."""
    connection.execute(SET_REOPENED, (at, voiding_at, ticket))


def set_voided(connection: Connection, ticket: int, at: str) -> None:
    """When a ticket was made void."""
    connection.execute(SET_VOIDED, (at, ticket))
