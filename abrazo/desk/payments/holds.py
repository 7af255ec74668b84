"""Cards that stand held for a ticket: a sum reserved on a card, used up by a charge or let go."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import timedelta

from abrazo.core.figures import Booked
from abrazo.core.journal import Kind
from abrazo.core.ledger import hold_postings
from abrazo.core.moments import plus
from abrazo.core.states import HoldState
from abrazo.desk.context import House
from abrazo.desk.tickets.change import TicketChange
from abrazo.desk.tickets.snapshot import TicketSnapshot
from abrazo.devices.ports import CardAnswer
from abrazo.store import holds
from abrazo.store.holds import Hold
from abrazo.store.tenders import CardRequest

HOLD_LASTS = timedelta(days=7)  # after which a hold lapses at the bank; common practice


def held(edit: TicketChange, ask: CardRequest, answer: CardAnswer) -> None:
    """The machine holds the sum: record the card it is held on, and the memorandum."""
    lapses = plus(edit.at, HOLD_LASTS)
    card = (answer.brand, answer.last_four, answer.expiry, answer.token)
    held = Hold(0, edit.id, ask.machine, ask.reference, ask.amount, *card, edit.at, lapses, HoldState.HELD)
    holds.add(edit.house.connection, held)
    edit.wrote(
        Kind.HOLD_PLACED,
        Booked(hold_postings(ask.machine, ask.amount)),
        amount=ask.amount,
        brand=answer.brand,
        last_four=answer.last_four,
        machine=ask.machine,
    )


def hold_ended(edit: TicketChange, ask: CardRequest, state: HoldState, kind: Kind) -> None:
    """A hold is used up or let go; it ends once."""
    hold = holds.read(edit.house.connection, ask.hold or 0)
    assert hold is not None
    holds.end(edit.house.connection, hold.id, state, edit.at)
    booked = Booked(hold_postings(hold.machine, -hold.amount))
    edit.wrote(kind, booked, amount=hold.amount, last_four=hold.last_four)


def held_for(house: House, ticket: int) -> Hold | None:
    """The card that stands held for a ticket."""
    return held_for_each(house, [ticket])[ticket]


def held_for_each(house: House, tickets: Iterable[int]) -> dict[int, Hold | None]:
    """The same of several tickets, by ticket; one statement."""
    return house.each_once("hold", tickets, lambda missing: holds.held_now(house.connection, missing))


def held_of(house: House, whole: TicketSnapshot, payer_id: int) -> Hold | None:
    """The card held for a ticket, for the payer whose it is: the first one. Others pay with their own."""
    return held_for(house, whole.head.id) if whole.payers[0].id == payer_id else None
