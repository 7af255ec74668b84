"""Tickets with their guests, payers and lines, as they are kept. Charges: store/charges.py."""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.core.states import Source, Split, TicketState, TipsTo
from abrazo.store.db import Connection
from abrazo.store.numbers import Series, next_number


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
    prices_kept_at: str | None = None
    set_aside: str | None = None  # until when its goods are set aside, ISO date


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


LIST_OPEN_FROM = """
SELECT id FROM ticket WHERE state = 'open' AND source = ?
  AND id NOT IN (SELECT ticket FROM layaway WHERE ended_at IS NULL) ORDER BY opened_at
"""
LIST_OPEN = """
SELECT id FROM ticket WHERE state = 'open'
  AND id NOT IN (SELECT ticket FROM layaway WHERE ended_at IS NULL) ORDER BY opened_at
"""


LIST_FOR_TODAY = """
SELECT id FROM ticket WHERE state = 'open'
  AND id NOT IN (SELECT ticket FROM layaway WHERE ended_at IS NULL AND until >= ?) ORDER BY opened_at
"""


def list_for_today(connection: Connection, today: str) -> list[int]:
    """Open tickets as Today has them: goods set aside are among them when their day (ISO) is over."""
    return [row["id"] for row in connection.execute(LIST_FOR_TODAY, (today,))]


def list_open(connection: Connection, source: Source | None = None) -> list[int]:
    """Open tickets, the oldest first, without goods set aside; with a source those through that door."""
    rows = connection.execute(LIST_OPEN_FROM, (source,)) if source else connection.execute(LIST_OPEN)
    return [row["id"] for row in rows]


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
FIND_CLOSED = """
SELECT t.id FROM ticket t
WHERE t.closed_at IS NOT NULL AND (t.state = 'closed' OR (t.state = 'left' AND t.voided_at IS NOT NULL))
"""
NEWEST = "ORDER BY t.closed_at DESC, t.id DESC LIMIT :most OFFSET :after"


def find_closed(connection: Connection, wanted: Wanted, most: int, after: int = 0) -> list[int]:
    """Closed and void tickets, newest first."""
    asked = {name: getattr(wanted, name) for name in NARROWED if getattr(wanted, name) not in ("", None)}
    sql = "\n".join([FIND_CLOSED, *(NARROWED[name] for name in asked), NEWEST])
    given = asked | {"most": most, "after": after} | ({"name": f"%{wanted.name}%"} if wanted.name else {})
    return [row["id"] for row in connection.execute(sql, given)]


PAID_UNTIL = """
SELECT t.id FROM ticket t WHERE t.state = 'open'
AND EXISTS (SELECT 1 FROM payer p WHERE p.ticket = t.id AND p.gone_at IS NULL AND p.settled_at IS NOT NULL)
AND NOT EXISTS (SELECT 1 FROM payer p WHERE p.ticket = t.id AND p.gone_at IS NULL AND p.settled_at > ?)
"""


def paid_until(connection: Connection, at: str) -> list[int]:
    """Open tickets of which somebody has settled, and nobody after that time; others may still owe."""
    return [row["id"] for row in connection.execute(PAID_UNTIL, (at,))]


COUNTER_SALE = """
SELECT id FROM ticket WHERE state = 'open' AND source = 'counter' AND staff = ? AND till = ? AND held_at IS NULL
AND reopened_at IS NULL AND (name IS NULL OR person IS NULL) ORDER BY id DESC LIMIT 1
"""


def counter_sale(connection: Connection, staff: str, till: str) -> int | None:
    """Somebody's last open counter sale at a till."""
    row = connection.execute(COUNTER_SALE, (staff, till)).fetchone()
    return int(row["id"]) if row else None


CLOSED_ON = """
SELECT id FROM ticket WHERE day = ? AND (state = 'closed' OR (state = 'open' AND reopened_at IS NOT NULL))
ORDER BY closed_at, id
"""


def closed_on(connection: Connection, day: int) -> list[int]:
    """Tickets opened on a day and closed, oldest first."""
    return [row["id"] for row in connection.execute(CLOSED_ON, (day,))]


ENDED_ON = "SELECT id FROM ticket WHERE day = ? AND closed_at IS NOT NULL ORDER BY closed_at, id"


def ended_on(connection: Connection, day: int) -> list[int]:
    """Tickets of a day that were closed, also those that are void or open again; oldest first."""
    return [row["id"] for row in connection.execute(ENDED_ON, (day,))]


ANY_CLOSED = "SELECT EXISTS (SELECT 1 FROM ticket WHERE state = 'closed')"
BY_NUMBER = "SELECT id FROM ticket WHERE number = ?"


def any_closed(connection: Connection) -> bool:
    """Whether any ticket was ever closed."""
    return bool(connection.execute(ANY_CLOSED).fetchone()[0])


def by_number(connection: Connection, number: int) -> int | None:
    """The ticket of a number, None when there is no such."""
    row = connection.execute(BY_NUMBER, (number,)).fetchone()
    return row["id"] if row else None


ADD = """
INSERT INTO ticket (number, spot, staff, till, day, opened_at, source, person, name, tips_to)
VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, coalesce((SELECT tips_to FROM settings), 'staff'))
"""


@dataclass(frozen=True, slots=True)
class NewTicket:
    """What a ticket begins with. Its number is the next one, unless it is told (history that is loaded)."""

    staff: str
    till: str
    day: int
    opened_at: str
    spot: str | None = None
    source: Source = Source.TABLE
    person: int | None = None
    name: str | None = None
    number: int | None = None


def add(connection: Connection, new: NewTicket) -> int:
    """Keep a new ticket; gives its id."""
    number = new.number or next_number(connection, Series.TICKET, new.till)
    begun = (new.staff, new.till, new.day, new.opened_at, new.source, new.person, new.name)
    row = connection.execute(ADD, (number, new.spot, *begun)).lastrowid
    assert row is not None
    return row


TOUCH = "UPDATE ticket SET version = version + 1 WHERE id = ?"


def touch(connection: Connection, ticket: int) -> None:
    """Give the ticket its next version."""
    connection.execute(TOUCH, (ticket,))


SET_SPLIT = "UPDATE ticket SET split = ? WHERE id = ?"


def set_split(connection: Connection, ticket: int, split: Split) -> None:
    """How a bill is split."""
    connection.execute(SET_SPLIT, (split, ticket))


SET_STATE = "UPDATE ticket SET state = ?, closed_at = ? WHERE id = ?"


def set_state(connection: Connection, ticket: int, state: TicketState, closed_at: str | None) -> None:
    """Whether a ticket is open, closed or void."""
    connection.execute(SET_STATE, (state, closed_at, ticket))


SET_BILL_ASKED = "UPDATE ticket SET bill_asked_at = ? WHERE id = ?"


def set_bill_asked(connection: Connection, ticket: int, at: str | None) -> None:
    """When the bill was asked for; None: it was not."""
    connection.execute(SET_BILL_ASKED, (at, ticket))


SET_BILLED = "UPDATE ticket SET billed_at = ? WHERE id = ?"


def set_billed(connection: Connection, ticket: int, at: str) -> None:
    """A bill was printed for somebody who still owes."""
    connection.execute(SET_BILLED, (at, ticket))


SET_SPOT = "UPDATE ticket SET spot = ?, source = ? WHERE id = ?"


def set_spot(connection: Connection, ticket: int, spot: str | None, source: Source) -> None:
    """At which table a ticket sits, and where it came from."""
    connection.execute(SET_SPOT, (spot, source, ticket))


SET_WHO = "UPDATE ticket SET person = ?, name = ? WHERE id = ?"


def set_who(connection: Connection, ticket: int, person: int | None, name: str | None) -> None:
    """Whose a ticket is."""
    connection.execute(SET_WHO, (person, name, ticket))


SET_PRICE_LIST = "UPDATE ticket SET price_list = ? WHERE id = ?"


def set_price_list(connection: Connection, ticket: int, price_list: str) -> None:
    """The price list of a ticket's new lines."""
    connection.execute(SET_PRICE_LIST, (price_list, ticket))


SET_STAFF = "UPDATE ticket SET staff = ? WHERE id = ?"


def set_staff(connection: Connection, ticket: int, staff: str) -> None:
    """Who serves a ticket."""
    connection.execute(SET_STAFF, (staff, ticket))


SET_HELD = "UPDATE ticket SET held_at = ? WHERE id = ?"


def set_held(connection: Connection, ticket: int, at: str | None) -> None:
    """Since when a ticket is on hold; None brings it back."""
    connection.execute(SET_HELD, (at, ticket))


SET_PRICES_KEPT = "UPDATE ticket SET prices_kept_at = ? WHERE id = ?"


def set_prices_kept(connection: Connection, ticket: int, at: str) -> None:
    """When somebody said that a ticket which came back keeps its prices."""
    connection.execute(SET_PRICES_KEPT, (at, ticket))


SET_PROMISED = "UPDATE ticket SET promised_at = ? WHERE id = ?"


def set_promised(connection: Connection, ticket: int, at: str | None) -> None:
    """For when an order is promised."""
    connection.execute(SET_PROMISED, (at, ticket))


OPEN_OF_PERSON = "SELECT id FROM ticket WHERE person = ? AND state = 'open' AND reopened_at IS NULL ORDER BY id"


def open_of_person(connection: Connection, person: int) -> list[int]:
    """Somebody's open tickets."""
    return [row["id"] for row in connection.execute(OPEN_OF_PERSON, (person,))]


SET_ANONYMOUS = "UPDATE ticket SET anonymous_account = ? WHERE id = ?"


def set_anonymous(connection: Connection, ticket: int, account: str) -> None:
    """On which of the house's accounts without a customer a sale goes."""
    connection.execute(SET_ANONYMOUS, (account, ticket))


OF_PERSON = "SELECT id FROM ticket WHERE person = ? ORDER BY id DESC LIMIT ?"


def of_person(connection: Connection, person: int, most: int = 12) -> list[int]:
    """Somebody's tickets, the newest first."""
    return [row["id"] for row in connection.execute(OF_PERSON, (person, most))]


OPENED_OF_PERSON = "SELECT opened_at FROM ticket WHERE person = ? ORDER BY id DESC LIMIT ?"


def opened_of_person(connection: Connection, person: int, most: int = 12) -> list[str]:
    """When somebody's tickets were opened, the newest first."""
    return [row["opened_at"] for row in connection.execute(OPENED_OF_PERSON, (person, most))]


SET_REOPENED = "UPDATE ticket SET reopened_at = ?, voiding_at = ? WHERE id = ?"


def set_reopened(connection: Connection, ticket: int, at: str | None, voiding_at: str | None = None) -> None:
    """A closed ticket is opened again, to be made void when `voiding_at` is set; None when it is closed once more."""
    connection.execute(SET_REOPENED, (at, voiding_at, ticket))


SET_VOIDED = "UPDATE ticket SET voided_at = ?, voiding_at = NULL WHERE id = ?"


def set_voided(connection: Connection, ticket: int, at: str) -> None:
    """When a ticket was made void."""
    connection.execute(SET_VOIDED, (at, ticket))
