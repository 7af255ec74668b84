"""Payments, and what was asked of card machines."""

from __future__ import annotations

import json
from collections.abc import Iterable
from dataclasses import dataclass

from abrazo.core import tenders as core
from abrazo.core.ledger import THROUGH_MACHINES
from abrazo.core.states import Extra, RequestKind, RequestState, Signature, Tender
from abrazo.store.db import Connection, Row, record

OPEN_ASK = (RequestState.ASKED, RequestState.SENT, RequestState.UNKNOWN)
OURS = frozenset(Tender) - frozenset(THROUGH_MACHINES)  # neither charged nor recorded


@dataclass(frozen=True, slots=True)
class PaymentRow:
    """Money taken. `amount` is on the bill, `tip` beside it; minor units. Taken back when `taken_back_at` is set.

    `deposit` is the deposit line that the tender deposit uses up, `stored` the gift card or the like. `credit` is
    what of `amount` was above the bill and became store credit. `tip_of` is the charge that a later tip belongs to.
    `signature` is wanted, paper or screen. `back_day` and `back_till` say where money that was taken back went.
    `pieces` are those of the change, as JSON by denomination, when the drawer's are known.
    """

    id: int
    ticket: int
    payer: int
    day: int
    till: str
    staff: str
    at: str
    tender: str
    route: str
    amount: int
    tip: int
    tendered: int | None
    machine: str | None
    brand: str | None
    last_four: str | None
    reference: str | None
    taken_back_at: str | None = None
    taken_back_by: str | None = None
    deposit: int | None = None
    extra: Extra | None = None
    credit: int = 0
    card: int | None = None
    stored: int | None = None
    tip_of: int | None = None
    signature: Signature = Signature.NONE
    back_day: int | None = None
    back_till: str | None = None
    pieces: str = ""
    account: int | None = None  # on whose account it was put
    purchase_reference: str = ""  # the company's own, for that

    @property
    def recorded(self) -> bool:
        """Whether it only notes money already taken; nothing was charged by it."""
        return self.machine is None and self.tender not in OURS

    @property
    def given(self) -> int:
        """What was taken for bill and tip."""
        return core.given(self.amount, self.tip)

    @property
    def handed(self) -> int:
        """What was handed over: what was taken, and the change."""
        return self.given if self.tendered is None else self.tendered

    @property
    def change(self) -> int:
        """Cash given back, in minor units."""
        return 0 if self.tendered is None else core.change_from(self.tendered, self.given)

    @property
    def on_bill(self) -> int:
        """What of it pays the bill: neither tip nor credit; minor units."""
        return core.on_bill(self.amount, self.credit)


@dataclass(frozen=True, slots=True)
class CardRequest:
    """Something asked of a card machine or the payment service under our own reference.

    Its kind is charge, refund, hold, capture, release or tip. `hold` is the held card that a capture or release is
    about, `card` the card that the service charges, `refund` the refund of a closed ticket that is asked for.
    `credit` is what of the amount is above what is due; `extra` says what becomes of it: store credit or tip.
    `freed_at` is when its payer was let pay otherwise; `charge` the charge that goes back, which paid nothing;
    `charged` is what was charged too late, with the tip that was chosen on the machine.
    """

    reference: str
    kind: RequestKind
    ticket: int
    payer: int
    payment: int | None
    machine: str
    amount: int
    tip: int
    ask_tip: bool
    till: str
    staff: str
    asked_at: str
    state: RequestState
    step: str
    said: str
    ended_at: str | None = None
    hold: int | None = None
    card: int | None = None
    refund: int | None = None
    extra: Extra | None = None
    credit: int = 0
    freed_at: str | None = None
    charge: str | None = None
    charged: int | None = None

    @property
    def open(self) -> bool:
        """Whether its outcome is still to come."""
        return self.state in OPEN_ASK

    @property
    def blocks(self) -> bool:
        """Whether payer, ticket and day wait for its outcome: not for a freed charge, nor for its giving back."""
        return self.open and self.freed_at is None and self.charge is None

    @property
    def of_due(self) -> int:
        """What of it is due: all but what is above, in minor units."""
        return core.on_bill(self.amount, self.credit)

    @property
    def parts(self) -> core.Parts:
        """How it was cut when it was asked for."""
        credit = self.credit if self.extra == Extra.CREDIT else 0
        return core.Parts(core.on_bill(self.amount, self.tip), self.tip, credit)


PAYMENT_COLUMNS = """
SELECT id, ticket, payer, day, till, staff, at, tender, route, amount, tip, tendered, machine, brand, last_four,
       reference, taken_back_at, taken_back_by, deposit, extra, credit, card, stored, tip_of, signature, back_day,
       back_till, pieces, account, purchase_reference FROM payment
"""
PAYMENT = PAYMENT_COLUMNS + "WHERE id = ?"
PAYMENTS_ON = PAYMENT_COLUMNS + "WHERE day = ? ORDER BY id"
BACK_ON = PAYMENT_COLUMNS + "WHERE back_day = ? ORDER BY id"
MOVED_ON = """
SELECT reference, amount + tip AS amount, ticket FROM payment WHERE machine = :machine AND day = :day
UNION ALL
SELECT reference, -amount, ticket FROM card_request
WHERE machine = :machine AND kind = 'refund' AND state = 'approved' AND ended_at >= :since AND ended_at <= :until
UNION ALL
SELECT charge, amount, ticket FROM card_request
WHERE machine = :machine AND charge IS NOT NULL AND state = 'approved' AND ended_at >= :since AND ended_at <= :until
UNION ALL
SELECT reference, -amount, ticket FROM debit_back WHERE machine = :machine AND at >= :since AND at <= :until
"""
MOVED_UNDER = """
WITH ours AS (SELECT value FROM json_each(?))
SELECT reference, amount + tip AS amount, ticket FROM payment WHERE reference IN ours
UNION ALL
SELECT reference, -amount, ticket FROM card_request
WHERE reference IN ours AND kind = 'refund' AND state = 'approved'
UNION ALL
SELECT charge, amount, ticket FROM card_request WHERE charge IN ours AND state = 'approved'
UNION ALL
SELECT reference, -amount, ticket FROM debit_back WHERE reference IN ours
"""
LAST_TENDER = """
SELECT p.tender FROM payment p JOIN ticket t ON t.id = p.ticket WHERE t.person = ? AND t.id <> ?
AND p.taken_back_at IS NULL ORDER BY p.id DESC LIMIT 1
"""


def last_tender(connection: Connection, person: int, without: int) -> str:
    """By what somebody paid last, on another ticket than `without`; empty when they never did."""
    row = connection.execute(LAST_TENDER, (person, without)).fetchone()
    return str(row["tender"]) if row else ""


ADD_PAYMENT = """
INSERT INTO payment (ticket, payer, day, till, staff, at, tender, route, amount, tip, tendered, machine, brand,
                     last_four, reference, deposit, extra, credit, card, stored, tip_of, signature, pieces,
                     account, purchase_reference)
VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
"""
TAKE_BACK = """
UPDATE payment SET taken_back_at = ?, taken_back_by = ?, back_day = ?, back_till = ? WHERE id = ?
"""
SET_SIGNATURE = "UPDATE payment SET signature = ? WHERE id = ? AND signature = 'wanted'"
ADD_SIGNATURE = "INSERT INTO signature (payment, svg, at, staff) VALUES (?, ?, ?, ?)"
SIGNATURE = "SELECT svg FROM signature WHERE payment = ?"
ASK_COLUMNS = """
SELECT reference, kind, ticket, payer, payment, machine, amount, tip, ask_tip, till, staff, asked_at, state, step,
       said, ended_at, hold, card, refund, extra, credit, freed_at, charge, charged
FROM card_request
"""
ASK = ASK_COLUMNS + "WHERE reference = ?"
OPEN_ASKS = ASK_COLUMNS + "WHERE state IN ('asked', 'sent', 'unknown') ORDER BY asked_at, rowid"
ADD_ASK = """
INSERT INTO card_request (reference, kind, ticket, payer, payment, machine, amount, tip, ask_tip, till, staff, asked_at,
                      state, step, said, hold, card, refund, extra, credit, charge)
VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
"""
FREE = "UPDATE card_request SET freed_at = ? WHERE reference = ?"
LATE = "UPDATE card_request SET charged = ? WHERE reference = ?"
FREED = (
    ASK_COLUMNS
    + """
WHERE freed_at IS NOT NULL AND state IN ('asked', 'sent', 'unknown')
   OR charge IS NOT NULL AND state = 'unknown'
   OR charged IS NOT NULL AND reference NOT IN (SELECT charge FROM card_request WHERE charge IS NOT NULL
                                                AND state IN ('asked', 'sent', 'unknown', 'approved'))
ORDER BY asked_at, rowid
"""
)
SET_ASK = "UPDATE card_request SET state = ?, step = ?, said = ?, ended_at = ? WHERE reference = ?"


def moved_on(connection: Connection, machine: str, day: int, since: str, until: str) -> list[tuple[str, int, int]]:
    """What a machine moved for us on a day: reference, signed minor units, ticket. Refunds by when they ended."""
    given = {"machine": machine, "day": day, "since": since, "until": until}
    return [tuple(row) for row in connection.execute(MOVED_ON, given)]


def moved_under(connection: Connection, references: Iterable[str]) -> dict[str, tuple[str, int, int]]:
    """What was moved under references of ours, on any day, by reference; those that are not ours are left out."""
    found: dict[str, tuple[str, int, int]] = {}
    for row in connection.execute(MOVED_UNDER, (json.dumps(list(references)),)):
        found.setdefault(row["reference"], tuple(row))
    return found


def payments_on(connection: Connection, day: int) -> list[PaymentRow]:
    """What was taken on a day at all tills, taken back ones too."""
    return [record(PaymentRow, row) for row in connection.execute(PAYMENTS_ON, (day,))]


def read_payment(connection: Connection, payment: int) -> PaymentRow | None:
    """A payment, None when there is no such."""
    row = connection.execute(PAYMENT, (payment,)).fetchone()
    return record(PaymentRow, row) if row else None


def add_payment(connection: Connection, payment: PaymentRow) -> int:
    """Keep a payment; its id is given anew."""
    p = payment
    figures = (p.tender, p.route, p.amount, p.tip, p.tendered, p.machine, p.brand, p.last_four, p.reference, p.deposit)
    more = (p.extra, p.credit, p.card, p.stored, p.tip_of, p.signature, p.pieces, p.account, p.purchase_reference)
    where = (p.ticket, p.payer, p.day, p.till, p.staff, p.at)
    row = connection.execute(ADD_PAYMENT, (*where, *figures, *more)).lastrowid
    assert row is not None
    return row


def take_back(connection: Connection, payment: int, at: str, by: str, day: int, till: str) -> None:
    """A payment goes back, on a day at a till that may be others than its own."""
    connection.execute(TAKE_BACK, (at, by, day, till, payment))


def set_signature(connection: Connection, payment: int, how: Signature) -> None:
    """A signature that was wanted is there."""
    connection.execute(SET_SIGNATURE, (how, payment))


def add_signature(connection: Connection, payment: int, svg: str, at: str, staff: str) -> None:
    """Keep what was drawn for a payment."""
    connection.execute(ADD_SIGNATURE, (payment, svg, at, staff))


def read_signature(connection: Connection, payment: int) -> str | None:
    """The drawing of a payment, as SVG."""
    row = connection.execute(SIGNATURE, (payment,)).fetchone()
    return str(row["svg"]) if row else None


def taken_back_on(connection: Connection, day: int) -> list[PaymentRow]:
    """Payments of any day that went back on this day, at any till."""
    return [record(PaymentRow, row) for row in connection.execute(BACK_ON, (day,))]


def request_of(row: Row) -> CardRequest:
    """A request from its row."""
    return record(CardRequest, row)


def read_request(connection: Connection, reference: str) -> CardRequest | None:
    """What was asked of a card machine, None when there is no such."""
    row = connection.execute(ASK, (reference,)).fetchone()
    return request_of(row) if row else None


def open_requests(connection: Connection) -> list[CardRequest]:
    """Asks whose outcome is still to come, oldest first."""
    return [request_of(row) for row in connection.execute(OPEN_ASKS)]


def add_request(connection: Connection, ask: CardRequest) -> None:
    """Note what is asked of a card machine."""
    a = ask
    what = (a.reference, a.kind, a.ticket, a.payer, a.payment, a.machine, a.amount, a.tip, int(a.ask_tip))
    how = (a.till, a.staff, a.asked_at, a.state, a.step, a.said)
    connection.execute(ADD_ASK, (*what, *how, a.hold, a.card, a.refund, a.extra, a.credit, a.charge))


def set_request(
    connection: Connection, reference: str, state: RequestState, step: str, said: str, ended_at: str | None
) -> None:
    """How far a request has come, and what was said."""
    connection.execute(SET_ASK, (state, step, said, ended_at, reference))


def free(connection: Connection, reference: str, at: str) -> None:
    """The payer of a request is let pay otherwise."""
    connection.execute(FREE, (at, reference))


def charged_late(connection: Connection, reference: str, amount: int) -> None:
    """What a machine charged when it was paid otherwise, in minor units."""
    connection.execute(LATE, (amount, reference))


def freed_charges(connection: Connection) -> list[CardRequest]:
    """Charges whose payers were let pay otherwise and that still want something, oldest first.

    Their outcome is to come, or they were charged after all, paid nothing, and were not given back; or a machine has
    not said whether it gave one back.
    """
    return [request_of(row) for row in connection.execute(FREED)]
