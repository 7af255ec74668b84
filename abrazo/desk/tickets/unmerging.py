"""A plain sale that was put into another ticket, taken out again as it was.

Rules here
- a sale without table, customer, charges, payments or a held card, whose one guest has no name, is its lines and
  nothing else: those go back, and the ticket goes on under its number
- it goes back on the business day on which it was merged; what was paid of it since stays where it is
"""

from __future__ import annotations

from collections.abc import Sequence

from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Kind, Personal
from abrazo.core.states import TicketState
from abrazo.desk.context import Actor, House
from abrazo.desk.tickets.change import OnTicket, TicketChange, changing, check_and_settle
from abrazo.desk.tickets.counter_lock import check_touch
from abrazo.desk.tickets.moving import lines_change_ticket
from abrazo.desk.tickets.naming import place_of
from abrazo.desk.tickets.snapshot import TicketSnapshot, load_ticket
from abrazo.store import holds
from abrazo.store import ticket as ticket_store


def comes_back(house: House, whole: TicketSnapshot) -> bool:
    """Whether all there is of a ticket is its lines, so that a merge of it can be taken back."""
    head, guests = whole.head, whole.guests
    alone = len(guests) == 1 and not guests[0].name and head.spot is None and head.person is None
    loose = not any(line.booking or line.job or line.stored or line.invoice for line in whole.standing)
    bare = not whole.charges and not whole.payments and not holds.of_ticket(house.connection, head.id)
    return alone and loose and bare and not any(one.line is None for one in whole.given)


def unmerge(house: House, actor: Actor, on: OnTicket, back: int, line_ids: Sequence[int]) -> int:
    """Lines that came with a merge go back to the ticket that they came from, which is open again; gives it."""
    with changing(house, actor, on, "unmerged") as edit:
        if edit.done is not None:
            return int(edit.done)
        ended = load_ticket(house, back)
        check_touch(house, actor, ended.head)
        head = ended.head
        gone = head.state != TicketState.LEFT or head.voided_at or head.day != edit.day
        if gone or not line_ids or not comes_back(house, ended):
            raise Refused(Code.OTHER_TICKET_CLOSED, "to", number=ended.head.number)
        lines = [edit.whole.line(line) for line in line_ids]
        ticket_store.set_state(house.connection, back, TicketState.OPEN, None)
        ticket_store.touch(house.connection, back)
        other = TicketChange(house, actor, load_ticket(house, back))
        lines_change_ticket(edit, other, lines)
        edit.wrote(Kind.GAVE_BACK, other=ended.head.number, place=Personal(place_of(house, other.whole)))
        other.wrote(Kind.CAME_BACK, other=edit.whole.head.number, place=Personal(place_of(house, edit.whole)))
        check_and_settle(other)
        edit.answer = str(back)
    return back
