"""The same Saturday at the Landing desk, the Shed and the bar: bookings, walk-ins, jobs, tabs, an order by phone."""

from __future__ import annotations

from abrazo.core.invoices import Party
from abrazo.core.states import OrderWay
from abrazo.demo.story import DAY, Story
from abrazo.desk.doors import booking_changes, bookings, calendars, courses, hires, jobs, tabs
from abrazo.desk.doors.hires import Returned, WantedHire
from abrazo.desk.doors.jobs import DropOff
from abrazo.desk.doors.phone_orders import NewOrder, take_order
from abrazo.desk.payments import account_terms, accounts, cards, closing, gift_cards, invoices
from abrazo.desk.payments.accounts import Leave
from abrazo.desk.payments.cards import Keyed
from abrazo.desk.setup import booking_rules, house_settings
from abrazo.desk.setup.things import add
from abrazo.desk.setup.workers import OWN_FIELDS
from abrazo.desk.tickets import customer, holding, memberships, prep, starting, ticket_lines
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.snapshot import load_ticket
from abrazo.desk.tickets.ticket_lines import Picked
from abrazo.formats.calendar_ics import Event
from abrazo.store import stored_value
from abrazo.store.phone_orders import PhoneOrder
from abrazo.store.stored_value import Stored

# service, with whom, for whom, begins, price, note
BOOKINGS = (
    ("First paddle", "Idris Vane", "Petra Moe", "09:00", "48.00", ""),
    ("Roll clinic", "Pilar Sandoval", "Teun Abara", "09:30", "64.00", ""),
    ("Drysuit fitting", "Noor Castellan", "Kees Tarrant", "10:30", "18.00", ""),
    ("Skiff lesson", "Idris Vane", "Saskia Dunmore", "11:00", "52.00", ""),
    ("First paddle", "Idris Vane", "Elis Lindqvist-Amari", "12:15", "48.00", "left-handed paddle"),
    ("Guided creek tour", "Pilar Sandoval", "Marguerite Oyelaran", "11:40", "58.00", ""),
    ("Skiff lesson", "Idris Vane", "Signe Amari", "14:00", "52.00", ""),
    ("Drysuit fitting", "Noor Castellan", "Rui Albers", "15:00", "", "price by what has to be cut"),
    ("First paddle", "Pilar Sandoval", "Juno Ferreira", "16:00", "48.00", ""),
)
COMING = (("Skiff lesson", "Pilar Sandoval", "Signe Amari", 7, "11:00", "52.00"),
          ("Roll clinic", "Pilar Sandoval", "Petra Moe", 14, "10:00", "64.00"))  # fmt: skip
WALK_INS = (("Maren Holt", "", "First paddle", "14:02"), ("Yuki Bramwell", "020 910 0170", "Skiff lesson", "14:09"),
            ("Dorte Vance", "020 910 0158", "Drysuit fitting", "14:14"))  # fmt: skip

# whose card the payment service keeps: invented numbers with their check digit
CARDS = (("Signe Amari", "4000001234567899", "09/29"), ("Elis Lindqvist-Amari", "4000008877665542", "03/28"))
GIFT_CARD = "2800000017453"  # bought at 13:20 by somebody who did not say who they are

# whose, thing, tasks (item:quantity), due day and time, dropped at, deposit, state in the end
JOBS = (
    ("Theo Brandvold", "Kayak, green, scuffed hull", "hull-patch:1", 0, "12:00", "08:40", 0, "in work"),
    ("Corin Penrose", "Oars, a pair, spruce", "oar-balance:2", 0, "13:30", "08:45", 0, "waiting"),
    ("Fenna Okafor-Lind", "Drysuit, orange, size M", "neck-seal:1 pressure-test:1", 0, "17:00", "08:50", 3000, "in work"),
    ("Saltpan Rowers", "Oars, set of three, ash", "oar-re-leather:3 oar-varnish:3", 0, "16:00", "08:55", 5000, "ready"),
    ("Saskia Dunmore", "Sail, mizzen, tan", "sail-seam-patch:1 off-cuts-of-sailcloth:0.85", 0, "18:00", "09:05", 0, "in work"),
    ("Ivo Lindqvist-Amari", "Drysuit, blue, size S", "wrist-seals:1", 0, "14:00", "09:10", 2000, "ready"),
    ("Oriel Tanaka-Breen", "Kayak, yellow, rudder loose", "rudder-line:1", 1, "12:00", "09:20", 0, "waiting"),
    ("Pax Ferreira", "Drysuit, red, stiff zip", "zip-wax:1", 2, "10:00", "09:40", 0, "waiting"),
    ("Rui Albers", "Sail, jib", "luff-re-stitch:1", 3, "17:00", "10:00", 1500, "waiting"),
    ("Cass Whitlock", "Kayak, white, dull", "gel-coat-polish:1", 4, "17:00", "10:15", 0, "waiting"),
    ("Petra Moe", "Paddle leash, rope end", "rope-splice:1", 0, "12:30", "10:40", 0, "ready"),
    ("Teun Abara", "Drysuit, grey, leaking", "pressure-test:1 zip-wax:1", 0, "13:00", "10:50", 3000, "ready"),
    ("Dorte Vance", "Oar, single", "oar-varnish:1", 0, "13:45", "11:00", 0, "handed over"),
    ("Juno Ferreira", "Sail, dinghy main", "sail-seam-patch:1 luff-re-stitch:1", 5, "17:00", "11:30", 2500, "waiting"),
)  # fmt: skip

# name, opened, minor units held, rounds of (time, item, choices)
TABS = (
    ("Cass Whitlock", "12:46", 6000, (
        ("12:48", "estuary-pale-ale", "pint-2"), ("12:48", "estuary-pale-ale", "pint-2"), ("12:49", "seaweed-salt-chips", ""),
        ("13:26", "rhubarb-spritz", ""), ("13:26", "rhubarb-spritz", ""), ("13:27", "crab-toastie", "bread-1"),
        ("14:05", "bottle-of-cider", ""), ("14:05", "hot-cordial", ""),
    )),
    ("Ebele", "13:28", 3000, (("13:30", "red-wine-glass", ""), ("13:30", "white-wine-glass", ""), ("13:55", "dressed-crab", "bread-2"))),
    ("Ro", "13:42", 4000, (("13:43", "dark-harbour-ale", "pint-2"), ("14:01", "dark-harbour-ale", "pint-2"), ("14:02", "pickled-samphire", ""))),
    ("Shed crew", "13:59", 0, (("14:00", "filter-coffee", ""), ("14:00", "pot-of-tea", "leaf-1"), ("14:00", "ginger-parkin", ""))),
)  # fmt: skip
GROUP = (("Ansel", "crab-toastie", "bread-1"), ("Birgit", "fish-soup", "bread-2"), ("Colm", "smoked-mussel-pot", "pot-size-2"),
         ("Dara", "beetroot-and-curd", ""), ("Emrys", "childs-toastie", ""))  # fmt: skip


def play_doors(story: Story, ids: dict[str, int]) -> None:
    """Everything that came in by another door than a table."""
    _bookings(story, ids)
    _jobs(story, ids)
    _tabs(story)
    _others(story)
    _stored(story, ids)
    _hires(story, ids)
    _accounts(story, ids)
    _booked_ahead(story, ids)
    _courses(story, ids)


HOURS = {
    "idris": dict.fromkeys((2, 3, 4, 5, 6, 7), "9:00-18:00"),
    "pilar": dict.fromkeys((3, 4, 5, 6, 7), "9:00-18:00"),
    "noor": {2: "10:00-13:00 14:00-17:30", 4: "10:00-13:00 14:00-17:30", 6: "10:00-18:00"},
}
TERMS = (("guided-creek-tour", "20.00", "20.00"), ("roll-clinic", "", "15.00"))
# whose tour, with whom, in how many days, at, how many come; cancelled or not
TOURS = (
    ("Oriel Tanaka-Breen", "pilar", 8, "10:00", "2", False),
    ("Saskia Dunmore", "idris", 7, "12:30", "1", True),
)


OWN = (("person", "Boot size", ""), ("person", "Swims", "yes; no; with help"),
       ("job", "Kind", "drysuit; boat; board; oars; other"))  # fmt: skip


def _booked_ahead(story: Story, ids: dict[str, int]) -> None:
    """Hours and terms, and two tours with deposits by card; one of them was cancelled, its deposit is still here."""
    house = story.house
    story.clock.at("8:40")
    for about, name, choices in OWN:
        typed = {"name": [name], "about": [about], "choices": [choices], "prints": ["yes" if about == "job" else "no"]}
        add(house, story.odile, OWN_FIELDS, typed, story.key())
    house_settings.decide(house, story.odile, "tax_on_advances", "yes")  # the house is in the EU
    for who, hours in HOURS.items():
        booking_rules.set_hours(house, story.odile, who, hours)
    for item, deposit, fee in TERMS:
        booking_rules.set_terms(house, story.odile, item, {"deposit": deposit, "fee": fee})
    for name, staff, days, time, party, cancelled in TOURS:
        story.clock.at("12:20")
        date = DAY.replace(day=DAY.day + days).date().isoformat()
        wanted = bookings.Appointment(ids[name], "guided-creek-tour", staff, date, time, party=party)
        booking = bookings.book(house, story.wren, wanted, story.key())
        story.pay(booking_changes.take_deposit(house, story.wren, [booking], story.key()), by="card")
        if cancelled:
            story.clock.at("13:35")
            booking_changes.cancel(house, story.wren, booking, "travelling that week", story.key())


# who comes to the roll clinic on Sunday, the first of three, and how many of them
CLINIC = (("Juno Ferreira", "1"), ("Pax Ferreira", "1"), ("Fenna Okafor-Lind", "2"))


def _courses(story: Story, ids: dict[str, int]) -> None:
    """A roll clinic on three Sundays, to which four come tomorrow."""
    house, tomorrow = story.house, DAY.replace(day=DAY.day + 1).date().isoformat()
    story.clock.at("13:40")
    clinic = courses.CoursePlan("roll-clinic", "pilar", tomorrow, "14:00", "6", "the warm pool side", weeks="3")
    first = courses.plan(house, story.odile, clinic, story.key())[0]
    for name, party in CLINIC:
        story.clock.on()
        courses.join(house, story.wren, first, courses.Joining(ids[name], party=party), story.key())


ROWERS_CLUB = Party("Saltpan Rowing Club CLG", "2 Saltpan Quay, Marram", "IE", "IE0000001SR")
ROWERS = (("Fenna Okafor-Lind", 20000), ("Rui Albers", 20000), ("Dorte Vance", 10000), ("Pax Ferreira", None))


def _accounts(story: Story, ids: dict[str, int]) -> None:
    """The rowers' account: its limit, its four members, and what one of them put on it this morning."""
    house, rowers = story.house, ids["Saltpan Rowers"]
    story.clock.at("8:50")
    account_terms.set_terms(house, story.odile, rowers, 60000, reference=True)
    invoices.keep_party(house, story.odile, rowers, ROWERS_CLUB)
    for name, limit in ROWERS:
        account_terms.set_member(house, story.odile, rowers, ids[name], limit)
    story.clock.at("10:10")
    sale = customer.open_sale(house, story.wren, ids["Dorte Vance"], story.key())
    for item in ("paddle-leash", "kelp-soap"):
        ticket_lines.add_line(house, story.wren, OnTicket(sale, None, story.key()), Picked(item))
    whole = load_ticket(house, sale)
    leave = Leave(whole.bill.due, rowers, "PO 4417")
    accounts.put_on_account(house, story.wren, OnTicket(sale, None, story.key()), whole.payers[0].id, leave)
    closing.free_table(house, story.wren, OnTicket(sale, None, story.key()))


HIRE_CARDS = (
    "4000005511003411",
    "4000005511003429",
    "4000005511003437",
    "4000005511003445",
    "4000005511003452",
)
# who, tariff, from, hour at which it came back (empty: it is out)
HIRES = (
    ("Fenna Okafor-Lind", "board-half-day", "09:05", "12:50"),
    ("Saskia Dunmore", "double-kayak-half-day", "09:30", ""),  # late
    ("Oriel Tanaka-Breen", "rowing-skiff-half-day", "11:20", ""),  # due back today
    ("Petra Moe", "single-kayak-weekend", "12:15", ""),
    ("Juno Ferreira", "double-kayak-day", "13:02", ""),
)


def _hires(story: Story, ids: dict[str, int]) -> None:
    """Two out, one due back, one late, one back; each is secured by a card of its own."""
    house, wren = story.house, story.wren
    for number, (whose, tariff, begins, back) in enumerate(HIRES):
        story.clock.at(begins)
        keyed = Keyed(HIRE_CARDS[number], "08/28", "907")
        cards.store(house, wren, ids[whose], keyed, story.key())
        sale = customer.open_sale(house, wren, ids[whose], story.key())
        made = hires.add_hire(house, wren, OnTicket(sale, None, story.key()), WantedHire(tariff))
        story.pay(sale, by="cash" if number % 2 else "card")
        if back:
            story.clock.at(back)
            hires.take_back(house, wren, made, Returned(), story.key())


def _event(number: int, booked: tuple[str, ...]) -> Event:
    """A booking as the calendar has it: service, staff, name, hour, price, note."""
    service, staff, name, begins, price, *note = booked
    hour, minute = begins.split(":")
    starts = DAY.replace(day=DAY.day + number // 100, hour=int(hour), minute=int(minute))
    uid = f"booking-{number}@marram.example"
    return Event(0, uid, f"{service}, {name}", service, staff, name, starts, None, price, "".join(note))


def _bookings(story: Story, ids: dict[str, int]) -> None:
    """The day's bookings come from the calendar; three are paid already, one did not come."""
    house, wren = story.house, story.wren
    story.clock.at("8:34")
    memberships.give_membership(house, story.odile, ids["Marguerite Oyelaran"], "tidekeeper", "2027-04-30", story.key())
    events = [_event(n, booking) for n, booking in enumerate(BOOKINGS)]
    events += [_event(days * 100 + 50, (service, staff, name, begins, price))
               for service, staff, name, days, begins, price in COMING]  # fmt: skip
    calendars.import_calendar(house, story.odile, events, story.key())
    for number, at in ((1, "10:36"), (2, "11:34"), (4, "12:06")):
        story.clock.at(at)
        made = bookings.check_out(house, wren, [number], story.key())
        if number == 4:
            ticket_lines.add_line(house, wren, OnTicket(made, None, story.key()), Picked("photos"))
        if number == 2:  # noted as taken on another machine, which never charged it: found when the day is matched
            story.record(made, "card elsewhere", "slip 0417")
        else:
            story.pay(made, by="cash" if number == 1 else "card")
    story.clock.at("11:20")
    bookings.set_state(house, wren, 3, "absent")
    story.clock.at("13:58")
    bookings.set_state(house, wren, 7, "here")
    for name, phone, wants, at in WALK_INS:
        story.clock.at(at)
        bookings.queue_up(house, wren, name, phone, wants, story.key())


def _jobs(story: Story, ids: dict[str, int]) -> None:
    """Fourteen jobs in every state; deposits are paid at the desk."""
    house, wren = story.house, story.wren
    known = [name for name in ids if name.startswith(("Corin", "Ada", "Bram"))]
    for number, (whose, thing, tasks, days, due, at, deposit, state) in enumerate(JOBS):
        story.clock.at(at)
        person = ids.get(whose) or ids[known[0]]
        wanted = tuple((item, many, "") for item, _, many in (task.partition(":") for task in tasks.split()))
        date = DAY.replace(day=DAY.day + days).date().isoformat()
        note = "call before extra work" if number % 4 == 2 else ""
        dropped = DropOff(person, thing, wanted, date, due, note, "bench", "bastian", deposit, sure=True)
        job, visit = jobs.drop_off(house, wren, dropped, None, story.key())
        if deposit:
            story.pay(visit, by="card" if number % 2 else "cash")
        else:
            closing.free_table(house, wren, OnTicket(visit, None, story.key()))
        if state != "waiting":
            story.clock.at("12:10")
            jobs.mark(house, story.bastian, job, "in work", story.key())
        if state in ("ready", "handed over"):
            story.clock.at(f"13:{number + 10}")
            jobs.mark(house, story.bastian, job, "ready", story.key())
        if state == "handed over" or whose == "Petra Moe":
            story.clock.at("13:50")
            paid = jobs.settle(house, wren, [job], story.key())
            story.pay(paid, by="card")
        if state == "handed over":
            jobs.hand_out(house, wren, job, None, "", story.key())


def _tabs(story: Story) -> None:
    house, jory = story.house, story.jory
    for name, at, held, rounds in TABS:
        story.clock.at(at)
        tab = tabs.open_tab(house, jory, name, None, story.key())
        if held:
            tabs.hold_card(house, jory, OnTicket(tab, None, story.key()), "card machine 1", held)
            story.let_machines_answer()
        for when, item, choices in rounds:
            story.clock.at(when)
            ticket_lines.add_line(
                house, jory, OnTicket(tab, None, story.key()), Picked(item, "1", tuple(choices.split()))
            )
        prep.send(house, jory, OnTicket(tab, None, story.key()), ())


def _others(story: Story) -> None:
    """A counter sale on hold, and an order by phone for five."""
    house = story.house
    story.clock.at("14:11")
    held = starting.open_counter(house, story.jory, story.key())
    for item in ("filter-coffee", "ginger-parkin"):
        ticket_lines.add_line(house, story.jory, OnTicket(held, None, story.key()), Picked(item))
    holding.put_aside(house, story.jory, OnTicket(held, load_ticket(house, held).head.version), "Green anorak")
    story.clock.at("13:35")
    names = tuple(name for name, _, _ in GROUP)
    promised = DAY.replace(hour=14, minute=45).isoformat()
    brought = PhoneOrder(OrderWay.DELIVERY, "", "Rowers' shed, 2 Saltpan Quay")
    wanted = NewOrder("Saltpan Rowers", names, promised, 400, brought)
    order = take_order(house, story.tamsin, wanted, story.key())
    for index, (_, item, choices) in enumerate(GROUP):
        picked = Picked(item, "1", tuple(choices.split()), (starting.letter(index),))
        ticket_lines.add_line(house, story.tamsin, OnTicket(order, None, story.key()), picked)
    story.clock.at("14:08")
    prep.send(house, story.tamsin, OnTicket(order, None, story.key()), ())


def _stored(story: Story, ids: dict[str, int]) -> None:
    """Cards that a household lets the payment service keep, and a gift card."""
    house, wren = story.house, story.wren
    story.clock.at("13:18")
    for whose, number, expiry in CARDS:
        cards.store(house, wren, ids[whose], Keyed(number, expiry, "907"), story.key())
    story.clock.at("13:20")
    made = stored_value.add(house.connection, Stored(0, "gift card", GIFT_CARD, None, house.stamp(), wren.staff.id))
    assert made
    sale = starting.open_counter(house, wren, story.key())
    gift_cards.sell(house, wren, OnTicket(sale, story.version(sale), story.key()), "gift card", 4000, GIFT_CARD)
    story.pay(sale, by="cash")
