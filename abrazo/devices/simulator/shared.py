"""What stand-ins were told and remember, shared by all processes of a house: one small file beside the database."""

from __future__ import annotations

import fcntl
import json
import os
import threading
from collections.abc import Callable
from pathlib import Path
from typing import Any

Memory = dict[str, Any]


class SharedMemory:
    """A few values by name, in a file, or in this process alone when there is no file."""

    def __init__(self, file: Path | None = None) -> None:
        self._file = file
        self._lock = threading.Lock()
        self._seen: tuple[int, int] | None = None
        self._values: Memory = {}

    def values(self) -> Memory:
        """What is remembered now; read anew when another process has written it."""
        if self._file is not None:
            with self._lock:
                self._refresh(self._file)
        return self._values

    def get(self, name: str, otherwise: Any) -> Any:
        """One value."""
        return self.values().get(name, otherwise)

    def change(self, write: Callable[[Memory], None]) -> None:
        """Let `write` change the values, while no other process does."""
        if self._file is None:
            with self._lock:
                write(self._values)
            return
        with self._lock, self._file.open("a+", encoding="utf-8") as file:
            fcntl.flock(file.fileno(), fcntl.LOCK_EX)
            file.seek(0)
            values: Memory = json.loads(file.read() or "{}")
            write(values)
            file.seek(0)
            file.truncate(0)
            file.write(json.dumps(values))
            file.flush()
            self._values, self._seen = values, None

    def _refresh(self, file: Path) -> None:
        try:
            with file.open(encoding="utf-8") as open_file:
                fcntl.flock(open_file.fileno(), fcntl.LOCK_SH)
                stat = file.stat()
                if self._seen != (stat.st_mtime_ns, stat.st_size):
                    self._values = json.loads(open_file.read() or "{}")
                    self._seen = (stat.st_mtime_ns, stat.st_size)
        except FileNotFoundError:
            self._values, self._seen = {}, None


def append(file: Path, text: str) -> None:
    """Write text at the end of a file, on disk when it returns; what several processes write does not mix."""
    with file.open("a", encoding="utf-8") as open_file:
        fcntl.flock(open_file.fileno(), fcntl.LOCK_EX)
        open_file.write(text)
        open_file.flush()
        os.fsync(open_file.fileno())


def told(name: str) -> property:
    """A fault that a stand-in can be told: a flag in its memory."""

    def read(self: Any) -> bool:
        return bool(self.memory.get(name, False))

    def write(self: Any, fails: bool) -> None:
        self.memory.change(lambda values: values.__setitem__(name, fails))

    return property(read, write)
