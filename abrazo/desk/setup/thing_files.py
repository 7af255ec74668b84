"""Things of set-up in files: out as a table by their fields, and in again, first looked at, then all or nothing.

Rules here
- a row is the thing of its id, else the one of its barcode, else of its name; a row of none of these is new
- a column that is not there leaves what it would say as it is; what a file does not name stays
- a row can name one that stands above it
- what was written out reads in as unchanged
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field, replace

from abrazo.core.codes import SHORTEST_CARD, holds_card_number
from abrazo.core.errors import Code, Refused
from abrazo.core.states import Right, SetUpAct
from abrazo.desk.act import acting
from abrazo.desk.context import Actor, House
from abrazo.desk.setup.fields import Field, FieldKind, Option, Typed, shown
from abrazo.desk.setup.planned import can_wait, plan_now, read_first
from abrazo.desk.setup.things import (
    Named,
    Taken,
    Thing,
    all_kin,
    check,
    differing,
    given,
    named_one,
    new_ref,
    write_down,
)
from abrazo.formats.table_file import read_table
from abrazo.store import set_up
from abrazo.store.set_up import Values

MOST_FAULTS = 200  # that are told at once
NUMBERS, ROUNDED = ("code", "number"), re.compile(r"[0-9]+(?:[.,][0-9]+)?[eE]\+?[0-9]+")
JUDGED_OTHERWISE = ("phone", "code")  # columns whose numbers have a check of their own
UNSEEN = ("pin", "mail_password", "text_token")  # never written out


@dataclass(frozen=True, slots=True)
class RowFault:
    """What is wrong in a row: its number in the file, the column, and why."""

    number: int
    column: str
    why: Refused


@dataclass(frozen=True, slots=True)
class Reading:
    """What a file would do: what is new, what changes (only the fields that do), how many stay, what is wrong."""

    new: list[tuple[str, Values]] = field(default_factory=list)
    changed: list[tuple[str, Values]] = field(default_factory=list)
    unchanged: int = 0
    faults: list[RowFault] = field(default_factory=list)
    more_faults: int = 0
    unknown: tuple[str, ...] = ()  # columns that say nothing here


def columns(thing: Thing) -> list[str]:
    """The columns of a kind's file."""
    return ["id", *(one.id for one in thing.fields if one.id not in UNSEEN)]


def written(house: House, thing: Thing) -> list[list[str]]:
    """All of a kind that is not retired, as rows; the first are the names of the columns."""
    fields = [one for one in thing.fields if one.id not in UNSEEN]
    rows = [
        [ref, *(_cell(house, one, values) for one in fields)]
        for ref, values in thing.load(house).items()
        if values.get("ended_at") is None
    ]
    return [columns(thing), *rows]


def _cell(house: House, field: Field, values: Values) -> str:
    value, currency = values.get(field.id), house.settings.currency
    if field.kind is FieldKind.ROWS and isinstance(value, list):
        pairs = (zip(field.columns, row, strict=True) for row in value if isinstance(row, list))
        return "; ".join("=".join(shown(currency, column, cell) for column, cell in pair) for pair in pairs)
    return shown(currency, field, value)


def rows_of_file(data: bytes) -> list[tuple[int, dict[str, str]]]:
    """The rows of a file with their numbers. Refused when it is no table, or holds a card's number anywhere.

    Refused too where a spreadsheet made a number of a code and did not keep its digits: 4.00638E+12.
    """
    rows = read_table(data)
    for number, row in rows:
        for name, cell in row.items():
            if name in NUMBERS and ROUNDED.fullmatch(cell):
                why = Refused(Code.NUMBER_ROUNDED, name, column=name, typed=cell[:30])
                raise Refused(Code.FIELD_ROW, "file", number=number, why=why)
            if len(cell) >= SHORTEST_CARD and name not in JUDGED_OTHERWISE and holds_card_number(cell):
                why = Refused(Code.HOLDS_CARD_NUMBER, name)
                raise Refused(Code.FIELD_ROW, "file", number=number, why=why)
    return rows


def faults_of(
    rows: Iterable[tuple[int, Mapping[str, str]]], look: Callable[[int, Mapping[str, str]], None]
) -> tuple[list[RowFault], int]:
    """Look at every row; gives the first of those that are refused, and how many more there are."""
    found = list[RowFault]()
    for number, row in rows:
        try:
            look(number, row)
        except Refused as refusal:
            found.append(RowFault(number, refusal.where, refusal))
    return found[:MOST_FAULTS], len(found[MOST_FAULTS:])


def look_at(house: House, thing: Thing, data: bytes) -> Reading:
    """What a file would do. Refused when it is no table; what is wrong in its rows stands in what it gives."""
    rows = rows_of_file(data)
    named = {name for _, row in rows[:1] for name in row}
    unknown = tuple(sorted(named - set(columns(thing))))
    if rows and thing.called not in named and "id" not in named:
        raise Refused(Code.TABLE_COLUMNS, "file", columns=", ".join(columns(thing)))
    return _Look(house, thing, unknown).read(rows)


class _Look:
    """One look at a file: what is there already, by id, barcode and name, and what the rows before brought."""

    def __init__(self, house: House, thing: Thing, unknown: tuple[str, ...]) -> None:
        self.above: list[Option] = []
        self.house, self.thing = house, _with_options(house, thing, self.above)
        self.known = thing.load(house)
        self.kin = all_kin(house, thing, self.known)
        self.by_name = {thing.name(one).casefold(): ref for ref, one in self.known.items()}
        self.by_code = {str(one["code"]): ref for ref, one in self.known.items() if one.get("code")}
        self.taken = Taken(self.thing, self.kin)
        self.seen: dict[str, int] = {}
        self.new: list[tuple[str, Values]] = []
        self.changed: list[tuple[str, Values]] = []
        self.unknown, self.unchanged = unknown, 0

    def read(self, rows: Iterable[tuple[int, Mapping[str, str]]]) -> Reading:
        """Every row, one after the other."""
        faults, more = faults_of(rows, self._row)
        if not faults:
            self.thing.prepare(self.house, [values for _, values in self.new])
            together = self.thing.together(self.house, [*self.new, *self.changed])
            faults = [RowFault(self.seen[ref], refusal.where, refusal) for ref, refusal in together]
            faults, more = faults[:MOST_FAULTS], len(faults[MOST_FAULTS:])
        return Reading(self.new, self.changed, self.unchanged, faults, more, self.unknown)

    def _row(self, number: int, row: Mapping[str, str]) -> None:
        ref = self._meant(row)
        if ref and ref in self.seen:
            raise Refused(Code.ROW_TWICE, "id", number=self.seen[ref])
        if not self.thing.adds:
            ref = named_one(self.house, self.thing, ref)
        before = self.known.get(ref)
        typed = typed_row(self.thing, row)
        if before is None:
            typed = {**{one.id: [""] for one in self.thing.fields if one.kind is not FieldKind.ROWS}, **typed}
        values = given(self.house, self.thing, typed)
        ref = ref or new_ref(self.house, self.thing, values, self.kin, self.seen)
        check(self.house, self.thing, ref, {**(before or {}), **values}, self.taken)
        self.seen[ref] = number
        self.by_name.setdefault(self.thing.name(values).casefold(), ref)
        if before is None:
            self.above.append(Option(ref, self.thing.name(values)))
            self.new.append((ref, values))
            return
        other = differing(self.thing, before, values)
        if other:
            self.changed.append((ref, other))
        else:
            self.unchanged += 1

    def _meant(self, row: Mapping[str, str]) -> str:
        if row.get("id"):
            return row["id"]
        by_code = self.by_code.get(row["code"], "") if row.get("code") else ""
        return by_code or self.by_name.get(row.get(self.thing.called, "").casefold(), "")


def _with_options(house: House, thing: Thing, above: list[Option]) -> Thing:
    """A kind whose options are read once for all rows; of the kind itself also what was new in the rows `above`."""

    def read_once(one: Field) -> Field:
        if one.options is None:
            return one
        known = one.options(house)
        return replace(one, options=(lambda _: known + above) if one.id == thing.above else lambda _: known)

    return replace(thing, fields=tuple(map(read_once, thing.fields)))


def typed_row(thing: Thing, row: Mapping[str, str]) -> Typed:
    """A row as it would be typed: lists have ; between, the cells of a row =."""
    found: dict[str, list[str]] = {}
    for one in thing.fields:
        if one.id not in row or one.id in UNSEEN:
            continue
        cell = row[one.id]
        if one.kind is FieldKind.CHOICES:
            found[one.id] = [part.strip() for part in cell.split(";")]
        elif one.kind is FieldKind.ROWS:
            rows = [part.split("=", len(one.columns) - 1) for part in cell.split(";") if part.strip()]
            for place, column in enumerate(one.columns):
                cells = [parts[place].strip() if place < len(parts) else "" for parts in rows]
                found[f"{one.id}-{column.id}"] = cells
        else:
            found[one.id] = [cell]
    return found


def read_in(house: House, actor: Actor, thing: Thing, data: bytes, key: str, holds_from: str = "") -> Reading:
    """Do what a file says, all of it in one act. Refused with what is wrong when anything is, and nothing is done.

    `holds_from`: what it changes holds from this date on; what is new is there at once.
    """
    if holds_from.strip() and not can_wait(thing):
        raise Refused(Code.HOLDS_AT_ONCE, "holds_from")
    first_on = read_first(house, holds_from) if holds_from.strip() else ""
    seen, reading = set_up.last_change(house.connection), look_at(house, thing, data)
    with acting(house, actor, f"set up {thing.id}", key, "file", needs=Right.SET_UP) as act:
        if act.done is not None:
            return reading
        if set_up.last_change(house.connection) != seen:  # somebody was at it meanwhile
            reading = look_at(house, thing, data)
        if reading.faults:
            raise Refused(Code.TABLE_FAULTS, "file", count=len(reading.faults))
        before = thing.load(house)
        for ref, values in reading.new:
            thing.save(act, ref, values)
            write_down(act, thing, ref, SetUpAct.ADDED, ({}, values), Named(thing.name(values)))
        for ref, values in reading.changed:
            if first_on:
                plan_now(act, thing, ref, values, first_on)
                continue
            thing.save(act, ref, values)
            old = {id: before[ref].get(id) for id in values}
            write_down(act, thing, ref, SetUpAct.CHANGED, (old, values), Named(thing.name({**before[ref], **values})))
        return reading


def keep(house: House, actor: Actor, kind: str, data: bytes, name: str) -> int:
    """Keep a file between looking and doing; gives its number. Those of before are forgotten."""
    with acting(house, actor, "set-up file", needs=Right.SET_UP) as act:
        return set_up.keep_file(act.connection, kind, data, name, act.at)


def kept(house: House, kind: str, number: int) -> tuple[bytes, str] | None:
    """A file that was kept, with its name; None when it is gone."""
    return set_up.kept_file(house.connection, kind, number) if number else None


def still_kept(house: House, kind: str, number: int) -> tuple[bytes, str]:
    """The same. Refused when it is gone."""
    found = kept(house, kind, number)
    if found is None:
        raise Refused(Code.FILE_GONE, "file")
    return found
