"""A house without interface: the demo's plan, a clock that stands, stand-ins that answer at once."""

from __future__ import annotations

import shutil
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime, timedelta
from itertools import count
from pathlib import Path

import pytest

from abrazo.demo.house import PLAN
from abrazo.desk import following
from abrazo.desk.house import Actor, Devices, House
from abrazo.desk.set_up import open_day, open_house, set_up
from abrazo.desk.whole import Whole, read_whole
from abrazo.devices.base import Told
from abrazo.store import journal

MACHINE = "card machine 1"


@dataclass
class StandingClock:
    """A clock that moves when told."""

    time: datetime = datetime(2026, 6, 13, 14, 20)

    def now(self) -> datetime:
        return self.time

    def on(self, seconds: int) -> None:
        self.time += timedelta(seconds=seconds)


class Desk:
    """A house with somebody at the till."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self.clock = StandingClock()
        self.keys = (f"key-{number}" for number in count())
        self.open()

    def open(self) -> None:
        """Open the house, as after a start of the process."""
        database = self.folder / "house.db"
        self.house: House = open_house(database, Devices.beside(database), clock=self.clock)
        self.tell()
        self.tamsin = Actor(self.house.staff()["tamsin"], self.house.tills()["galley"])
        self.jory = Actor(self.house.staff()["jory"], self.house.tills()["galley"])

    def die(self) -> None:
        """The process ends without tidying up, and starts again: what was open is asked for."""
        self.house.connection.close()
        self.open()
        following.follow(self.house, after_start=True)

    def tell(self, outcome: str = "approve", tip: int = 0, down: bool = False) -> None:
        for machine in (*self.house.devices.machines.values(), self.house.devices.service):
            machine.tell(Told(outcome, tip, down, pace=0))

    def key(self) -> str:
        return next(self.keys)

    def whole(self, ticket: int) -> Whole:
        return read_whole(self.house, ticket)

    def version(self, ticket: int) -> int:
        return self.whole(ticket).head.version

    def follow(self) -> None:
        """Let the machines answer, or fall silent for long."""
        for _ in range(4):
            following.follow(self.house)
            self.clock.on(5)

    def charged(self) -> int:
        """What the machines' own memory says they moved."""
        devices = self.house.devices
        return sum(moved for one in (*devices.machines.values(), devices.service) for _, moved in one.charged())

    def settle_unknown(self, ticket: int) -> None:
        """The machines can be reached again, and everything whose outcome is open is asked for."""
        self.tell()
        for ask in self.whole(ticket).open_asks:
            following.ask_again(self.house, ask.reference)

    def balance(self, start: str) -> int:
        balances = journal.balances(self.house.connection)
        return sum(amount for account, amount in balances.items() if account.startswith(start))


@pytest.fixture(scope="session")
def founded(tmp_path_factory: pytest.TempPathFactory) -> Path:
    folder = tmp_path_factory.mktemp("founded")
    set_up(folder / "house.db", PLAN)
    house = open_house(folder / "house.db", Devices.beside(folder / "house.db"), clock=StandingClock())
    open_day(house, "2026-06-13", "odile", {"galley": 15000, "landing": 12000})
    house.connection.close()
    return folder


@pytest.fixture
def desk(founded: Path, tmp_path: Path) -> Iterator[Desk]:
    folder = tmp_path / "house"
    shutil.copytree(founded, folder)
    desk = Desk(folder)
    yield desk
    desk.house.connection.close()
