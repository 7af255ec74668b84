"""What a house is set up with, as rows of its tables by name; and who changed what. The changes are append-only.

A row is its columns by name; what lies in rows of other tables is in set_up_parts.
"""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from abrazo.store.db import Connection, record

Value = str | int | bool | None | list[str] | list[list[str]]
Values = dict[str, Value]

# The columns of each table that set-up shows and changes, in a fixed order; the first is its key.
COLUMNS: Mapping[str, tuple[str, ...]] = {
    "category": ("id", "name", "icon", "parent", "first_for", "tasks", "tills", "roles", "position", "ended_at"),
    "item": (
        *("id", "number", "name", "category", "price", "tax", "place", "report_group", "minutes", "code", "unit"),
        "job_days",
        *("variable", "shelf", "position", "ended_at"),
    ),
    "choice_group": ("id", "name", "least", "most", "ended_at"),
    "tax": ("id", "label", "rate", "category", "exemption", "position", "ended_at"),
    "preset": ("id", "name", "kind", "percent", "amount", "code", "scope", "groups", "position", "ended_at"),
    "staff": ("id", "name", "role", "title", "takes_bookings", "takes_jobs", "counter_only", "in_training", "ended_at"),
    "till": ("id", "name", "machine", "home", "begins", "ended_at"),
    "price_list": ("id", "name", "days", "begins", "ends", "first_on", "last_on", "position", "ended_at"),
    "preset_words": ("id", "words", "about", "groups", "position", "ended_at"),
    "family": ("id", "name", "code"),
    "variant": ("item", "family", "size", "colour"),
    "series_kind": ("item", "uses", "days"),
    "membership_kind": ("id", "name", "household", "position", "ended_at"),
    "membership_item": ("item", "kind", "months"),
    "hire_kind": ("item", "owner", "share", "value", "grace", "late_step", "late_price", "margin", "early"),
    "hire_unit": ("id", "item", "code", "note", "ended_at"),
    "printer": ("id", "name", "address", "prints", "drawers", "position", "ended_at"),
    "after_sale": ("id", "name", "does", "sources", "days", "clock", "words", "position", "ended_at"),
    "own_field": ("id", "about", "name", "choices", "prints", "position", "ended_at"),
}
POSITIONED = (
    "category",
    "item",
    "tax",
    "preset",
    "price_list",
    "preset_words",
    "membership_kind",
    "own_field",
    "printer",
    "after_sale",
)
ORDER = {"choice_group": "name", "family": "name", "hire_unit": "id"} | dict.fromkeys(POSITIONED, "position, id")


def rows(connection: Connection, table: str) -> dict[str, Values]:
    """Every row of a table, also what is retired, by its key, in the house's order."""
    columns = COLUMNS[table]
    left_out = " WHERE id <> 'unlisted'" if table in ("item", "category") else ""
    order = ORDER.get(table, "rowid")
    found = connection.execute(f"SELECT {', '.join(columns)} FROM {table}{left_out} ORDER BY {order}")
    return {str(row[0]): dict(zip(columns, tuple(row), strict=True)) for row in found}


def row(connection: Connection, table: str, ref: str) -> Values | None:
    """One row of a table by its key; None when there is no such."""
    key = COLUMNS[table][0]
    found = connection.execute(f"SELECT {', '.join(COLUMNS[table])} FROM {table} WHERE {key} = ?", (ref,)).fetchone()
    return dict(zip(COLUMNS[table], tuple(found), strict=True)) if found else None


def put(connection: Connection, table: str, ref: str, values: Values) -> None:
    """Write some columns of a row; a row that there is not is added, at the end. An unknown column is a KeyError."""
    for column in values:
        if column not in COLUMNS[table]:
            raise KeyError(column)
    names, key = list(values), COLUMNS[table][0]
    if connection.execute(f"SELECT 1 FROM {table} WHERE {key} = ?", (ref,)).fetchone():
        if names:
            places = ", ".join(f"{name} = ?" for name in names)
            connection.execute(f"UPDATE {table} SET {places} WHERE {key} = ?", (*_plain(values, names), ref))
        return
    if table in POSITIONED and values.get("position") is None:
        last = connection.execute(
            f"SELECT coalesce(max(position), 0) + 1 FROM {table} WHERE position < 9999"
        ).fetchone()
        values, names = values | {"position": last[0]}, [*(name for name in names if name != "position"), "position"]
    marks = ", ".join("?" * (len(names) + 1))
    columns = ", ".join((key, *names))
    connection.execute(f"INSERT INTO {table} ({columns}) VALUES ({marks})", (ref, *_plain(values, names)))


def take_out(connection: Connection, table: str, ref: str) -> None:
    """Take a row out that nothing refers to; none is as well."""
    connection.execute(f"DELETE FROM {table} WHERE {COLUMNS[table][0]} = ?", (ref,))


def _plain(values: Values, names: Sequence[str]) -> list[object]:
    return [int(value) if isinstance(value := values[name], bool) else value for name in names]


def next_item_number(connection: Connection) -> int:
    """A number by which a new item is typed: the next one."""
    return int(connection.execute("SELECT max(number) + 1 FROM item").fetchone()[0])


# ---- what has rules of its own

BEAR_TAX = ("line", "charge", "task", "refund_tax", "advance_tax")
TAX_IS_USED = " OR ".join(f"EXISTS (SELECT 1 FROM {table} WHERE tax = :tax)" for table in BEAR_TAX)


def tax_is_used(connection: Connection, tax: str) -> bool:
    """Whether any line or charge of a ticket, any task of a job or deposit bears a tax."""
    return bool(connection.execute(f"SELECT {TAX_IS_USED}", {"tax": tax}).fetchone()[0])


def add_staff(connection: Connection, ref: str, values: Values, pin_hash: str, digits: int) -> None:
    """Somebody new; of their PIN only a hash and the number of digits are kept."""
    row = (ref, values["name"], values["role"], values["title"], pin_hash, digits)
    connection.execute("INSERT INTO staff (id, name, role, title, pin_hash, pin_digits) VALUES (?, ?, ?, ?, ?, ?)", row)
    put(connection, "staff", ref, values)


def put_till(connection: Connection, ref: str, values: Values) -> None:
    """Write some columns of a till; a new one has its own block of numbers."""
    known = connection.execute("SELECT 1 FROM till WHERE id = ?", (ref,)).fetchone()
    put(connection, "till", ref, values)
    if not known:
        last = "(SELECT max(block) + 1 FROM till)"
        connection.execute(f"UPDATE till SET block = {last} WHERE id = ?", (ref,))


def put_pin(connection: Connection, staff: str, pin_hash: str, digits: int) -> None:
    """Somebody has another PIN; what was tried before is forgotten."""
    connection.execute(
        "UPDATE staff SET pin_hash = ?, pin_digits = ?, wrong_pins = 0, locked_until = NULL WHERE id = ?",
        (pin_hash, digits, staff),
    )
    connection.execute("DELETE FROM pin_try WHERE staff = ?", (staff,))


# ---- files between looking and doing


def keep_file(connection: Connection, kind: str, data: bytes, name: str, at: str) -> int:
    """Keep a file, and forget all but the last few; gives its number."""
    row = connection.execute(
        "INSERT INTO set_up_file (kind, name, data, at) VALUES (?, ?, ?, ?)", (kind, name[:120], data, at)
    ).lastrowid
    assert row is not None
    connection.execute("DELETE FROM set_up_file WHERE id NOT IN (SELECT id FROM set_up_file ORDER BY id DESC LIMIT 4)")
    return row


def kept_file(connection: Connection, kind: str, number: int) -> tuple[bytes, str] | None:
    """A file that was kept, with its name; None when it is gone."""
    row = connection.execute("SELECT data, name FROM set_up_file WHERE id = ? AND kind = ?", (number, kind)).fetchone()
    return (bytes(row["data"]), str(row["name"])) if row else None


# ---- who changed what


@dataclass(frozen=True, slots=True)
class SetUpChange:
    """A change: which fields of what, before and after."""

    id: int
    at: str
    staff: str
    till: str
    thing: str
    ref: str
    what: str
    name: str
    before: Values
    after: Values


CHANGE = "SELECT id, at, staff, till, thing, ref, what, name, before, after FROM set_up_change "
ONE = CHANGE + "WHERE id = ?"
OF_REF = CHANGE + "WHERE thing IN (SELECT value FROM json_each(?)) AND ref = ? ORDER BY id DESC LIMIT 40"
OF_THING = CHANGE + "WHERE thing = ? ORDER BY id DESC LIMIT 400"
LATEST = CHANGE + "ORDER BY id DESC LIMIT ?"
BETWEEN = CHANGE + "WHERE at > ? AND at <= ? ORDER BY id"
ADD = """
INSERT INTO set_up_change (at, staff, till, thing, ref, what, name, before, after) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)
"""


def _changes(connection: Connection, statement: str, given: tuple[object, ...]) -> list[SetUpChange]:
    found = connection.execute(statement, given)
    return [record(SetUpChange, row, before=json.loads(row["before"]), after=json.loads(row["after"])) for row in found]


def add_change(connection: Connection, change: SetUpChange) -> int:
    """Write a change down; gives its id."""
    c = change
    facts = (c.at, c.staff, c.till, c.thing, c.ref, c.what, c.name, json.dumps(c.before), json.dumps(c.after))
    row = connection.execute(ADD, facts).lastrowid
    assert row is not None
    return row


def read_change(connection: Connection, change: int) -> SetUpChange | None:
    """A change, None when there is no such."""
    return next(iter(_changes(connection, ONE, (change,))), None)


def changes_of(connection: Connection, thing: str) -> list[SetUpChange]:
    """What was changed of a kind of thing, the latest first."""
    return _changes(connection, OF_THING, (thing,))


def changes_of_one(connection: Connection, things: Iterable[str], ref: str) -> list[SetUpChange]:
    """What was changed of one thing, as which of some kinds whatever, the latest first."""
    return _changes(connection, OF_REF, (json.dumps(list(things)), ref))


def last_change(connection: Connection) -> int:
    """The id of the last change of anything; 0 before the first."""
    return int(connection.execute("SELECT coalesce(max(id), 0) FROM set_up_change").fetchone()[0])


def changes_between(connection: Connection, since: str, until: str) -> list[SetUpChange]:
    """What was changed after one moment and not after another (UTC stamps), in order."""
    return _changes(connection, BETWEEN, (since, until))


def latest(connection: Connection, most: int) -> list[SetUpChange]:
    """What was changed last."""
    return _changes(connection, LATEST, (most,))
