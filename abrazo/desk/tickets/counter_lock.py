"""Who is held to counter mode, and which tickets they may touch.

Rules here
- at a till that is locked: the counter sales of that till
- a person who works in counter mode: counter sales and tabs
- what a machine answers is recorded whoever asked it
"""

from __future__ import annotations

from abrazo.core.errors import Refused
from abrazo.desk.context import Actor, House
from abrazo.store.ticket import TicketRow


def held_to_counter(house: House, actor: Actor) -> str:
    """Why somebody may not leave counter mode here; empty when they may."""
    if is_locked(house, actor):
        return f"Till {actor.till.name} is locked to counter mode."
    if house.staff()[actor.staff.id].counter_only:
        return f"{actor.staff.name} works in counter mode."
    return ""


def is_locked(house: House, actor: Actor) -> bool:
    """Whether the actor's till is locked to counter mode."""
    return house.values().get(f"counter_only:{actor.till.id}") == "yes"


def with_tabs(house: House, actor: Actor) -> bool:
    """Whether somebody held to counter mode also has the tabs: a person has, at a till that is locked nobody has."""
    return house.staff()[actor.staff.id].counter_only and not is_locked(house, actor)


def may_touch(house: House, actor: Actor, head: TicketRow) -> bool:
    """Whether somebody may act on a ticket; who is held to counter mode only on their kinds."""
    if actor.by_itself or not held_to_counter(house, actor):
        return True
    if with_tabs(house, actor):
        return head.source in ("counter", "tab")
    return head.source == "counter" and head.till == actor.till.id


def check_touch(house: House, actor: Actor, head: TicketRow) -> None:
    """Refused for a ticket that somebody held to counter mode may not touch."""
    if not may_touch(house, actor, head):
        what = f"{held_to_counter(house, actor)} Ticket {head.number} is not one of its sales."
        raise Refused("counter_only", what, "to")


def check_free(house: House, actor: Actor) -> None:
    """Refused for whoever is held to counter mode: a sale that went to a table would leave it."""
    why = held_to_counter(house, actor)
    if why:
        raise Refused("counter_only", f"{why} Somebody else moves it to a table.", "to")
