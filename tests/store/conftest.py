"""A database with all tables and nothing in them; made once, copied for each test."""

from __future__ import annotations

import shutil
from collections.abc import Iterator
from pathlib import Path

import pytest

from abrazo.store import db, migrate


@pytest.fixture(scope="session")
def empty(tmp_path_factory: pytest.TempPathFactory) -> Path:
    file = tmp_path_factory.mktemp("empty") / "house.db"
    connection = db.connect(file)
    migrate.migrate(connection)
    connection.close()
    return file


@pytest.fixture
def connection(empty: Path, tmp_path: Path) -> Iterator[db.Connection]:
    connection = db.connect(Path(shutil.copy(empty, tmp_path / "house.db")))
    yield connection
    connection.close()
