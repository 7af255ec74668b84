"""The room: every table with its state."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from abrazo.core.floor import Box, around, name_at
from abrazo.core.money import total
from abrazo.core.states import TicketStanding
from abrazo.desk.context import House
from abrazo.desk.tickets.snapshot import TicketSnapshot, tickets_at_rest
from abrazo.desk.tickets.views.ticket_status import minutes_since, state_of
from abrazo.store import ticket as ticket_store
from abrazo.store.db import snapshot
from abrazo.store.room import Spot


@dataclass(frozen=True, slots=True)
class TableState:
    """One table on the floor plan. Amounts in minor units; `state` in words."""

    spot: Spot
    ticket: int | None = None
    guests: int = 0
    minutes: int = 0
    total: int = 0
    paid: int = 0
    due: int = 0
    state: TicketStanding = TicketStanding.FREE
    names: tuple[str, ...] = ()

    @property
    def ticket_first(self) -> bool:
        """Sorts busy tables before free ones."""
        return self.ticket is None


@dataclass(frozen=True, slots=True)
class Room:
    """Every table."""

    tables: list[TableState]

    @property
    def areas(self) -> list[tuple[str, Box, tuple[int, int]]]:
        """The parts of the house, each with its box on the plan, and where its name ends."""
        parts: dict[str, list[Box]] = {}
        for one in (table.spot for table in self.tables):
            parts.setdefault(one.area, []).append((one.x, one.y, one.width, one.height))
        drawn = {name: around(boxes) for name, boxes in parts.items()}
        return [(name, box, name_at(box)) for name, box in drawn.items()]

    @property
    def busy(self) -> int:
        """How many tables are taken."""
        return sum(table.ticket is not None for table in self.tables)

    @property
    def owed(self) -> int:
        """What all busy tables still owe."""
        return total(table.due for table in self.tables)


def open_tickets(house: House, along: Iterable[int] = ()) -> list[TicketSnapshot]:
    """All open tickets, read at one moment; with them other tickets that the page will need."""
    with snapshot(house.connection):
        open_ = ticket_store.list_for_today(house.connection, house.now().date().isoformat())
        found = tickets_at_rest(house, [*open_, *along])
    house.keep("ticket", found)
    house.keep("head", {id: whole.head for id, whole in found.items()})
    return [found[id] for id in open_]


def room_of(house: House, tickets: list[TicketSnapshot]) -> Room:
    """The floor plan's tables with the tickets that sit there."""
    by_spot = {whole.head.spot: whole for whole in tickets if whole.head.reopened_at is None}
    return Room([_table(house, spot, by_spot.get(spot.id)) for spot in house.spots()])


def the_room(house: House) -> Room:
    """The room as it stands."""
    return room_of(house, open_tickets(house))


def _table(house: House, spot: Spot, whole: TicketSnapshot | None) -> TableState:
    if whole is None:
        return TableState(spot)
    bill = whole.bill
    return TableState(
        spot=spot,
        ticket=whole.head.id,
        guests=len(whole.guests),
        minutes=minutes_since(house, whole.head.opened_at),
        total=bill.asked,
        paid=bill.paid,
        due=bill.due,
        state=state_of(house, whole),
        names=tuple(guest.name for guest in whole.guests if guest.name),
    )
