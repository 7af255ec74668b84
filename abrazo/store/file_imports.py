"""Files that come in: the file, how far it has come, and what it brought so far."""

from __future__ import annotations

from dataclasses import dataclass, fields

from abrazo.core.states import FileKind, ImportState
from abrazo.store.db import Connection, record


@dataclass(frozen=True, slots=True)
class FileImport:
    """A file that was handed in. `written` of its `entries` were looked at: `added` new, `changed` there before."""

    id: int
    kind: FileKind
    name: str
    at: str
    staff: str
    till: str
    lender: str | None = None
    state: ImportState = ImportState.WAITING
    entries: int = 0
    written: int = 0
    added: int = 0
    changed: int = 0
    fault: str = ""  # why it was refused, JSON
    ended_at: str | None = None

    @property
    def known(self) -> int:
        """How many of those that were looked at were there before."""
        return self.written - self.added


COLUMNS = f"SELECT {', '.join(one.name for one in fields(FileImport))} FROM file_import "
ONE = COLUMNS + "WHERE id = ?"
NEXT = COLUMNS + "WHERE state IN ('waiting', 'reading', 'writing') ORDER BY id LIMIT 1"
BEFORE = "SELECT count(*) FROM file_import WHERE state IN ('waiting', 'reading', 'writing') AND id < ?"
DATA = "SELECT data FROM file_import WHERE id = ?"
ADD = "INSERT INTO file_import (kind, name, data, at, staff, till, lender) VALUES (?, ?, ?, ?, ?, ?, ?)"
SET_STATE = "UPDATE file_import SET state = ?, entries = ? WHERE id = ?"
COUNT = "UPDATE file_import SET written = written + ?, added = added + ?, changed = changed + ? WHERE id = ?"
BEGIN_AGAIN = "UPDATE file_import SET state = 'waiting', entries = 0, written = 0, added = 0, changed = 0 WHERE id = ?"
END = "UPDATE file_import SET state = ?, fault = ?, ended_at = ?, data = x'' WHERE id = ?"
LEFT = """
SELECT DISTINCT p.file_import FROM person p JOIN file_import f ON f.id = p.file_import
WHERE p.file_import IS NOT NULL AND f.state IN ('done', 'refused')
"""
PUBLISH_SOME = """
UPDATE person SET file_import = NULL WHERE id IN (SELECT id FROM person WHERE file_import = ? LIMIT ?)
"""
FIRST_OF = "(SELECT id FROM person WHERE file_import = ? ORDER BY id LIMIT ?)"
DISCARD_SAID = (
    f"DELETE FROM own_value WHERE ref IN {FIRST_OF} AND field IN (SELECT id FROM own_field WHERE about = 'person')"
)
DISCARD_SOME = f"DELETE FROM person WHERE id IN {FIRST_OF}"


def read(connection: Connection, one: int) -> FileImport | None:
    """A file that came in, None when there is no such."""
    row = connection.execute(ONE, (one,)).fetchone()
    return record(FileImport, row) if row else None


def next_open(connection: Connection) -> FileImport | None:
    """The oldest that has not ended."""
    row = connection.execute(NEXT).fetchone()
    return record(FileImport, row) if row else None


def before(connection: Connection, one: int) -> int:
    """How many come first."""
    return int(connection.execute(BEFORE, (one,)).fetchone()[0])


def data(connection: Connection, one: int) -> bytes:
    """The file itself; empty when it was read."""
    return bytes(connection.execute(DATA, (one,)).fetchone()[0])


def add(connection: Connection, new: FileImport, file: bytes) -> int:
    """Keep a file that was handed in; the id is given anew."""
    row = connection.execute(ADD, (new.kind, new.name, file, new.at, new.staff, new.till, new.lender)).lastrowid
    assert row is not None
    return row


def set_state(connection: Connection, one: int, state: ImportState, entries: int = 0) -> None:
    """How far a file has come, and how many entries it holds."""
    connection.execute(SET_STATE, (state, entries, one))


def count(connection: Connection, one: int, written: int, added: int, changed: int = 0) -> None:
    """So many entries more were looked at, of which so many were new, and so many others changed what was there."""
    connection.execute(COUNT, (written, added, changed, one))


def begin_again(connection: Connection, one: int) -> None:
    """Nothing of it was read yet."""
    connection.execute(BEGIN_AGAIN, (one,))


def end(connection: Connection, one: int, state: ImportState, at: str, fault: str = "") -> None:
    """It is done, or was refused; its bytes go."""
    connection.execute(END, (state, fault, at, one))


def with_marks(connection: Connection) -> list[int]:
    """Those that have ended while people still carry their mark."""
    return [int(row[0]) for row in connection.execute(LEFT)]


def publish_some(connection: Connection, one: int, most: int) -> int:
    """Take the mark off some people of a file that is done; how many."""
    return connection.execute(PUBLISH_SOME, (one, most)).rowcount


def discard_some(connection: Connection, one: int, most: int) -> int:
    """Remove some people that a file brought so far; how many."""
    connection.execute(DISCARD_SAID, (one, most))
    return connection.execute(DISCARD_SOME, (one, most)).rowcount
