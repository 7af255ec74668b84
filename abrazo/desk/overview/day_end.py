"""The day before it is closed: what is in the way, with its ticket or till; what waits and may stay; the drawers."""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.core.errors import Refused
from abrazo.core.states import RackPlace, TicketState
from abrazo.desk.context import Actor, House
from abrazo.desk.doors.counter import is_over
from abrazo.desk.doors.views.jobs import rack
from abrazo.desk.output.views.report_page import ReportPage, report_page
from abrazo.desk.overview.queue import Waiting, queue
from abrazo.desk.overview.room import open_tickets
from abrazo.desk.permissions import Right, has
from abrazo.desk.tickets.naming import place_of
from abrazo.desk.tickets.snapshot import TicketSnapshot, load_tickets
from abrazo.desk.till.business_day import uncounted
from abrazo.desk.till.views.till import counts_of, drawer_of
from abrazo.store import tenders
from abrazo.store.till import Count
from abrazo.words import phrases as w

STAYS = ("booking", "correction")  # what of the queue is worth a look though it does not stop a close


@dataclass(frozen=True, slots=True)
class Unfinished:
    """A ticket that is open, or a charge without an answer; minor units, how many lines."""

    name: str
    ticket: int
    number: int
    amount: int
    lines: int
    machine: str = ""
    on_hold: bool = False
    closed: bool = False


@dataclass(frozen=True, slots=True)
class DrawerEnd:
    """A drawer at the end of the day: its last count, what it began with in minor units, whether cash went through."""

    till: str
    name: str
    count: Count | None
    by: str
    began: int
    moved: bool


@dataclass(frozen=True, slots=True)
class DayEnd:
    """All that is read before a day is closed; `figures` only by right."""

    date: str
    charges: list[Unfinished]
    tickets: list[Unfinished]
    drawers_open: list[Refused]
    drawers: list[DrawerEnd]
    waits: list[Waiting]
    jobs: int
    figures: ReportPage | None

    @property
    def in_the_way(self) -> int:
        """How many things keep the day open."""
        return len(self.charges) + len(self.tickets) + len(self.drawers_open)


def day_end(house: House, actor: Actor) -> DayEnd:
    """The open day as it stands before it is closed. Refused when none is open."""
    day, on_rack = house.day(), rack(house)
    open_now = (whole for whole in open_tickets(house) if whole.head.set_aside is None)  # what is set aside may stay
    tickets = [whole for whole in open_now if not is_over(whole)]  # those are closed with the day
    by_id = {whole.head.id: whole for whole in tickets}
    asks = [ask for ask in tenders.open_requests(house.connection) if ask.blocks]
    by_id |= load_tickets(house, [ask.ticket for ask in asks if ask.ticket not in by_id])  # a refund of a closed one
    return DayEnd(
        day.business_date,
        [_unfinished(house, by_id[ask.ticket], ask.amount, ask.machine) for ask in asks],
        [_unfinished(house, whole, whole.bill.due) for whole in tickets],
        uncounted(house),
        [one for one in _drawers(house) if one.count or one.moved or one.till in day.floats],
        [card for card in queue(house, actor, tickets, on_rack)[0] if card.kind in STAYS],
        sum(len(cards) for place, _, cards in on_rack.columns if place in (RackPlace.LATE, RackPlace.TODAY)),
        report_page(house, actor, [day.id], "") if has(actor.staff, Right.SEE_REPORTS) else None,
    )


def _unfinished(house: House, whole: TicketSnapshot, amount: int, machine: str = "") -> Unfinished:
    head = whole.head
    name = place_of(house, whole) or house.say(w.TICKET_NUMBER, number=head.number)
    state = head.held_at is not None, head.state != TicketState.OPEN
    return Unfinished(name, head.id, head.number, amount, len(whole.standing), machine, *state)


def _drawers(house: House) -> list[DrawerEnd]:
    day, people, found = house.day().id, house.staff(), []
    for till in house.tills().values():
        count, drawer = counts_of(house, day).get(till.id), drawer_of(house, day, till.id)
        by = people[count.staff].name if count else ""
        found.append(DrawerEnd(till.id, till.name, count, by, drawer.float_, drawer.moved))
    return found
