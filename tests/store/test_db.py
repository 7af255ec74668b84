"""The database: every statement is valid SQL, the record can only grow, a failed migration leaves nothing."""

from __future__ import annotations

import importlib
import pkgutil
import re
from collections.abc import Iterator

import pytest

import abrazo.store
from abrazo.store import db, migrate


def statements() -> Iterator[tuple[str, str]]:
    for module in pkgutil.iter_modules(abrazo.store.__path__):
        for name, value in vars(importlib.import_module(f"abrazo.store.{module.name}")).items():
            if name.isupper() and isinstance(value, str) and re.match(r"\s*(SELECT|INSERT|UPDATE|DELETE)", value):
                yield f"{module.name}.{name}", value


@pytest.mark.parametrize(("name", "sql"), [pytest.param(*pair, id=pair[0]) for pair in statements()])
def test_every_statement_is_understood(connection: db.Connection, name: str, sql: str) -> None:
    named = re.findall(r"[ (]:([a-z]+)", sql)
    given = dict.fromkeys(named) if named else (None,) * sql.count("?")
    connection.execute(f"EXPLAIN {sql}", given)


def test_settings_of_a_connection(connection: db.Connection) -> None:
    read = [
        connection.execute(f"PRAGMA {name}").fetchone()[0] for name in ("journal_mode", "synchronous", "foreign_keys")
    ]
    assert read == ["wal", 2, 1]


@pytest.mark.parametrize("table", ["journal", "posting", "payment"])
def test_the_record_only_grows(connection: db.Connection, table: str) -> None:
    connection.execute("PRAGMA foreign_keys = OFF")
    connection.execute("INSERT INTO journal VALUES (1, '', '', '', 1, '', '', NULL, NULL, '', '{}')")
    connection.execute("INSERT INTO posting VALUES (1, 'x', 5)")
    connection.execute(
        "INSERT INTO payment (id, ticket, payer, day, till, staff, at, tender, route, amount, tip)"
        " VALUES (1, 1, 1, 1, '', '', '', 'cash', 'cash', 5, 0)"
    )
    change = "amount = 6" if table != "journal" else "kind = 'other'"
    for sql in (f"DELETE FROM {table}", f"UPDATE {table} SET {change}"):
        with pytest.raises(db.Conflict, match=r"append-only|not deleted|keep their figures"):
            connection.execute(sql)


def test_a_block_that_fails_leaves_nothing(connection: db.Connection) -> None:
    def write_twice() -> None:
        with db.atomic(connection):
            connection.execute("INSERT INTO anonymous_account VALUES ('a', 1)")
            connection.execute("INSERT INTO anonymous_account VALUES ('a', 2)")

    with pytest.raises(db.Conflict):
        write_twice()
    assert connection.execute("SELECT count(*) FROM anonymous_account").fetchone()[0] == 0


def test_a_migration_that_fails_leaves_nothing(connection: db.Connection, monkeypatch: pytest.MonkeyPatch) -> None:
    version = connection.execute("PRAGMA user_version").fetchone()[0]
    monkeypatch.setattr(migrate, "pending", lambda _: [(9, "CREATE TABLE half (a INTEGER) STRICT;\nCREATE nonsense;")])
    with pytest.raises(Exception, match="syntax error"):
        migrate.migrate(connection)
    assert connection.execute("SELECT count(*) FROM sqlite_master WHERE name = 'half'").fetchone()[0] == 0
    assert connection.execute("PRAGMA user_version").fetchone()[0] == version
