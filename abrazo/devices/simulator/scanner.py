"""The scanner stand-in: a code typed on the device desk arrives at a till's screen, as if scanned there."""

from __future__ import annotations

from abrazo.devices.simulator.shared import Memory, SharedMemory, told


class StandInScanner:
    """Codes by till, in the order scanned. Like a scanner it remembers nothing over a restart of the house."""

    dead = told("scanner dead")

    def __init__(self, memory: SharedMemory | None = None) -> None:
        self.memory = memory or SharedMemory()

    def scan(self, till: str, code: str) -> None:
        """Scan a code at a till; nothing arrives while the scanner is told to be dead."""

        def add(values: Memory) -> None:
            values.setdefault("scans", {}).setdefault(till, []).append(code)

        if not self.dead:
            self.memory.change(add)

    def count(self, till: str) -> int:
        """How many codes have arrived at a till."""
        return len(self._of(till))

    def after(self, till: str, number: int) -> list[str]:
        """Codes that arrived after the first `number`."""
        return self._of(till)[number:]

    def _of(self, till: str) -> list[str]:
        found: list[str] = self.memory.get("scans", {}).get(till, [])
        return found
