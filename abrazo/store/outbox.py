"""What is to be printed, sent after the commit that asked for it."""

from __future__ import annotations

import json
from collections.abc import Iterable
from dataclasses import dataclass

from abrazo.store.db import Connection, record


@dataclass(frozen=True, slots=True)
class Sheet:
    """A piece of paper for a printer, or a message to somebody; `about` names what it shows, `copy` counts from 1.

    `barcode` is printed as bars under the text; `recipient` is a message's address. A sender claims it before it goes
    out; one that was claimed and not sent may have gone out. `printer`: of which till or place.
    """

    id: int
    at: str
    device: str
    title: str
    body: str
    copy: int
    about: str
    sent_at: str | None
    fault: str | None
    barcode: str = ""
    recipient: str = ""
    claimed_at: str | None = None
    printer: str = ""


PRINTER = "receipt printer"
MESSAGE = "message"  # the device that carries text messages
COLUMNS = """
SELECT id, at, device, title, body, copy, about, sent_at, fault, barcode, recipient, claimed_at, printer FROM outbox
"""
ADD = """
INSERT INTO outbox (at, device, title, body, copy, about, barcode, recipient, printer)
VALUES (?, ?, ?, ?, (SELECT count(*) + 1 FROM outbox WHERE about = ?), ?, ?, ?, ?)
"""
COPIES = "SELECT count(*) FROM outbox WHERE about = ?"
LAST_ABOUT = """
SELECT about, max(at) AS at FROM outbox WHERE about IN (SELECT value FROM json_each(?)) GROUP BY about
"""
WAITING = COLUMNS + "WHERE sent_at IS NULL AND claimed_at IS NULL ORDER BY id"
DOUBTFUL = COLUMNS + "WHERE sent_at IS NULL AND claimed_at < ? ORDER BY id"
CLAIM = """
UPDATE outbox SET claimed_at = ? WHERE id = ? AND sent_at IS NULL AND claimed_at IS NULL RETURNING id
"""
RELEASE = "UPDATE outbox SET claimed_at = NULL, fault = ? WHERE id = ? AND sent_at IS NULL"
LATEST = COLUMNS + "ORDER BY id DESC LIMIT ?"
MARK_SENT = "UPDATE outbox SET sent_at = ?, fault = NULL WHERE id = ?"
MARK_FAULT = "UPDATE outbox SET fault = ? WHERE id = ? AND sent_at IS NULL"


@dataclass(frozen=True, slots=True)
class NewSheet:
    """A sheet or message to go out: on which device, what it says, what it is about, to whom or at whose printer."""

    at: str
    device: str
    title: str
    body: str
    about: str
    barcode: str = ""
    recipient: str = ""
    printer: str = ""


def add(connection: Connection, new: NewSheet) -> int:
    """Put a sheet or message out; gives its id."""
    said = (new.at, new.device, new.title, new.body, new.about)
    row = connection.execute(ADD, (*said, new.about, new.barcode, new.recipient, new.printer)).lastrowid
    assert row is not None
    return row


def copies(connection: Connection, about: str) -> int:
    """How many sheets were printed about something."""
    return int(connection.execute(COPIES, (about,)).fetchone()[0])


def last_about(connection: Connection, about: Iterable[str]) -> dict[str, str]:
    """When the last sheet or message about each of these was made; those of which none was are left out."""
    return {row["about"]: row["at"] for row in connection.execute(LAST_ABOUT, (json.dumps(list(about)),))}


def waiting(connection: Connection) -> list[Sheet]:
    """What nobody has claimed yet, oldest first."""
    return [record(Sheet, row) for row in connection.execute(WAITING)]


def latest(connection: Connection, most: int) -> list[Sheet]:
    """The latest sheets and messages."""
    return [record(Sheet, row) for row in connection.execute(LATEST, (most,))]


def doubtful(connection: Connection, before: str) -> list[Sheet]:
    """What was claimed before a moment and is not known to have gone out, oldest first."""
    return [record(Sheet, row) for row in connection.execute(DOUBTFUL, (before,))]


def claim(connection: Connection, sheet: int, at: str) -> bool:
    """Take a sheet to send it; False when somebody else has it."""
    return connection.execute(CLAIM, (at, sheet)).fetchone() is not None


def release(connection: Connection, sheet: int, fault: str | None) -> None:
    """Let a sheet that did not go out wait for its next sender."""
    connection.execute(RELEASE, (fault, sheet))


def mark_sent(connection: Connection, sheet: int, at: str) -> None:
    """It went out."""
    connection.execute(MARK_SENT, (at, sheet))


def mark_fault(connection: Connection, sheet: int, fault: str) -> None:
    """Why it did not go out."""
    connection.execute(MARK_FAULT, (fault, sheet))
