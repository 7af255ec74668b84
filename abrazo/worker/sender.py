"""The thread of a house that reaches printers, mail servers and text services: none of them holds up anything else."""

from __future__ import annotations

import logging
import threading
from pathlib import Path

from abrazo.desk.context import Busy, DatabaseError, Devices
from abrazo.desk.output.outbox import Reach, send_waiting
from abrazo.desk.setup.founding import change_mark, close_house, open_house

LOOK_EVERY = 0.2  # seconds between looks at whether something is to go out
AGAIN_AFTER = 10.0  # seconds until what could not be reached is tried again
log = logging.getLogger("abrazo.worker")


class Sender:
    """Sends what waits as soon as it is there; what could not be reached waits, and is tried again and again."""

    def __init__(self, database: Path, devices: Devices) -> None:
        self.house = open_house(database, devices, known=True, checkpoints=False)
        self._ended = threading.Event()
        self._thread = threading.Thread(target=self._run, name="sender", daemon=True)

    def start(self) -> None:
        """Begin, with what an earlier process left."""
        self._thread.start()

    def stop(self) -> None:
        """End after the sheet that is under way."""
        self._ended.set()
        self._thread.join(5)
        close_house(self.house)

    def _run(self) -> None:
        seen, waited = -1, 0.0
        while not self._ended.wait(LOOK_EVERY):
            mark, waited = change_mark(self.house), waited + LOOK_EVERY
            if mark == seen and waited < AGAIN_AFTER:
                continue
            seen, waited = mark, 0.0
            try:
                send_waiting(self.house, reach=Reach.FAR)
            except (Busy, DatabaseError) as fault:
                log.warning("what waits could not be sent: %s", fault)
