"""Commands on a house of their own."""

from __future__ import annotations

import shutil
from pathlib import Path

import pytest

from tests.desk.conftest import founded

__all__ = ["founded"]


@pytest.fixture
def db(founded: Path, tmp_path: Path) -> Path:
    """The database of a house that was set up, with its day open."""
    shutil.copytree(founded, tmp_path / "house")
    return tmp_path / "house" / "house.db"
