"""Where a house is, or why there is none: what all commands share, without the web server."""

from __future__ import annotations

import sys
from collections.abc import Callable
from datetime import datetime
from pathlib import Path

from abrazo.desk.context import Devices, House
from abrazo.desk.setup.founding import NotAHouse, close_house, move_house, open_house
from abrazo.store.migrate import FileState

BAD = 2  # exit code: bad input, nothing was changed
AFRESH = "Begin afresh with: abrazo demo --fresh --db {db} (its files are moved to a folder beside it)."
WHY_NOT = {
    FileState.MISSING: "There is no house in {db}. Make one with: abrazo serve --db {db}, or abrazo init; "
    "or start the invented one with: abrazo demo --db {db}",
    FileState.UNFINISHED: "The house in {db} was not set up to the end. " + AFRESH,
    FileState.DRAFT: "The house in {db} was made by an earlier draft, which this version does not open. " + AFRESH,
    FileState.NEWER: "The house in {db} was written by a newer version. Open it with that one; nothing was changed.",
    FileState.NO_COPY: "The house in {db} is of an earlier version, and no copy of it could be made beside it. Nothing "
    "was changed: make room, and see that its folder can be written; abrazo check looks whether the file is sound.",
    FileState.FOREIGN: "{db} is not a house of Abrazo. Nothing was changed; choose another file.",
}


def refuse(db: Path, state: FileState) -> int:
    """Say why a file is not opened; the exit code of bad input."""
    print(WHY_NOT[state].format(db=db), file=sys.stderr)
    return BAD


def with_house(db: Path, do: Callable[[House], int]) -> int:
    """Do something with a house; 2 when there is none under that path."""
    try:
        house = open_house(db, Devices.beside(db))
    except NotAHouse as other:
        return refuse(db, other.state)
    try:
        return do(house)
    finally:
        close_house(house)


def move_aside(db: Path) -> Path:
    """Where a house's files were moved to: a folder that bears the time."""
    folder = db.with_name(f"{db.stem}-{datetime.now():%Y-%m-%d-%H%M%S}")
    number = 1
    while folder.exists():
        number += 1
        folder = folder.with_name(f"{folder.name}-{number}")
    return move_house(db, folder).parent
