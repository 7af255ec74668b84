"""The thread of a house that reads the files that people hand in, one after the other."""

from __future__ import annotations

import functools
import logging
import threading
from pathlib import Path

from abrazo.desk.context import Busy, DatabaseError, Devices
from abrazo.desk.doors import file_imports
from abrazo.desk.setup.founding import change_mark, close_house, open_house
from abrazo.worker.apart import Stopped, do_apart

LOOK_EVERY = 0.1  # seconds between looks at whether a file was handed in
REST = 0.005  # seconds between two steps, in which others write
log = logging.getLogger("abrazo.worker")


class Importer:
    """Reads one file at a time, as they came; each in a process beside this one."""

    def __init__(self, database: Path, devices: Devices) -> None:
        self.house = open_house(database, devices, known=True, checkpoints=False)
        self._ended = threading.Event()
        self._thread = threading.Thread(target=self._run, name="importer", daemon=True)

    def start(self) -> None:
        """Begin, with what an earlier process left."""
        self._thread.start()

    def stop(self) -> None:
        """End after the step that is under way; the file is begun again with the next start."""
        self._ended.set()
        self._thread.join(5)
        close_house(self.house)

    def _rest(self) -> None:
        if self._ended.wait(REST):
            raise Stopped

    def _run(self) -> None:
        while not self._ended.is_set():
            try:
                self._look()
            except (Busy, DatabaseError):
                log.exception("a file waits: the database could not be used")
                self._ended.wait(1.0)

    def _look(self) -> None:
        """Read what was handed in, file after file, until nothing new is there."""
        seen = None
        while not self._ended.wait(0 if seen is None else LOOK_EVERY):
            mark = change_mark(self.house)
            if mark != seen:
                seen = None if self._read() else mark

    def _read(self) -> bool:
        """Read the next file; False when there is none."""
        try:
            return file_imports.read_next(self.house, functools.partial(do_apart, self._ended), self._rest)
        except Stopped:
            return False
        except (Busy, DatabaseError):
            raise
        except Exception:  # one file must not keep the next ones waiting for ever
            log.exception("a file could not be read")
            file_imports.give_up(self.house)
            return True
