"""The thread of a house that reaches printers, mail servers and text services: none of them holds up anything else."""

from __future__ import annotations

import logging
import threading
import time
from pathlib import Path

from abrazo.desk.context import Busy, DatabaseError, Devices
from abrazo.desk.output.outbox import MAIL, MESSAGE, Reach, send_from
from abrazo.desk.setup.founding import change_mark, close_house, open_house

LOOK_EVERY = 0.2  # seconds between looks at whether something is to go out
SEND_EVERY = 2.0  # seconds after which it is looked for though nobody wrote
AGAIN_AFTER = {MAIL: 30.0, MESSAGE: 30.0}  # seconds until a carrier that could not be reached is tried again
PRINTER_AGAIN = 2.0
log = logging.getLogger("abrazo.worker")


class Sender:
    """Sends what waits as soon as it is there; what could not be reached waits, and is tried again and again."""

    def __init__(self, database: Path, devices: Devices) -> None:
        self.house = open_house(database, devices, known=True, checkpoints=False)
        self._ended = threading.Event()
        self._not_before: dict[str, float] = {}
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
        seen, sent_at = -1, 0.0
        while not self._ended.wait(LOOK_EVERY):
            mark = change_mark(self.house)
            if mark == seen and time.monotonic() - sent_at < SEND_EVERY:
                continue
            seen, sent_at = mark, time.monotonic()
            try:
                self._send()
            except (Busy, DatabaseError) as fault:
                log.warning("what waits could not be sent: %s", fault)
            except Exception:  # one sheet that cannot be sent must not end the sender
                log.exception("what waits could not be sent")

    def _send(self) -> None:
        now = time.monotonic()
        rest = {carrier for carrier, moment in self._not_before.items() if moment > now}
        for silent in send_from(self.house, Reach.FAR, but=rest):
            self._not_before[silent] = time.monotonic() + AGAIN_AFTER.get(silent, PRINTER_AGAIN)
