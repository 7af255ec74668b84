"""Everything of a house that goes out as a table: by business days, and people; the same for pages and commands.

Rules here
- moments are UTC, wall times of bookings excepted; amounts are decimal, in the house's currency
- a line's amounts are what its bill says: gross, after its own adjustments, after those of the ticket
- people go out as a people file has them, so that they can come in again
"""

from __future__ import annotations

import json
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass

from abrazo.core.journal import Kind
from abrazo.core.states import OwnAbout, TableKind
from abrazo.desk.act import noting
from abrazo.desk.context import Actor, House
from abrazo.desk.output.auditor import TICKET_COLUMNS, ticket_row, tickets_of
from abrazo.desk.people.own_fields import fields_of
from abrazo.desk.permissions import Right, need
from abrazo.formats.table_file import written_csv, written_xlsx
from abrazo.store import exports, till
from abrazo.store.db import snapshot

FORMS = ("csv", "xlsx", "jsonl")
PEOPLE_COLUMNS = ("name", "phone", "email", "birthday", "household", "company", "notes", "language")
LINE_COLUMNS = (
    *("ticket", "line", "item", "label", "quantity", "unit", "unit_price", "gross", "own", "net"),
    *("tax", "group", "price_list", "role", "staff", "added", "removed", "note"),
)
KINDS = tuple(TableKind)
EVER = ("0000-01-01", "9999-12-31")


@dataclass(frozen=True, slots=True)
class Table:
    """A table: its columns, and its rows in their order."""

    columns: tuple[str, ...]
    rows: Sequence[Sequence[str]]

    def as_file(self, form: str) -> bytes:
        """The same as CSV, as a spreadsheet, or as one JSON object a line."""
        if form == "jsonl":
            lines = (json.dumps(dict(zip(self.columns, row, strict=True)), ensure_ascii=False) for row in self.rows)
            return "".join(f"{line}\n" for line in lines).encode()
        cells = [self.columns, *self.rows]
        return written_csv(cells).encode() if form == "csv" else written_xlsx(cells)


def written(house: House, actor: Actor, kind: str, form: str, between: tuple[str, str] = EVER) -> bytes:
    """A kind as a file for somebody, by business dates; who took what out is written down."""
    need(actor, Right.MOVE_FILES)
    data = table(house, kind, between).as_file(form)
    with noting(house) as note:
        note(actor, Kind.FILE_WRITTEN, what=kind, form=form, since=between[0], until=between[1])
    return data


def table(house: House, kind: str, between: tuple[str, str] = EVER) -> Table:
    """A kind between two business dates, all of one moment. An unknown kind is a KeyError."""
    with snapshot(house.connection):
        if kind == TableKind.PEOPLE:
            return _people(house)
        days = till.days_between(house.connection, *between)
        if kind == TableKind.TICKETS:
            return Table(TICKET_COLUMNS, [ticket_row(house, whole) for whole in tickets_of(house, days)])
        if kind == TableKind.LINES:
            return Table(LINE_COLUMNS, list(_lines(house, days)))
        columns = tuple(exports.columns(house.connection, kind))
        amounts = exports.TABLES[kind].amounts
        found = exports.rows(house.connection, kind, days, between)
        return Table(columns, [_cells(house, columns, amounts, row) for row in found])


def _cells(house: House, columns: Iterable[str], amounts: Sequence[str], row: dict[str, object]) -> list[str]:
    text = house.settings.currency.text
    return [
        "" if row[one] is None else text(int(str(row[one]))) if one in amounts else str(row[one]) for one in columns
    ]


def _lines(house: House, days: Sequence[int]) -> Iterator[Sequence[str]]:
    text = house.settings.currency.text
    for whole in tickets_of(house, days):
        bills = {one.id: one for one in whole.bill.lines}
        for line in whole.lines:
            bill = bills.get(str(line.id))
            sums = ("", "", "") if bill is None else (text(bill.gross), text(bill.own), text(bill.net))
            what = (line.item, line.label, line.quantity, line.unit, text(line.unit_price))
            how = (line.tax or "", line.report_group, line.price_list, line.role, line.staff)
            yield (
                str(whole.head.number),
                str(line.id),
                *what,
                *sums,
                *how,
                line.added_at,
                line.removed_at or "",
                line.note,
            )


def _people(house: House) -> Table:
    own = [one.name for one in fields_of(house, OwnAbout.PERSON)]
    columns = (*PEOPLE_COLUMNS, *own)
    return Table(columns, [[one.get(name, "") for name in columns] for _, one in exports.people(house.connection)])
