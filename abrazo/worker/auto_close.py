"""Paid tables that free themselves, where the house lets them: one thread looks again and again."""

from __future__ import annotations

from datetime import timedelta

from abrazo.core.errors import Refused
from abrazo.core.states import Source
from abrazo.desk.context import Actor, House
from abrazo.desk.output import outbox
from abrazo.desk.payments.closing import free_table
from abrazo.desk.setup.habits import habits
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.layaways import kept_on
from abrazo.desk.tickets.snapshot import load_ticket
from abrazo.store import holds, jobs
from abrazo.store import ticket as ticket_store

BY_ITSELF = (  # the doors whose paid tickets need no other look; a job's waits to be handed over
    Source.TABLE, Source.COUNTER, Source.TAB, Source.PHONE, Source.BOOKING, Source.WALK_IN
)  # fmt: skip


def free_paid(house: House) -> list[int]:
    """Free what was paid long enough ago, and send its receipt the way its person likes; gives the tickets."""
    after = habits(house).free_after
    if after is None:
        return []
    until = house.stamp(timedelta(minutes=after))
    return [ticket for ticket in ticket_store.paid_until(house.connection, until) if _free(house, ticket, until)]


def _free(house: House, ticket: int, until: str) -> bool:
    head = house.head(ticket)
    busy = holds.of_ticket(house.connection, ticket) or jobs.settled_on(house.connection, ticket)
    if kept_on(house, ticket) is not None:
        return False
    if head is None or head.source not in BY_ITSELF or head.held_at or head.reopened_at or busy:
        return False
    whole = load_ticket(house, ticket)
    last = whole.taken[-1]
    if whole.bill.due or whole.open_requests or max(payment.at for payment in whole.taken) > until:
        return False
    actor = Actor(house.staff()[last.staff], house.tills()[last.till], by_itself=True)
    key = f"by-itself-{ticket}-{head.version}"
    try:
        free_table(house, actor, OnTicket(ticket, head.version, key))
    except Refused:  # something was added in this moment: it is not paid after all
        return False
    outbox.by_preference(house, actor, ticket, key)
    return True
