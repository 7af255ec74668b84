"""The drawer stand-in: one a till, springs open when told, can be told to stick."""

from __future__ import annotations

import threading
from dataclasses import dataclass

from abrazo.devices.ports import Unreachable


@dataclass(frozen=True, slots=True)
class Opened:
    """An open drawer: which till's, and why it opened."""

    till: str
    why: str


class StandInDrawers:
    """The drawers of all tills."""

    def __init__(self) -> None:
        self.stuck = False
        self._open: dict[str, Opened] = {}
        self._lock = threading.Lock()

    def open(self, till: str, why: str) -> None:
        if self.stuck:
            raise Unreachable("the drawer did not open")
        with self._lock:
            self._open[till] = Opened(till, why)

    def push_shut(self, till: str) -> None:
        """Somebody shuts it by hand."""
        with self._lock:
            self._open.pop(till, None)

    def seen(self, till: str) -> Opened | None:
        """The drawer as it stands, None when it is shut."""
        return self._open.get(till)
