"""Open tickets when a tax came in the place of another: they bear the rate of the day on which they close.

Rules here
- only goods that are set aside stay open over the close of a day; what is paid for them bears the new rate too, for it
  is owed with the sale, and the ticket's journal says so
- what cannot follow in this moment, because a card is being charged, is tried again
"""

from __future__ import annotations

from abrazo.core.errors import Refused
from abrazo.core.journal import Kind
from abrazo.desk.context import Actor, House
from abrazo.desk.tickets.change import OnTicket, changing
from abrazo.store import set_up_plans

MOST_AFTER_ONE_ANOTHER = 5  # taxes that came in one another's place


def follow_taxes(house: House, actor: Actor) -> int:
    """Let open tickets bear what came in the place of their taxes; gives how many did."""
    return sum(_follow(house, actor, ticket) for ticket in set_up_plans.tickets_to_follow(house.connection))


def follow_by_itself(house: House) -> int:
    """The same, by the house itself, for those that could not when the day was opened."""
    if house.open_day() is None or not set_up_plans.tickets_to_follow(house.connection):
        return 0
    boss = next(iter(house.workers().values()))
    return follow_taxes(house, Actor(boss, next(iter(house.tills_in_use().values())), by_itself=True))


def _follow(house: House, actor: Actor, ticket: int) -> bool:
    try:
        with changing(house, actor, OnTicket(ticket, None)) as edit:
            for _ in range(MOST_AFTER_ONE_ANOTHER):
                for before, now in set_up_plans.follow_on(house.connection, ticket):
                    edit.wrote(Kind.TAX_FOLLOWED, before=before, now=now)
    except Refused:
        return False
    return True
