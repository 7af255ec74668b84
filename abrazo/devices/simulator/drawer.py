"""The drawer stand-in: one a till, springs open when told, can be told to stick."""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.devices.ports import Unreachable
from abrazo.devices.simulator.shared import Memory, SharedMemory, told


@dataclass(frozen=True, slots=True)
class Opened:
    """An open drawer: which till's, and why it opened."""

    till: str
    why: str


class StandInDrawers:
    """The drawers of all tills."""

    stuck = told("drawers stuck")

    def __init__(self, memory: SharedMemory | None = None) -> None:
        self.memory = memory or SharedMemory()

    def open(self, till: str, why: str) -> None:
        """Let a drawer spring open. Raises Unreachable when it sticks."""

        def spring(values: Memory) -> None:
            values.setdefault("drawers", {})[till] = why

        if self.stuck:
            raise Unreachable("the drawer did not open")
        self.memory.change(spring)

    def push_shut(self, till: str) -> None:
        """Somebody shuts it by hand."""

        def shut(values: Memory) -> None:
            values.get("drawers", {}).pop(till, None)

        self.memory.change(shut)

    def seen(self, till: str) -> Opened | None:
        """The drawer as it stands, None when it is shut."""
        why = self.memory.get("drawers", {}).get(till)
        return None if why is None else Opened(till, why)
