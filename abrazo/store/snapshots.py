"""Everything about any number of tickets in a fixed number of statements."""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from typing import Any

from abrazo.store.adjustments import AppliedAdjustment
from abrazo.store.charges import ChargeRow
from abrazo.store.db import Connection, fields
from abrazo.store.tenders import CardRequest, PaymentRow, request_of
from abrazo.store.ticket import GuestRow, LineRow, PayerRow, TicketRow

AMONG = "IN (SELECT value FROM json_each(?))"
HEADS = f"""
SELECT id, number, spot, staff, till, day, opened_at, bill_asked_at, closed_at, state, split, version, source, person,
       name, held_at, promised_at, reopened_at, voiding_at, voided_at, tips_to,
       price_list, nameless, billed_at FROM ticket WHERE id {AMONG}
"""
GUESTS = f"SELECT ticket, id, letter, name, payer FROM guest WHERE ticket {AMONG} ORDER BY length(letter), letter"
# What belongs to a row and to nothing else comes with it, as JSON: one statement instead of two.
PAYERS = f"""
SELECT ticket, id, letter, position, tip_percent, tip_amount, settled_at, stated, fees,
       iif(settled_at IS NULL, NULL, (SELECT json_group_array(json_array(kind, ref, amount)) FROM kept
                                      WHERE payer = payer.id)) AS kept
FROM payer WHERE ticket {AMONG} AND gone_at IS NULL ORDER BY position
"""
LINES = f"""
SELECT ticket, id, item, label, unit_price, quantity, tax, report_group, staff, note, added_at, removed_at, removed_by,
       unit, booking, job, stored, invoice, price_list,
       (SELECT json_group_array(json_array(label, price)) FROM
          (SELECT label, price FROM line_choice WHERE line = line.id ORDER BY position)) AS choices,
       (SELECT json_group_array(json_array(guest, weight)) FROM
          (SELECT guest, weight FROM line_share WHERE line = line.id ORDER BY guest)) AS shares
FROM line WHERE ticket {AMONG} ORDER BY id
"""
CHARGES = f"""
SELECT ticket, id, label, percent, tax, share, amount FROM charge WHERE ticket {AMONG} AND ended_at IS NULL ORDER BY id
"""
GIVEN = f"""
SELECT ticket, id, line, CASE WHEN benefit IS NULL THEN kind ELSE 'benefit' END AS kind, percent, amount, reason, code,
       at, staff, lender, benefit, person,
       (SELECT json_group_array(line) FROM adjustment_off WHERE adjustment = adjustment.id) AS off
FROM adjustment WHERE ticket {AMONG} AND ended_at IS NULL ORDER BY id
"""
PAYMENTS = f"""
SELECT id, ticket, payer, day, till, staff, at, tender, route, amount, tip, tendered, machine, brand, last_four,
       reference, taken_back_at, taken_back_by, deposit, extra, credit, card, stored, tip_of, signature, back_day,
       back_till, pieces FROM payment WHERE ticket {AMONG} ORDER BY id
"""
REQUESTS = f"""
SELECT reference, kind, ticket, payer, payment, machine, amount, tip, ask_tip, till, staff, asked_at, state, step,
       said, ended_at, hold, card, refund, extra, credit FROM card_ask WHERE ticket {AMONG} ORDER BY asked_at, rowid
"""
LAST_ENTRIES = f"SELECT ticket, max(id) AS last FROM journal WHERE ticket {AMONG} GROUP BY ticket"

Cells = dict[tuple[str, str], int]  # what a settled payer keeps, by (kind, ref)


@dataclass(slots=True)
class TicketRows:
    """The rows of one ticket, as they are stored."""

    head: TicketRow
    guests: list[GuestRow] = field(default_factory=list)
    payers: list[PayerRow] = field(default_factory=list)
    kept: dict[int, Cells] = field(default_factory=dict)
    lines: list[LineRow] = field(default_factory=list)
    charges: list[ChargeRow] = field(default_factory=list)
    given: list[AppliedAdjustment] = field(default_factory=list)
    payments: list[PaymentRow] = field(default_factory=list)
    requests: list[CardRequest] = field(default_factory=list)


def heads(connection: Connection, tickets: Iterable[int]) -> dict[int, TicketRow]:
    """The heads of tickets, by id; those that are not there are left out."""
    rows = connection.execute(HEADS, (json.dumps(list(tickets)),))
    return {row["id"]: TicketRow(*row) for row in rows}


def requests(connection: Connection, tickets: Iterable[int]) -> dict[int, list[CardRequest]]:
    """What was asked of machines, by ticket; tickets of which nothing was asked are left out."""
    found: dict[int, list[CardRequest]] = {}
    for row in connection.execute(REQUESTS, (json.dumps(list(tickets)),)):
        found.setdefault(row["ticket"], []).append(request_of(row))
    return found


def last_entries(connection: Connection, tickets: Iterable[int]) -> dict[int, int]:
    """The id of the last entry of the journal about each ticket."""
    return {row["ticket"]: row["last"] for row in connection.execute(LAST_ENTRIES, (json.dumps(list(tickets)),))}


Known = Mapping[int, tuple[TicketRow, list[CardRequest]]]


def read_rows(connection: Connection, tickets: Iterable[int], known: Known | None = None) -> dict[int, TicketRows]:
    """The rows of tickets, by id; those that are not there are left out. Eight statements, however many tickets.

    `known` are heads and requests that were read in the same transaction already: six statements then.
    """
    if known is None:
        ids = list(tickets)
        asked = requests(connection, ids)
        known = {id: (head, asked.get(id, [])) for id, head in heads(connection, ids).items()}
    found = {id: TicketRows(head, requests=asked) for id, (head, asked) in known.items()}
    among = (json.dumps(list(found)),)
    for row in connection.execute(GUESTS, among):
        found[row[0]].guests.append(GuestRow(*row[1:]))
    for ticket, id, *more, kept in connection.execute(PAYERS, among):
        found[ticket].payers.append(PayerRow(id, *more))
        if kept is not None:
            found[ticket].kept[id] = {(kind, ref): amount for kind, ref, amount in json.loads(kept)}
    for ticket, *more, choices, shares in connection.execute(LINES, among):
        found[ticket].lines.append(LineRow(*(*more, _pairs(choices), _pairs(shares))))
    for row in connection.execute(CHARGES, among):
        found[row[0]].charges.append(ChargeRow(*row[1:]))
    for row in connection.execute(GIVEN, among):
        values = fields(row)
        ticket, off = values.pop("ticket"), tuple(json.loads(row["off"]))
        found[ticket].given.append(AppliedAdjustment(**values | {"off": off}))
    for row in connection.execute(PAYMENTS, among):
        found[row["ticket"]].payments.append(PaymentRow(*row))
    return found


def _pairs(text: str) -> tuple[Any, ...]:
    return () if text == "[]" else tuple((first, second) for first, second in json.loads(text))
