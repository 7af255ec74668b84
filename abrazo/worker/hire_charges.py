"""What returns of hires cost: once the card has answered it is paid, or owed; its ticket is closed by itself."""

from __future__ import annotations

from abrazo.core.errors import Refused
from abrazo.desk.context import Actor, House
from abrazo.desk.payments.accounts import Leave, put_on_account
from abrazo.desk.payments.closing import free_table
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.snapshot import load_ticket
from abrazo.store import hires


def settle(house: House) -> list[int]:
    """Close what is paid; what a card declined is on their account first. Gives the tickets that were closed."""
    return [ticket for ticket in hires.charged(house.connection) if _settled(house, ticket)]


def _settled(house: House, ticket: int) -> bool:
    whole = load_ticket(house, ticket)
    if whole.open_requests or not whole.asks or whole.head.reopened_at:
        return False
    last, key = whole.asks[-1], f"hire-{ticket}"
    actor = Actor(house.staff()[last.staff], house.tills()[last.till], by_itself=True)
    try:
        for payer in whole.payers:
            due = whole.payer_bill(payer.id).account.due
            if due:
                put_on_account(
                    house, actor, OnTicket(ticket, None, f"{key}-{payer.id}"), payer.id, Leave(due, owed=True)
                )
        free_table(house, actor, OnTicket(ticket, None, f"{key}-closed"))
    except Refused:  # no day is open, or somebody is at work on it: later
        return False
    return True
