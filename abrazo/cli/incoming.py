"""`abrazo import` of people, bookings, and what people held before: by the functions of the pages.

Rules here
- a file is first looked at; with anything wrong in it, it is not handed in
- people and bookings are read by the house that serves, beside its pages; where none does, by this command
"""

from __future__ import annotations

import time
import uuid
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import TypeVar

from abrazo.cli.files import Found, tell, tell_refusal, whoever
from abrazo.cli.houses import with_house
from abrazo.core.errors import BadEntry, Refused
from abrazo.core.states import FileKind, HeldKind, ImportState, OwnAbout
from abrazo.desk.context import House
from abrazo.desk.doors import file_imports
from abrazo.desk.history import reader
from abrazo.desk.people.own_fields import fields_of
from abrazo.desk.people.people import new_among, people_in
from abrazo.desk.setup import brought
from abrazo.desk.setup.brought_rows import HELD
from abrazo.formats.calendar_ics import read_calendar
from abrazo.store.lock import InUse, exclusive
from abrazo.words.refusals import refusal_text

KINDS = (*FileKind, *HeldKind)
LOOK_EVERY = 0.2  # seconds between looks at a file that the house reads
T = TypeVar("T")


def read_file(db: Path, kind: str, file: Path, *, check: bool, as_json: bool) -> int:
    """Read a file in, all or nothing; with `check` only say what it would do. 2 with what is wrong in it."""

    def read(house: House) -> int:
        try:
            data, house = file.read_bytes(), replace(house, memo={})
            if kind in HELD:
                return tell(house, _held(house, HeldKind(kind), data, file.name, check=check), as_json)
            found = _looked_at(house, FileKind(kind), data, file.name)
            if not check:
                found = _read(db, house, FileKind(kind), (data, file.name))
            return tell(house, found, as_json)
        except OSError as fault:
            return tell_refusal(f"{file}: {fault.strerror}")
        except Refused as refusal:
            faults = refusal.facts.get("faults", ())
            assert isinstance(faults, tuple)
            rows = [(one.line, one.name, one.why) for one in faults if isinstance(one, BadEntry)]
            return tell(house, Found(faults=rows), as_json) if rows else _refused(house, refusal)

    return with_house(db, read)


def _refused(house: House, refusal: Refused) -> int:
    return tell_refusal(refusal_text(reader(house), refusal))


def _held(house: House, kind: HeldKind, data: bytes, name: str, *, check: bool) -> Found:
    look = brought.look_at(house, HELD[kind], data)
    if not (look.faults or check):
        brought.bring_in(house, whoever(house), HELD[kind], data, name, uuid.uuid4().hex)
    return Found(len(look.new), 0, look.same, [(one.number, one.column, one.why) for one in look.faults])


def _looked_at(house: House, kind: FileKind, data: bytes, name: str) -> Found:
    """What a file holds that is new, and what is known. Refused with every bad entry."""
    if kind is FileKind.BOOKINGS:
        return Found(new=len(read_calendar(data, house.settings.zone)))
    found = people_in(data, name, house.settings.region, house.now().date(), fields_of(house, OwnAbout.PERSON))
    new = len(new_among(house, found))
    return Found(new, 0, len(found) - new)


def _read(db: Path, house: House, kind: FileKind, file: tuple[bytes, str]) -> Found:
    """Hand a file in, and see that it is read; without an open day it waits for the next, and that is said."""
    one = file_imports.hand_in(house, whoever(house), kind, file, uuid.uuid4().hex)
    while True:
        house.forget()
        stands = file_imports.standing(house, one)
        if stands.refusal:
            raise stands.refusal
        if stands.needs_day:
            return Found(waits=True)
        if stands.file.state is ImportState.DONE:
            return Found(stands.file.added, stands.file.changed, stands.file.known - stands.file.changed)
        try:
            with exclusive(db, "a file that comes in"):
                file_imports.read_next(house, _here)
        except InUse:  # it serves, and reads it
            time.sleep(LOOK_EVERY)


def _here(work: Callable[..., T], /, *given: object) -> T:
    return work(*given)
