"""Opening the database, and the one owner of BEGIN, COMMIT and ROLLBACK."""

from __future__ import annotations

import fcntl
import functools
import os
import sqlite3
import threading
import time
from collections.abc import Hashable, Iterator
from contextlib import contextmanager
from enum import StrEnum
from pathlib import Path
from typing import Any, TypeVar, cast, get_args, get_type_hints

Connection = sqlite3.Connection
Row = sqlite3.Row
Conflict = sqlite3.IntegrityError
DatabaseError = sqlite3.DatabaseError
T = TypeVar("T")
PATIENCE = 30.0  # seconds that a writer waits for its turn, where nobody sits before a page
AT_A_PAGE = 2.0  # the same where somebody does
LOOK_EVERY = 0.002
STATEMENTS = 400  # that a connection keeps prepared: about what the house has


class Busy(Exception):
    """Somebody else holds the database; nothing was done, and it can be tried again."""


class Unavailable(StrEnum):
    """Why the database could not be read or written."""

    BUSY = "busy"
    FULL = "full"
    READ_ONLY = "read only"
    BROKEN = "broken"


def why_unavailable(error: Exception) -> Unavailable | None:
    """What an error of the database means to whoever waits; None when it is an error of ours."""
    if isinstance(error, Busy):
        return Unavailable.BUSY
    code = getattr(error, "sqlite_errorcode", 0) & 0xFF
    return {
        sqlite3.SQLITE_BUSY: Unavailable.BUSY,
        sqlite3.SQLITE_LOCKED: Unavailable.BUSY,
        sqlite3.SQLITE_FULL: Unavailable.FULL,
        sqlite3.SQLITE_READONLY: Unavailable.READ_ONLY,
        sqlite3.SQLITE_PERM: Unavailable.READ_ONLY,
        sqlite3.SQLITE_CANTOPEN: Unavailable.READ_ONLY,
        sqlite3.SQLITE_IOERR: Unavailable.BROKEN,
        sqlite3.SQLITE_CORRUPT: Unavailable.BROKEN,
        sqlite3.SQLITE_NOTADB: Unavailable.BROKEN,
    }.get(code)


def connect(path: str | Path, *, checkpoints: bool = True, patience: float = PATIENCE) -> Connection:
    """A connection with the house's settings: WAL, full sync, foreign keys, no implicit transactions.

    It waits `patience` seconds for its turn. Without `checkpoints` its commits leave the WAL to `checkpoint`, so that
    no commit waits for one.

    A request's dependency and its route may run on different threads, one after the other; hence no thread check.
    """
    connection = sqlite3.connect(
        path,
        isolation_level=None,
        check_same_thread=False,
        timeout=patience,
        cached_statements=STATEMENTS,
        factory=_Queued,
    )
    connection.row_factory = sqlite3.Row
    connection.execute("PRAGMA journal_mode = WAL")
    connection.execute("PRAGMA synchronous = FULL")
    connection.execute("PRAGMA foreign_keys = ON")
    connection.execute(f"PRAGMA busy_timeout = {int(patience * 1000)}")
    if isinstance(connection, _Queued):
        connection.patience = patience
    if not checkpoints:
        connection.execute("PRAGMA wal_autocheckpoint = 0")
    return connection


class _Queued(sqlite3.Connection):
    """A connection that knows the file at which the writers of all processes queue."""

    gate: int | None = None  # the file's descriptor
    patience: float = PATIENCE

    def close(self) -> None:
        self._leave()
        super().close()

    def __del__(self) -> None:
        self._leave()

    def _leave(self) -> None:
        gate, self.gate = self.gate, None
        if gate is not None:
            os.close(gate)


def data_version(connection: Connection) -> int:
    """A number that changes when another connection has confirmed something."""
    return int(connection.execute("PRAGMA data_version").fetchone()[0])


def checkpoint(connection: Connection) -> None:
    """Bring what the WAL holds into the database, as far as nobody still reads it; waits for no one."""
    connection.execute("PRAGMA wal_checkpoint(PASSIVE)").fetchall()


class ConnectionPool:
    """Connections that wait for their next use: a new one would read the schema and prepare every statement anew.

    Each is used by one request at a time. One that comes back in the middle of a transaction is rolled back.
    """

    def __init__(self, path: str | Path, most: int = 24) -> None:
        self._path, self._most = path, most
        self._waiting: list[Connection] = []
        self._lock = threading.Lock()
        self._closed = False

    def take(self) -> Connection:
        """One that waits, or a new one."""
        with self._lock:
            if self._waiting:
                return self._waiting.pop()
        return connect(self._path, checkpoints=False, patience=AT_A_PAGE)

    def give_back(self, connection: Connection) -> None:
        """Let it wait for the next, or close it when enough do."""
        if connection.in_transaction:
            connection.execute("ROLLBACK")
        with self._lock:
            if len(self._waiting) < self._most and not self._closed:
                self._waiting.append(connection)
                return
        connection.close()

    def close(self) -> None:
        """Close all that wait, and whatever still comes back."""
        with self._lock:
            waiting, self._waiting, self._closed = self._waiting, [], True
        for connection in waiting:
            connection.close()


_writers = threading.Lock()


def file_of(connection: Connection) -> str:
    """The file that a connection reads, with its path."""
    return str(connection.execute("PRAGMA database_list").fetchone()[2])


def fields(row: Row) -> dict[str, Any]:
    """A row's values by column name."""
    return dict(zip(row.keys(), row, strict=True))


def record(kind: type[T], row: Row | dict[str, Any], **more: Any) -> T:
    """A record of a row: each column goes to the field of its name, and is a state, kind or truth where that is one.

    `more` are fields that no column gives, or that replace what one gives.
    """
    names = tuple(row) if isinstance(row, dict) else tuple(row.keys())
    values = list(row.values() if isinstance(row, dict) else row)
    ordered, meant = _plan(cast("Hashable", kind), names)
    for place, meaning in meant:
        if (value := values[place]) is not None:
            values[place] = meaning[value]
    if ordered and not more:
        return kind(*values)
    return kind(**dict(zip(names, values, strict=True)) | more)


@functools.lru_cache(maxsize=256)
def _plan(kind: Hashable, names: tuple[str, ...]) -> tuple[bool, tuple[tuple[int, dict[Any, Any]], ...]]:
    """Whether columns stand in the order of a record's fields; the places of those that hold a state, kind or truth.

    Each with all that it can be, by what is kept of it.
    """
    found: list[tuple[int, dict[Any, Any]]] = []
    hints = get_type_hints(kind)
    for name, hint in hints.items():
        for one in (hint, *get_args(hint)) if name in names else ():
            if isinstance(one, type) and issubclass(one, StrEnum):
                found.append((names.index(name), {state.value: state for state in one}))
            elif one is bool:
                found.append((names.index(name), {0: False, 1: True}))
    return names == tuple(hints)[: len(names)], tuple(found)


@contextmanager
def atomic(connection: Connection, patience: float | None = None) -> Iterator[Connection]:
    """One writer's transaction: all of it is confirmed, or nothing. `patience`: seconds, else the connection's own.

    Raises Busy when it does not come to its turn in time. Writers queue for it here, those of this process at a lock
    and those of others at a file: SQLite would let them sleep and try again, some for seconds.
    """
    own = getattr(connection, "patience", PATIENCE)
    until = time.monotonic() + (own if patience is None else patience)
    with _first(until), _turn(connection, until):
        _begin(connection, max(0.0, until - time.monotonic()))
        try:
            yield connection
            connection.execute("COMMIT")
        except BaseException:
            if connection.in_transaction:  # a failed COMMIT may have ended it already
                connection.execute("ROLLBACK")
            raise


def _begin(connection: Connection, patience: float) -> None:
    """Begin to write; whoever holds the file beside our queue is waited for as well."""
    connection.execute(f"PRAGMA busy_timeout = {int(patience * 1000)}")
    try:
        connection.execute("BEGIN IMMEDIATE")
    except sqlite3.OperationalError as error:
        if why_unavailable(error) is Unavailable.BUSY:
            raise Busy from None
        raise
    finally:
        connection.execute(f"PRAGMA busy_timeout = {int(getattr(connection, 'patience', PATIENCE) * 1000)}")


@contextmanager
def _first(until: float) -> Iterator[None]:
    """The queue of the writers of this process."""
    if not _writers.acquire(timeout=max(0.0, until - time.monotonic())):
        raise Busy
    try:
        yield
    finally:
        _writers.release()


@contextmanager
def _turn(connection: Connection, until: float) -> Iterator[None]:
    """The queue of the writers of all processes; the system frees a place when its process dies."""
    gate = _gate(connection)
    if gate is None:
        yield
        return
    while True:
        try:
            fcntl.flock(gate, fcntl.LOCK_EX | fcntl.LOCK_NB)
            break
        except BlockingIOError:
            if time.monotonic() > until:
                raise Busy from None
            time.sleep(LOOK_EVERY)
    try:
        yield
    finally:
        fcntl.flock(gate, fcntl.LOCK_UN)


def _gate(connection: Connection) -> int | None:
    if isinstance(connection, _Queued) and connection.gate is None and (file := file_of(connection)):
        connection.gate = os.open(f"{file}-queue", os.O_CREAT | os.O_RDWR | os.O_CLOEXEC, 0o600)
    return connection.gate if isinstance(connection, _Queued) else None


@contextmanager
def snapshot(connection: Connection) -> Iterator[Connection]:
    """Several reads that see one state of the house."""
    connection.execute("BEGIN")
    try:
        yield connection
    finally:
        if connection.in_transaction:
            connection.execute("ROLLBACK")


def file_faults(connection: Connection) -> list[str]:
    """What SQLite itself finds wrong with the file; empty when nothing is."""
    try:
        return [str(row[0]) for row in connection.execute("PRAGMA integrity_check") if row[0] != "ok"]
    except sqlite3.DatabaseError as error:
        return [str(error)]


def reference_faults(connection: Connection) -> list[str]:
    """Rows that name what is not there: (table, row) in words; empty when none does."""
    return [f"{row[0]} {row[1]}" for row in connection.execute("PRAGMA foreign_key_check")]


def read_only(path: Path) -> Connection:
    """A connection that changes nothing, not even beside the file."""
    return sqlite3.connect(f"{path.absolute().as_uri()}?mode=ro", uri=True, isolation_level=None)


def copy(connection: Connection, to: Path, *, looked_at: bool = True) -> list[str]:
    """A whole copy of the database of one moment, also while others write; it is complete when it is there.

    Gives what is wrong with the copy; then there is none. What nobody relies on need not be `looked_at`.
    """
    part = to.with_name(f"{to.name}.part")
    part.unlink(missing_ok=True)
    target = sqlite3.connect(part, isolation_level=None)
    try:
        connection.backup(target)
        wrong = file_faults(target) if looked_at else []
        if not wrong:
            target.execute("PRAGMA journal_mode = DELETE")
    finally:
        target.close()
    if wrong:
        part.unlink()
        return wrong
    with part.open("rb+") as file:
        os.fsync(file.fileno())
    part.replace(to)
    return []
