"""Starting a ticket: at a table, or through a door without one; and ending one on which nothing is."""

from __future__ import annotations

from collections.abc import Sequence
from contextlib import AbstractContextManager
from dataclasses import dataclass

from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Kind
from abrazo.core.states import Share, Source, TicketState
from abrazo.desk.act import FactGiven, acting, write_entry
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.people.people import themselves
from abrazo.desk.tickets.anonymous_accounts import account_of
from abrazo.desk.tickets.change import TicketChange, opening
from abrazo.store import bookings, jobs
from abrazo.store import charges as charges_kept
from abrazo.store import guests as guests_kept
from abrazo.store import ticket as ticket_store
from abrazo.store.charges import ChargeRow
from abrazo.store.db import Conflict
from abrazo.store.ticket import NewTicket
from abrazo.words import phrases as w

MOST_GUESTS = 20


LONGEST_NAME = 40


def letter(index: int) -> str:
    """A, B, ... Z, AA, AB: what a guest or payer is known by on one ticket."""
    high, low = divmod(index, 26)
    return ("" if high == 0 else chr(64 + high)) + chr(65 + low)


def seat(house: House, actor: Actor, spot_id: str, guests: int, key: str) -> int:
    """Seat guests at an empty table; gives the new ticket's id. Parties of the house's size bear a service charge."""
    if not 1 <= guests <= MOST_GUESTS:
        raise Refused(Code.PARTY_SIZE, "guests", most=MOST_GUESTS)
    with acting(house, actor, "seated", key, f"spot {spot_id}") as act:
        if act.done is not None:
            return int(act.done)
        spot = act.house.spot(spot_id)
        if spot is None:
            raise NotFound(f"no table {spot_id}")
        day, at = act.day, act.at
        try:
            ticket = ticket_store.add(act.connection, NewTicket(actor.staff.id, actor.till.id, day, at, spot_id))
        except Conflict:
            raise Refused(Code.TABLE_SEATED_NOW, table=spot.name) from None
        begun = Beginning(Kind.SEATED, guests=guests, table=spot.name)
        _bring_in(house, actor, ticket, [None] * guests, at, begun)
        if guests >= house.settings.service_from:
            charges_kept.add_charge(act.connection, ticket, service_charge(house))
        act.answer = str(ticket)
    return ticket


def service_charge(house: House) -> ChargeRow:
    """The house's service charge, in percent of the lines."""
    percent = house.settings.service_percent
    return ChargeRow(
        0, house.say(w.SERVICE_CHARGE, percent=percent), percent, house.settings.service_tax, Share.PROPORTIONAL
    )


class Beginning:
    """How the journal tells that a ticket began: a kind with facts."""

    def __init__(self, kind: Kind, **facts: FactGiven) -> None:
        self.kind, self.facts = kind, facts


def _bring_in(house: House, actor: Actor, ticket: int, names: Sequence[str | None], at: str, begun: Beginning) -> None:
    """The guests of a new ticket, one payer for all, and the journal's first entry."""
    payer = guests_kept.add_payer(house.connection, ticket, "A" if len(names) == 1 else "∗", 0)
    for index, name in enumerate(names):
        guests_kept.add_guest(house.connection, ticket, letter(index), payer, name)
    write_entry(house, actor, at, begun.kind, ticket, **begun.facts)


@dataclass(frozen=True, slots=True)
class TicketOrigin:
    """How a ticket without a table begins: its source, who it is for, what it is called, the names of its guests."""

    source: Source
    person: int | None = None
    name: str | None = None
    guests: tuple[str | None, ...] = (None,)


def open_at(house: House, actor: Actor, door: TicketOrigin, begun: Beginning) -> int:
    """A new ticket without a table, inside a transaction that is under way; gives its id."""
    day, at = house.day().id, house.stamp()
    who, till = actor.staff.id, actor.till.id
    if door.person is not None:
        themselves(house, door.person)
    ticket = ticket_store.add(
        house.connection, NewTicket(who, till, day, at, None, door.source, door.person, door.name)
    )
    if door.source == Source.COUNTER and door.person is None and (account := account_of(house, till)):
        ticket_store.set_anonymous(house.connection, ticket, account)
    _bring_in(house, actor, ticket, door.guests, at, begun)
    return ticket


def opening_at(
    house: House, actor: Actor, door: TicketOrigin, begun: Beginning, key: str, kind: str
) -> AbstractContextManager[TicketChange]:
    """A new ticket without a table, with things to put on it, as one act."""
    return opening(house, actor, lambda: open_at(house, actor, door, begun), key, kind)


def open_ticket(house: House, actor: Actor, door: TicketOrigin, begun: Beginning, key: str) -> int:
    """A new ticket without a table, as one act; gives its id."""
    with acting(house, actor, "opened", key) as act:
        if act.done is not None:
            return int(act.done)
        ticket = open_at(house, actor, door, begun)
        act.answer = str(ticket)
    return ticket


def open_counter(house: House, actor: Actor, key: str) -> int:
    """A counter sale: no table, no name."""
    return open_ticket(house, actor, TicketOrigin(Source.COUNTER), Beginning(Kind.COUNTER_SALE), key)


def read_name(name: str) -> str:
    """A name as it is ticket_store."""
    plain = " ".join(name.split())
    if not plain:
        raise Refused(Code.NO_NAME, "name")
    if len(plain) > LONGEST_NAME:
        raise Refused(Code.NAME_TOO_LONG, "name", most=LONGEST_NAME, count=len(plain))
    return plain


def end_empty(house: House, ticket_id: int, at: str) -> None:
    """End a ticket with nothing on it; its bookings and jobs are free for another."""
    for booking in bookings.on_ticket(house.connection, ticket_id):
        bookings.take_off(house.connection, booking.id)
    for job in jobs.settled_on(house.connection, ticket_id):
        jobs.set_settled_on(house.connection, job.id, None)
    ticket_store.set_state(house.connection, ticket_id, TicketState.LEFT, at)
