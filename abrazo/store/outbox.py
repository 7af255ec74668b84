"""What is to be printed, sent after the commit that asked for it."""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.store.db import Connection


@dataclass(frozen=True, slots=True)
class Sheet:
    """A piece of paper for a printer, or a message to somebody; `about` names what it shows, `copy` counts from 1.

    `barcode` is printed as bars under the text; `recipient` is a message's address.
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


PRINTER = "receipt printer"
MESSAGE = "message"  # the device that carries text messages
COLUMNS = "SELECT id, at, device, title, body, copy, about, sent_at, fault, barcode, recipient FROM outbox "
ADD = """
INSERT INTO outbox (at, device, title, body, copy, about, barcode, recipient)
VALUES (?, ?, ?, ?, (SELECT count(*) + 1 FROM outbox WHERE about = ?), ?, ?, ?)
"""
COPIES = "SELECT count(*) FROM outbox WHERE about = ?"
WAITING = COLUMNS + "WHERE sent_at IS NULL ORDER BY id"
LATEST = COLUMNS + "ORDER BY id DESC LIMIT ?"
MARK_SENT = "UPDATE outbox SET sent_at = ?, fault = NULL WHERE id = ?"
MARK_FAULT = "UPDATE outbox SET fault = ? WHERE id = ?"


def add(
    connection: Connection,
    at: str,
    device: str,
    title: str,
    body: str,
    about: str,
    barcode: str = "",
    recipient: str = "",
) -> int:
    row = connection.execute(ADD, (at, device, title, body, about, about, barcode, recipient)).lastrowid
    assert row is not None
    return row


def copies(connection: Connection, about: str) -> int:
    """How many sheets were printed about something."""
    return int(connection.execute(COPIES, (about,)).fetchone()[0])


def waiting(connection: Connection) -> list[Sheet]:
    return [Sheet(*row) for row in connection.execute(WAITING)]


def latest(connection: Connection, most: int) -> list[Sheet]:
    return [Sheet(*row) for row in connection.execute(LATEST, (most,))]


def mark_sent(connection: Connection, sheet: int, at: str) -> None:
    connection.execute(MARK_SENT, (at, sheet))


def mark_fault(connection: Connection, sheet: int, fault: str) -> None:
    connection.execute(MARK_FAULT, (fault, sheet))
