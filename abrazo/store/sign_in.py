"""Sign-ins that stand, and wrong PINs by screen and person."""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.store.db import Connection, record


@dataclass(frozen=True, slots=True)
class SignInRow:
    """Who is signed in at which till; `id` is the hash of what the cookie holds, times are UTC.

    `latest`: the number of the journal's last entry when the row was read.
    """

    id: str
    staff: str
    till: str
    began_at: str
    seen_at: str
    ended_at: str | None = None
    latest: int = 0


@dataclass(frozen=True, slots=True)
class PinTries:
    """How many wrong PINs came in a row, the time before which no further one is looked at, and the last one's."""

    wrong: int
    until: str | None
    at: str


ADD = "INSERT INTO sign_in (id, staff, till, began_at, seen_at, ended_at) VALUES (?, ?, ?, ?, ?, ?)"
READ = """
SELECT id, staff, till, began_at, seen_at, ended_at, (SELECT coalesce(max(number), 0) FROM journal) AS latest
FROM sign_in WHERE id = ?
"""
SEEN = "UPDATE sign_in SET seen_at = ? WHERE id = ?"
MOVE = "UPDATE sign_in SET till = ? WHERE id = ? AND ended_at IS NULL"
END = "UPDATE sign_in SET ended_at = ? WHERE id = ? AND ended_at IS NULL"
DROP_OLD = "DELETE FROM sign_in WHERE began_at < ?"
TRIES = "SELECT wrong, until, at FROM pin_try WHERE screen = ? AND staff = ?"
PUT_TRIES = """
INSERT INTO pin_try (screen, staff, wrong, until, at) VALUES (?, ?, ?, ?, ?)
ON CONFLICT DO UPDATE SET wrong = excluded.wrong, until = excluded.until, at = excluded.at
"""
FORGET_TRIES = "DELETE FROM pin_try WHERE screen = ? AND staff = ?"
LATEST = """
SELECT id, staff, till, began_at, seen_at, ended_at, 0 AS latest FROM sign_in ORDER BY seen_at DESC LIMIT 1
"""
DROP_ALL = "DELETE FROM sign_in"
WRONG_SINCE = "SELECT staff, sum(wrong) AS wrong FROM pin_try WHERE at >= ? GROUP BY staff ORDER BY staff"


def add(connection: Connection, row: SignInRow) -> None:
    """Somebody signed in."""
    connection.execute(ADD, (row.id, row.staff, row.till, row.began_at, row.seen_at, row.ended_at))


def read(connection: Connection, id: str) -> SignInRow | None:
    """A sign-in by the hash of what its cookie holds."""
    row = connection.execute(READ, (id,)).fetchone()
    return record(SignInRow, row) if row else None


def latest(connection: Connection) -> SignInRow | None:
    """The sign-in whose owner did something last, ended or not."""
    row = connection.execute(LATEST).fetchone()
    return record(SignInRow, row) if row else None


def drop_all(connection: Connection) -> None:
    """Forget every sign-in."""
    connection.execute(DROP_ALL)


def seen(connection: Connection, id: str, at: str) -> None:
    """Whoever is signed in did something."""
    connection.execute(SEEN, (at, id))


def move(connection: Connection, id: str, till: str) -> None:
    """A sign-in that has not ended is at another till."""
    connection.execute(MOVE, (till, id))


def end(connection: Connection, id: str, at: str) -> None:
    """A sign-in ends."""
    connection.execute(END, (at, id))


def drop_old(connection: Connection, before: str) -> None:
    """Forget sign-ins that began before a time."""
    connection.execute(DROP_OLD, (before,))


def tries(connection: Connection, screen: str, staff: str) -> PinTries | None:
    """The wrong PINs of somebody at a screen; None when the last one was right."""
    row = connection.execute(TRIES, (screen, staff)).fetchone()
    return record(PinTries, row) if row else None


def put_tries(connection: Connection, screen: str, staff: str, tries: PinTries) -> None:
    """Keep how many wrong PINs there were."""
    connection.execute(PUT_TRIES, (screen, staff, tries.wrong, tries.until, tries.at))


def forget_tries(connection: Connection, screen: str, staff: str) -> None:
    """The PIN was right."""
    connection.execute(FORGET_TRIES, (screen, staff))


def wrong_since(connection: Connection, at: str) -> list[tuple[str, int]]:
    """Whose PINs were wrong since a time, and how often."""
    return [(row["staff"], row["wrong"]) for row in connection.execute(WRONG_SINCE, (at,))]
