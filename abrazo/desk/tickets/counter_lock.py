"""Who is held to counter mode, and which tickets they may touch.

Rules here
- at a till that is locked: the counter sales of that till
- a person who works in counter mode: counter sales and tabs
- what a machine answers is recorded whoever asked it
"""

from __future__ import annotations

from abrazo.core.errors import Code, Refused
from abrazo.core.states import Source
from abrazo.desk.context import Actor, House
from abrazo.store.ticket import TicketRow


def held_to_counter(house: House, actor: Actor) -> Refused | None:
    """Why somebody may not leave counter mode here; None when they may."""
    if is_locked(house, actor):
        return Refused(Code.TILL_LOCKED, till=actor.till.name)
    if house.staff()[actor.staff.id].counter_only:
        return Refused(Code.COUNTER_ONLY, name=actor.staff.name)
    return None


def is_locked(house: House, actor: Actor) -> bool:
    """Whether the actor's till is locked to counter mode."""
    return house.tills()[actor.till.id].counter_only


def with_tabs(house: House, actor: Actor) -> bool:
    """Whether somebody held to counter mode also has the tabs: a person has, at a till that is locked nobody has."""
    return house.staff()[actor.staff.id].counter_only and not is_locked(house, actor)


def may_touch(house: House, actor: Actor, head: TicketRow) -> bool:
    """Whether somebody may act on a ticket; who is held to counter mode only on their kinds."""
    if actor.by_itself or not held_to_counter(house, actor):
        return True
    if with_tabs(house, actor):
        return head.source in (Source.COUNTER, Source.TAB)
    return head.source == Source.COUNTER and head.till == actor.till.id


def check_touch(house: House, actor: Actor, head: TicketRow) -> None:
    """Refused for a ticket that somebody held to counter mode may not touch."""
    if not may_touch(house, actor, head):
        raise Refused(Code.NOT_A_COUNTER_SALE, "to", why=held_to_counter(house, actor), number=head.number)


def check_free(house: House, actor: Actor) -> None:
    """Refused for whoever is held to counter mode: a sale that went to a table would leave it."""
    why = held_to_counter(house, actor)
    if why:
        raise Refused(Code.STAYS_AT_COUNTER, "to", why=why)
