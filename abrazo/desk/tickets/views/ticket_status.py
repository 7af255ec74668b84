"""A ticket's state in words, whatever door it came through."""

from __future__ import annotations

from abrazo.desk.context import House
from abrazo.desk.tickets.snapshot import TicketSnapshot

EATING_AFTER = 10 * 60  # seconds since the last line was added; common practice, for looking at only


def minutes_since(house: House, then: str) -> int:
    """Whole minutes from a kept time until now."""
    return max(0, int(house.since(then) // 60))


def state_of(house: House, whole: TicketSnapshot) -> str:
    """A ticket's state in words."""
    bill = whole.bill
    if any(ask.state == "unknown" for ask in whole.open_requests):
        return "card unknown"
    if whole.open_requests:
        return "card under way"
    if whole.head.held_at:
        return "on hold"
    if whole.taken and bill.due == 0:
        return "paid"
    if any(payment.deposit is None for payment in whole.taken):
        return "part paid"
    if whole.head.bill_asked_at:
        return "bill asked"
    if whole.head.spot is None:
        return "open"
    if not whole.standing:
        return "just seated"
    quiet = house.since(whole.standing[-1].added_at)
    return "eating" if quiet > EATING_AFTER else "ordering"
