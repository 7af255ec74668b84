"""A month of mixed business: every day closes, balances, and stands against the books; the process dies each night.

What was begun on one day goes on on others: deposits are used, goods set aside are fetched, boats come back, accounts
are paid, a course takes place. Days are long apart on purpose: dates, terms and ages move.
"""

from __future__ import annotations

import random
from contextlib import suppress
from datetime import timedelta

import pytest

from abrazo.core.errors import Refused
from abrazo.core.tenders import cash_due
from abrazo.desk.doors import booking_changes, bookings, courses, jobs
from abrazo.desk.doors import hires as desk_hires
from abrazo.desk.doors.courses import CoursePlan, Joining
from abrazo.desk.doors.hires import Returned
from abrazo.desk.overview.owed import owed
from abrazo.desk.overview.soundness import soundness
from abrazo.desk.payments import accounts, closing, deposits, refunds, reopening, set_aside, tenders
from abrazo.desk.people.people import known
from abrazo.desk.setup import house_settings
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.deposits import of_booking
from abrazo.desk.till import opening
from abrazo.desk.till.opening import Float
from abrazo.store import bookings as kept
from abrazo.store import journal, till
from abrazo.store.bookings import ServiceTerms
from abrazo.worker import hire_charges
from tests.conftest import TIMES
from tests.desk.books import holds
from tests.desk.conftest import MACHINE, Desk
from tests.desk.doors.test_hires import hirer, out
from tests.desk.payments.test_set_aside import part
from tests.desk.scenes import dropped, person, wren
from tests.desk.tickets.test_benefits import sale_for
from tests.desk.tickets.test_series import close_all, pick

DAYS = 30
GOODS = ("enamel-mug", "sun-hat", "kelp-soap", "first-paddle", "skiff-lesson", "five-paddles", "tidekeeper-a-year")


class Month:
    """A house in which things are begun, and go on later."""

    def __init__(self, desk: Desk, seed: int) -> None:
        self.desk, self.chance = desk, random.Random(seed)
        self.people = [person(desk, name) for name in ("Petra Moe", "Teun Abara", "Juno Ferreira")]
        desk.house.connection.execute("UPDATE person SET account = 1")
        desk.house.connection.execute("UPDATE stock_count SET quantity = '500'")
        kept.put_terms(desk.house.connection, ServiceTerms("guided-creek-tour", 2000, 1500))
        house_settings.decide(desk.house, desk.boss, "tax_on_advances", "yes")
        self.hirer = hirer(desk, "Saskia Dunmore")
        self.booked = list[int]()
        self.jobs = list[int]()
        self.aside = list[int]()
        self.out = list[int]()
        self.closed = list[int]()
        self.done = set[str]()

    def settle(self, number: int, by: str = "") -> None:
        """All of a ticket is paid in one way, or left on account, and it is closed."""
        desk, whole = self.desk, self.desk.whole(number)
        payer, due = whole.payers[0].id, whole.bill.due
        by = by or self.chance.choice(["cash", "card", "account" if whole.head.person else "cash"])
        on = OnTicket(number, None, desk.key())
        if due and by == "account":
            accounts.put_on_account(desk.house, desk.boss, on, payer, accounts.Leave(due))
        elif due and by == "card":
            tenders.ask_card(desk.house, wren(desk), on, payer, MACHINE, tenders.Sum(due))
            desk.follow()
        elif due:
            due = cash_due(due, whole.ticket.cash_rounding)
            tenders.take_cash(desk.house, wren(desk), on, payer, tenders.Sum(due), due)
        closing.free_table(desk.house, wren(desk), OnTicket(number, None, desk.key()))
        self.closed.append(number)

    def sale(self) -> None:
        number = sale_for(self.desk, self.chance.choice(self.people))
        for item in self.chance.choices(GOODS, k=self.chance.randint(1, 3)):
            pick(self.desk, number, item)
        self.settle(number)

    def book(self) -> None:
        desk, who = self.desk, self.chance.choice(self.people)
        day = (desk.clock.time + timedelta(days=self.chance.randint(1, 6))).date().isoformat()
        time = f"{self.chance.randint(9, 16):02d}:00"
        wanted = bookings.Appointment(who, "guided-creek-tour", "pilar", day, time)
        one = bookings.book(desk.house, wren(desk), wanted, desk.key())
        self.settle(booking_changes.take_deposit(desk.house, wren(desk), [one], desk.key()), "card")
        self.booked.append(one)

    def come(self) -> None:
        desk, one = self.desk, self.booked.pop(0)
        if self.chance.random() < 0.3:
            booking_changes.cancel(desk.house, wren(desk), one, "travelling", desk.key())
            thing = of_booking(desk.house, bookings.read_booking(desk.house, one))
            if self.chance.random() < 0.5:
                deposits.give_back(desk.house, wren(desk), thing, desk.key())
            else:
                deposits.keep(desk.house, desk.boss, thing, "our terms", desk.key())
        else:
            self.settle(bookings.check_out(desk.house, wren(desk), [one], desk.key()))

    def course(self) -> None:
        desk = self.desk
        day = (desk.clock.time + timedelta(days=2)).date().isoformat()
        plan = CoursePlan("roll-clinic", "noor", day, f"{self.chance.randint(9, 15):02d}:30", "2")
        one = courses.plan(desk.house, wren(desk), plan, desk.key())[0]
        courses.join(desk.house, wren(desk), one, Joining(0, "Ada Aldous"), desk.key())
        number = sale_for(desk, self.people[0])
        courses.sell(desk.house, wren(desk), OnTicket(number, None, desk.key()), one, Joining(self.people[0]))
        self.settle(number)

    def job(self) -> None:
        one, _ = dropped(self.desk, self.chance.choice(self.people), self.chance.choice([0, 1000]))
        self.jobs.append(one)

    def fetch(self) -> None:
        self.settle(jobs.settle(self.desk.house, wren(self.desk), [self.jobs.pop(0)], self.desk.key()))

    def put_aside(self) -> None:
        desk, number = self.desk, sale_for(self.desk, self.people[1])
        pick(desk, number, "enamel-mug")
        pick(desk, number, "sun-hat")
        part(desk, number, 1000)
        until = (desk.clock.time + timedelta(days=60)).date().isoformat()
        set_aside.set_aside(desk.house, wren(desk), desk.on(number), until)
        self.aside.append(number)

    def take_home(self) -> None:
        self.settle(self.aside.pop(0), "card")

    def hire(self) -> None:
        self.out.append(out(self.desk, self.hirer))

    def back(self) -> None:
        desk_hires.take_back(self.desk.house, wren(self.desk), self.out.pop(0), Returned(), self.desk.key())
        self.desk.follow()
        hire_charges.settle(self.desk.house)

    def receive(self) -> None:
        desk = self.desk
        owing = [who for who in self.people if accounts.owed_by(desk.house, known(desk.house, who)) > 0]
        if owing:
            amount = accounts.owed_by(desk.house, known(desk.house, owing[0])) // self.chance.choice([1, 2])
            self.settle(accounts.receive(desk.house, wren(desk), owing[0], max(5, amount), desk.key()), "cash")

    def correct(self) -> None:
        desk, number = self.desk, self.chance.choice(self.closed)
        whole, on = desk.whole(number), OnTicket(number, None, desk.key())
        if whole.taken and self.chance.random() < 0.5:
            wanted = refunds.RefundWanted(whole.taken[-1].id, min(500, whole.taken[-1].amount))
            refunds.refund(desk.house, desk.boss, on, wanted, "came too late")
        else:
            reopening.void(desk.house, desk.boss, on, "wrong customer")
            self.closed.remove(number)
        desk.follow()

    def act(self) -> None:
        """Something that is possible now. What the house refuses changes nothing."""
        can = [self.sale, self.sale, self.book, self.course, self.job, self.put_aside, self.hire, self.receive]
        later = {"come": self.booked, "fetch": self.jobs, "take_home": self.aside, "back": self.out}
        can += [getattr(self, name) for name, waits in later.items() if waits]
        can += [self.correct] if self.closed else []
        chosen = self.chance.choice(can)
        with suppress(Refused):
            chosen()
            self.done.add(chosen.__name__)

    def night(self) -> None:
        """Whatever is still open is paid; the day closes; the process dies and starts again; the next day opens."""
        desk = self.desk
        for number in [row[0] for row in desk.house.connection.execute("SELECT id FROM ticket WHERE state = 'open'")]:
            if number not in self.aside:
                whole = desk.whole(number)
                with suppress(Refused):
                    if whole.head.voiding_at:
                        reopening.go_on_voiding(desk.house, desk.boss, number)
                    else:
                        self.settle(number, "cash")
        close_all(desk)
        desk.die()
        desk.clock.time += timedelta(days=1)
        left = {name: Float(amount) for name, amount in till.left_before(desk.house.connection, 2**62).items()}
        opening.open_day(desk.house, desk.boss, left, desk.key())


def checked(desk: Desk) -> None:
    assert journal.unbalanced(desk.house.connection) == []
    holds(desk)
    assert soundness(desk.house) == []
    assert [(one.kind, one.amount) for one in owed(desk.house, desk.boss)] == [
        (one.kind, one.booked) for one in owed(desk.house, desk.boss)
    ]
    assert desk.charged() == desk.balance("assets:card")


@pytest.mark.parametrize("seed", range(1, 1 + min(8, TIMES)))
def test_every_day_of_a_month_closes_and_balances(desk: Desk, seed: int) -> None:
    month = Month(desk, seed)
    for _ in range(DAYS):
        for _ in range(month.chance.randint(3, 7)):
            month.act()
            desk.clock.on(600)
        checked(desk)
        month.night()
    assert len(month.done) >= 12  # nearly everything was done at least once
