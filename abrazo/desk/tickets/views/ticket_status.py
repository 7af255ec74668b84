"""A ticket's state in words, whatever door it came through."""

from __future__ import annotations

from abrazo.core.states import RequestState, TicketStanding
from abrazo.desk.context import House
from abrazo.desk.tickets.snapshot import TicketSnapshot

EATING_AFTER = 10 * 60  # seconds since the last line was added; common practice, for looking at only


def minutes_since(house: House, then: str) -> int:
    """Whole minutes from a kept time until now."""
    return max(0, int(house.since(then) // 60))


def state_of(house: House, whole: TicketSnapshot) -> TicketStanding:
    """How a ticket stands."""
    bill = whole.bill
    if any(ask.state == RequestState.UNKNOWN for ask in whole.open_requests):
        return TicketStanding.CARD_UNKNOWN
    if whole.open_requests:
        return TicketStanding.CARD_UNDER_WAY
    if whole.head.held_at:
        return TicketStanding.ON_HOLD
    if whole.taken and bill.due == 0:
        return TicketStanding.SETTLED if whole.on_account() else TicketStanding.PAID
    if any(payment.deposit is None for payment in whole.taken):
        return TicketStanding.PART_PAID
    if whole.head.bill_asked_at:
        return TicketStanding.BILL_ASKED
    if whole.head.spot is None:
        return TicketStanding.OPEN
    if not whole.standing:
        return TicketStanding.JUST_SEATED
    quiet = house.since(whole.standing[-1].added_at)
    return TicketStanding.EATING if quiet > EATING_AFTER else TicketStanding.ORDERING
