"""Saturday 13 June 2026 in the Galley, played through the desk up to about 14:20. Seeded: always the same day."""

from __future__ import annotations

from abrazo.demo.ahead import play_ahead
from abrazo.demo.doors import play_doors
from abrazo.demo.history import MARRAM as BEFORE
from abrazo.demo.history import add_people, load_history
from abrazo.demo.house import COUNTED, PLAN
from abrazo.demo.making import DemoHouse
from abrazo.demo.people import everybody
from abrazo.demo.story import DAY, Order, Story, StoryClock
from abrazo.desk.context import House
from abrazo.desk.doors.counter import hold_person
from abrazo.desk.stock import stock
from abrazo.desk.tickets import holding, sharing
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.snapshot import load_ticket
from abrazo.desk.till.counting import pieces_total
from abrazo.desk.till.opening import Float, open_day
from abrazo.devices.ports import Script

START = DAY.replace(hour=14, minute=20)
FLOATS = {  # pieces by denomination in minor units
    "galley": {1000: 3, 500: 10, 200: 20, 100: 20, 50: 10, 20: 15, 10: 15, 5: 10},
    "landing": {1000: 2, 500: 8, 200: 15, 100: 20, 50: 10, 20: 15, 10: 15, 5: 10},
}

LUNCHES = (
    ("D1", 2, "10:05", "cash"), ("G4", 2, "10:20", "card"), ("D3", 3, "11:10", "seat"), ("G1", 4, "11:25", "card"),
    ("D2", 1, "11:40", "cash"), ("G6", 4, "12:00", "equal"), ("B2", 1, "12:05", "cash"), ("D6", 4, "12:10", "seat"),
    ("P1", 9, "12:15", "card"), ("G8", 2, "12:20", "cash"), ("D4", 3, "12:30", "seat"), ("G3", 2, "12:40", "card"),
    ("B5", 1, "13:05", "cash"), ("D1", 2, "13:00", "cash"),
)  # fmt: skip

BUSY: tuple[tuple[str, int, str, tuple[Order, ...]], ...] = (
    ("D1", 2, "13:42", (("crab-toastie", "bread-1", "A"), ("fish-soup", "bread-2", "B"), ("cardamom-bun", "", ""))),
    ("D2", 2, "14:16", (("pot-of-tea", "leaf-1", "A"),)),
    ("D3", 3, "13:05", (
        ("bottle-of-cider", "", ""), ("smoked-mussel-pot", "pot-size-2", "A"), ("griddled-leek-salad", "out-2", "B"),
        ("crab-toastie", "bread-2 toastie-extra-1", "C"), ("lemon-posset", "", "B"),
    )),
    ("D4", 4, "13:08", (
        ("smoked-mussel-pot", "pot-size-2 pot-extra-1", "A C D"), ("fish-soup", "bread-2 out-1", "A"),
        ("pot-of-tea", "leaf-2 milk-1", "A"), ("seaweed-salt-chips", "", "B"), ("cardamom-bun", "bun-1", "B"),
        ("crab-toastie", "bread-2 toastie-extra-1", "C"), ("estuary-pale-ale", "pint-2", "C"),
        ("crab-toastie", "bread-1", "D"), ("rhubarb-spritz", "ice-1", "D"),
    )),
    ("D5", 8, "12:38", (
        ("bottle-of-cider", "", ""), ("bottle-of-cider", "", ""), ("dressed-crab", "bread-1", "A"),
        ("fish-soup", "bread-1", "B"), ("clam-and-leek-pot", "", "C"),
        ("crab-toastie", "bread-3", "D"), ("mushroom-toastie", "bread-2", "E"),
        ("smoked-fish-toastie", "bread-1 sauce-1", "F"), ("childs-toastie", "", "G"), ("barley-broth", "bread-2", "H"),
        ("kelp-butter-bread", "", ""),
    )),
    ("P1", 10, "13:30", (
        ("smoked-mussel-pot", "pot-size-2", "A B"), ("dressed-crab", "bread-1", "C"), ("fish-soup", "bread-1", "D"),
        ("crab-toastie", "bread-2", "E"), ("leek-and-curd-toastie", "bread-2", "F"), ("beetroot-and-curd", "", "G"),
        ("clam-and-leek-pot", "", "H"), ("childs-toastie", "", "I"), ("half-toastie-and-soup", "bread-1", "J"),
        ("bottle-of-cider", "", ""), ("still-water-bottle", "", ""),
    )),
    ("G1", 4, "13:29", (
        ("clam-and-leek-pot", "", "A"), ("half-toastie-and-soup", "bread-1", "B"), ("mushroom-toastie", "bread-2", "C"),
        ("beetroot-and-curd", "", "D"), ("still-water-bottle", "", ""),
    )),
    ("G3", 3, "13:14", (
        ("smoked-fish-toastie", "bread-1", "A"), ("dark-harbour-ale", "pint-2", "A"),
        ("leek-and-curd-toastie", "bread-3", "B"),
        ("white-wine-glass", "", "B"), ("barley-broth", "bread-1", "C"), ("hot-cordial", "honey-1", "C"),
    )),
    ("G5", 2, "13:21", (("crab-toastie", "bread-1", "A"), ("fish-soup", "bread-2", "B"), ("pot-of-tea", "leaf-3", ""))),
    ("G6", 2, "14:19", ()),
    ("B2", 1, "13:55", (("estuary-pale-ale", "pint-2", "A"), ("seaweed-salt-chips", "sauce-2", "A"))),
)  # fmt: skip


def play(house: House, clock: StoryClock, people: dict[str, int]) -> None:
    """The day until about 14:20; `people` are ids by name."""
    clock.at("8:30")
    for machine in house.devices.machines.values():
        machine.tell(Script(pace=0))
    story = Story(house, clock)
    floats = {till: Float(pieces_total(pieces), pieces) for till, pieces in FLOATS.items()}
    open_day(house, story.odile, floats, "day-opened")
    for item, number in COUNTED.items():
        stock.count_goods(house, story.odile, item, str(number), "recount", f"counted-{item}")
    for lunch in LUNCHES:
        story.lunch(*lunch)
    tables = {spot: story.seat(spot, guests, at, orders) for spot, guests, at, orders in BUSY}
    play_doors(story, people)
    _bills(story, tables)
    _payments(story, tables)
    clock.at("14:19")
    story.serve(30)
    hold_person(house, story.odile, "jory", hold=True)  # the bar's server: counter mode and tabs


def _bills(story: Story, tables: dict[str, int]) -> None:
    for spot, at in (("D3", "14:17"), ("D4", "14:12"), ("G3", "14:15")):
        story.clock.at(at)
        holding.ask_bill(story.house, story.tamsin, OnTicket(tables[spot], story.version(tables[spot])), True)


def _payments(story: Story, tables: dict[str, int]) -> None:
    """One table part paid, one paid to the end, one whose card machine fell silent."""
    house, tamsin = story.house, story.tamsin
    story.clock.at("14:05")
    sharing.by_seat(house, tamsin, OnTicket(tables["D5"], story.version(tables["D5"])))
    for payer in load_ticket(house, tables["D5"]).payers[:3]:
        story.card(tables["D5"], payer.id)
    story.clock.at("14:10")
    story.cash(tables["B2"], load_ticket(house, tables["B2"]).payers[0].id)
    story.clock.at("14:14")
    house.devices.machines["card machine 2"].tell(Script("silent, charged", pace=0))
    story.card(tables["G5"], load_ticket(house, tables["G5"]).payers[0].id, "card machine 2")


def _play(house: House, clock: StoryClock) -> None:
    people = add_people(house, everybody(), DAY)
    past = Story(house, clock, "past")
    load_history(house, clock, people, BEFORE, lambda back: play_ahead(past, people, back))
    play(house, clock, people)


MARRAM = DemoHouse(PLAN, START, _play)
