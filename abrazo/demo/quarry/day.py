"""Saturday 12 September 2026 at Quarry Lake, played through the desk up to about 10:40. Seeded: always the same day."""

from __future__ import annotations

from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

from abrazo.demo.history import PastOf, add_people, load_history
from abrazo.demo.making import DemoHouse
from abrazo.demo.quarry.people import everybody
from abrazo.demo.quarry.plan import PLAN
from abrazo.demo.story import Cast, Play, StoryClock
from abrazo.desk.context import House
from abrazo.desk.doors import booking_changes, bookings, hires, jobs
from abrazo.desk.doors.bookings import Appointment
from abrazo.desk.doors.hires import WantedHire
from abrazo.desk.doors.jobs import DropOff
from abrazo.desk.payments import account_terms, accounts, cards, closing, tips
from abrazo.desk.payments.accounts import Leave
from abrazo.desk.payments.cards import Keyed
from abrazo.desk.setup import booking_rules
from abrazo.desk.setup.booking_rules import set_terms
from abrazo.desk.stock import stock
from abrazo.desk.tickets import customer, holding, prep, starting, ticket_lines
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.snapshot import load_ticket
from abrazo.desk.tickets.ticket_lines import Picked
from abrazo.desk.till.opening import Float, open_day
from abrazo.devices.ports import Script
from abrazo.store import prep as prep_kept

START = datetime(2026, 9, 12, 10, 40)
DAY = START.replace(hour=0, minute=0)
CAST = Cast(("sunniva", "yard"), ("perrin", "dock"), ("lucio", "yard"), ("ottilie", "yard"))
ITEMS = [item for item, _ in PLAN.items]
BEFORE = PastOf(
    day=DAY,
    zone=ZoneInfo(PLAN.settings.zone),
    days=60,
    last_number=700,
    boss="ottilie",
    counter="yard",
    desk="dock",
    floats={"yard": 15000, "dock": 10000},
    machines={"yard": "card machine 1", "dock": "card machine 2"},
    servers={"yard": ("sunniva", "lucio"), "dock": ("perrin",)},
    doing=("perrin",),
    step=1,
    spots=(),
    food=[item for item, groups in PLAN.items if item.category == "snacks" and not groups],
    visits=[item for item in ITEMS if item.minutes],
    goods=[item for item in ITEMS if item.category == "gear" and not item.unit],
    owes=("Halvard Niles", 20, 1),
    played=0,
)
COUNTED = {"lure": 24, "line": 11, "lake-map": 3}

# whose, thing, tasks (item:quantity), due in days and at, dropped at, deposit, whose to do, state in the end
JOBS = (
    ("Tobiah Wren-Kessler", "Outboard, 8 hp", "outboard:1", 2, "17:00", "8:06", 5000, "lucio", "in work"),
    ("Greer Addington", "Boat trailer, single axle", "bearings:1", 0, "12:00", "8:12", 0, "dagny", "ready"),
    ("Marisol Quist", "Skiff, 14 ft", "hull-wash:14", 0, "15:00", "8:20", 0, "dagny", "in work"),
    ("Thaddeus Morrow", "Propeller, three blades", "propeller:1", 3, "17:00", "8:31", 2000, "lucio", "waiting"),
    ("Perpetua Lindgren", "Pontoon boat, 20 ft", "lay-up:1 hull-wash:20", 32, "17:00", "8:44", 15000, "lucio", "waiting"),
    ("Rafferty Oduya", "Ice saw", "ice-saw:1", 0, "10:30", "8:52", 0, "dagny", "ready"),
    ("Alma Castellane-Ruiz", "Outboard, 15 hp", "outboard:1 propeller:1", 0, "10:00", "8:58", 0, "lucio", "in work"),
    ("Cormac Yellin", "Trailer, tandem", "bearings:2", 4, "12:00", "9:20", 0, "dagny", "waiting"),
)  # fmt: skip
# whose, service, begins, deposit paid, state
BOOKED = (
    ("Noemi Castellane-Ruiz", "casting", "9:00", "came"),
    ("Desmond Achebe-Lund", "casting", "10:00", "here"),
    ("Ilka Farnsworth", "sauna", "11:00", ""),
    ("Wilhelmina Tran", "casting", "13:30", ""),
    ("Ezra Pellegrin", "sauna", "15:00", ""),
)
# whose, tariff, from, back or not, card
HIRED = (
    ("Odalys Brightwater", "canoe-two-hours", "8:10", "4000005511003411"),  # late
    ("Lysander Boone", "pedal-raft-two-hours", "9:40", "4000005511003429"),  # due back today
    ("Birdie Vandermeer", "canoe-weekend", "8:35", "4000005511003437"),
    ("Guinevere Stroud", "sauna-float-day", "9:05", "4000005511003445"),
)
SNACKS = (
    ("8:40", ("corn", "root-cordial")), ("9:10", ("root-cordial", "root-cordial", "lure")), ("9:35", ("corn", "corn")),
    ("9:50", ("line", "lake-map")), ("10:05", ("corn", "root-cordial", "root-cordial")), ("10:22", ("lure", "lure")),
)  # fmt: skip
MEMBERS = (("Anneke Duquesne", 20000), ("Kit Sorensen-Vale", 20000), ("Juniper Haddad", None))


def play(house: House, clock: StoryClock) -> None:
    """Sixty days before, then the morning until about 10:40."""
    people = add_people(house, everybody(), DAY)
    load_history(house, clock, people, BEFORE, lambda _back: 0)
    clock.at("7:45")
    for machine in house.devices.machines.values():
        machine.tell(Script(pace=0))
    play = Play(house, clock, "quarry", CAST)
    open_day(house, play.boss, {till: Float(amount) for till, amount in BEFORE.floats.items()}, "day-opened")
    for item, number in COUNTED.items():
        stock.count_goods(house, play.boss, item, str(number), "recount", f"counted-{item}")
    _rules(play)
    _jobs(play, people)
    _hires(play, people)
    _bookings(play, people)
    _snacks(play)
    _ahead(play, people)
    _open_ones(play, people)
    clock.at("10:39")


def _rules(play: Play) -> None:
    """When bookings are taken, and which ask for a deposit."""
    booking_rules.set_hours(play.house, play.boss, "perrin", dict.fromkeys((1, 3, 4, 5, 6, 7), "9:00-18:00"))
    set_terms(play.house, play.boss, "sauna", {"deposit": "20.00", "fee": "20.00"})


def _jobs(play: Play, people: dict[str, int]) -> None:
    house = play.house
    for number, (whose, thing, tasks, days, due, at, deposit, staff, state) in enumerate(JOBS):
        play.clock.at(at)
        wanted = tuple((item, many, "") for item, _, many in (task.partition(":") for task in tasks.split()))
        date = (DAY + timedelta(days=days)).date().isoformat()
        dropped = DropOff(people[whose], thing, wanted, date, due, "", "yard", staff, deposit, sure=True)
        job, visit = jobs.drop_off(house, play.craftsman, dropped, None, play.key())
        if deposit:
            play.pay(visit, by="card" if number % 2 else "cash")
        else:
            closing.free_table(house, play.desk, OnTicket(visit, None, play.key()))
        play.clock.on(600)
        if state != "waiting":
            jobs.mark(house, play.craftsman, job, "in work", play.key())
        if state == "ready":
            play.clock.on(1500)
            jobs.mark(house, play.craftsman, job, "ready", play.key())


def _hires(play: Play, people: dict[str, int]) -> None:
    for number, (whose, tariff, at, card) in enumerate(HIRED):
        play.clock.at(at)
        cards.store(play.house, play.desk, people[whose], Keyed(card, "08/28", "907"), play.key())
        sale = customer.open_sale(play.house, play.desk, people[whose], play.key())
        hires.add_hire(play.house, play.desk, OnTicket(sale, None, play.key()), WantedHire(tariff))
        play.pay(sale, by="cash" if number % 2 else "card")


def _bookings(play: Play, people: dict[str, int]) -> None:
    """The day's bookings: one came and paid, one is here; saunas have a deposit."""
    for whose, service, begins, state in BOOKED:
        play.clock.at("8:02")
        wanted = Appointment(people[whose], service, "perrin", DAY.date().isoformat(), begins)
        one = bookings.book(play.house, play.desk, wanted, play.key())
        if service == "sauna":
            play.pay(booking_changes.take_deposit(play.house, play.desk, [one], play.key()), by="card")
        if state:
            play.clock.at(begins)
            bookings.set_state(play.house, play.desk, one, "here")
        if state == "came":
            play.clock.on(50 * 60)
            play.pay(bookings.check_out(play.house, play.desk, [one], play.key()), by="card")
    for name, wants, at in (
        ("Hollis Reyes", "Casting lesson", "10:28"),
        ("Mabel Stone-Iqbal", "Sauna float with host", "10:36"),
    ):
        play.clock.at(at)
        bookings.queue_up(play.house, play.desk, name, "", wants, play.key())


def _snacks(play: Play) -> None:
    """Sales at the snack counter and in the shop; one with a tip on its slip."""
    for number, (at, items) in enumerate(SNACKS):
        play.clock.at(at)
        sale = starting.open_counter(play.house, play.server, play.key())
        for item in items:
            ticket_lines.add_line(play.house, play.server, OnTicket(sale, None, play.key()), Picked(item))
        if "corn" in items:
            prep.send(play.house, play.server, OnTicket(sale, None, play.key()), ())
        payer = load_ticket(play.house, sale).payers[0].id
        if number % 3 == 0:
            wanted = tips.TipWanted(percent="15")
            tips.set_tip(play.house, play.server, OnTicket(sale, play.version(sale)), payer, wanted)
            play.card(sale, payer)
        else:
            play.cash(sale, payer)
        closing.free_table(play.house, play.server, OnTicket(sale, None, play.key()))
    for slip in prep_kept.waiting(play.house.connection, "grill"):
        prep.done(play.house, play.server, slip.id)


def _ahead(play: Play, people: dict[str, int]) -> None:
    """A series and a membership are sold; the school's account has members, one of whom puts something on it."""
    house = play.house
    for whose, item, at in (("Ilka Farnsworth", "six-saunas", "9:25"), ("Birdie Vandermeer", "quarry-friend", "9:30")):
        play.clock.at(at)
        sale = customer.open_sale(house, play.desk, people[whose], play.key())
        ticket_lines.add_line(house, play.desk, OnTicket(sale, None, play.key()), Picked(item))
        play.pay(sale, by="card")
    play.clock.at("9:45")
    school = people["Upper Ledge Summer School"]
    account_terms.set_terms(house, play.boss, school, 80000, reference=False)
    for name, limit in MEMBERS:
        account_terms.set_member(house, play.boss, school, people[name], limit)
    sale = customer.open_sale(house, play.desk, people["Anneke Duquesne"], play.key())
    for item in ("line", "line", "lake-map"):
        ticket_lines.add_line(house, play.desk, OnTicket(sale, None, play.key()), Picked(item))
    whole = load_ticket(house, sale)
    on = OnTicket(sale, None, play.key())
    accounts.put_on_account(house, play.desk, on, whole.payers[0].id, Leave(whole.bill.due, school))
    closing.free_table(house, play.desk, OnTicket(sale, None, play.key()))


def _open_ones(play: Play, people: dict[str, int]) -> None:
    """What is open as the demo begins: a sale on hold, one at the counter with its grill at work, a bill not paid."""
    house = play.house
    play.clock.at("10:31")
    sale = starting.open_counter(house, play.server, play.key())
    for item, choices in (("trout-roll", "roll-l relish-dill more-slaw"), ("shaved-ice", "syrup-cherry syrup-mint")):
        ticket_lines.add_line(
            house, play.server, OnTicket(sale, None, play.key()), Picked(item, "1", tuple(choices.split()))
        )
    prep.send(house, play.server, OnTicket(sale, None, play.key()), ())
    play.clock.at("10:34")
    held = starting.open_counter(house, play.server, play.key())
    ticket_lines.add_line(house, play.server, OnTicket(held, None, play.key()), Picked("tow-rope", "25"))
    holding.put_aside(house, play.server, OnTicket(held, play.version(held)), "Red truck")


QUARRY_LAKE = DemoHouse(PLAN, START, play)
