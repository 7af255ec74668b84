"""What an act needs: the house with its connection, clock, devices and settings, and who acts at which till."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Protocol
from zoneinfo import ZoneInfo

from abrazo.core.errors import Refused
from abrazo.core.moments import clock_of, seconds_between, stamp_of, wall_of
from abrazo.core.money import Currency
from abrazo.devices.drivers.http_cards import HttpMachine, HttpService
from abrazo.devices.ports import CardMachine, PaymentService, StandIn
from abrazo.devices.simulator.card import SERVICE
from abrazo.devices.simulator.drawer import StandInDrawers
from abrazo.devices.simulator.post import StandInPost, mail_folder
from abrazo.devices.simulator.printer import StandInPrinter
from abrazo.devices.simulator.scanner import StandInScanner
from abrazo.devices.simulator.served import stand_ins_beside
from abrazo.store import db, staff, till
from abrazo.store import settings as settings_acts
from abrazo.store.journal import Entry
from abrazo.store.staff import Staff as Staff
from abrazo.store.till import Day, Till


class NotFound(Exception):
    """What was asked for is not here."""


class Stale(Exception):
    """Somebody else changed the ticket meanwhile; `changes` says who did what."""

    def __init__(self, changes: list[Entry]) -> None:
        super().__init__("changed meanwhile")
        self.changes = changes


class Clock(Protocol):
    """Tells the house's own time."""

    def now(self) -> datetime:
        """The moment now, with its zone."""


@dataclass(frozen=True, slots=True)
class ShiftedClock:
    """The machine's time, moved by a number of seconds; 0 is the time as it is."""

    seconds: float = 0

    def now(self) -> datetime:
        return datetime.now(UTC) + timedelta(seconds=self.seconds)


@dataclass(frozen=True, slots=True)
class Settings:
    """The house's settings, read from the database."""

    name: str
    address: str
    message: str
    currency: Currency
    tax_mode: str
    cash_rounding: int
    service_percent: str
    service_from: int
    patience: float  # seconds before silence of a card machine counts as no answer
    clock_shift: float
    secret: str
    demo: bool
    region: str = "IE"  # ISO 3166: how phone numbers without country code are read
    zone: str = "Europe/Dublin"  # IANA: the house's own time, into which calendars' times are read
    points_per: int = 100  # minor units of net that earn a point
    points_lot: int = 100  # points that are spent together
    points_value: int = 500  # minor units that a lot is worth
    service_tax: str | None = None  # the tax ids of service charges, delivery fees and surcharges; None: untaxed
    delivery_tax: str | None = None
    surcharge_tax: str | None = None
    delivery_fee: int = 400  # minor units for bringing an order, unless said otherwise
    tab_hold: int = 3000  # minor units that are held on a card for a tab, unless said otherwise

    @classmethod
    def of(cls, values: Mapping[str, str]) -> Settings:
        """From the settings table; a missing one is a KeyError, since the house was set up without it."""
        return cls(
            name=values["name"],
            address=values["address"],
            message=values["message"],
            currency=Currency.of(values["currency"]),
            tax_mode=values["tax_mode"],
            cash_rounding=int(values["cash_rounding"]),
            service_percent=values["service_percent"],
            service_from=int(values["service_from"]),
            patience=float(values["patience"]),
            clock_shift=float(values.get("clock_shift", "0")),
            secret=values["secret"],
            demo=values["demo"] == "yes",
            region=values.get("region", "IE"),
            zone=values.get("zone", "Europe/Dublin"),
            points_per=int(values.get("points_per", "100")),
            points_lot=int(values.get("points_lot", "100")),
            points_value=int(values.get("points_value", "500")),
            service_tax=values.get("service_tax") or None,
            delivery_tax=values.get("delivery_tax") or None,
            surcharge_tax=values.get("surcharge_tax") or None,
            delivery_fee=int(values.get("delivery_fee", "400")),
            tab_hold=int(values.get("tab_hold", "3000")),
        )


MACHINES = ("card machine 1", "card machine 2")


def paper_files(database: Path) -> tuple[Path, Path, Path]:
    """What the stand-ins of printer and post write to: paper, messages, and the folder of e-mails."""
    sent = database.with_name(f"{database.stem}-sent.jsonl")
    return database.with_name(f"{database.stem}-paper.txt"), sent, mail_folder(sent)


def _papers(database: Path) -> tuple[StandInPrinter, StandInPost]:
    paper, sent, _ = paper_files(database)
    return StandInPrinter(paper), StandInPost(sent)


@dataclass(frozen=True, slots=True)
class Devices:
    """The devices of the house: card machines by name, payment service, printer, drawers, scanner, post."""

    machines: Mapping[str, StandIn]
    service: PaymentService
    printer: StandInPrinter
    post: StandInPost
    drawers: StandInDrawers = field(default_factory=StandInDrawers)
    scanner: StandInScanner = field(default_factory=StandInScanner)

    def taker(self, name: str) -> CardMachine:
        """The card machine of a name, or the payment service."""
        return self.service if name == self.service.name else self.machines[name]

    @classmethod
    def beside(cls, database: Path) -> Devices:
        """Stand-ins in this process, whose memory lies beside the database, in files of their own."""
        machines, service = stand_ins_beside(database, MACHINES)
        return cls({machine.name: machine for machine in machines}, service, *_papers(database))

    @classmethod
    def over(cls, address: str, database: Path) -> Devices:
        """Card machines and payment service reached over HTTP; printer and post beside the database."""
        machines = {name: HttpMachine(name, address) for name in MACHINES}
        return cls(machines, HttpService(SERVICE, address), *_papers(database))


@dataclass(frozen=True, slots=True)
class House:
    """One request's view of the house."""

    connection: db.Connection
    clock: Clock
    devices: Devices
    settings: Settings

    @property
    def zone(self) -> ZoneInfo:
        """The house's zone."""
        return ZoneInfo(self.settings.zone)

    def now(self) -> datetime:
        """The wall time now, without zone."""
        return self.clock.now().astimezone(self.zone).replace(tzinfo=None)

    def stamp(self, ago: timedelta = timedelta(0)) -> str:
        """The moment now, or some time ago, as it is kept: UTC."""
        return stamp_of(self.clock.now() - ago)

    def wall(self, text: str) -> datetime:
        """A stamp as wall time of the house; a wall time as it is."""
        return wall_of(text, self.zone)

    def hour(self, text: str) -> str:
        """Hours and minutes of a stamp or wall time: 14:20."""
        return clock_of(text, self.zone)

    def since(self, stamp: str) -> float:
        """Seconds from a stamp until now."""
        return seconds_between(stamp, self.stamp())

    def staff(self) -> dict[str, Staff]:
        """Everybody who works here, by id."""
        return staff.list_staff(self.connection)

    def tills(self) -> dict[str, Till]:
        """All tills, by id."""
        return till.list_tills(self.connection)

    def day(self) -> Day:
        """The open day; refused when none is open."""
        day = till.open_day(self.connection)
        if day is None:
            raise Refused("no_day", "No day is open. A supervisor opens the day at the till.")
        return day


@dataclass(frozen=True, slots=True)
class Actor:
    """Who acts, at which till. `by_itself`: in their name, for what a machine answered or a table that frees itself."""

    staff: Staff
    till: Till
    by_itself: bool = False


def read_settings(connection: db.Connection) -> Settings:
    """The house's settings as they stand."""
    return Settings.of(settings_acts.read_all(connection))
