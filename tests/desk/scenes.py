"""What the tests of doors begin with: people, bookings, jobs, tabs in a house without interface."""

from __future__ import annotations

from dataclasses import replace
from datetime import timedelta
from itertools import count

from abrazo.core.tenders import cash_due
from abrazo.desk.context import Actor
from abrazo.desk.doors import calendars, jobs, tabs
from abrazo.desk.doors.jobs import DropOff
from abrazo.desk.payments import closing, tenders
from abrazo.desk.people import people
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.deposits import DepositThing, of_job
from abrazo.formats.calendar_ics import Event
from tests.desk.conftest import MACHINE, Desk

NUMBER = count(100)


def wren(desk: Desk) -> Actor:
    return Actor(desk.house.staff()["wren"], desk.house.tills()["landing"])


def lent(desk: Desk, actor: Actor | None = None) -> Actor:
    """Tamsin or somebody else, with a supervisor who lends them a right."""
    return replace(actor or desk.tamsin, lender=desk.house.staff()["odile"])


def person(desk: Desk, name: str = "Petra Moe", household: str = "", company: str = "") -> int:
    facts = {"name": name, "phone": f"020 910 0{next(NUMBER):03d}", "household": household, "company": company}
    return people.add_person(desk.house, wren(desk), facts, desk.key())


def booked(desk: Desk, name: str, service: str = "First paddle", price: str = "48.00", minutes: int = -95) -> int:
    """A booking that began some minutes from now; gives its id."""
    starts = desk.clock.time + timedelta(minutes=minutes)
    event = Event(1, f"uid-{next(NUMBER)}", name, service, "Idris Vane", name, starts, None, price)
    calendars.import_calendar(desk.house, desk.boss, [event], desk.key())
    return int(desk.house.connection.execute("SELECT max(id) FROM booking").fetchone()[0])


def dropped(desk: Desk, who: int, deposit: int = 0, tasks: str = "wrist-seals:1", key: str = "") -> tuple[int, int]:
    """A job taken in; its visit's ticket is paid and closed. Gives job and ticket."""
    wanted = tuple((item, many, "") for item, _, many in (task.partition(":") for task in tasks.split()))
    day = desk.clock.time.date().isoformat()
    drop = DropOff(who, "Drysuit, red", wanted, day, "23:30", deposit=deposit, sure=True)
    job, visit = jobs.drop_off(desk.house, wren(desk), drop, None, key or desk.key())
    if desk.whole(visit).head.state == "open":
        pay(desk, visit)
    return job, visit


def thing(desk: Desk, job: int) -> DepositThing:
    """A job, as what a deposit is held for."""
    return of_job(jobs.read_job(desk.house, job))


def pay(desk: Desk, number: int, close: bool = True) -> None:
    """All that is due on a ticket with one payer, in cash at the Landing."""
    whole = desk.whole(number)
    payer = whole.payers[0].id
    due = cash_due(whole.payer_bill(payer).account.due, 5)
    if due:
        tenders.take_cash(
            desk.house, wren(desk), OnTicket(number, whole.head.version, desk.key()), payer, tenders.Sum(due), due
        )
    if close:
        closing.free_table(desk.house, wren(desk), OnTicket(number, None, desk.key()))


def tab(desk: Desk, name: str = "Ro", held: int = 3000) -> int:
    number = tabs.open_tab(desk.house, desk.jory, name, None, desk.key())
    if held:
        tabs.hold_card(desk.house, desk.jory, OnTicket(number, None, desk.key()), MACHINE, held)
        desk.follow()
    return number
