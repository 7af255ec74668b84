"""Somebody who plays what people do, through the desk, on a clock that the story sets."""

from __future__ import annotations

import random
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

from abrazo.core.tenders import cash_due
from abrazo.demo.house import PLAN, SETTINGS
from abrazo.desk.context import Actor, House
from abrazo.desk.payments import card_poller, closing, tenders, tips
from abrazo.desk.tickets import prep, sharing, starting, ticket_lines
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.snapshot import load_ticket
from abrazo.desk.tickets.ticket_lines import Picked
from abrazo.store import prep as prep_kept

ZONE = ZoneInfo(SETTINGS.zone)
DAY = datetime(2026, 6, 13)  # wall time of the house
Order = tuple[str, str, str]  # item, choices separated by spaces, guests' letters


@dataclass
class StoryClock:
    """A clock that the story sets, on a day in a zone."""

    time: datetime = field(default_factory=lambda: DAY)
    zone: ZoneInfo = ZONE
    day: datetime = DAY

    def now(self) -> datetime:
        """The moment that the story has come to."""
        return self.time.replace(tzinfo=self.zone)

    def at(self, hour_minute: str) -> None:
        """Set it to a time of the day."""
        hour, minute = hour_minute.split(":")
        self.time = self.day.replace(hour=int(hour), minute=int(minute))

    def on(self, seconds: int = 40) -> None:
        """Let some seconds pass."""
        self.time += timedelta(seconds=seconds)


@dataclass(frozen=True, slots=True)
class Cast:
    """Who plays in a house: a server, somebody at the desk, a craftsman, the supervisor; each as (staff, till)."""

    server: tuple[str, str]
    desk: tuple[str, str]
    craftsman: tuple[str, str]
    boss: tuple[str, str]


CAST = Cast(("tamsin", "galley"), ("wren", "landing"), ("bastian", "landing"), ("odile", "landing"))


class Play:
    """Plays what people of a house do, through the desk."""

    def __init__(self, house: House, clock: StoryClock, named: str, cast: Cast) -> None:
        people, tills = house.staff(), house.tills()
        self.house, self.clock = house, clock
        who = (cast.server, cast.desk, cast.craftsman, cast.boss)
        self.server, self.desk, self.craftsman, self.boss = (Actor(people[one], tills[till]) for one, till in who)
        self.random = random.Random(20260613)  # noqa: S311 (a story, not a secret)
        self.acts, self.named = 0, named

    def key(self) -> str:
        """A new idempotency key."""
        self.acts += 1
        return f"{self.acts:08d}-{self.named}"

    def version(self, number: int) -> int:
        """The ticket's version now."""
        return load_ticket(self.house, number).head.version

    def cash(self, number: int, payer: int, handed: int | None = None) -> int:
        """A payer pays in cash, with the next note of ten."""
        whole = load_ticket(self.house, number)
        due = cash_due(whole.payer_bill(payer).account.due, whole.ticket.cash_rounding)
        given = handed or -(-due // 1000) * 1000
        version = whole.head.version
        return tenders.take_cash(
            self.house, self.server, OnTicket(number, version, self.key()), payer, tenders.Sum(due), given
        )

    def card(self, number: int, payer: int, machine: str = "card machine 1") -> str:
        """A payer pays on a card machine; the machine's answer is followed to its end."""
        whole = load_ticket(self.house, number)
        due, version = whole.payer_bill(payer).account.due, whole.head.version
        key = self.key()
        reference = tenders.ask_card(
            self.house, self.server, OnTicket(number, version, key), payer, machine, tenders.Sum(due)
        )
        self.let_machines_answer()
        return reference

    def let_machines_answer(self) -> None:
        """Time goes on until no card machine is at work."""
        while card_poller.follow(self.house):
            self.clock.on(5)

    def record(self, number: int, tender: str, reference: str) -> None:
        """Somebody at the desk notes money already taken, and the ticket is closed."""
        whole = load_ticket(self.house, number)
        payer, due = whole.payers[0].id, whole.bill.due
        self.clock.on()
        tenders.record(
            self.house,
            self.desk,
            OnTicket(number, whole.head.version, self.key()),
            payer,
            tenders.Recorded(due, tender, reference),
        )
        closing.free_table(self.house, self.desk, OnTicket(number, None, self.key()))

    def pay(self, number: int, by: str) -> None:
        """Somebody at the desk pays all of a ticket, and it is closed."""
        whole = load_ticket(self.house, number)
        payer, due = whole.payers[0].id, whole.payer_bill(whole.payers[0].id).account.due
        self.clock.on()
        if due and by == "cash":
            cash = cash_due(due, whole.ticket.cash_rounding)
            handed = -(-cash // 500) * 500
            tenders.take_cash(
                self.house,
                self.desk,
                OnTicket(number, whole.head.version, self.key()),
                payer,
                tenders.Sum(cash),
                handed,
            )
        elif due:
            version = whole.head.version
            tenders.ask_card(
                self.house, self.desk, OnTicket(number, version, self.key()), payer, "card machine 2", tenders.Sum(due)
            )
            self.let_machines_answer()
        closing.free_table(self.house, self.desk, OnTicket(number, None, self.key()))


class Story(Play):
    """Plays what people of Marram do."""

    def __init__(self, house: House, clock: StoryClock, named: str = "demo") -> None:
        super().__init__(house, clock, named, CAST)
        self.tamsin, self.wren, self.bastian, self.odile = self.server, self.desk, self.craftsman, self.boss
        self.jory = Actor(house.staff()["jory"], house.tills()["galley"])

    def seat(self, spot: str, guests: int, at: str, orders: tuple[Order, ...]) -> int:
        """Seat a party and put its orders on the ticket."""
        self.clock.at(at)
        actor = self.jory if spot.startswith("B") else self.tamsin
        number = starting.seat(self.house, actor, spot, guests, self.key())
        for item, choices, letters in orders:
            self.clock.on()
            picked = Picked(item, "1", tuple(choices.split()), tuple(letters.split()))
            who = self.jory if item.endswith(("ale", "cider", "spritz", "glass")) else actor
            ticket_lines.add_line(self.house, who, OnTicket(number, None, self.key()), picked)
        if orders:
            prep.send(self.house, actor, OnTicket(number, None, self.key()), ())
        return number

    def serve(self, minutes: int = 20) -> None:
        """The places have done what was sent longer ago than so many minutes."""
        before = self.house.stamp(timedelta(minutes=minutes))
        for place in ("kitchen", "bar"):
            for slip in prep_kept.waiting(self.house.connection, place, 500):
                if slip.at < before:
                    prep.done(self.house, self.tamsin, slip.id)

    def lunch(self, spot: str, guests: int, at: str, how: str) -> None:
        """A party that came, ate, paid and left."""
        plain = [item for item, groups in PLAN.items if not groups and item.place in ("kitchen", "bar")]
        orders = []
        for index in range(guests):
            for item in self.random.sample(plain, 2):
                orders.append((item.id, "", starting.letter(index)))
        number = self.seat(spot, guests, at, tuple(orders))
        self.clock.on(35 * 60)
        if how == "seat":
            sharing.by_seat(self.house, self.tamsin, OnTicket(number, self.version(number)))
        elif how == "equal":
            sharing.equal_parts(self.house, self.tamsin, OnTicket(number, self.version(number)), guests)
        for index, payer in enumerate(load_ticket(self.house, number).payers):
            self.clock.on()
            if how == "cash" or index % 2:
                self.cash(number, payer.id)
            else:
                percent = self.random.choice(["", "10", "10", "15"])
                tips.set_tip(
                    self.house,
                    self.tamsin,
                    OnTicket(number, self.version(number)),
                    payer.id,
                    tips.TipWanted(percent=percent),
                )
                self.card(number, payer.id)
        closing.free_table(self.house, self.tamsin, OnTicket(number, None, self.key()))
