"""A demo's house: set up, its days before loaded, its day played, and put in its place when it is whole."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path
from tempfile import TemporaryDirectory
from zoneinfo import ZoneInfo

from abrazo.demo.story import StoryClock
from abrazo.desk.context import Devices, House
from abrazo.desk.setup.founding import Plan, close_house, move_house, open_house, set_up, shift_clock


@dataclass(frozen=True)
class DemoHouse:
    """A house for a demo: its plan, and what is played in it until `start`, a wall time at which the demo begins."""

    plan: Plan
    start: datetime
    play: Callable[[House, StoryClock], None]

    @property
    def pins(self) -> dict[str, str]:
        """The PIN of everybody, which the sign-in page of a demo shows."""
        return {person.id: pin for person, pin in self.plan.staff}

    @property
    def zone(self) -> ZoneInfo:
        """Where it lies."""
        return ZoneInfo(self.plan.settings.zone)


def make_demo(database: Path, demo: DemoHouse) -> None:
    """Set a house up and play its day; the house's clock then goes on from where it begins.

    It is made in a folder of its own and moved to its place when it is whole: there is never half a house.
    """
    with TemporaryDirectory(prefix=f".{database.stem}-", dir=database.parent) as making:
        new = Path(making) / database.name
        _make(new, demo)
        move_house(new, database.parent)


def _make(database: Path, demo: DemoHouse) -> None:
    set_up(database, demo.plan)
    midnight = demo.start.replace(hour=0, minute=0)
    clock = StoryClock(midnight, demo.zone, midnight)
    house = open_house(database, Devices.beside(database), clock=clock)
    try:
        demo.play(house, clock)
        start_clock(house, demo)
    finally:
        close_house(house)


def start_clock(house: House, demo: DemoHouse) -> None:
    """From the next start on the house's clock runs from the moment at which the demo begins."""
    shift_clock(house, (demo.start.replace(tzinfo=demo.zone) - datetime.now(UTC)).total_seconds())
