"""The house's settings, one value by name."""

from __future__ import annotations

from abrazo.store.db import Connection

ALL = "SELECT key, value FROM setting"
PUT = "INSERT INTO setting (key, value) VALUES (?, ?) ON CONFLICT (key) DO UPDATE SET value = excluded.value"


def read_all(connection: Connection) -> dict[str, str]:
    return {row["key"]: row["value"] for row in connection.execute(ALL)}


def put(connection: Connection, key: str, value: str) -> None:
    connection.execute(PUT, (key, value))
