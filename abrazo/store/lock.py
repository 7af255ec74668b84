"""One process serves a house: an exclusive lock on a file beside the database, which says where it answers."""

from __future__ import annotations

import fcntl
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path


class InUse(Exception):
    """Another process holds the lock; `address` is where it answers, empty when it did not say."""

    def __init__(self, address: str) -> None:
        super().__init__(address)
        self.address = address


def lock_file(path: Path) -> Path:
    """Where the lock of a file lies. It stays when the lock is free: removing it could free a lock that is held."""
    return path.with_name(f"{path.name}.lock")


@contextmanager
def exclusive(path: Path, address: str, *, patience: float = 0) -> Iterator[None]:
    """Hold the lock of a file while the block runs; the system frees it when the process ends, however it ends.

    Waits for it at most `patience` seconds. Raises InUse with the address of whoever holds it.
    """
    with lock_file(path).open("a+", encoding="utf-8") as file:
        _take(file.fileno(), lock_file(path), patience)
        file.truncate(0)
        file.write(address)
        file.flush()
        yield


def _take(descriptor: int, file: Path, patience: float) -> None:
    until = time.monotonic() + patience
    while True:
        try:
            fcntl.flock(descriptor, fcntl.LOCK_EX | fcntl.LOCK_NB)
            return
        except OSError:
            if time.monotonic() >= until:
                raise InUse(file.read_text("utf-8").strip()) from None
        time.sleep(0.05)
