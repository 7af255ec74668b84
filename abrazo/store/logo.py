"""The pictures at the head of receipts: the one that prints, and those before."""

from __future__ import annotations

from abrazo.store.db import Connection, Row

READ = "SELECT image FROM logo WHERE prints"
PRINTS = "SELECT id FROM logo WHERE prints"
SIZES = "SELECT id, width, height FROM logo ORDER BY id"
ADD = "INSERT INTO logo (image, width, height, at) VALUES (?, ?, ?, ?) RETURNING id"
NONE = "UPDATE logo SET prints = 0 WHERE prints"
PRINT = "UPDATE logo SET prints = 1 WHERE id = ?"


def read(connection: Connection) -> bytes:
    """The picture that prints (PNG); empty when there is none."""
    row = connection.execute(READ).fetchone()
    return bytes(row["image"]) if row else b""


def which_prints(connection: Connection) -> int:
    """The id of the one that prints; 0 when there is none."""
    row = connection.execute(PRINTS).fetchone()
    return int(row["id"]) if row else 0


def sizes(connection: Connection) -> list[Row]:
    """All there were, in order, with their width and height in dots."""
    return list(connection.execute(SIZES))


def add(connection: Connection, image: bytes, width: int, height: int, at: str) -> int:
    """Keep a picture with its size in dots; gives its id. It does not print yet."""
    return int(connection.execute(ADD, (image, width, height, at)).fetchone()["id"])


def print_from_now(connection: Connection, id: int) -> None:
    """Let this one print, and no other; none where `id` is 0."""
    connection.execute(NONE)
    connection.execute(PRINT, (id,))
