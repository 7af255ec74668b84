"""The room: every table with its state."""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.desk.context import House
from abrazo.desk.tickets.snapshot import TicketSnapshot, load_ticket
from abrazo.desk.tickets.views.ticket_status import minutes_since, state_of
from abrazo.store import journal, room, tenders
from abrazo.store import ticket as ticket_store
from abrazo.store.db import file_of, snapshot
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
    state: str = "free"
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
    def busy(self) -> int:
        """How many tables are taken."""
        return sum(table.ticket is not None for table in self.tables)

    @property
    def owed(self) -> int:
        """What all busy tables still owe."""
        return sum(table.due for table in self.tables)


_kept: dict[
    tuple[str, int], tuple[object, TicketSnapshot]
] = {}  # by house and ticket: what it was read at, and the ticket
MOST_KEPT = 2000


def open_tickets(house: House) -> list[TicketSnapshot]:
    """All open tickets, read at one moment; one that has not changed since is not reckoned again."""
    file = file_of(house.connection)
    with snapshot(house.connection):
        return [_at_rest(house, file, ticket) for ticket in ticket_store.list_open(house.connection)]


def _at_rest(house: House, file: str, ticket: int) -> TicketSnapshot:
    """A ticket as it was confirmed last. Only for reading: inside a change a ticket is always read anew.

    Every confirmed change of a ticket has a new version or a new entry in the journal; what is asked of machines
    changes by itself and is compared.
    """
    connection = house.connection
    now = (
        ticket_store.read(connection, ticket),
        journal.last_of(connection, ticket),
        tenders.list_requests(connection, ticket),
    )
    place = (file, ticket)
    before = _kept.get(place)
    if before is not None and before[0] == now:
        return before[1]
    whole = load_ticket(house, ticket)
    if len(_kept) >= MOST_KEPT:
        _kept.clear()
    _kept[place] = (now, whole)
    return whole


def room_of(house: House, tickets: list[TicketSnapshot]) -> Room:
    """The floor plan's tables with the tickets that sit there."""
    by_spot = {whole.head.spot: whole for whole in tickets if whole.head.reopened_at is None}
    return Room([_table(house, spot, by_spot.get(spot.id)) for spot in room.list_spots(house.connection)])


def the_room(house: House) -> Room:
    """The room as it stands."""
    return room_of(house, open_tickets(house))


def _table(house: House, spot: Spot, whole: TicketSnapshot | None) -> TableState:
    if whole is None:
        return TableState(spot)
    bill = whole.bill
    total = bill.total + sum(payer.account.tip for payer in bill.payers)
    return TableState(
        spot=spot,
        ticket=whole.head.id,
        guests=len(whole.guests),
        minutes=minutes_since(house, whole.head.opened_at),
        total=total,
        paid=bill.paid,
        due=bill.due,
        state=state_of(house, whole),
        names=tuple(guest.name for guest in whole.guests if guest.name),
    )
