"""Waiting for what the house does by itself, as long as a busy machine may need for it."""

from __future__ import annotations

import time
from collections.abc import Callable

PATIENCE, LOOK_EVERY = 30.0, 0.1  # seconds


def until(
    is_so: Callable[[], object], otherwise: str | Callable[[], str] = "it did not come", *, patience: float = PATIENCE
) -> None:
    """Look until it is so; fails, and says `otherwise`, when that does not come in so many seconds."""
    end = time.monotonic() + patience
    while not is_so():
        assert time.monotonic() < end, otherwise if isinstance(otherwise, str) else otherwise()
        time.sleep(LOOK_EVERY)
