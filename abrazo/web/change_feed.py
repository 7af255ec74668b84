"""The pulse of the house: what changed, asked for once for all the screens that listen."""

from __future__ import annotations

import time
from pathlib import Path

from abrazo.desk.context import Devices, House
from abrazo.desk.overview.change_feed import changed_tickets, latest_change
from abrazo.desk.setup.founding import close_house, open_house

ASK_EVERY = 0.2  # seconds


class Pulse:
    """Used from the event loop alone; a look into the journal takes microseconds and waits for no writer."""

    def __init__(self, database: Path, devices: Devices) -> None:
        self._given = (database, devices)
        self._house: House | None = None
        self._latest, self._asked, self._closed = 0, 0.0, False

    def latest(self) -> int:
        """The number of the last change."""
        now = time.monotonic()
        if now - self._asked >= ASK_EVERY and not self._closed:
            self._asked, self._latest = now, latest_change(self._open())
        return self._latest

    def tickets_after(self, change: int) -> list[int]:
        """The tickets that something was done to since."""
        return [] if self._closed else changed_tickets(self._open(), change)

    def _open(self) -> House:
        if self._house is None:
            self._house = open_house(*self._given, known=True)
        return self._house

    def close(self) -> None:
        """No more changes are read, also by streams that have not ended yet."""
        self._closed = True
        if self._house is not None:
            close_house(self._house)
            self._house = None
