"""Accounts without a customer: what is sold to nobody in particular is kept apart by what it is sold from.

Rules here
- the house has a list of them; a till sells on one of them until somebody chooses another
- a sale keeps the one on which it was begun; the day's report sums by them
"""

from __future__ import annotations

from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Kind, Personal
from abrazo.desk.act import acting
from abrazo.desk.context import Actor, House
from abrazo.desk.tickets.snapshot import load_ticket
from abrazo.store import settings
from abrazo.store import ticket as ticket_store
from abrazo.store import till as till_store


def accounts_of_house(house: House) -> list[str]:
    """What sales without a customer are sold from, apart in the report; empty when the house keeps only one."""
    return house.once("anonymous accounts", lambda: settings.anonymous_accounts(house.connection))


def account_of(house: House, till: str) -> str:
    """The account without a customer on which a till sells now."""
    names = accounts_of_house(house)
    chosen = house.tills()[till].anonymous_account
    return chosen if chosen in names else names[0] if names else ""


def sell_on(house: House, actor: Actor, name: str) -> None:
    """New counter sales of this till go on an account without a customer; a sale without payments goes there too."""
    if name not in accounts_of_house(house):
        raise Refused(Code.NO_ANONYMOUS_ACCOUNT, "sold_from")
    with acting(house, actor, "set-up") as act:
        till_store.set_anonymous_account(act.connection, actor.till.id, name)
        sale = ticket_store.counter_sale(act.connection, actor.staff.id, actor.till.id)
        if sale is not None and not load_ticket(house, sale).taken:
            ticket_store.set_anonymous(act.connection, sale, name)
            ticket_store.touch(act.connection, sale)
        act.record(Kind.SOLD_ON, sale, name=Personal(name))
