"""Opening the database, and the one owner of BEGIN, COMMIT and ROLLBACK."""

from __future__ import annotations

import sqlite3
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

Connection = sqlite3.Connection
Row = sqlite3.Row
Conflict = sqlite3.IntegrityError


def connect(path: str | Path) -> Connection:
    """A connection with the house's settings: WAL, full sync, foreign keys, no implicit transactions.

    A request's dependency and its route may run on different threads, one after the other; hence no thread check.
    """
    connection = sqlite3.connect(path, isolation_level=None, check_same_thread=False, timeout=10)
    connection.row_factory = sqlite3.Row
    connection.execute("PRAGMA journal_mode = WAL")
    connection.execute("PRAGMA synchronous = FULL")
    connection.execute("PRAGMA foreign_keys = ON")
    connection.execute("PRAGMA busy_timeout = 10000")
    return connection


_writers = threading.Lock()


def file_of(connection: Connection) -> str:
    """The file that a connection reads, with its path."""
    return str(connection.execute("PRAGMA database_list").fetchone()[2])


def fields(row: Row) -> dict[str, Any]:
    """A row's values by column name."""
    return dict(zip(row.keys(), row, strict=True))


@contextmanager
def atomic(connection: Connection) -> Iterator[Connection]:
    """One writer's transaction: all of it is confirmed, or nothing.

    Writers of this process queue for it here: SQLite would let them sleep and try again, some for seconds.
    """
    with _writers:
        connection.execute("BEGIN IMMEDIATE")
        try:
            yield connection
            connection.execute("COMMIT")
        except BaseException:
            if connection.in_transaction:  # a failed COMMIT may have ended it already
                connection.execute("ROLLBACK")
            raise


@contextmanager
def snapshot(connection: Connection) -> Iterator[Connection]:
    """Several reads that see one state of the house."""
    connection.execute("BEGIN")
    try:
        yield connection
    finally:
        if connection.in_transaction:
            connection.execute("ROLLBACK")
