"""Tax on deposits while they are held, by a house that owes it when they are received.

Rules here
- what is held: a deposit whose ticket is closed, less what closed tickets used of it and what was given back or kept
- after whatever may change that, the tax is brought level with it; doing so again changes nothing
- which taxes are in a deposit is decided when its own ticket is closed, and at no other time: one that was received
  before the house decided so bears none while it is held, whatever is used or given back of it since
"""

from __future__ import annotations

from collections.abc import Iterable
from fractions import Fraction

from abrazo.core.advances import AdvanceTax, advance_taxes, changed, total_tax, while_held, worth_of
from abrazo.core.journal import Kind
from abrazo.core.ledger import Role
from abrazo.desk.act import write_entry
from abrazo.desk.context import Actor, House
from abrazo.desk.tickets.change import TicketChange
from abrazo.store import advances, bookings, jobs
from abrazo.store.advances import Advance


def level(house: House, actor: Actor, lines: Iterable[int]) -> None:
    """Bring the tax on some deposits level with what is held of them, inside a transaction that is under way."""
    connection = house.connection
    for one in advances.read(connection, lines):
        kept = advances.taxes_of(connection, one.line)
        before = [held for _, held in kept]
        after = [while_held(whole, one.deposit, one.held) for whole, _ in kept]
        if before == after:
            continue
        advances.set_held(connection, one.line, after)
        booked, at, held = changed(before, after), house.stamp(), total_tax(after)
        write_entry(
            house, actor, at, Kind.ADVANCE_TAX, one.ticket, booked, line=one.line, amount=held, before=total_tax(before)
        )


def level_ticket(edit: TicketChange, *, closed: bool) -> None:
    """The same of the deposits that a ticket takes or uses, when it was closed, or opened again."""
    whole = edit.whole
    used = {payment.deposit for payment in whole.payments if payment.deposit is not None}
    taken = {line.id for line in whole.lines if line.role is Role.DEPOSIT}
    if closed and taken:
        _received(edit.house, taken)
    if used | taken:
        level(edit.house, edit.actor, sorted(used | taken))


def tax_in(house: House, lines: Iterable[int]) -> list[AdvanceTax]:
    """The taxes in the whole of some deposits, as they were or will be received."""
    found = list[AdvanceTax]()
    for one in advances.read(house.connection, lines):
        kept = advances.taxes_of(house.connection, one.line)
        found += [whole for whole, _ in kept] or _of_it(house, one)
    return found


def _of_it(house: House, one: Advance) -> tuple[AdvanceTax, ...]:
    """The taxes of a deposit that is received as the house has decided now."""
    return advance_taxes(one.deposit, _worth(house, one), _rates(house)) if house.settings.tax_on_advances else ()


def _received(house: House, lines: Iterable[int]) -> None:
    """The taxes of deposits whose ticket was just closed: those of what they are for, as the house has decided now."""
    for one in advances.read(house.connection, lines):
        if not any(held.gross or held.amount for _, held in advances.taxes_of(house.connection, one.line)):
            advances.put(house.connection, one.line, _of_it(house, one))


def _rates(house: House) -> dict[str, Fraction]:
    return {tax.id: tax.rate for tax in house.taxes()}


def _worth(house: House, one: Advance) -> list[tuple[str | None, Fraction]]:
    """What a deposit is for, as (tax, what it comes to with that); for a job its tasks, for a booking its service."""
    rates, mode = _rates(house), house.settings.tax_mode
    job = jobs.read(house.connection, one.job) if one.job is not None else None
    booking = bookings.read(house.connection, one.booking) if one.booking is not None else None
    wanted = [(task.tax, task.unit_price, Fraction(task.quantity)) for task in job.tasks] if job else []
    if booking is not None:
        many = Fraction(booking.party)
        items = [item for name in (booking.service, *booking.addons) if (item := house.item(name))]
        wanted = [(item.tax, item.price, many) for item in items[1:]]
        wanted.extend((item.tax, booking.price or 0, many) for item in items[:1])
    return [(tax, worth_of(price, many, rates.get(tax or "", Fraction(0)), mode)) for tax, price, many in wanted]
