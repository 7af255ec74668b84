"""A house without interface: the demo's plan, a clock that stands, stand-ins that answer at once."""

from __future__ import annotations

import shutil
from collections.abc import Iterator
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from itertools import count
from pathlib import Path
from zoneinfo import ZoneInfo

import pytest

from abrazo.desk import history
from abrazo.desk.context import Actor, Devices, House
from abrazo.desk.payments import card_poller
from abrazo.desk.setup.founding import open_house, set_up
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.snapshot import TicketSnapshot, load_ticket
from abrazo.desk.till.opening import Float, open_day
from abrazo.devices.ports import Script
from abrazo.store import journal
from tests.houses import HOUSES, MARRAM, Of

MACHINE = "card machine 1"


@dataclass
class StandingClock:
    """A clock that moves when told."""

    time: datetime = datetime(2026, 6, 13, 14, 20)  # wall time of the house
    zone: ZoneInfo = field(default_factory=lambda: ZoneInfo("Europe/Dublin"))

    def now(self) -> datetime:
        return self.time.replace(tzinfo=self.zone)

    def on(self, seconds: int) -> None:
        self.time += timedelta(seconds=seconds)


class Desk:
    """A house with somebody at the till. `tamsin` and `jory` are its clerk and another one."""

    def __init__(self, folder: Path, of: Of = MARRAM) -> None:
        self.folder, self.of = folder, of
        self.clock = StandingClock(of.opened, ZoneInfo(of.plan.settings.zone))
        self.keys = (f"key-{number}" for number in count())
        self.open()

    def open(self) -> None:
        """Open the house, as after a start of the process."""
        database = self.folder / "house.db"
        self.house: House = open_house(database, Devices.beside(database), clock=self.clock)
        self.tell()
        self.tamsin, self.jory = self.actor(self.of.clerk), self.actor(self.of.other)
        self.boss = self.actor(self.of.boss)

    def actor(self, who: str, till: str = "") -> Actor:
        """Somebody at a till, if not said otherwise the first."""
        return Actor(self.house.staff()[who], self.house.tills()[till or self.of.till])

    def die(self) -> None:
        """The process ends without tidying up, and starts again: what was open is asked for."""
        self.house.connection.close()
        self.open()
        card_poller.follow(self.house, after_start=True)

    def tell(self, outcome: str = "approve", tip: int = 0, down: bool = False) -> None:
        for machine in (*self.house.devices.machines.values(), self.house.devices.service):
            machine.tell(Script(outcome, tip, down, pace=0))

    def key(self) -> str:
        return next(self.keys)

    def whole(self, ticket: int) -> TicketSnapshot:
        return load_ticket(self.house, ticket)

    def version(self, ticket: int) -> int:
        return self.whole(ticket).head.version

    def on(self, ticket: int, key: str = "") -> OnTicket:
        """A ticket as somebody sees it who asks right now."""
        return OnTicket(ticket, self.version(ticket), key or self.key())

    def follow(self) -> None:
        """Let the machines answer, or fall silent for long."""
        for _ in range(4):
            card_poller.follow(self.house)
            self.clock.on(5)

    def charged(self) -> int:
        """What the machines' own memory says they moved."""
        devices = self.house.devices
        return sum(moved for one in (*devices.machines.values(), devices.service) for _, moved in one.charged())

    def settle_unknown(self, ticket: int) -> None:
        """The machines can be reached again, and everything whose outcome is open is asked for."""
        self.tell()
        for ask in (one for one in self.whole(ticket).asks if one.open):
            card_poller.ask_again(self.house, self.boss, ask.ticket, ask.reference)

    def told(self, ticket: int) -> list[str]:
        """What was done to a ticket, in words, oldest first."""
        return [line.what for line in history.of_ticket(self.house, ticket)]

    def cash(self, till: str = "") -> int:
        """What moved in the drawers, of all tills or of one, their floats aside."""
        account = f"assets:cash:{till}"
        floats = self.house.connection.execute(
            "SELECT sum(p.amount) FROM posting p JOIN journal j ON j.number = p.entry"
            " WHERE j.kind = 'float differs' AND p.account LIKE ? || '%'",
            (account,),
        ).fetchone()[0]
        return self.balance(account) - int(floats or 0)

    def balance(self, start: str) -> int:
        balances = journal.balances(self.house.connection)
        return sum(amount for account, amount in balances.items() if account.startswith(start))


def found(folder: Path, of: Of) -> Path:
    """A house that is set up and has its day open, in a folder."""
    set_up(folder / "house.db", of.plan)
    house = open_house(
        folder / "house.db",
        Devices.beside(folder / "house.db"),
        clock=StandingClock(of.opened, ZoneInfo(of.plan.settings.zone)),
    )
    boss = Actor(house.staff()[of.boss], house.tills()[of.till])
    open_day(house, boss, {of.till: Float(15000), of.second_till: Float(12000)}, "opened")
    house.connection.close()
    return folder


@pytest.fixture(scope="session")
def founded(tmp_path_factory: pytest.TempPathFactory) -> Path:
    return found(tmp_path_factory.mktemp("founded"), MARRAM)


@pytest.fixture(scope="session")
def founded_both(tmp_path_factory: pytest.TempPathFactory) -> dict[str, Path]:
    return {name: found(tmp_path_factory.mktemp(name), of) for name, of in HOUSES.items()}


@pytest.fixture(params=list(HOUSES))
def both(request: pytest.FixtureRequest, founded_both: dict[str, Path], tmp_path: Path) -> Iterator[Desk]:
    """One house after the other: tax contained, and added in two parts."""
    folder = tmp_path / "house"
    shutil.copytree(founded_both[request.param], folder)
    desk = Desk(folder, HOUSES[request.param])
    yield desk
    desk.house.connection.close()


@pytest.fixture
def desk(founded: Path, tmp_path: Path) -> Iterator[Desk]:
    folder = tmp_path / "house"
    shutil.copytree(founded, folder)
    desk = Desk(folder)
    yield desk
    desk.house.connection.close()
