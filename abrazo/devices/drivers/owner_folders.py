"""Folders of the owners of what is hired out: one JSON file for each event, under its reference.

A file is written beside its name and then given it, so that an owner never reads half of one; written twice, it is the
same file.
"""

from __future__ import annotations

import os
from pathlib import Path

from abrazo.core.ledger import slug
from abrazo.devices.ports import Unreachable


class OwnerFolders:
    """The folders, one for each owner, in a folder of their own."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder

    def put(self, owner: str, reference: str, body: str) -> None:
        """Put a file into an owner's folder. Raises Unreachable when that cannot be written; nothing was done then."""
        place = self.folder / slug(owner)
        making = place / f".{reference}"
        try:
            place.mkdir(parents=True, exist_ok=True)
            with making.open("w", encoding="utf-8") as file:
                file.write(body)
                file.flush()
                os.fsync(file.fileno())
            making.rename(place / f"{reference}.json")
        except OSError as fault:
            raise Unreachable(str(fault)) from None

    def files(self, owner: str) -> list[Path]:
        """What lies in an owner's folder, by reference."""
        return sorted((self.folder / slug(owner)).glob("*.json"))
