"""What is left of what was paid ahead goes back with a refund of the line that sold it: a series, a membership.

Rules here
- all free uses of a series go back together, by their worth with its tax; those that were had stay had; they are gone
  from the moment the refund is asked for, and free again when it comes to nothing
- of a membership the days after today go back, where the house does that; today is its last day then
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from abrazo.core import series as core
from abrazo.core.errors import Code, Refused
from abrazo.core.figures import Booked, together
from abrazo.core.money import total
from abrazo.core.refunds import GivenBack, Ref, plan_refund
from abrazo.core.states import RowKind
from abrazo.desk.context import House
from abrazo.desk.tickets import memberships
from abrazo.desk.tickets.change import TicketChange
from abrazo.desk.tickets.series import free_of, worth_of
from abrazo.desk.tickets.snapshot import TicketSnapshot
from abrazo.store import memberships as memberships_kept
from abrazo.store import series as series_store
from abrazo.store.corrections import Refund
from abrazo.store.series import Series


def _ref(line: int | None) -> Ref:
    return RowKind.LINE, str(line)


def worth_back(edit: TicketChange, lines: Sequence[int], amount: int | None) -> dict[Ref, int]:
    """What goes back of chosen lines of which not all does, in minor units. Refused as an amount, or for nothing."""
    found = dict[Ref, int]()
    for one in _series(edit, lines):
        row = edit.whole.line(one.line or 0)
        if amount is not None:
            raise Refused(Code.SERIES_WHOLE, "refund", line=row.label)
        if not free_of(one):
            raise Refused(Code.SERIES_ALL_USED, "lines", line=row.label)
    if amount is None:
        for ref, most in _left(edit.house, edit.whole):
            if int(ref[1]) not in lines:
                continue
            if not most:
                raise Refused(Code.MEMBERSHIP_STAYS, "lines", line=edit.whole.line(int(ref[1])).label)
            found[ref] = most
    return found


def _series(edit: TicketChange, lines: Sequence[int]) -> list[Series]:
    return [one for one in series_store.on_ticket(edit.house.connection, edit.id) if one.line in lines]


def _left(house: House, whole: TicketSnapshot) -> Iterator[tuple[Ref, int]]:
    """What is left of lines that sold something ahead, as far as some of it was had; minor units of the line."""
    nets = {bill.id: bill.net for bill in whole.bill.lines}
    for one in series_store.on_ticket(house.connection, whole.head.id):
        free, net = free_of(one), one.net or 0
        if len(free) < one.uses:
            worth = worth_of(one, free)
            yield _ref(one.line), core.to_give_back(nets[str(one.line)], net, worth) if free else 0
    for held in memberships_kept.on_ticket(house.connection, whole.head.id):
        net, left = held.net or 0, memberships.left_worth(house, held)
        if not house.settings.memberships_back:
            yield _ref(held.line), 0
        elif left < net:
            yield _ref(held.line), core.to_give_back(nets[str(held.line)], net, left)


def left_to_give(house: House, whole: TicketSnapshot, given: GivenBack) -> dict[Ref, int]:
    """What can be given back of lines that sold something ahead, in minor units with its added tax."""
    nets = {_ref(int(bill.id)): bill.net for bill in whole.bill.lines}
    found = dict[Ref, int]()
    for ref, most in _left(house, whole):
        left = most and nets[ref] > given.amounts.get(ref, 0)
        plan = plan_refund(whole.ticket, whole.bill, given, [ref], None, {ref: most}) if left else None
        found[ref] = plan.amount if plan else 0
    return found


def ask_back(edit: TicketChange, refund: int, lines: Sequence[int]) -> None:
    """The free uses of chosen lines go with a refund."""
    for one in _series(edit, lines):
        for number in free_of(one):
            series_store.add_use(edit.house.connection, (one.id, number), edit.at, refund=refund)


def booked_back(edit: TicketChange, refund: Refund, lines: Sequence[int], sale: Booked) -> Booked:
    """What a refund of whole lines that is done books of the sale, with what it leaves of its series in the books."""
    connection = edit.house.connection
    for held in memberships_kept.on_ticket(connection, edit.id):
        if held.line in lines:
            memberships.end_early(edit, held)
    uses, worths = core.by_series(series_store.of_refund(connection, refund.id)), list[int]()
    for one in series_store.read_many(connection, uses):
        for number in uses[one.id]:
            worths.append(worth_of(one, [number]))
            series_store.book_refund(connection, refund.id, (one.id, number), worths[-1])
    return together(sale, core.cent_left(sale, total(worths))) if uses else sale


def not_back(house: House, refund: int, at: str) -> None:
    """A refund came to nothing."""
    series_store.free_refund(house.connection, refund, at)
