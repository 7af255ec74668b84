"""A place's queue, to be read at two metres."""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.desk.context import House
from abrazo.desk.tickets.prep import Orders, goes_to, orders_of, sends_at_once
from abrazo.desk.tickets.snapshot import TicketSnapshot, load_tickets
from abrazo.desk.tickets.views.ticket_status import minutes_since
from abrazo.store import prep
from abrazo.store.prep import Slip


@dataclass(frozen=True, slots=True)
class SlipCard:
    """A slip, where it goes, and how long it has waited in minutes."""

    slip: Slip
    spot: str
    number: int
    minutes: int
    server: str
    table: str = ""  # its name alone, where it stands at one
    about: str = ""  # of an order: when it was promised for, where it is brought


@dataclass(frozen=True, slots=True)
class Queue:
    """What a place has to do, oldest first; what it did last; how many wait at every place."""

    place: str
    cards: list[SlipCard]
    done: list[SlipCard]
    counts: dict[str, int]
    at_once: bool


def waiting(house: House) -> dict[str, int]:
    """How many slips wait at each place of the house, and at one that was and still has some."""
    counts = prep.counts(house.connection)
    return dict.fromkeys(house.settings.prepared_at, 0) | counts


def queue_of(house: House, place: str) -> Queue:
    """The queue of a place."""
    to_do, last = prep.waiting(house.connection, place), prep.last_done(house.connection, place)
    tickets = load_tickets(house, [slip.ticket for slip in (*to_do, *last)])
    orders = orders_of(house, tickets.values())
    cards, done = ([_card(house, slip, tickets[slip.ticket], orders) for slip in slips] for slips in (to_do, last))
    return Queue(place, cards, done, waiting(house), sends_at_once(house))


def _card(house: House, slip: Slip, whole: TicketSnapshot, orders: Orders) -> SlipCard:
    server = house.staff()[slip.staff].name.split()[0]
    spot = house.spot(whole.head.spot) if whole.head.spot else None
    place, *about = goes_to(house, whole, orders)
    return SlipCard(slip, place, whole.head.number, minutes_since(house, slip.at), server,
                    spot.name if spot else "", ", ".join(about))  # fmt: skip
