"""What a database file is, and bringing a house's to the newest shape: numbered SQL files, each with its version stamp
inside one transaction."""

from __future__ import annotations

import sqlite3
from enum import Enum
from importlib import resources
from pathlib import Path

from abrazo.store.db import Connection, copy

APPLICATION = 0x4162727A  # "Abrz", the mark of a house's file (PRAGMA application_id)
VERSION = "PRAGMA user_version"
DRAFT_TABLES = {"setting", "ticket", "journal", "posting", "card_ask"}  # of what came before the first schema
READY = "SELECT count(*) FROM settings WHERE ready"


class FileState(Enum):
    """What lies under a path."""

    MISSING = "missing"  # nothing, or an empty file
    HOUSE = "house"
    UNFINISHED = "unfinished"  # ours, but not set up to the end
    DRAFT = "draft"  # of a version before the first that later ones open
    NEWER = "newer"  # of a later version than this program
    FOREIGN = "foreign"  # something else
    NO_COPY = "no copy"  # of an older version, and no copy of it could be made


def examine(path: Path) -> FileState:
    """What a file is. Only reads: nothing is migrated, no setting of the file changes."""
    if not path.exists() or path.stat().st_size == 0:
        return FileState.MISSING
    try:
        connection = sqlite3.connect(f"{path.absolute().as_uri()}?mode=ro", uri=True, isolation_level=None, timeout=10)
    except sqlite3.Error:
        return FileState.FOREIGN
    try:
        return _state(connection)
    except sqlite3.DatabaseError:
        return FileState.FOREIGN
    finally:
        connection.close()


def _state(connection: Connection) -> FileState:
    tables = {row[0] for row in connection.execute("SELECT name FROM sqlite_schema WHERE type = 'table'")}
    if not tables:
        return FileState.MISSING
    if tables >= DRAFT_TABLES:
        return FileState.DRAFT
    if connection.execute("PRAGMA application_id").fetchone()[0] != APPLICATION:
        return FileState.FOREIGN
    if connection.execute(VERSION).fetchone()[0] > newest():
        return FileState.NEWER
    if "settings" not in tables or not connection.execute(READY).fetchone()[0]:
        return FileState.UNFINISHED
    return FileState.HOUSE


def _files() -> list[tuple[int, str]]:
    folder = resources.files("abrazo.store") / "migrations"
    files = sorted((f for f in folder.iterdir() if f.name.endswith(".sql")), key=lambda f: f.name)
    return [(int(f.name.partition("_")[0]), f.read_text("utf-8")) for f in files]


def newest() -> int:
    """The number of the last migration."""
    return max(number for number, _ in _files())


def pending(connection: Connection) -> list[tuple[int, str]]:
    """Migrations not yet run, as (number, SQL), in order. Never writes."""
    done = connection.execute(VERSION).fetchone()[0]
    return [(number, sql) for number, sql in _files() if number > done]


def keep_before(connection: Connection, path: Path) -> bool:
    """A copy of a house beside its file, before it is brought to a newer version; False when none could be made.

    True too when nothing is to be changed, or there is nothing yet.
    """
    version = connection.execute(VERSION).fetchone()[0]
    if not version or not pending(connection):
        return True
    try:
        return not copy(connection, kept_before(path, version))
    except (sqlite3.Error, OSError):
        return False


def kept_before(path: Path, version: int) -> Path:
    """Where a house's copy lies as it was in that version."""
    return path.with_name(f"{path.stem}-version-{version}.db")


def migrate(connection: Connection) -> None:
    """Run what is pending, on an empty database or a house's: see `examine` and `keep_before`.

    BEGIN and COMMIT stand inside the script, because executescript commits what is open.
    """
    mark = f"PRAGMA application_id = {APPLICATION};"
    for number, sql in pending(connection):
        script = f"BEGIN IMMEDIATE;\n{mark}\n{sql}\nPRAGMA user_version = {number};\nCOMMIT;"
        try:
            connection.executescript(script)
        except BaseException:
            if connection.in_transaction:
                connection.execute("ROLLBACK")
            raise
