"""How a ticket on which nothing is due was settled: what was taken, what was put on an account and is owed."""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.core.money import total
from abrazo.core.states import Tender
from abrazo.desk.context import House
from abrazo.desk.payments.accounts import owed_by
from abrazo.desk.people.people import known
from abrazo.desk.tickets.naming import place_of
from abrazo.desk.tickets.snapshot import TicketSnapshot
from abrazo.words import phrases as w


@dataclass(frozen=True, slots=True)
class Settlement:
    """Minor units. `person` is whose account it was put on; `owes` is all that stands on it now."""

    taken: int
    on_account: int
    person: str = ""
    owes: int = 0


def closed_words(house: House, whole: TicketSnapshot) -> str:
    """What became of a ticket that was closed just now."""
    found, place = settlement(house, whole), place_of(house, whole)
    facts = {"place": place, "paid": found.taken, "amount": found.on_account, "person": found.person}
    phrase = w.CLOSED_PAID if not found.on_account else w.CLOSED_BOTH if found.taken else w.CLOSED_ON_ACCOUNT
    return house.say(phrase, owes=found.owes, **facts)


def settlement(house: House, whole: TicketSnapshot, payer: int | None = None) -> Settlement:
    """Of a whole ticket, or of one payer."""
    payments = [one for one in whole.taken if payer is None or one.payer == payer]
    taken, on_account = total(one.given for one in payments if one.tender != Tender.ACCOUNT), whole.on_account(payer)
    if not on_account or whole.head.person is None:
        return Settlement(taken, on_account)
    put = next(one for one in payments if one.tender == Tender.ACCOUNT)
    person = known(house, put.account or whole.head.person)
    return Settlement(taken, on_account, person.name, owed_by(house, person))
