"""Which house a request is about: the real one, or the copy on which whoever signed in practises."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path
from threading import Lock
from typing import cast

from starlette.requests import Request

from abrazo.desk.context import Clock, Devices
from abrazo.desk.setup import practice
from abrazo.desk.setup.founding import Houses
from abrazo.web.change_feed import Pulse

PRACTICE = "practice"  # in the session: the copy's name


@dataclass(frozen=True, slots=True)
class Served:
    """A house as pages reach it."""

    database: Path
    devices: Devices
    houses: Houses
    pulse: Pulse

    def close(self) -> None:
        """Nobody reaches it any more."""
        self.pulse.close()
        self.houses.close()


class ServedHouses:
    """The house, and the copies beside it that this process was asked for."""

    def __init__(self, database: Path, devices: Devices, clock: Clock) -> None:
        self.real = self._made(database, devices, clock)
        self._clock = clock
        self._copies: dict[str, Served] = {}
        self._lock = Lock()

    @staticmethod
    def _made(database: Path, devices: Devices, clock: Clock) -> Served:
        return Served(database, devices, Houses(database, devices, clock), Pulse(database, devices))

    def of(self, name: str) -> Served:
        """The copy of a name; the house itself without a name, or when the copy is gone: no sign-in holds there."""
        self._let_go()
        file = practice.copy_of(self.real.database, name) if name else None
        if file is None:
            return self.real
        with self._lock:
            if name not in self._copies:
                self._copies[name] = self._made(file, Devices.beside(file), self._clock)
            return self._copies[name]

    def _let_go(self) -> None:
        """A file that is gone takes room as long as a process holds it open, also one that did not end it."""
        for name in list(self._copies):
            if practice.copy_of(self.real.database, name) is None:
                self.forget(name)

    def forget(self, name: str) -> None:
        """Nobody practises on that copy any more: its files are let go."""
        with self._lock:
            gone = self._copies.pop(name, None)
        if gone is not None:
            gone.close()

    def close(self) -> None:
        """The process ends."""
        for one in (self.real, *self._copies.values()):
            one.close()


def _houses(request: Request) -> ServedHouses:
    return cast(ServedHouses, request.app.state.served)


def real_house(request: Request) -> Served:
    """The house itself, whoever asks."""
    return _houses(request).real


def served(request: Request) -> Served:
    """What a request is about, by its session."""
    return _houses(request).of(str(request.session.get(PRACTICE, "")))


def forget_practice(request: Request) -> None:
    """Whoever practised has ended it."""
    if name := str(request.session.get(PRACTICE, "")):
        _houses(request).forget(name)
