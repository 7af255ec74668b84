"""Everything about any number of tickets in a fixed number of statements."""

from __future__ import annotations

import json
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, field
from typing import Any

from abrazo.core.states import RowKind
from abrazo.store.adjustments import AppliedAdjustment
from abrazo.store.charges import ChargeRow
from abrazo.store.db import Connection, fields, record
from abrazo.store.guests import GuestRow, PayerRow
from abrazo.store.lines import LineRow
from abrazo.store.tenders import ASK_COLUMNS, PAYMENT_COLUMNS, CardRequest, PaymentRow, request_of
from abrazo.store.ticket import TicketRow

AMONG = "IN (SELECT value FROM json_each(?))"
HEADS = f"""
SELECT id, number, spot, staff, till, day, opened_at, bill_asked_at, closed_at, state, split, version, source, person,
       name, held_at, promised_at, reopened_at, voiding_at, voided_at, tips_to,
       price_list, anonymous_account, billed_at, prices_kept_at,
       (SELECT until FROM layaway WHERE ticket = ticket.id AND ended_at IS NULL) AS set_aside
FROM ticket WHERE id {AMONG}
"""
GUESTS = f"SELECT ticket, id, letter, name, payer FROM guest WHERE ticket {AMONG} ORDER BY length(letter), letter"
# What belongs to a row and to nothing else comes with it, as JSON: one statement instead of two.
PAYERS = f"""
SELECT ticket, id, letter, position, tip_percent, tip_amount, settled_at, stated, fees,
       iif(settled_at IS NULL, NULL, (SELECT json_group_array(json_array(kind, ref, amount)) FROM settled_part
                                      WHERE payer = payer.id)) AS kept
FROM payer WHERE ticket {AMONG} AND gone_at IS NULL ORDER BY position
"""
LINES = f"""
SELECT ticket, id, item, label, unit_price, quantity, tax, report_group, staff, note, added_at, removed_at, removed_by,
       unit, booking, job, stored, invoice, price_list, role, account, member,
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
SELECT ticket, a.id, line,
       CASE WHEN benefit IS NOT NULL THEN 'benefit' WHEN u.series IS NOT NULL THEN 'series' ELSE kind END AS kind,
       percent, amount, reason, code, a.at, staff, lender, benefit, person, free, u.series,
       (SELECT json_group_array(line) FROM adjustment_exception WHERE adjustment = a.id) AS off
FROM adjustment a LEFT JOIN series_use u ON u.adjustment = a.id WHERE ticket {AMONG} AND ended_at IS NULL ORDER BY a.id
"""
PAYMENTS = f"{PAYMENT_COLUMNS} WHERE ticket {AMONG} ORDER BY id"
REQUESTS = f"{ASK_COLUMNS} WHERE ticket {AMONG} ORDER BY asked_at, rowid"
LAST_ENTRIES = f"SELECT ticket, max(number) AS last FROM journal WHERE ticket {AMONG} GROUP BY ticket"

Cells = dict[tuple[RowKind, str], int]  # what a settled payer keeps, by (kind, ref)


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
    return {row["id"]: record(TicketRow, row) for row in rows}


def requests(connection: Connection, tickets: Iterable[int]) -> dict[int, list[CardRequest]]:
    """What was asked of machines, by ticket; tickets of which nothing was asked are left out."""
    found: dict[int, list[CardRequest]] = {}
    for row in connection.execute(REQUESTS, (json.dumps(list(tickets)),)):
        found.setdefault(row["ticket"], []).append(request_of(row))
    return found


def payments(connection: Connection, tickets: Iterable[int]) -> dict[int, list[PaymentRow]]:
    """All payments, taken back ones too, by ticket; tickets without one are left out."""
    found: dict[int, list[PaymentRow]] = {}
    for row in connection.execute(PAYMENTS, (json.dumps(list(tickets)),)):
        found.setdefault(row["ticket"], []).append(record(PaymentRow, row))
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
    for ticket, values in _rows(connection, GUESTS, among):
        found[ticket].guests.append(record(GuestRow, values))
    for ticket, values in _rows(connection, PAYERS, among):
        kept = values.pop("kept")
        found[ticket].payers.append(record(PayerRow, values))
        if kept is not None:
            found[ticket].kept[values["id"]] = {(RowKind(kind), ref): amount for kind, ref, amount in json.loads(kept)}
    for ticket, values in _rows(connection, LINES, among):
        own = {name: _pairs(values[name]) for name in ("choices", "shares")}
        found[ticket].lines.append(record(LineRow, values, **own))
    for ticket, values in _rows(connection, CHARGES, among):
        found[ticket].charges.append(record(ChargeRow, values))
    for ticket, values in _rows(connection, GIVEN, among):
        found[ticket].given.append(record(AppliedAdjustment, values, off=tuple(json.loads(values["off"]))))
    for ticket, paid in payments(connection, found).items():
        found[ticket].payments = paid
    return found


def _rows(connection: Connection, sql: str, among: tuple[str]) -> Iterator[tuple[int, dict[str, Any]]]:
    """The ticket of each row, and its other columns by name."""
    for row in connection.execute(sql, among):
        values = fields(row)
        yield values.pop("ticket"), values


def _pairs(text: str) -> tuple[Any, ...]:
    return () if text == "[]" else tuple((first, second) for first, second in json.loads(text))
