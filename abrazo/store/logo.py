"""The picture at the head of receipts."""

from __future__ import annotations

from abrazo.store.db import Connection

READ = "SELECT image FROM logo"
PUT = """
INSERT INTO logo (id, image, width, height, at) VALUES (1, ?, ?, ?, ?)
ON CONFLICT DO UPDATE SET image = excluded.image, width = excluded.width, height = excluded.height, at = excluded.at
"""
DROP = "DELETE FROM logo"


def read(connection: Connection) -> bytes:
    """The picture (PNG); empty when there is none."""
    row = connection.execute(READ).fetchone()
    return bytes(row["image"]) if row else b""


def put(connection: Connection, image: bytes, width: int, height: int, at: str) -> None:
    """Keep a picture in the place of the one before; its size in dots."""
    connection.execute(PUT, (image, width, height, at))


def drop(connection: Connection) -> None:
    """There is none any more."""
    connection.execute(DROP)
