"""What is to happen when a ticket has ended: written down with its end, left out for one ticket.

Rules here
- it is decided when the ticket ends, in the same transaction: nothing of it is lost, however the ticket ends
- how somebody likes their receipts, or that they want none, comes before the house's way
- what was left out stays so; a ticket that is opened again and ends again has each of them once
- what waits for a later day can be left out until then, also when its ticket has ended
- no drawer opens for a ticket that ends by itself: nobody stands there
- whoever works beside the house does it (desk/output/after_sale.py)
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Kind
from abrazo.core.moments import read_wall, stamp_at
from abrazo.core.states import AfterSale, AfterSaleOutcome, ReceiptBy, Source, TicketState
from abrazo.desk.act import acting
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.tickets.change import TicketChange
from abrazo.desk.tickets.snapshot import load_ticket
from abrazo.store import after_sale as kept
from abrazo.store import jobs, people
from abrazo.store.after_sale import AfterSaleRow, AfterSaleTask

OPEN, LEFT_OUT = AfterSaleOutcome.WAITING, AfterSaleOutcome.LEFT_OUT


@dataclass(frozen=True, slots=True)
class Afterwards:
    """An action that fits a ticket; `at`: when (UTC), empty for at once; whether it is left out."""

    action: str
    name: str
    does: AfterSale
    at: str
    left_out: bool


def afterwards(house: House, ticket: int) -> list[Afterwards]:
    """What happens when a ticket ends, with what was left out of it, in the house's order."""
    found = _fitting(house, ticket)
    if not found:
        return []
    of_ticket = {one.action: one.outcome for one in kept.of_ticket(house.connection, ticket)}
    found = [one for one in found if of_ticket.get(one.id, OPEN) in (OPEN, LEFT_OUT)]  # of one that was opened again
    when = {one.id: _when(house, one) if one.days or one.clock else "" for one in found}
    return [Afterwards(one.id, one.name, one.does, when[one.id], of_ticket.get(one.id) == LEFT_OUT) for one in found]


def still_to_come(house: House, ticket: int) -> list[Afterwards]:
    """Of a ticket that has ended what waits for a moment to come, with what of that was left out."""
    found = [one for one in kept.of_ticket(house.connection, ticket) if one.outcome in (OPEN, LEFT_OUT)]
    actions = [(one, kept.action(house.connection, one.action)) for one in found if one.due_at > house.stamp()]
    return [Afterwards(one.action, it.name, it.does, one.due_at, one.outcome == LEFT_OUT) for one, it in actions]


def _fitting(house: House, ticket: int) -> list[AfterSaleRow]:
    actions = house.once("after sale", lambda: kept.actions(house.connection))
    head = house.head(ticket)
    if head is None or not actions:
        return []
    somebody = house.person(head.person) if head.person else None
    likes = people.receipt_by(house.connection, head.person) if head.person else ""
    settled = any(one.does is AfterSale.HAND_OVER for one in actions) and jobs.settled_on(house.connection, ticket)

    def fits(one: AfterSaleRow) -> bool:
        if one.sources and Source(head.source) not in one.sources.split(";"):
            return False
        if one.does is AfterSale.RECEIPT:
            return likes == ReceiptBy.ASK
        if one.does is AfterSale.MESSAGE:
            return somebody is not None and bool(somebody.phone or somebody.email)
        return one.does is AfterSale.DRAWER or bool(settled)

    return [one for one in actions if fits(one)]


def _when(house: House, one: AfterSaleRow) -> str:
    """The moment (UTC) at which an action of a ticket that ends now is due."""
    day: datetime = house.now() + timedelta(days=one.days)
    if not one.clock:
        return house.stamp(-timedelta(days=one.days))
    return stamp_at(read_wall(f"{day:%Y-%m-%d}", one.clock, ""), house.zone)


def plan_after(edit: TicketChange) -> None:
    """Write down what is to happen after a ticket that ends now."""
    for one in _fitting(edit.house, edit.id):
        if one.does is AfterSale.DRAWER and edit.actor.by_itself:
            continue
        due = max(edit.at, _when(edit.house, one)) if one.days or one.clock else edit.at
        kept.plan(edit.house.connection, _task(edit.actor, edit.id, one.id, due))


def _task(actor: Actor, ticket: int, action: str, due: str) -> AfterSaleTask:
    return AfterSaleTask(0, ticket, action, actor.staff.id, actor.till.id, due, None)


def leave_out(house: House, actor: Actor, ticket: int, action: str, key: str, *, out: bool = True) -> None:
    """For this ticket an action does not happen, or does after all. Refused when nothing of it is to come."""
    with acting(house, actor, "after sale", key, f"ticket {ticket}") as act:
        if act.done is not None:
            return
        head = load_ticket(house, ticket).head
        ended = head.state != TicketState.OPEN
        known = {one.action: one for one in (still_to_come if ended else afterwards)(house, ticket)}
        if ended and action not in known:
            raise Refused(Code.TICKET_CLOSED, number=head.number)
        if action not in known:
            raise NotFound(f"nothing like {action!r} after ticket {ticket}")
        if known[action].left_out is out:
            return
        if out:
            kept.plan(
                act.connection, _task(actor, ticket, action, known[action].at or act.at)
            )  # where its end has planned it, that stays
            kept.leave_out(act.connection, ticket, action, act.at)
        else:
            (kept.wait_again if ended else kept.bring_back)(act.connection, ticket, action)
        act.record(Kind.AFTER_SALE_LEFT_OUT if out else Kind.AFTER_SALE_AGAIN, ticket, name=known[action].name)


def leave_out_papers(house: House, actor: Actor, ticket: int, key: str) -> None:
    """For this ticket no receipt prints by itself: it goes out in another way."""
    for one in afterwards(house, ticket):
        if one.does is AfterSale.RECEIPT and not one.left_out:
            leave_out(house, actor, ticket, one.action, f"{key}-{one.action}")
