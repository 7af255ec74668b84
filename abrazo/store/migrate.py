"""Bringing a database to the newest shape: numbered SQL files, each with its version stamp inside one transaction."""

from __future__ import annotations

from importlib import resources

from abrazo.store.db import Connection

VERSION = "PRAGMA user_version"


def pending(connection: Connection) -> list[tuple[int, str]]:
    """Migrations not yet run, as (number, SQL), in order. Never writes."""
    done = connection.execute(VERSION).fetchone()[0]
    folder = resources.files("abrazo.store") / "migrations"
    files = sorted((f for f in folder.iterdir() if f.name.endswith(".sql")), key=lambda f: f.name)
    found = [(int(f.name.partition("_")[0]), f.read_text("utf-8")) for f in files]
    return [(number, sql) for number, sql in found if number > done]


def migrate(connection: Connection) -> None:
    """Run what is pending. BEGIN and COMMIT stand inside the script, because executescript commits what is open."""
    for number, sql in pending(connection):
        script = f"BEGIN IMMEDIATE;\n{sql}\nPRAGMA user_version = {number};\nCOMMIT;"
        try:
            connection.executescript(script)
        except BaseException:
            if connection.in_transaction:
                connection.execute("ROLLBACK")
            raise
