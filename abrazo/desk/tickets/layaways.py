"""Tickets whose goods are set aside: what is paid on them is the customer's until they are handed over.

Rules here
- the ticket stays open and keeps no day from closing; after every change of it what was paid is set aside
- handed over it has the number of that moment, and its sale is posted then
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from abrazo.core import layaway as core
from abrazo.core.journal import Kind
from abrazo.store import layaways
from abrazo.store.layaways import Layaway

if TYPE_CHECKING:
    from abrazo.desk.context import House
    from abrazo.desk.tickets.change import TicketChange


def kept_on(house: House, ticket: int) -> Layaway | None:
    """What a ticket sets aside now; None when it does not, or not any more."""
    found = house.once(("layaway", ticket), lambda: layaways.of_ticket(house.connection, ticket))
    return found if found is not None and found.ended_at is None else None


def fit_layaway(edit: TicketChange) -> None:
    """What was paid on goods that are set aside is set aside too; called after every change."""
    kept = kept_on(edit.house, edit.id)
    if kept is None:
        return
    paid = edit.reread().bill.paid
    more = core.more_taken(paid, kept.held)
    if more:
        layaways.hold(edit.house.connection, edit.id, paid)
        edit.wrote(Kind.SET_ASIDE_PAID, core.set_aside(more), name=kept.name, amount=more, held=paid)


def end_layaway(edit: TicketChange, *, cancelled: bool = False) -> None:
    """What was paid is the ticket's again: its goods are handed over, or it is cancelled."""
    kept = kept_on(edit.house, edit.id)
    if kept is None:
        return
    layaways.end(edit.house.connection, edit.id, edit.at, cancelled=cancelled)
    layaways.renumber(edit.house.connection, edit.id)
    booked = core.handed_over(kept.held)
    if cancelled:
        edit.wrote(Kind.SET_ASIDE_CANCELLED, booked, name=kept.name, amount=kept.held)
    else:
        edit.wrote(Kind.SET_ASIDE_HANDED, booked, name=kept.name, amount=kept.held)
    edit.reread()
