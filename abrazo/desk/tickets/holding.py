"""A ticket put on hold and brought back, its bill asked for, its guests named."""

from __future__ import annotations

from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Kind, Personal
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.tickets.change import OnTicket, changing
from abrazo.desk.tickets.naming import place_of
from abrazo.desk.tickets.price_lists import check_said
from abrazo.desk.tickets.snapshot import TicketSnapshot
from abrazo.desk.tickets.starting import (
    LONGEST_NAME,
    read_name,
)
from abrazo.store import guests as guests_kept
from abrazo.store import ticket as ticket_store
from abrazo.words import phrases as w


def name_guest(house: House, actor: Actor, on: OnTicket, guest_letter: str, name: str) -> None:
    """Give a guest a name, or with an empty one take it away; the letter stays."""
    plain = " ".join(name.split())
    if len(plain) > LONGEST_NAME:
        raise Refused(Code.NAME_TOO_LONG, "name", most=LONGEST_NAME, count=len(plain))
    with changing(house, actor, on) as edit:
        guest = next((g for g in edit.whole.guests if g.letter == guest_letter), None)
        if guest is None:
            raise NotFound(f"no guest {guest_letter}")
        guests_kept.name_guest(house.connection, guest.id, plain or None)
        edit.wrote(Kind.GUEST_NAMED, guest=guest_letter, name=Personal(plain) if plain else None)


def ask_bill(house: House, actor: Actor, on: OnTicket, asked: bool) -> None:
    """Note that the guests asked for the bill, or that they did not."""
    with changing(house, actor, on) as edit:
        ticket_store.set_bill_asked(house.connection, on.id, edit.at if asked else None)
        edit.wrote(Kind.BILL_ASKED if asked else Kind.BILL_NOT_ASKED)


def name_to_hold(house: House, whole: TicketSnapshot) -> str:
    """Under which name a ticket is put on hold unless somebody says another one."""
    head = whole.head
    nameless = head.name is None and head.spot is None and head.person is None
    return house.say(w.SALE_NUMBER, number=head.number) if nameless else head.name or place_of(house, whole)


def put_aside(house: House, actor: Actor, on: OnTicket, name: str) -> None:
    """Put a ticket on hold under a name; nothing on it is lost."""
    plain = read_name(name)
    with changing(house, actor, on) as edit:
        whole = edit.whole  # a table's name is not what its guests are called
        called = whole.head.name if plain == place_of(house, whole) else plain
        ticket_store.set_who(house.connection, on.id, whole.head.person, called)
        ticket_store.set_held(house.connection, on.id, edit.at)
        edit.wrote(Kind.ON_HOLD, name=Personal(plain))


def bring_back(house: House, actor: Actor, ticket_id: int) -> None:
    """Take a ticket up again that was on hold. Refused while nobody said which prices it has."""
    with changing(house, actor, OnTicket(ticket_id, None)) as edit:
        if edit.whole.head.held_at:
            check_said(edit)
            ticket_store.set_held(house.connection, ticket_id, None)
            head = edit.whole.head
            if head.name == house.say(w.SALE_NUMBER, number=head.number):  # the name it had only to wait under
                ticket_store.set_who(house.connection, ticket_id, head.person, None)
            edit.wrote(Kind.BROUGHT_BACK)
