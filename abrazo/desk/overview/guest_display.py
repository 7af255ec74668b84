"""The guests' display of a till: lines, sum, change, thanks. Notes for staff are never on it."""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.core.states import TicketState
from abrazo.desk.context import House
from abrazo.desk.payments.views.settlement import settlement
from abrazo.desk.tickets.naming import place_of
from abrazo.desk.tickets.snapshot import TicketSnapshot, load_ticket
from abrazo.desk.tickets.ticket_lines import described
from abrazo.store import journal


@dataclass(frozen=True, slots=True)
class Display:
    """What guests see, in minor units. `state` is welcome, open, change or thanks; `seen` changes with every change."""

    state: str
    seen: int
    place: str = ""
    lines: tuple[tuple[str, int], ...] = ()
    total: int = 0
    tips: int = 0
    asked: int = 0  # bill and tips
    paid: int = 0
    due: int = 0
    change: int = 0
    on_account: int = 0


def latest_change(house: House, till: str) -> int:
    """The number of the last thing done to a ticket at a till; 0 when there was none."""
    latest = journal.latest_at(house.connection, till)
    return latest[0] if latest else 0


def display_of(house: House, till: str) -> Display:
    """The ticket that was in work last at a till, as its guests see it."""
    latest = journal.latest_at(house.connection, till)
    if latest is None:
        return Display("welcome", 0)
    seen, ticket = latest
    whole = load_ticket(house, ticket)
    bill = whole.bill
    nets = {line.id: line.net for line in bill.lines}
    lines = [(described(line), nets[str(line.id)]) for line in whole.standing]
    charges, settled = dict(bill.charges), settlement(house, whole)
    lines += [(charge.label, charges[str(charge.id)]) for charge in whole.charges]
    return Display(
        state=_state(whole),
        seen=seen,
        place=place_of(house, whole) if whole.head.spot else "",
        lines=tuple(lines),
        total=bill.total,
        asked=bill.asked,
        tips=bill.tips,
        paid=settled.taken,
        due=bill.due,
        on_account=settled.on_account,
        change=whole.taken[-1].change if whole.taken else 0,
    )


def _state(whole: TicketSnapshot) -> str:
    if whole.head.state != TicketState.OPEN:
        return "thanks" if whole.head.state == TicketState.CLOSED else "welcome"
    if not whole.standing:
        return "welcome"
    if whole.taken and whole.taken[-1].change:
        return "change"
    return "open"
