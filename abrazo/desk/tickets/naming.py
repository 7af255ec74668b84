"""What tickets, payers and guests are called, in words."""

from __future__ import annotations

import functools

from abrazo.core.states import Source
from abrazo.desk.context import House
from abrazo.desk.tickets.snapshot import TicketSnapshot
from abrazo.store.guests import GuestRow
from abrazo.store.tenders import PaymentRow
from abrazo.words import phrases as w


def place_of(house: House, whole: TicketSnapshot) -> str:
    """Where the ticket sits, in words."""
    head = whole.head
    spot = house.spot(head.spot) if head.spot else None
    if spot:
        if whole.at_table:
            return house.say(w.TABLE_NAME, name=spot.name)
        return house.say(w.TICKET_NAME, number=head.number)
    if head.source == Source.TAB:
        return house.say(w.TAB_NAME, name=head.name)
    if head.name is None and head.person is not None:
        person = house.person(head.person)
        return person.name if person else house.say(w.COUNTER_SALE)
    if head.name:
        return head.name
    return house.say(w.SALE_FROM if head.anonymous_account else w.COUNTER_SALE, account=head.anonymous_account)


def payer_name(house: House, whole: TicketSnapshot, payer_id: int) -> str:
    """A payer in words, with the guests they stand for."""
    payer = whole.payer(payer_id)
    guests = whole.guests_of(payer_id)
    if payer.letter == "∗":
        return house.say(w.WHOLE_TABLE if whole.head.spot else w.ALL_TOGETHER)
    names = [guest_name(house, whole, guest) for guest in guests]
    if not names:
        return house.say(w.PART_NAME, letter=payer.letter)
    return functools.reduce(lambda one, other: str(house.say(w.BOTH, one=one, other=other)), names)


def route_words(house: House, payment: PaymentRow) -> str:
    """What a payment came by; of one that only notes money already taken, that too."""
    return house.say(w.RECORDED, tender=payment.route) if payment.recorded else payment.route


def guest_name(house: House, whole: TicketSnapshot, guest: GuestRow) -> str:
    """A guest in words: the name, or the seat at a table; alone, they are whose the ticket is, else the customer."""
    if guest.name:
        return guest.name
    if whole.head.spot:
        return house.say(w.SEAT_NAME, letter=guest.letter)
    if len(whole.guests) > 1:
        return house.say(w.GUEST_NAME, letter=guest.letter)
    person = house.person(whole.head.person) if whole.head.person is not None else None
    return person.name if person else house.say(w.CUSTOMER)
