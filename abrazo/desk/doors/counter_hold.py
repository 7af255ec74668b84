"""Sales of counter mode that wait: put on hold for the next customer, and brought back.

Rules here
- who comes back has the screen: the sale in work waits in its place, an empty one ends, a paid one is closed
- whoever brings a sale back serves it; only sales of this till are offered
"""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.core.errors import Code, Refused
from abrazo.core.states import Source
from abrazo.desk.context import Actor, House
from abrazo.desk.doors.counter import is_over, sale_in_work, sale_of
from abrazo.desk.payments import closing
from abrazo.desk.tickets import holding, moving
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.counter_lock import may_touch
from abrazo.desk.tickets.naming import place_of
from abrazo.desk.tickets.price_lists import to_ask
from abrazo.desk.tickets.snapshot import TicketSnapshot, load_ticket, load_tickets
from abrazo.store import ticket as ticket_store


@dataclass(frozen=True, slots=True)
class Waiting:
    """A sale on hold: `due` in minor units; `asks` when its prices are to be compared with today's first.

    One that was begun for somebody (`own`) is taken up on its full ticket, as it was begun.
    """

    id: int
    name: str
    due: int
    asks: bool
    own: bool


def waiting(house: House, actor: Actor) -> list[Waiting]:
    """The counter sales of this till that are on hold, the oldest first."""
    wholes = load_tickets(house, ticket_store.list_open(house.connection, Source.COUNTER)).values()
    here = (one for one in wholes if one.head.held_at and one.head.till == actor.till.id)
    return [
        Waiting(one.head.id, place_of(house, one), one.bill.due, bool(to_ask(house, one)), _own(one))
        for one in here
        if may_touch(house, actor, one.head)
    ]


def _own(whole: TicketSnapshot) -> bool:
    return whole.head.person is not None and whole.head.name is not None


def put_by(house: House, actor: Actor, on: OnTicket) -> None:
    """The sale in work waits for its customer."""
    sale_in_work(house, actor, on.id)
    _wait(house, actor, on)


def _wait(house: House, actor: Actor, on: OnTicket) -> None:
    holding.put_aside(house, actor, on, holding.name_to_hold(house, load_ticket(house, on.id)))


def bring_back(house: House, actor: Actor, on: OnTicket) -> None:
    """A sale on hold is the sale in work. Refused, and nothing moves, unless it waits here and its prices were said."""
    sale = sale_of(house, actor)
    if sale is not None and sale.head.id == on.id:
        return  # pressed twice
    comes = next((one for one in waiting(house, actor) if one.id == on.id), None)
    if comes is None or comes.own:
        raise Refused(Code.OTHER_SALE, "item")
    if comes.asks:
        whole = load_ticket(house, on.id)
        raise Refused(Code.PRICES_FIRST, "item", label=to_ask(house, whole)[0].label, number=whole.head.number)
    while (sale := sale_of(house, actor)) is not None and sale.head.id != on.id:
        _make_room(house, actor, sale, on.key)
    holding.bring_back(house, actor, on.id)
    moving.hand_to(house, actor, OnTicket(on.id, None), actor.staff.id)


def _make_room(house: House, actor: Actor, sale: TicketSnapshot, key: str | None) -> None:
    here = OnTicket(sale.head.id, None, f"{key}-{sale.head.id}")
    if is_over(sale) or not (sale.standing or sale.taken):
        closing.free_table(house, actor, here)
    else:
        _wait(house, actor, here)
