"""What an act needs: the house with its connection, clock, devices and settings, and who acts at which till."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Iterable, Mapping
from dataclasses import dataclass, field, replace
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Protocol, TypeVar, cast
from zoneinfo import ZoneInfo

from abrazo.core.errors import Code, Refused
from abrazo.core.moments import clock_of, seconds_between, stamp_of, wall_of, wall_text
from abrazo.core.tax import Tax
from abrazo.devices.drivers.http_cards import HttpMachine, HttpService
from abrazo.devices.drivers.owner_folders import OwnerFolders
from abrazo.devices.ports import CardMachine, PaymentService, StandIn
from abrazo.devices.simulator.card import MACHINES as MACHINES
from abrazo.devices.simulator.card import SERVICE
from abrazo.devices.simulator.drawer import StandInDrawers
from abrazo.devices.simulator.post import StandInPost, mail_folder
from abrazo.devices.simulator.printer import StandInPrinter
from abrazo.devices.simulator.scanner import StandInScanner
from abrazo.devices.simulator.served import stand_ins_beside
from abrazo.devices.simulator.shared import SharedMemory
from abrazo.store import catalogue, db, people, room, settings, snapshots, staff, till
from abrazo.store.catalogue import Item as Item
from abrazo.store.db import Busy as Busy
from abrazo.store.db import DatabaseError as DatabaseError
from abrazo.store.db import Unavailable as Unavailable
from abrazo.store.db import why_unavailable as why_unavailable
from abrazo.store.journal import Entry
from abrazo.store.people import Person
from abrazo.store.room import Spot
from abrazo.store.settings import Settings as Settings
from abrazo.store.staff import Staff as Staff
from abrazo.store.ticket import TicketRow
from abrazo.store.till import Day
from abrazo.store.till import Till as Till
from abrazo.words.speaking import Plural, Reader, fill

T = TypeVar("T")
Id = TypeVar("Id", bound=Hashable)


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
        """The moment, shifted by the house's seconds."""
        return datetime.now(UTC) + timedelta(seconds=self.seconds)


def told_file(database: Path) -> Path:
    """What printer, post, drawers and scanner were told, for all processes of the house."""
    return database.with_name(f"{database.stem}-told.json")


def key_file(database: Path) -> Path:
    """What cookies are signed with."""
    return database.with_name(f"{database.stem}-key")


def paper_files(database: Path) -> tuple[Path, ...]:
    """What the stand-ins of printer, post, drawers and scanner write to, the folder of e-mails among them."""
    sent = database.with_name(f"{database.stem}-sent.jsonl")
    return database.with_name(f"{database.stem}-paper.txt"), sent, mail_folder(sent), told_file(database)


def owner_folder(database: Path) -> Path:
    """Where the owners of what is hired out find their files."""
    return database.with_name(f"{database.stem}-owners")


def practice_folder(database: Path) -> Path:
    """Where copies lie on which people practise, each in a folder of its own."""
    return database.with_name(f"{database.stem}-practice")


def _papers(database: Path) -> tuple[StandInPrinter, StandInPost, StandInDrawers, StandInScanner]:
    paper, sent, _, told = paper_files(database)
    memory = SharedMemory(told)
    return StandInPrinter(paper, memory), StandInPost(sent, memory), StandInDrawers(memory), StandInScanner(memory)


@dataclass(frozen=True, slots=True)
class Devices:
    """The devices of the house: card machines by name, payment service, printer, post, drawers, scanner, owners."""

    machines: Mapping[str, StandIn]
    service: PaymentService
    printer: StandInPrinter
    post: StandInPost
    drawers: StandInDrawers
    scanner: StandInScanner
    owners: OwnerFolders

    def taker(self, name: str) -> CardMachine:
        """The card machine of a name, or the payment service."""
        return self.service if name == self.service.name else self.machines[name]

    @classmethod
    def beside(cls, database: Path) -> Devices:
        """Stand-ins in this process, whose memory lies beside the database, in files of their own."""
        machines, service = stand_ins_beside(database, MACHINES)
        own = {machine.name: machine for machine in machines}
        return cls(own, service, *_papers(database), OwnerFolders(owner_folder(database)))

    @classmethod
    def over(cls, address: str, database: Path) -> Devices:
        """Card machines and payment service reached over HTTP; printer and post beside the database."""
        machines = {name: HttpMachine(name, address) for name in MACHINES}
        return cls(machines, HttpService(SERVICE, address), *_papers(database), OwnerFolders(owner_folder(database)))


@dataclass(frozen=True, slots=True)
class House:
    """One request's view of the house."""

    connection: db.Connection
    clock: Clock
    devices: Devices
    memo: dict[object, object] | None = field(default=None, compare=False, repr=False)  # what a request reads once
    language: str = ""  # in which it speaks (BCP 47); empty: as the house has decided

    @property
    def settings(self) -> Settings:
        """What the house has decided; read once in a request, and once more in an act."""
        if self.memo is None:
            return settings.read(self.connection)
        if "settings" not in self.memo:
            self.memo["settings"] = settings.read(self.connection)
        return cast(Settings, self.memo["settings"])

    @property
    def zone(self) -> ZoneInfo:
        """The house's zone."""
        return ZoneInfo(self.settings.zone)

    def moment(self) -> datetime:
        """The moment now, with its zone; of a page one moment, of an act its own."""
        return self.once("moment", self.clock.now)

    def now(self) -> datetime:
        """The wall time now, without zone."""
        return self.moment().astimezone(self.zone).replace(tzinfo=None)

    def wall_now(self) -> str:
        """The wall time now, as it is written down."""
        return wall_text(self.now())

    def stamp(self, ago: timedelta = timedelta(0)) -> str:
        """The moment now, or some time ago, as it is kept: UTC."""
        return stamp_of(self.moment() - ago)

    def wall(self, text: str) -> datetime:
        """A stamp as wall time of the house; a wall time as it is."""
        return wall_of(text, self.zone)

    def hour(self, text: str) -> str:
        """Hours and minutes of a stamp or wall time: 14:20."""
        return clock_of(text, self.zone)

    def since(self, stamp: str) -> float:
        """Seconds from a stamp until now."""
        return seconds_between(stamp, self.once("stamp", self.stamp))

    @property
    def reader(self) -> Reader:
        """Who reads in this house, for what needs no names of people and tills."""
        if self.memo is None:
            return self._reader()
        if "reader" not in self.memo:
            self.memo["reader"] = self._reader()
        return cast(Reader, self.memo["reader"])

    def _reader(self) -> Reader:
        settings = self.settings  # read once: the worker keeps nothing between two phrases
        zone = ZoneInfo(settings.zone)
        year = self.moment().astimezone(zone).year
        return Reader(settings.currency, zone, language=self.language or settings.language, year=year)

    def speaking_to(self, person: Person | None) -> House:
        """The same house as it writes to somebody: in their language where it is known, else its own."""
        if person is None or not person.language:
            return self
        return replace(self, language=person.language, memo=None if self.memo is None else {})

    def say(self, sentence: str | Plural, **facts: object) -> str:
        """A phrase in the house's language with its facts: amounts in minor units, times as stamps or wall times."""
        return fill(self.reader, sentence, facts)

    # ---- what a request reads once

    def once(self, key: object, read: Callable[[], T]) -> T:
        """What `read` gives; within one request it is read once under its key, inside an act anew every time."""
        if self.memo is None or self.connection.in_transaction:
            return read()
        if key not in self.memo:
            self.memo[key] = read()
        return cast(T, self.memo[key])

    def forget(self) -> None:
        """What was read before may have changed."""
        if self.memo is not None:
            self.memo.clear()

    def each_once(self, kind: str, ids: Iterable[Id], read: Callable[[list[Id]], Mapping[Id, T]]) -> dict[Id, T | None]:
        """Things by id, None where there is none; `read` is asked once for all that were not read yet.

        Inside an act everything is read anew.
        """
        wanted = list(dict.fromkeys(ids))
        memo: dict[object, object] = {} if self.memo is None or self.connection.in_transaction else self.memo
        missing = [id for id in wanted if (kind, id) not in memo]
        found = read(missing) if missing else {}
        for id in missing:
            memo[kind, id] = found.get(id)
        return {id: cast("T | None", memo[kind, id]) for id in wanted}

    def keep(self, kind: str, things: Mapping[Id, T]) -> None:
        """Things by id that were read in another way: they need not be read again in this request."""
        if self.memo is not None and not self.connection.in_transaction:
            self.memo.update({(kind, id): thing for id, thing in things.items()})

    def heads(self, tickets: Iterable[int]) -> dict[int, TicketRow | None]:
        """The heads of tickets by id, in one statement."""
        return self.each_once("head", tickets, lambda missing: snapshots.heads(self.connection, missing))

    def head(self, ticket: int) -> TicketRow | None:
        """The head of a ticket."""
        return self.heads([ticket])[ticket]

    def taxes(self) -> tuple[Tax, ...]:
        """The taxes as they stand; no act that reckons tickets changes them, so they are read once in an act too."""
        if self.memo is None:
            return catalogue.list_taxes(self.connection)
        if "taxes" not in self.memo:
            self.memo["taxes"] = catalogue.list_taxes(self.connection)
        return cast(tuple[Tax, ...], self.memo["taxes"])

    def staff(self) -> dict[str, Staff]:
        """Everybody who works here, by id."""
        return self.once("staff", lambda: staff.list_staff(self.connection))

    def tills(self) -> dict[str, Till]:
        """All tills, by id."""
        return self.once("tills", lambda: till.list_tills(self.connection))

    def workers(self) -> dict[str, Staff]:
        """Everybody who works here now, by id."""
        return {id: one for id, one in self.staff().items() if one.ended_at is None}

    def tills_in_use(self) -> dict[str, Till]:
        """The tills at which people work now, by id."""
        return {id: one for id, one in self.tills().items() if one.ended_at is None}

    def open_day(self) -> Day | None:
        """The open day, if one is open."""
        return self.once("day", lambda: till.open_day(self.connection))

    def date_of(self, day: int) -> str:
        """The business date (ISO) of a day, open or closed."""
        now = self.open_day()
        return now.business_date if now and now.id == day else till.business_date(self.connection, day)

    def business_date(self) -> str:
        """The date that counts today (ISO): that of the open day, else the clock's."""
        day = self.open_day()
        return day.business_date if day else self.now().date().isoformat()

    def day(self) -> Day:
        """The open day; refused when none is open."""
        day = self.open_day()
        if day is None:
            raise Refused(Code.NO_DAY)
        return day

    def items(self, ids: Iterable[str]) -> dict[str, Item | None]:
        """Items by id, in one statement."""
        return self.each_once("item", ids, lambda missing: catalogue.read_items(self.connection, missing))

    def item(self, id: str) -> Item | None:
        """An item."""
        return self.items([id])[id]

    def people(self, ids: Iterable[int]) -> dict[int, Person | None]:
        """People by id, in one statement."""
        return self.each_once("person", ids, lambda missing: people.read_many(self.connection, missing))

    def person(self, id: int) -> Person | None:
        """Somebody."""
        return self.people([id])[id]

    def spot(self, id: str) -> Spot | None:
        """A table, also one that is no longer on the floor plan."""
        return self._spots().get(id)

    def spots(self) -> list[Spot]:
        """The tables of the floor plan."""
        return [spot for spot in self._spots().values() if spot.ended_at is None]

    def _spots(self) -> dict[str, Spot]:
        return self.once("spots", lambda: room.all_spots(self.connection))


@dataclass(frozen=True, slots=True)
class Actor:
    """Who acts, at which till. `by_itself`: in their name, for what a machine answered or a table that frees itself.

    `lender` lends them a right for this one act; `screen` tells the screens apart at which PINs are typed.
    """

    staff: Staff
    till: Till
    by_itself: bool = False
    lender: Staff | None = None
    screen: str = ""
