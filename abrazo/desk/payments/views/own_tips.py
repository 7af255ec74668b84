"""What somebody earned in tips on the open day: of their own, and of the pool where the house has one."""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.core.ledger import tips_account
from abrazo.core.money import total
from abrazo.core.tips import POOL
from abrazo.desk.context import Actor, House
from abrazo.desk.tickets.naming import place_of
from abrazo.desk.tickets.snapshot import load_tickets
from abrazo.store import journal, till, tip_pool


@dataclass(frozen=True, slots=True)
class OwnTip:
    """The tip of one closed ticket, in minor units."""

    number: int
    place: str
    at: str
    amount: int


@dataclass(frozen=True, slots=True)
class OwnTips:
    """Tips of the open day, in minor units: of one's tickets, one's part of pools that were divided, what was paid out.

    `pool` lies undivided for everybody.
    """

    tickets: list[OwnTip]
    from_pool: int
    paid_out: int
    pool: int

    @property
    def total(self) -> int:
        """All that was earned, paid out or not."""
        return total((self.from_pool, *(one.amount for one in self.tickets)))


def own_tips(house: House, actor: Actor) -> OwnTips:
    """Somebody's tips on tickets that are closed, the latest first, and of pools."""
    c, day, me = house.connection, house.day().id, actor.staff.id
    mine = journal.posted_on(c, tips_account(me), day)
    pool = total(-amount for _, _, amount in journal.posted_on(c, tips_account(POOL), day))
    on_tickets = [(ticket, at, -amount) for ticket, at, amount in mine if ticket is not None]
    whole = load_tickets(house, [ticket for ticket, _, _ in on_tickets])
    tickets = [OwnTip(whole[id].head.number, place_of(house, whole[id]), at, tip) for id, at, tip in on_tickets]
    shares = [share for one in tip_pool.on_day(c, day) for share in tip_pool.shares_of(c, one.id) if share.person == me]
    paid = [one for one in till.tips_paid_on(c, day) if one.person == me]
    return OwnTips(tickets, total(one.amount for one in shares), total(one.amount for one in paid), pool)
