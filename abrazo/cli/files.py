"""`abrazo import` and `abrazo export`: what a house is set up with, by the functions of the pages."""

from __future__ import annotations

import json
import sys
import uuid
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import UTC, datetime
from pathlib import Path

from abrazo.cli.houses import BAD, with_house
from abrazo.core.errors import Refused
from abrazo.core.states import StaffRole
from abrazo.desk.context import Actor, House
from abrazo.desk.doors.views.bookings import all_visits
from abrazo.desk.doors.views.calendar import events_of
from abrazo.desk.history import reader
from abrazo.desk.output import tables
from abrazo.desk.output.tables import FORMS
from abrazo.desk.setup.house_settings import THINGS
from abrazo.desk.setup.thing_files import look_at, read_in, written
from abrazo.desk.till.views.journal import day_journal
from abrazo.formats.calendar_ics import write_calendar
from abrazo.formats.table_file import written_csv, written_xlsx
from abrazo.words.refusals import refusal_text


def kinds() -> list[str]:
    """What of set-up can be written out and read in."""
    return list(THINGS)


def all_kinds() -> list[str]:
    """What can be written out."""
    return [*THINGS, *tables.KINDS]


def forms(kind: str) -> tuple[str, ...]:
    """As what a kind can be written."""
    return FORMS if kind in tables.KINDS else ("csv", "xlsx")


def write_out(db: Path, kind: str, form: str, out: Path | None, between: tuple[str, str] = tables.EVER) -> int:
    """Write all of a kind, or what of it lies between two business dates, to a file or to standard output."""

    def write(house: House) -> int:
        data = _written(house, kind, form, between)
        if out is None:
            sys.stdout.buffer.write(data)
        else:
            out.write_bytes(data)
        return 0

    return with_house(db, write)


def _written(house: House, kind: str, form: str, between: tuple[str, str] = tables.EVER) -> bytes:
    if kind in tables.KINDS:
        return tables.table(house, kind, between).as_file(form)
    rows = written(house, THINGS[kind])
    return written_csv(rows).encode() if form == "csv" else written_xlsx(rows)


def write_all(db: Path, folder: Path) -> int:
    """Write a whole house into a new folder, readable without this program."""
    if folder.exists():
        print(f"{folder} is there already; choose another folder.", file=sys.stderr)
        return BAD

    def write(house: House) -> int:
        folder.mkdir(parents=True)
        for kind in all_kinds():
            (folder / f"{kind}.csv").write_bytes(_written(house, kind, "csv"))
        events = events_of(house, all_visits(house))
        (folder / "bookings.ics").write_bytes(write_calendar(house.settings.name, events, datetime.now(UTC)))
        (folder / "journal.txt").write_text(day_journal(house, "", "9999"), "utf-8")
        print(f"{len(all_kinds()) + 2} files are in {folder}")
        return 0

    return with_house(db, write)


def read_file(db: Path, kind: str, file: Path, *, check: bool, as_json: bool, holds_from: str = "") -> int:
    """Read a table in, all or nothing; with `check` only say what it would do. 2 with the rows that are wrong.

    `holds_from`: what it changes holds from this business date on.
    """

    def read(house: House) -> int:
        try:
            data = file.read_bytes()
            house = replace(house, memo={})  # what all rows ask for is read once
            reading = look_at(house, THINGS[kind], data)
            if not reading.faults and not check:
                read_in(house, whoever(house), THINGS[kind], data, uuid.uuid4().hex, holds_from)
            faults = [(one.number, one.column, one.why) for one in reading.faults]
            return tell(house, Found(len(reading.new), len(reading.changed), reading.unchanged, faults), as_json)
        except OSError as fault:
            return tell_refusal(f"{file}: {fault.strerror}")
        except Refused as refusal:
            return tell_refusal(refusal_text(reader(house), refusal))

    return with_house(db, read)


def whoever(house: House) -> Actor:
    """In whose name a command changes what a house is set up with: its first supervisor's."""
    boss = next(one for one in house.workers().values() if one.role == StaffRole.SUPERVISOR)
    return Actor(boss, next(iter(house.tills_in_use().values())), by_itself=True)


@dataclass(frozen=True, slots=True)
class Found:
    """What a file did or would do; what is wrong in it: row or line, column or name, and why. `waits`: for a day."""

    new: int = 0
    changed: int = 0
    unchanged: int = 0
    faults: Sequence[tuple[int, str, Refused]] = ()
    waits: bool = False


def tell_refusal(words: str) -> int:
    """Say why a file is not read; the exit code of bad input."""
    print(words, file=sys.stderr)
    return BAD


def tell(house: House, found: Found, as_json: bool) -> int:
    """Say what a file did or would do; the exit code."""
    faults = [(number, column, refusal_text(reader(house), why)) for number, column, why in found.faults]
    numbers = {"new": found.new, "changed": found.changed, "unchanged": found.unchanged}
    if as_json:
        wrong = [dict(zip(("row", "column", "why"), one, strict=True)) for one in faults]
        print(json.dumps({**numbers, "faults": wrong, **({"waits": True} if found.waits else {})}))
    else:
        told = ", ".join(f"{number} {what}" for what, number in numbers.items())
        print("It waits: no day is open, and it is read when the next one is." if found.waits else told)
        for number, column, why in faults:
            print(f"row {number}, {column}: {why}", file=sys.stderr)
    return BAD if faults else 0
