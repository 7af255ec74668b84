"""Commands about the books: reports, whether they are sound, copies. They run beside a house that is being served."""

from __future__ import annotations

import json
import re
import sys
from dataclasses import asdict
from datetime import UTC, datetime, timedelta
from pathlib import Path

from abrazo.cli.houses import BAD, move_aside, refuse, with_house
from abrazo.core.errors import Refused
from abrazo.desk.context import House
from abrazo.desk.history import reader
from abrazo.desk.output.auditor import folder
from abrazo.desk.output.reports import written
from abrazo.desk.output.statements import paper_of
from abrazo.desk.overview.soundness import Found, soundness
from abrazo.desk.payments.statements import read_range, statement_of
from abrazo.desk.people.people import find_people
from abrazo.desk.setup.founding import house_files
from abrazo.desk.till.views.journal import day_journal
from abrazo.formats.statement import statement_csv, statement_pdf
from abrazo.store import db as database
from abrazo.store import till
from abrazo.store.lock import InUse, exclusive
from abrazo.store.migrate import FileState, examine
from abrazo.words.refusals import refusal_text

NO_DAYS = "There is no business day from {first} to {last}."
NOBODY = "Nobody is known by {who!r}."
SEVERAL = "Several are known by {who!r}; name one of them, or their phone number: {names}"
NO_TILL = "There is no till {till}; there are: {tills}."


def report(db: Path, first: str, last: str, till_id: str, form: str) -> int:
    """Write the report of all business days of these dates to standard output."""

    def write(house: House) -> int:
        days = till.days_between(house.connection, first, last)
        if not days:
            return _bad(NO_DAYS.format(first=first, last=last))
        if till_id and till_id not in house.tills():
            return _bad(NO_TILL.format(till=till_id, tills=", ".join(house.tills())))
        sys.stdout.buffer.write(written(house, days, till_id or None, form))
        return 0

    return with_house(db, write)


def audit(db: Path, first: str, last: str, to: Path) -> int:
    """Write the auditor's folder of all business days of these dates."""
    if to.exists():
        return _bad(f"{to} is there already; choose another folder.")

    def write(house: House) -> int:
        days = till.days_between(house.connection, first, last)
        if not days:
            return _bad(NO_DAYS.format(first=first, last=last))
        count = 0
        for name, data in folder(house, days):
            path = to / name
            path.parent.mkdir(parents=True, exist_ok=True)
            path.write_bytes(data)
            count += 1
        print(f"{count} files of {len(days)} days are in {to}")
        return 0

    return with_house(db, write)


def check(db: Path, head: str, as_json: bool) -> int:
    """Say whether a house's books are sound: 0 and one line, or 1 and every fault by name."""
    return with_house(db, lambda house: _checked(soundness(house, head), as_json))


def _checked(found: list[Found], as_json: bool) -> int:
    if as_json:
        print(json.dumps({"faults": [{"fault": one.fault, "where": one.where, "detail": one.detail} for one in found]}))
    elif not found:
        print("The books are sound.")
    else:
        print("\n".join(" ".join(part for part in (one.fault, one.where, one.detail) if part) for one in found))
    return int(bool(found))


def backup(db: Path, to: Path) -> int:
    """Copy a house's database as it is at one moment, also while it is being served."""
    if to.exists():
        return _bad(f"{to} is there already; choose another file.")
    if not to.parent.is_dir():
        return _bad(f"There is no folder {to.parent}.")

    def copy(house: House) -> int:
        wrong = database.copy(house.connection, to)
        if wrong:
            return _bad(f"The house in {db} is damaged and was not copied: {wrong[0]}")
        print(f"The house is copied to {to}")
        return 0

    return with_house(db, copy)


def backup_kept(db: Path, folder: Path, days: int) -> int:
    """The same into a folder, under the moment's name; copies of this house there that are older are removed.

    They are only when the new one is whole: the last one always stays.
    """
    if not folder.is_dir():
        return _bad(f"There is no folder {folder}.")
    now = datetime.now(UTC)
    copied = backup(db, folder / f"{db.stem}-{now:%Y-%m-%dT%H%M%SZ}.db")
    if copied == 0:
        named = re.compile(rf"{re.escape(db.stem)}-(\d{{4}}-\d\d-\d\dT\d{{6}}Z)\.db")
        for file in folder.iterdir():
            found = named.fullmatch(file.name)
            if found and now - datetime.strptime(found[1], "%Y-%m-%dT%H%M%S%z") > timedelta(days=days):
                file.unlink()
                print(f"{file.name} is older than {days} days and was removed")
    return copied


def statement(db: Path, who: str, between: tuple[str, str], form: str) -> int:
    """Write the statement of somebody's account: of one whose name, phone or e-mail fits."""

    def write(house: House) -> int:
        found = [one for one in find_people(house, who) if one.erased_at is None]
        exact = [one for one in found if who in (one.name, one.phone)]
        if len(exact or found) != 1:
            names = ", ".join(f"{one.name} ({one.phone or one.email or one.id})" for one in found)
            return _bad((SEVERAL if found else NOBODY).format(who=who, names=names))
        try:
            told = statement_of(house, (exact or found)[0].id, *read_range(house, *between))
        except Refused as refusal:
            return _bad(refusal_text(reader(house), refusal))
        paper = paper_of(house, told)
        if form == "pdf":
            sys.stdout.buffer.write(statement_pdf(paper))
        else:
            print(json.dumps(asdict(paper), ensure_ascii=False) if form == "json" else statement_csv(paper), end="")
        return 0

    return with_house(db, write)


def restore(source: Path, db: Path) -> int:
    """Put a copy in a house's place; what was there moves to a folder beside, once the copy is whole."""
    state = examine(source)
    if state is not FileState.HOUSE:
        return refuse(source, state)
    if db.exists() and source.samefile(db):
        return _bad(f"{source} is the house itself; name a copy of it.")
    db.parent.mkdir(parents=True, exist_ok=True)
    try:
        with exclusive(db, "a restore that is under way"):
            return _put_in_place(source, db)
    except InUse as other:
        return _bad(f"This house is open already at {other.address}. Stop it first.")


def _put_in_place(source: Path, db: Path) -> int:
    whole = db.with_name(f"{db.name}.restored")
    connection = database.read_only(source)
    try:
        wrong = database.copy(connection, whole)
    finally:
        connection.close()
    if wrong:
        return _bad(f"{source} is damaged; nothing was changed: {wrong[0]}")
    if house_files(db):
        print(f"The house until now lies in {move_aside(db)}")
    whole.rename(db)
    print(f"The house of {source} is in {db}")
    return 0


def _bad(words: str) -> int:
    print(words, file=sys.stderr)
    return BAD


def journal(db: Path, first: str = "", last: str = "9999") -> int:
    """Write a house's double-entry journal of some dates to standard output; 2 when there is no house."""

    def write(house: House) -> int:
        print(day_journal(house, first, last), end="")
        return 0

    return with_house(db, write)
