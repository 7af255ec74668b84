"""The device desk: telling the stand-ins what comes next, and seeing what they did."""

from __future__ import annotations

from contextlib import suppress
from dataclasses import dataclass

from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Kind
from abrazo.core.states import JobState
from abrazo.desk.act import noting
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.output.outbox import MAIL, doubtful
from abrazo.devices.ports import DeviceFault, Script, StandIn
from abrazo.devices.simulator.card import COMES_BACK, OUTCOMES, SERVICE
from abrazo.devices.simulator.drawer import Opened
from abrazo.store import catalogue, jobs, outbox
from abrazo.store.outbox import Sheet
from abrazo.store.till import Till
from abrazo.words import phrases as w

PACES = {"slow": 2.0, "usual": 0.8, "at once": 0.05}
TIPS = ("0", "5", "10", "15")


@dataclass(frozen=True, slots=True)
class MachineDesk:
    """One card machine stand-in, or the payment service's; `outcomes` is what it can be told."""

    name: str
    outcomes: tuple[str, ...]
    told: Script
    pace: str
    charged: list[tuple[str, int]]
    held: list[tuple[str, int]]


@dataclass(frozen=True, slots=True)
class DeviceDesk:
    """All stand-ins."""

    machines: list[MachineDesk]
    paces: tuple[str, ...]
    tips: tuple[str, ...]
    paper_out: bool
    paper: str
    sheets: list[Sheet]
    tills: list[Till]
    drawers: dict[str, Opened | None]
    drawer_stuck: bool
    scanner_dead: bool
    post_down: bool
    messages: list[Sheet]
    codes: list[tuple[str, str]]
    doubtful: list[Sheet]


def device_desk(house: House) -> DeviceDesk:
    """What the stand-ins were told, and what they did last."""
    machines = _machine_desks(house)
    printer = house.devices.printer
    sheets = outbox.latest(house.connection, 40)
    tills, devices = list(house.tills().values()), house.devices
    return DeviceDesk(
        machines,
        tuple(PACES),
        TIPS,
        printer.paper_out,
        printer.shown(),
        [sheet for sheet in sheets if sheet.device == outbox.PRINTER and sheet.sent_at][:6],
        tills,
        {one.id: devices.drawers.seen(one.id) for one in tills},
        devices.drawers.stuck,
        devices.scanner.dead,
        devices.post.line_down,
        [sheet for sheet in sheets if sheet.device in (outbox.MESSAGE, MAIL)][:8],
        _codes(house),
        doubtful(house),
    )


def _machine_desks(house: House) -> list[MachineDesk]:
    """Those that are stand-ins and answer: a real device knows nothing of what it is told comes next."""
    found = list[MachineDesk]()
    for one in (*house.devices.machines.values(), house.devices.service):
        with suppress(DeviceFault):
            found.append(_machine_desk(one))
    return found


def _machine_desk(machine: StandIn) -> MachineDesk:
    never = "signature" if machine.name == SERVICE else COMES_BACK
    told, of_cards = machine.told, tuple(one for one in OUTCOMES if one != never)
    return MachineDesk(machine.name, of_cards, told, _pace(told.pace), machine.charged()[-6:], machine.held())


def _codes(house: House) -> list[tuple[str, str]]:
    """Some codes that lie about in the house: goods, and tags of jobs."""
    goods = [(item.name, item.code) for item in catalogue.list_items(house.connection) if item.code]
    tags = [
        (house.say(w.TAG_OF, job=job.name), job.code)
        for job in jobs.on_rack(house.connection, house.stamp())
        if job.state == JobState.READY
    ]
    return [*goods[1:6], *tags[:3], (house.say(w.NOBODYS), "2999999999998")]


def scan(house: House, till: str, code: str) -> None:
    """Scan a code at a till with the stand-in."""
    if till not in house.tills():
        raise NotFound(f"no till {till!r}")
    plain = code.strip()
    if not plain or len(plain) > 40:
        raise Refused(Code.NO_CODE, "code")
    house.devices.scanner.scan(till, plain)


def push_shut(house: House, till: str) -> None:
    """Push a drawer shut."""
    house.devices.drawers.push_shut(till)


def _told(house: House, actor: Actor, device: str, told: str) -> None:
    with noting(house) as note:
        note(actor, Kind.STAND_IN_TOLD, device=device, told=told)


def tell_fault(house: House, actor: Actor, device: str, fails: bool) -> None:
    """Let a stand-in fail, or mend it; who did is written down."""
    if device == "scanner":
        house.devices.scanner.dead = fails
    elif device == "drawer":
        house.devices.drawers.stuck = fails
    elif device == "post":
        house.devices.post.line_down = fails
    else:
        raise NotFound(f"no device {device!r}")
    _told(house, actor, device, "fails" if fails else "works")


def _pace(seconds: float) -> str:
    return min(PACES, key=lambda name: abs(PACES[name] - seconds))


def tell_machine(house: House, actor: Actor, name: str, script: Script) -> None:
    """Tell a card machine stand-in what comes next; who did is written down."""
    machines = {**house.devices.machines, house.devices.service.name: house.devices.service}
    if name not in machines:
        raise NotFound(f"no card machine {name!r}")
    machines[name].tell(script)
    _told(house, actor, name, script.outcome)


def script_of(outcome: str, tip: str, pace: str, line_down: bool) -> Script:
    """What a card machine stand-in does next, as chosen. Refused when it is none of what it can do."""
    if outcome not in OUTCOMES or tip not in TIPS or pace not in PACES:
        raise Refused(Code.NO_SCRIPT)
    return Script(outcome, int(tip), line_down, PACES[pace])


def tell_printer(house: House, actor: Actor, paper_out: bool) -> None:
    """Take the printer's paper out, or put it in; who did is written down."""
    house.devices.printer.paper_out = paper_out
    _told(house, actor, "printer", "fails" if paper_out else "works")
