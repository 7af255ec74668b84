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
        if not name:
            return self.real
        file = practice.copy_of(self.real.database, name)
        if file is None:
            self.forget(name)
            return self.real
        with self._lock:
            if name in self._copies:
                return self._copies[name]
            made = self._copies[name] = self._made(file, Devices.beside(file), self._clock)
        for other in list(self._copies):  # a file that is gone takes room as long as somebody holds it open
            if practice.copy_of(self.real.database, other) is None:
                self.forget(other)
        return made

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
