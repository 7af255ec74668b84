"""What is left of a prepaid series goes back with a refund of the line that sold it.

Rules here
- all free uses go back together, by their worth with its tax; those that were had stay had
- they are gone from the moment the refund is asked for, and free again when it comes to nothing
"""

from __future__ import annotations

from collections.abc import Sequence

from abrazo.core import series as core
from abrazo.core.errors import Code, Refused
from abrazo.core.figures import Booked, together
from abrazo.core.money import total
from abrazo.core.refunds import GivenBack, Ref, plan_refund
from abrazo.core.states import RowKind
from abrazo.desk.context import House
from abrazo.desk.tickets.change import TicketChange
from abrazo.desk.tickets.series import free_of
from abrazo.desk.tickets.snapshot import TicketSnapshot
from abrazo.store import series as series_store
from abrazo.store.corrections import Refund
from abrazo.store.series import Series


def _chosen(edit: TicketChange, lines: Sequence[int]) -> list[Series]:
    return [one for one in series_store.on_ticket(edit.house.connection, edit.id) if one.line in lines]


def worth_back(edit: TicketChange, lines: Sequence[int], amount: int | None) -> dict[Ref, int]:
    """What goes back of chosen lines that sold series, in minor units. Refused as an amount, or for nothing."""
    found = dict[Ref, int]()
    for one in _chosen(edit, lines):
        row = edit.whole.line(one.line)
        if amount is not None:
            raise Refused(Code.SERIES_WHOLE, "refund", line=row.label)
        if not free_of(one):
            raise Refused(Code.SERIES_ALL_USED, "lines", line=row.label)
        found |= _of_line(edit.whole, one)
    return found


def _of_line(whole: TicketSnapshot, one: Series) -> dict[Ref, int]:
    """What of the line that sold a series its free uses are; empty when nothing of it was used: then it is all."""
    free, net = free_of(one), one.net or 0
    if len(free) == one.uses:
        return {}
    worth = core.worth_of(net, one.uses, free)
    return {(RowKind.LINE, str(one.line)): core.to_give_back(_net_of(whole, one), net, worth)}


def _net_of(whole: TicketSnapshot, one: Series) -> int:
    return next(bill.net for bill in whole.bill.lines if bill.id == str(one.line))


def left_to_give(house: House, whole: TicketSnapshot, given: GivenBack) -> dict[Ref, int]:
    """What of each line that sold a series can be given back, in minor units with its added tax."""
    found = dict[Ref, int]()
    for one in series_store.on_ticket(house.connection, whole.head.id):
        ref, most = (RowKind.LINE, str(one.line)), _of_line(whole, one)
        if free_of(one) and most.get(ref, 1) and _net_of(whole, one) > given.amounts.get(ref, 0):
            found[ref] = plan_refund(whole.ticket, whole.bill, given, [ref], None, most).amount
        else:
            found[ref] = 0
    return found


def ask_back(edit: TicketChange, refund: int, lines: Sequence[int]) -> None:
    """The free uses of chosen lines go with a refund."""
    for one in _chosen(edit, lines):
        for number in free_of(one):
            series_store.add_use(edit.house.connection, (one.id, number), edit.at, refund=refund)


def booked_back(house: House, refund: Refund, sale: Booked) -> Booked:
    """What a refund that is done books of the sale, with what it leaves of its series in the books."""
    uses = core.by_series(series_store.of_refund(house.connection, refund.id))
    worths = list[int]()
    for one in series_store.read_many(house.connection, uses):
        for number in uses[one.id]:
            worths.append(core.worth_of(one.net or 0, one.uses, [number]))
            series_store.book_refund(house.connection, refund.id, (one.id, number), worths[-1])
    return together(sale, core.cent_left(sale, total(worths))) if uses else sale


def not_back(house: House, refund: int, at: str) -> None:
    """A refund came to nothing."""
    series_store.free_refund(house.connection, refund, at)
