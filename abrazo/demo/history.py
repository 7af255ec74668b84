"""The days before the day of a demo: closed tickets with their payments and postings, loaded at once.

A day in the life is played through the desk (see day and doors); years of history are loaded in bulk, by the same rules:
every ticket is reckoned, every entry balances, and the card machines remember what they charged.
"""

from __future__ import annotations

import random
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import astuple, dataclass, replace
from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

from abrazo.core.figures import Booked, closed, tender_figures
from abrazo.core.journal import Fact, Kind, Personal
from abrazo.core.ledger import (
    banked_postings,
    customer_account,
    float_postings,
    money_account,
    over_short_postings,
    payout_postings,
    taken_postings,
)
from abrazo.core.moments import stamp_at
from abrazo.core.states import FloatDifference, Source, TicketState
from abrazo.core.tenders import cash_due
from abrazo.core.till import float_difference
from abrazo.demo.ahead import MANY
from abrazo.demo.house import PLAN
from abrazo.demo.story import DAY, ZONE, StoryClock
from abrazo.desk.context import House
from abrazo.desk.people.people import keep_person, read_person
from abrazo.desk.tickets.snapshot import load_ticket
from abrazo.desk.till.business_day import seal_day
from abrazo.store import guests as guests_kept
from abrazo.store import journal, tenders, till
from abrazo.store import lines as lines_kept
from abrazo.store import ticket as ticket_store
from abrazo.store.catalogue import Item
from abrazo.store.db import atomic
from abrazo.store.lines import LineRow
from abrazo.store.tenders import PaymentRow
from abrazo.store.ticket import NewTicket
from abrazo.store.till import Banked, Count, FloatRow


@dataclass(frozen=True)
class PastOf:
    """What the days before a demo's day are made of, in one house; minor units.

    At the `counter` food is had, at tables where there are some, and tips are given; at the `desk` somebody known has a
    visit and takes goods along. `owes` is who left how many visits unpaid, how many days ago.
    """

    day: datetime
    zone: ZoneInfo
    days: int
    last_number: int  # the day's first ticket is the next
    boss: str
    counter: str
    desk: str
    floats: Mapping[str, int]
    machines: Mapping[str, str]
    servers: Mapping[str, tuple[str, ...]]
    doing: tuple[str, ...]  # who do the visits
    step: int  # the least sum in cash
    spots: Sequence[str]
    food: Sequence[Item]
    visits: Sequence[Item]
    goods: Sequence[Item]
    owes: tuple[str, int, int]
    played: int  # tickets that are played besides


MARRAM = PastOf(
    day=DAY,
    zone=ZONE,
    days=90,
    last_number=2100,
    boss="odile",
    counter="galley",
    desk="landing",
    floats={"galley": 15000, "landing": 12000},
    machines={"galley": "card machine 1", "landing": "card machine 2"},
    servers={"galley": ("tamsin", "jory"), "landing": ("wren",)},
    doing=("idris", "pilar", "noor"),
    step=5,
    spots=[spot.id for spot in PLAN.spots],
    food=[item for item, groups in PLAN.items if item.place in ("kitchen", "bar") and not groups],
    visits=[item for item, _ in PLAN.items if item.minutes],
    goods=[item for item, _ in PLAN.items if item.category == "shop" and not item.unit],
    owes=("Theo Brandvold", 8, 2),
    played=MANY,
)


def add_people(house: House, all_of_them: Iterable[Mapping[str, str]], day: datetime) -> dict[str, int]:
    """Everybody the house knows, with the day since when; gives their ids by name."""
    chance, found = random.Random(23), dict[str, int]()  # noqa: S311 (a story, not a secret)
    with atomic(house.connection):
        for facts in all_of_them:
            person, household = read_person(house, facts)
            since = day - timedelta(days=chance.randint(20, 1500))
            found[person.name] = keep_person(house, replace(person, since=f"{since:%Y-%m-%d}"), household)
    return found


Played = Callable[[int], int]  # what is played of a day that was so long ago; gives the cash that it brought


def load_history(house: House, clock: StoryClock, people: dict[str, int], of: PastOf, played: Played) -> None:
    """Everything that happened before the demo's day."""
    past = Past(house, people, of)
    for back in range(of.days, 0, -1):
        date = of.day - timedelta(days=back)
        with atomic(house.connection):
            day, cash = past.day(date, back)
        clock.time = date.replace(hour=19, minute=30)
        cash[of.desk] += played(back)
        with atomic(house.connection):
            past.shut(date, day, cash)
    for machine, charged in past.charged.items():
        house.devices.machines[machine].remember(charged)


@dataclass(frozen=True, slots=True)
class _Sale:
    """Where and by whom something was sold, on which day; the ticket and its payer."""

    day: int
    at: str
    staff: str
    ticket: int
    payer: int


@dataclass(frozen=True, slots=True)
class _Moment:
    """When somebody did something at which till, on which day."""

    day: int
    at: str
    staff: str
    moment: str


class Past:
    """Loads day after day, each inside one transaction, but for what is played of it."""

    def __init__(self, house: House, people: dict[str, int], of: PastOf) -> None:
        self.house, self.people, self.of = house, people, of
        self.chance = random.Random(31)  # noqa: S311 (a story, not a secret)
        self.charged: dict[str, list[tuple[str, int, float]]] = {name: [] for name in house.devices.machines}
        self.waits = dict.fromkeys(
            self.of.machines.values(), 0
        )  # what was charged the day before, and is paid out tomorrow
        self.names = sorted(people)
        weekdays = [(of.day - timedelta(days=back)).weekday() for back in range(of.days, 0, -1)]
        self.many = [self.chance.randint(6, 9) + (6 if weekday > 4 else 0) for weekday in weekdays]
        first = of.last_number - sum(self.many) - of.played  # with that of who owes; the others follow
        self.first: int | None = first

    def day(self, date: datetime, back: int) -> tuple[int, dict[str, int]]:
        """One business day with its tickets, open still; gives its id, and the cash that came in at each till."""
        opened = date.replace(hour=8, minute=30)
        opened_at = stamp_at(opened, self.of.zone)
        day = till.add_day(self.house.connection, f"{date:%Y-%m-%d}", opened_at, self.of.boss)
        self.open_tills(day, opened_at)
        self.pay_out(day, opened_at)
        cash = dict.fromkeys(self.of.floats, 0)
        for _ in range(self.many[self.of.days - back]):
            at = self.chance.choice([self.of.counter] * 3 + [self.of.desk])
            when = date.replace(hour=self.chance.randint(10, 19), minute=self.chance.randint(0, 59))
            cash[at] += self.ticket(day, at, when, None)
        if back == self.of.owes[1]:
            self.ticket(day, self.of.desk, date.replace(hour=16), self.of.owes[0])
        return day, cash

    def shut(self, date: datetime, day: int, cash: dict[str, int]) -> None:
        """The day is counted and closed."""
        shut = stamp_at(date.replace(hour=21, minute=10), self.of.zone)
        for at, taken in cash.items():
            self.shut_till(_Moment(day, at, self.of.boss, shut), self.of.floats[at] + taken)
        till.close_day(self.house.connection, day, shut, self.of.boss)
        seal_day(self.house, day)

    def pay_out(self, day: int, at: str) -> None:
        """What the machines charged until the evening before last is at the bank now, less a fee of 1.4 percent."""
        for till_id, machine in self.of.machines.items():
            gross = self.waits[machine]
            fee = gross * 14 // 1000
            if gross > 0:
                facts: dict[str, Fact] = {"route": machine, "amount": gross - fee, "fee": fee}
                entry = journal.Entry(0, at, day, till_id, self.of.boss, None, None, Kind.PAYOUT, facts, {})
                journal.add(self.house.connection, entry, Booked(payout_postings(machine, gross - fee, fee)))
            self.waits[machine] = journal.balance(self.house.connection, money_account("card", machine))

    def open_tills(self, day: int, opened_at: str) -> None:
        """Every drawer begins with its float: the first from the safe, then what it was left with."""
        left = till.left_before(self.house.connection, day)
        for at, amount in self.of.floats.items():
            why = FloatDifference.FIRST if at not in left else FloatDifference.BANK
            more = float_difference(amount, left.get(at, 0))
            row = FloatRow(at, amount, "", left.get(at, 0), why if more else None)
            till.add_float(self.house.connection, day, row)
            if more:
                booked = Booked(float_postings(at, why, more))
                self.of_till(
                    _Moment(day, at, self.of.boss, opened_at), Kind.FLOAT_DIFFERS, booked, amount=more, why=why
                )

    def shut_till(self, when: _Moment, expected: int) -> None:
        """A drawer is counted; what is above its float goes to the bank."""
        over, connection = self.chance.choice([0, 0, 0, 0, -20, 5, 100]), self.house.connection
        counted, float_ = expected + over, self.of.floats[when.at]
        till.add_count(connection, when.day, Count(when.at, when.staff, when.moment, "{}", counted, expected))
        if over:
            booked = Booked(over_short_postings(when.at, over))
            self.of_till(when, Kind.OVER if over > 0 else Kind.SHORT, booked, amount=abs(over))
        banked = max(0, counted - float_)
        if banked:
            till.add_banked(connection, when.day, Banked(when.at, when.staff, when.moment, banked, True))
            self.of_till(when, Kind.BANKED, Booked(banked_postings(when.at, banked)), amount=banked)
        till.set_left(connection, when.day, when.at, counted - banked)

    def of_till(self, when: _Moment, kind: Kind, booked: Booked, **facts: Fact) -> None:
        """An entry about a drawer."""
        facts["of_till"] = when.at
        entry = journal.Entry(0, when.moment, when.day, when.at, when.staff, None, None, kind, facts, {})
        journal.add(self.house.connection, entry, booked)

    def ticket(self, day: int, at: str, when: datetime, owes: str | None) -> int:
        """One closed ticket; gives the cash it brought in."""
        connection, chance, moment = self.house.connection, self.chance, stamp_at(when, self.of.zone)
        name = owes or (chance.choice(self.names) if at == self.of.desk else None)
        staff = chance.choice(self.of.servers[at])
        person = self.people[name] if name else None
        spot = (
            chance.choice(self.of.spots) if at == self.of.counter and self.of.spots and chance.random() < 0.8 else None
        )
        source = Source.TABLE if spot else Source.BOOKING if at == self.of.desk else Source.COUNTER
        number = ticket_store.add(connection, NewTicket(staff, at, day, moment, spot, source, person, name, self.first))
        self.first = None
        guests = chance.randint(1, 3) if spot else 1
        payer = guests_kept.add_payer(connection, number, "A" if guests == 1 else "∗", 0)
        for index in range(guests):
            guests_kept.add_guest(connection, number, chr(65 + index), payer, name)
        for item in self.items(at, guests, owes is not None):
            who = chance.choice(self.of.doing) if item.minutes else staff
            facts = (item.id, item.name, item.price, "1", item.tax, item.report_group, who, "", moment, None, None)
            lines_kept.add_line(connection, number, LineRow(0, *facts))
        return self.close(_Sale(day, at, staff, number, payer), when + timedelta(minutes=40), owes)

    def items(self, at: str, guests: int, owing: bool) -> list[Item]:
        """What was had."""
        if at == self.of.counter:
            return self.chance.choices(self.of.food, k=guests + self.chance.randint(1, 3))
        visits = self.chance.choices(self.of.visits, k=self.of.owes[2] if owing else 1)
        return visits + self.chance.choices(self.of.goods, k=self.chance.choice([0, 0, 1, 2]))

    def close(self, sale: _Sale, when: datetime, owes: str | None) -> int:
        """Paid by card, in cash or not at all, and closed."""
        day, at, staff, number, payer = astuple(sale)
        connection, moment = self.house.connection, stamp_at(when, self.of.zone)
        due = load_ticket(self.house, number).bill.due
        tip = self.chance.choice([0, 0, 100, 200]) if at == self.of.counter else 0
        by_card = self.chance.random() < 0.65
        machine, reference = self.of.machines[at] if by_card else None, f"past-{number}" if by_card else None
        tender, route = ("card", self.of.machines[at]) if by_card else ("cash", "cash")
        place = self.of.machines[at] if by_card else at
        amount = due if by_card else cash_due(due, self.of.step)
        if owes:
            tender, route, machine, reference, tip = "account", f"account of {owes}", None, None, 0
            amount = due
        given = amount + tip
        card = (machine, "Pelagia" if machine else None, "4417" if machine else None, reference)
        handed = -(-given // 500) * 500 if tender == "cash" else None
        payment = PaymentRow(0, number, payer, day, at, staff, moment, tender, route, amount, tip, handed, *card,
                             account=self.people[owes] if owes else None)  # fmt: skip
        made = tenders.add_payment(connection, payment)
        letter = guests_kept.list_payers(connection, number)[0].letter
        account = customer_account(self.people[owes]) if owes else money_account(tender, place)
        facts: dict[str, Fact | Personal] = {
            "payment": made,
            "payer": letter,
            "tender": tender,
            "amount": given,
            "route": Personal(route),
        }
        taken = Booked(taken_postings(account, given), tender_figures(tender, machine or "", given))
        self.wrote(sale, moment, Kind.PAID, taken, **facts)
        if machine and reference:
            self.charged[machine].append((reference, given, when.replace(tzinfo=self.of.zone).timestamp()))
        whole = load_ticket(self.house, number)
        self.wrote(sale, moment, Kind.SETTLED, closed(whole.ticket, whole.bill, whole.uses))
        ticket_store.set_state(connection, number, TicketState.CLOSED, moment)
        return given if tender == "cash" else 0

    def wrote(self, sale: _Sale, moment: str, kind: Kind, booked: Booked, **facts: Fact | Personal) -> None:
        """An entry of the journal."""
        plain = {name: fact for name, fact in facts.items() if not isinstance(fact, Personal)}
        texts = {name: fact.text for name, fact in facts.items() if isinstance(fact, Personal)}
        entry = journal.Entry(0, moment, sale.day, sale.at, sale.staff, sale.ticket, None, kind, plain, texts)
        journal.add(self.house.connection, entry, booked)
