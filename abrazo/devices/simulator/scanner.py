"""The scanner stand-in: a code typed on the device desk arrives at a till's screen, as if scanned there."""

from __future__ import annotations

import threading


class StandInScanner:
    """Codes by till, in the order scanned. Like a scanner it remembers nothing over a restart."""

    def __init__(self) -> None:
        self.dead = False
        self._scans: dict[str, list[str]] = {}
        self._lock = threading.Lock()

    def scan(self, till: str, code: str) -> None:
        """Scan a code at a till; nothing arrives while the scanner is told to be dead."""
        if not self.dead:
            with self._lock:
                self._scans.setdefault(till, []).append(code)

    def count(self, till: str) -> int:
        """How many codes have arrived at a till."""
        return len(self._scans.get(till, ()))

    def after(self, till: str, number: int) -> list[str]:
        """Codes that arrived after the first `number`."""
        return self._scans.get(till, [])[number:]
