"""What the commands that need a house do. Apart from main.py, so that `abrazo reckon` starts without a web server."""

from __future__ import annotations

import sys
from collections.abc import Mapping
from datetime import datetime
from pathlib import Path

from abrazo.cli.processes import serve_alone, serve_apart
from abrazo.cli.stand_ins import started
from abrazo.demo.day import make_demo
from abrazo.demo.house import PINS
from abrazo.desk.context import Devices, told_file
from abrazo.desk.setup.founding import NotAHouse, close_house, house_files, move_house, open_house
from abrazo.desk.till.views.journal import day_journal
from abrazo.store.lock import InUse, exclusive
from abrazo.store.migrate import FileState, examine

BAD = 2  # exit code: bad input, nothing was changed
AFRESH = "Begin afresh with: abrazo demo --fresh --db {db} (its files are moved to a folder beside it)."
WHY_NOT = {
    FileState.MISSING: "There is no house in {db}. Start one with: abrazo demo --db {db}",
    FileState.UNFINISHED: "The house in {db} was not set up to the end. " + AFRESH,
    FileState.DRAFT: "The house in {db} was made by an earlier draft, which this version does not open. " + AFRESH,
    FileState.NEWER: "The house in {db} was written by a newer version. Open it with that one; nothing was changed.",
    FileState.FOREIGN: "{db} is not a house of Abrazo. Nothing was changed; choose another file.",
}


def demo(host: str, port: int, db: Path, fresh: bool, pages: int = 1) -> int:
    """Serve the invented house, making it first where there is none; `fresh` moves the old one to a folder beside."""
    db.parent.mkdir(parents=True, exist_ok=True)
    address = f"http://{host}:{port}"
    try:
        with exclusive(db, address):
            state = examine(db)
            if state is FileState.FOREIGN or (state not in (FileState.HOUSE, FileState.MISSING) and not fresh):
                return refuse(db, state)
            if fresh and house_files(db):
                print(f"The house until now lies in {move_aside(db)}", flush=True)
            if fresh or state is FileState.MISSING:
                make_demo(db)
            with started(db) as beside:
                _serve(db, host, port, beside, PINS, pages)
    except InUse as other:
        return _in_use(other)
    return 0


def move_aside(db: Path) -> Path:
    """Where a house's files were moved to: a folder that bears the time."""
    folder = db.with_name(f"{db.stem}-{datetime.now():%Y-%m-%d-%H%M%S}")
    number = 1
    while folder.exists():
        number += 1
        folder = folder.with_name(f"{folder.name}-{number}")
    return move_house(db, folder).parent


def serve(host: str, port: int, db: Path, address: str, pages: int = 1) -> int:
    """Serve a house that exists, with devices at an address or else the stand-ins; 2 when there is none."""
    state = examine(db)
    if state is not FileState.HOUSE:
        return refuse(db, state)
    try:
        with exclusive(db, f"http://{host}:{port}"):
            if address:
                _serve(db, host, port, address, {}, pages)
                return 0
            with started(db) as beside:
                _serve(db, host, port, beside, {}, pages)
    except InUse as other:
        return _in_use(other)
    return 0


def journal(db: Path, first: str = "", last: str = "9999") -> int:
    """Write a house's double-entry journal of some dates to standard output; 2 when there is no house."""
    try:
        house = open_house(db, Devices.beside(db))
    except NotAHouse as other:
        return refuse(db, other.state)
    try:
        print(day_journal(house, first, last), end="")
    finally:
        close_house(house)
    return 0


def refuse(db: Path, state: FileState) -> int:
    """Say why a file is not opened; the exit code of bad input."""
    print(WHY_NOT[state].format(db=db), file=sys.stderr)
    return BAD


def _in_use(other: InUse) -> int:
    print(f"This house is open already at {other.address or 'an address that it has not said yet'}.", file=sys.stderr)
    return BAD


def _serve(db: Path, host: str, port: int, address: str, pins: Mapping[str, str], pages: int) -> None:
    told_file(db).unlink(missing_ok=True)  # devices remember nothing over a restart
    print(f"Abrazo is at http://{host}:{port}", flush=True)
    if pages == 1:
        serve_alone(db, host, port, address, pins)
    else:
        serve_apart(db, host, port, address, pins, pages)
