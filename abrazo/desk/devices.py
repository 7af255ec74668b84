"""The device desk: telling the stand-ins what comes next, and seeing what they did."""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.core.errors import Refused
from abrazo.desk.house import House, NotFound
from abrazo.devices.card import OUTCOMES, Told
from abrazo.store import outbox
from abrazo.store.outbox import Sheet

PACES = {"slow": 2.0, "usual": 0.8, "at once": 0.05}
TIPS = ("0", "5", "10", "15")


@dataclass(frozen=True, slots=True)
class MachineDesk:
    """One card machine stand-in."""

    name: str
    told: Told
    pace: str
    charged: list[tuple[str, int]]


@dataclass(frozen=True, slots=True)
class DeviceDesk:
    """All stand-ins."""

    machines: list[MachineDesk]
    outcomes: tuple[str, ...]
    paces: tuple[str, ...]
    tips: tuple[str, ...]
    paper_out: bool
    paper: str
    sheets: list[Sheet]


def device_desk(house: House) -> DeviceDesk:
    """What the stand-ins were told, and what they did last."""
    machines = [
        MachineDesk(m.name, m.told, _pace(m.told.pace), m.charged()[-6:]) for m in house.devices.machines.values()
    ]
    printer = house.devices.printer
    sheets = outbox.latest(house.connection, 6)
    return DeviceDesk(machines, OUTCOMES, tuple(PACES), TIPS, printer.paper_out, printer.shown(), sheets)


def _pace(seconds: float) -> str:
    return min(PACES, key=lambda name: abs(PACES[name] - seconds))


def tell_machine(house: House, name: str, outcome: str, tip: str, pace: str, line_down: bool) -> None:
    """Tell a card machine stand-in what comes next."""
    if name not in house.devices.machines:
        raise NotFound(f"no card machine {name!r}")
    if outcome not in OUTCOMES or tip not in TIPS or pace not in PACES:
        raise Refused("told", "Choose what the machine does next from what is offered.")
    house.devices.machines[name].tell(Told(outcome, int(tip), line_down, PACES[pace]))


def tell_printer(house: House, paper_out: bool) -> None:
    """Take the printer's paper out, or put it in."""
    house.devices.printer.paper_out = paper_out
