"""Today: four lenses over everything that is open, and the queue of what waits to be settled."""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.core.money import total
from abrazo.core.states import Does, Home
from abrazo.desk.context import Actor, House
from abrazo.desk.doors.views.bookings import BookingsDay, booked_on, bookings_day
from abrazo.desk.doors.views.jobs import Rack, people_of_rack, rack, settled_tickets
from abrazo.desk.doors.views.tabs import Tabs, is_running_tab, loose_tickets, tabs
from abrazo.desk.output.outbox import doubtful
from abrazo.desk.overview.queue import FIRST, Waiting, queue
from abrazo.desk.overview.room import Room, open_tickets, room_of
from abrazo.store.outbox import Sheet
from abrazo.words import phrases as w

LENSES = ("room", "bookings", "jobs", "tabs")


@dataclass(frozen=True, slots=True)
class LensHead:
    """A lens as a tab to touch: how much is in it, and what it still owes in minor units."""

    key: str
    name: str
    number: int
    owed: int


@dataclass(frozen=True, slots=True)
class Today:
    """One moment of the whole house."""

    lens: str
    heads: list[LensHead]
    room: Room
    day: BookingsDay
    rack: Rack
    tabs: Tabs | None  # only through their own lens
    queue: list[Waiting]
    waiting: int | None  # how many there are; None when the queue is not looked at
    doubtful: list[Sheet]  # papers and messages that may have gone out


LENS_OF = {Does.TABLES: "room", Does.BOOKINGS: "bookings", Does.JOBS: "jobs", Does.TABS: "tabs"}


def lenses_of(house: House) -> list[str]:
    """The views of today that a house has by what it does; tabs also show orders by phone."""
    does = house.settings.does.split()
    by_phone = ["tabs"] if Does.PHONE in does else []
    return [lens for lens in LENSES if lens in [*by_phone, *(LENS_OF.get(Does(one), "") for one in does)]]


def today(house: House, actor: Actor, lens: str = "", day: str = "", most: int | None = FIRST) -> Today:
    """Today through a lens; without one, through that of the till's own work. `most` of the queue are shown."""
    done = lenses_of(house)
    usual = "room" if actor.till.home == Home.ROOM else "bookings"
    lens = lens if lens in done else usual if usual in done else next(iter(done), "")
    tickets = open_tickets(house, settled_tickets(house))
    visitors = [one.person for one in booked_on(house, house.now().date()) if one.person is not None]
    house.people([*people_of_rack(house), *visitors])  # read at once, then taken one by one
    the_room, booked, on_rack = room_of(house, tickets), bookings_day(house, day), rack(house)
    now = booked if booked.day == house.now().date() else bookings_day(house)
    loose = loose_tickets(house, tickets)
    shown, waiting = queue(house, actor, tickets, on_rack, most=most) if most != 0 else ([], None)
    heads = [
        LensHead("room", house.say(w.ROOM), the_room.busy, the_room.owed),
        LensHead("bookings", house.say(w.BOOKINGS), now.number, now.owed),
        LensHead("jobs", house.say(w.JOBS), on_rack.number, on_rack.owed),
        LensHead("tabs", house.say(w.TABS), sum(map(is_running_tab, loose)), total(whole.bill.due for whole in loose)),
    ]
    heads = [head for head in heads if head.key in done]
    on_tabs = tabs(house, tickets) if lens == "tabs" else None
    return Today(lens, heads, the_room, booked, on_rack, on_tabs, shown, waiting, doubtful(house) if most != 0 else [])
