"""Ninety days before the demo's Saturday: closed tickets with their payments and postings, loaded at once.

A day in the life is played through the desk (see day and doors); years of history are loaded in bulk, by the same rules:
every ticket is reckoned, every entry balances, and the card machines remember what they charged.
"""

from __future__ import annotations

import random
from dataclasses import astuple, dataclass, replace
from datetime import datetime, timedelta

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
from abrazo.demo.ahead import MANY, play_ahead
from abrazo.demo.house import PLAN
from abrazo.demo.people import everybody
from abrazo.demo.story import DAY, ZONE, Story, StoryClock
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

DAYS = 90
LAST_NUMBER = 2100  # the Saturday's first ticket is the next
FLOATS = {"galley": 15000, "landing": 12000}
MACHINES = {"galley": "card machine 1", "landing": "card machine 2"}
SERVERS = {"galley": ("tamsin", "jory"), "landing": ("wren",)}
SPOTS = [spot.id for spot in PLAN.spots]
FOOD = [item for item, groups in PLAN.items if item.place in ("kitchen", "bar") and not groups]
VISITS = [item for item, _ in PLAN.items if item.minutes]
GOODS = [item for item, _ in PLAN.items if item.category == "shop" and not item.unit]
OWES = ("Theo Brandvold", 8, 2)  # left this many days ago unpaid on account, so many sessions


def add_people(house: House) -> dict[str, int]:
    """Everybody the house knows, with the day since when; gives their ids by name."""
    chance, found = random.Random(23), dict[str, int]()  # noqa: S311 (a story, not a secret)
    with atomic(house.connection):
        for facts in everybody():
            person, household = read_person(house, facts)
            since = DAY - timedelta(days=chance.randint(20, 1500))
            found[person.name] = keep_person(house, replace(person, since=f"{since:%Y-%m-%d}"), household)
    return found


def load_history(house: House, clock: StoryClock, people: dict[str, int]) -> None:
    """Everything that happened before the demo's Saturday."""
    past, story = Past(house, people), Story(house, clock, "past")
    for back in range(DAYS, 0, -1):
        date = DAY - timedelta(days=back)
        with atomic(house.connection):
            day, cash = past.day(date, back)
        clock.time = date.replace(hour=19, minute=30)
        cash["landing"] += play_ahead(story, people, back)
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

    def __init__(self, house: House, people: dict[str, int]) -> None:
        self.house, self.people = house, people
        self.chance = random.Random(31)  # noqa: S311 (a story, not a secret)
        self.charged: dict[str, list[tuple[str, int, float]]] = {name: [] for name in house.devices.machines}
        self.waits = dict.fromkeys(MACHINES.values(), 0)  # what was charged the day before, and is paid out tomorrow
        self.names = sorted(people)
        weekdays = [(DAY - timedelta(days=back)).weekday() for back in range(DAYS, 0, -1)]
        self.many = [self.chance.randint(6, 9) + (6 if weekday > 4 else 0) for weekday in weekdays]
        first = LAST_NUMBER - sum(self.many) - MANY  # with that of who owes; the others follow
        self.first: int | None = first

    def day(self, date: datetime, back: int) -> tuple[int, dict[str, int]]:
        """One business day with its tickets, open still; gives its id, and the cash that came in at each till."""
        opened = date.replace(hour=8, minute=30)
        opened_at = stamp_at(opened, ZONE)
        day = till.add_day(self.house.connection, f"{date:%Y-%m-%d}", opened_at, "odile")
        self.open_tills(day, opened_at)
        self.pay_out(day, opened_at)
        cash = dict.fromkeys(FLOATS, 0)
        for _ in range(self.many[DAYS - back]):
            at = self.chance.choice(["galley", "galley", "galley", "landing"])
            when = date.replace(hour=self.chance.randint(10, 19), minute=self.chance.randint(0, 59))
            cash[at] += self.ticket(day, at, when, None)
        if back == OWES[1]:
            self.ticket(day, "landing", date.replace(hour=16), OWES[0])
        return day, cash

    def shut(self, date: datetime, day: int, cash: dict[str, int]) -> None:
        """The day is counted and closed."""
        shut = stamp_at(date.replace(hour=21, minute=10), ZONE)
        for at, taken in cash.items():
            self.shut_till(_Moment(day, at, "odile", shut), FLOATS[at] + taken)
        till.close_day(self.house.connection, day, shut, "odile")
        seal_day(self.house, day)

    def pay_out(self, day: int, at: str) -> None:
        """What the machines charged until the evening before last is at the bank now, less a fee of 1.4 percent."""
        for till_id, machine in MACHINES.items():
            gross = self.waits[machine]
            fee = gross * 14 // 1000
            if gross > 0:
                facts: dict[str, Fact] = {"route": machine, "amount": gross - fee, "fee": fee}
                entry = journal.Entry(0, at, day, till_id, "odile", None, None, Kind.PAYOUT, facts, {})
                journal.add(self.house.connection, entry, Booked(payout_postings(machine, gross - fee, fee)))
            self.waits[machine] = journal.balance(self.house.connection, money_account("card", machine))

    def open_tills(self, day: int, opened_at: str) -> None:
        """Every drawer begins with its float: the first from the safe, then what it was left with."""
        left = till.left_before(self.house.connection, day)
        for at, amount in FLOATS.items():
            why = FloatDifference.FIRST if at not in left else FloatDifference.BANK
            more = float_difference(amount, left.get(at, 0))
            row = FloatRow(at, amount, "", left.get(at, 0), why if more else None)
            till.add_float(self.house.connection, day, row)
            if more:
                booked = Booked(float_postings(at, why, more))
                self.of_till(_Moment(day, at, "odile", opened_at), Kind.FLOAT_DIFFERS, booked, amount=more, why=why)

    def shut_till(self, when: _Moment, expected: int) -> None:
        """A drawer is counted; what is above its float goes to the bank."""
        over, connection = self.chance.choice([0, 0, 0, 0, -20, 5, 100]), self.house.connection
        counted, float_ = expected + over, FLOATS[when.at]
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
        connection, chance, moment = self.house.connection, self.chance, stamp_at(when, ZONE)
        name = owes or (chance.choice(self.names) if at == "landing" else None)
        staff = chance.choice(SERVERS[at])
        person = self.people[name] if name else None
        spot = chance.choice(SPOTS) if at == "galley" and chance.random() < 0.8 else None
        source = Source.TABLE if spot else Source.BOOKING if at == "landing" else Source.COUNTER
        number = ticket_store.add(connection, NewTicket(staff, at, day, moment, spot, source, person, name, self.first))
        self.first = None
        guests = chance.randint(1, 3) if spot else 1
        payer = guests_kept.add_payer(connection, number, "A" if guests == 1 else "∗", 0)
        for index in range(guests):
            guests_kept.add_guest(connection, number, chr(65 + index), payer, name)
        for item in self.items(at, guests, owes is not None):
            who = chance.choice(["idris", "pilar", "noor"]) if item.minutes else staff
            facts = (item.id, item.name, item.price, "1", item.tax, item.report_group, who, "", moment, None, None)
            lines_kept.add_line(connection, number, LineRow(0, *facts))
        return self.close(_Sale(day, at, staff, number, payer), when + timedelta(minutes=40), owes)

    def items(self, at: str, guests: int, owing: bool) -> list[Item]:
        """What was had."""
        if at == "galley":
            return self.chance.choices(FOOD, k=guests + self.chance.randint(1, 3))
        visits = self.chance.choices(VISITS, k=OWES[2] if owing else 1)
        return visits + self.chance.choices(GOODS, k=self.chance.choice([0, 0, 1, 2]))

    def close(self, sale: _Sale, when: datetime, owes: str | None) -> int:
        """Paid by card, in cash or not at all, and closed."""
        day, at, staff, number, payer = astuple(sale)
        connection, moment = self.house.connection, stamp_at(when, ZONE)
        due = load_ticket(self.house, number).bill.due
        tip = self.chance.choice([0, 0, 100, 200]) if at == "galley" else 0
        by_card = self.chance.random() < 0.65
        machine, reference = MACHINES[at] if by_card else None, f"past-{number}" if by_card else None
        tender, route = ("card", MACHINES[at]) if by_card else ("cash", "cash")
        place = MACHINES[at] if by_card else at
        amount = due if by_card else cash_due(due, 5)
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
            self.charged[machine].append((reference, given, when.replace(tzinfo=ZONE).timestamp()))
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
