"""`abrazo import` and `abrazo export`: what a house is set up with, by the functions of the pages."""

from __future__ import annotations

import json
import sys
import uuid
from dataclasses import replace
from pathlib import Path

from abrazo.cli.houses import BAD, with_house
from abrazo.core.errors import Refused
from abrazo.core.states import StaffRole
from abrazo.desk.context import Actor, House
from abrazo.desk.history import reader
from abrazo.desk.setup.house_settings import THINGS
from abrazo.desk.setup.thing_files import Reading, look_at, read_in, written
from abrazo.formats.table_file import written_csv, written_xlsx
from abrazo.words.refusals import refusal_text


def kinds() -> list[str]:
    """What can be written out and read in."""
    return list(THINGS)


def write_out(db: Path, kind: str, form: str, out: Path | None) -> int:
    """Write all of a kind as a table to a file, or CSV to standard output."""

    def write(house: House) -> int:
        rows = written(house, THINGS[kind])
        data = written_csv(rows).encode() if form == "csv" else written_xlsx(rows)
        if out is None:
            sys.stdout.buffer.write(data)
        else:
            out.write_bytes(data)
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
            return _tell(house, reading, as_json)
        except OSError as fault:
            print(f"{file}: {fault.strerror}", file=sys.stderr)
        except Refused as refusal:
            print(refusal_text(reader(house), refusal), file=sys.stderr)
        return BAD

    return with_house(db, read)


def whoever(house: House) -> Actor:
    """In whose name a command changes what a house is set up with: its first supervisor's."""
    boss = next(one for one in house.workers().values() if one.role == StaffRole.SUPERVISOR)
    return Actor(boss, next(iter(house.tills_in_use().values())), by_itself=True)


def _tell(house: House, reading: Reading, as_json: bool) -> int:
    faults = [(one.number, one.column, refusal_text(reader(house), one.why)) for one in reading.faults]
    numbers = {"new": len(reading.new), "changed": len(reading.changed), "unchanged": reading.unchanged}
    if as_json:
        print(
            json.dumps({**numbers, "faults": [dict(zip(("row", "column", "why"), one, strict=True)) for one in faults]})
        )
    else:
        print(", ".join(f"{number} {what}" for what, number in numbers.items()))
        for number, column, why in faults:
            print(f"row {number}, {column}: {why}", file=sys.stderr)
    return BAD if faults else 0
