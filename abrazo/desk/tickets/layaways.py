"""Tickets whose goods are set aside: what is paid on them is the customer's until they are handed over.

Rules here
- the ticket stays open and keeps no day from closing; after every change of it what was paid is set aside
- where tax on advances is owed when they are received it is brought level with what is held, after every change too
- handed over it has the number of that moment, and its sale is posted then
"""

from __future__ import annotations

from collections.abc import Mapping
from fractions import Fraction
from typing import TYPE_CHECKING

from abrazo.core import layaway as core
from abrazo.core.advances import advance_taxes, changed, total_tax, worth_of
from abrazo.core.journal import Kind
from abrazo.store import layaways
from abrazo.store.layaways import Layaway
from abrazo.store.numbers import Series, next_number

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
    if kept.taxed:
        _level_tax(edit, kept, paid)


def _level_tax(edit: TicketChange, kept: Layaway, held: int) -> None:
    """The tax in what is held, as the goods on the ticket bear it."""
    connection, rates = edit.house.connection, {tax.id: tax.rate for tax in edit.house.taxes()}
    before, after = layaways.taxes_of(connection, edit.id), advance_taxes(held, _worth(edit, rates), rates)
    if before == list(after):
        return
    layaways.set_taxes(connection, edit.id, after)
    was, now = total_tax(before), total_tax(after)
    edit.wrote(Kind.ADVANCE_TAX, changed(before, after, core.KIND), name=kept.name, amount=now, before=was)


def _worth(edit: TicketChange, rates: Mapping[str, Fraction]) -> list[tuple[str | None, Fraction]]:
    """What the goods come to with their taxes, as (tax, worth)."""
    nets, mode = {line.id: line.net for line in edit.whole.bill.lines}, edit.house.settings.tax_mode
    bearing = [(line.tax, nets[str(line.id)]) for line in edit.whole.standing]
    return [(tax, worth_of(net, Fraction(1), rates.get(tax or "", Fraction(0)), mode)) for tax, net in bearing]


def end_layaway(edit: TicketChange, *, cancelled: bool = False) -> None:
    """What was paid is the ticket's again: its goods are handed over, or it is cancelled."""
    kept = kept_on(edit.house, edit.id)
    if kept is None:
        return
    if kept.taxed:
        _level_tax(edit, kept, 0)
    layaways.end(edit.house.connection, edit.id, edit.at, cancelled=cancelled)
    connection = edit.house.connection
    layaways.renumber(connection, edit.id, next_number(connection, Series.TICKET, edit.actor.till.id))
    booked = core.handed_over(kept.held)
    if cancelled:
        edit.wrote(Kind.SET_ASIDE_CANCELLED, booked, name=kept.name, amount=kept.held)
    else:
        edit.wrote(Kind.SET_ASIDE_HANDED, booked, name=kept.name, amount=kept.held)
    edit.reread()
