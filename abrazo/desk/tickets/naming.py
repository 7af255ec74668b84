"""What tickets, payers and guests are called, in words."""

from __future__ import annotations

from abrazo.desk.context import House
from abrazo.desk.tickets.snapshot import TicketSnapshot
from abrazo.store.ticket import GuestRow


def place_of(house: House, whole: TicketSnapshot) -> str:
    """Where the ticket sits, in words."""
    head = whole.head
    spot = house.spot(head.spot) if head.spot else None
    if spot:
        return f"Table {spot.name}" if whole.at_table else f"Ticket {head.number}"
    if head.source == "tab":
        return f"Tab {head.name}"
    if head.name is None and head.person is not None:
        person = house.person(head.person)
        return person.name if person else "Counter sale"
    return head.name or f"{head.anonymous_account or 'Counter'} sale"


def payer_name(whole: TicketSnapshot, payer_id: int) -> str:
    """A payer in words, with the guests they stand for."""
    payer = whole.payer(payer_id)
    guests = whole.guests_of(payer_id)
    if payer.letter == "∗":
        return "whole table" if whole.head.spot else "all together"
    names = [guest_name(whole, guest) for guest in guests]
    return " and ".join(names) if names else f"part {payer.letter}"


def guest_name(whole: TicketSnapshot, guest: GuestRow) -> str:
    """A guest in words: the name, or the seat at a table; without either, at the counter, they are the customer."""
    if guest.name:
        return guest.name
    if whole.head.spot:
        return f"seat {guest.letter}"
    return "customer" if len(whole.guests) == 1 else f"guest {guest.letter}"
