"""What works beside the copies on which people practise: a worker each, as long as somebody is signed in there."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Protocol

from abrazo.desk.context import House
from abrazo.desk.setup import practice


class Worker(Protocol):
    """What works beside the pages of one copy."""

    house: House

    def start(self) -> None:
        """Begin."""

    def stop(self) -> None:
        """End."""


class Practices:
    """Begins where a copy has come, and ends and clears away where nobody practises any more. Used by one thread."""

    def __init__(self, database: Path, make: Callable[[Path], Worker]) -> None:
        self._database, self._make = database, make
        self._workers: dict[str, Worker] = {}
        practice.clear_unfinished(database)

    def look(self) -> None:
        """Once through the copies that there are."""
        for name in practice.copies(self._database):
            worker = self._workers.get(name) or self._begin(name)
            if practice.is_over(worker.house):
                del self._workers[name]
                worker.stop()
                practice.clear_away(self._database, name)

    def _begin(self, name: str) -> Worker:
        file = practice.copy_of(self._database, name)
        assert file is not None
        worker = self._make(file)
        worker.start()
        self._workers[name] = worker
        return worker

    def stop(self) -> None:
        """End them all; the copies stay until their sign-ins end."""
        for worker in self._workers.values():
            worker.stop()
        self._workers.clear()
