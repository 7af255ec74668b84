"""What somebody earned in tips on the open day: of their own, and of the pool where the house has one."""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.core.ledger import tips_account
from abrazo.core.money import total
from abrazo.core.tips import POOL
from abrazo.desk.context import Actor, House
from abrazo.desk.tickets.naming import place_of
from abrazo.desk.tickets.snapshot import load_tickets
from abrazo.store import journal


@dataclass(frozen=True, slots=True)
class OwnTip:
    """The tip of one closed ticket, in minor units."""

    number: int
    place: str
    at: str
    amount: int


@dataclass(frozen=True, slots=True)
class OwnTips:
    """Tips of the open day, in minor units; `pool` is everybody's."""

    total: int
    pool: int
    tickets: list[OwnTip]


def own_tips(house: House, actor: Actor) -> OwnTips:
    """Somebody's tips on tickets that are closed, the latest first."""
    day = house.day().id
    mine = journal.posted_on(house.connection, tips_account(actor.staff.id), day)
    pool = total(-amount for _, _, amount in journal.posted_on(house.connection, tips_account(POOL), day))
    on_tickets = [(ticket, at, -amount) for ticket, at, amount in mine if ticket is not None]
    whole = load_tickets(house, [ticket for ticket, _, _ in on_tickets])
    tickets = [OwnTip(whole[id].head.number, place_of(house, whole[id]), at, tip) for id, at, tip in on_tickets]
    return OwnTips(total(-amount for _, _, amount in mine), pool, tickets)
