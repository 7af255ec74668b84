"""How a ticket on which nothing is due was settled: what was taken, what was put on an account or paid on one."""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.core.ledger import Role
from abrazo.core.money import rest_of, total
from abrazo.core.states import Tender
from abrazo.desk.context import House
from abrazo.desk.payments.accounts import owed_by, paying
from abrazo.desk.people.people import known
from abrazo.desk.tickets.naming import place_of
from abrazo.desk.tickets.snapshot import TicketSnapshot, load_ticket
from abrazo.words import phrases as w


@dataclass(frozen=True, slots=True)
class Settlement:
    """Minor units. `person` is whose account it was put on or paid on, `owes` all that stands on it then.

    `owes` is negative for what is paid ahead, and counts what tickets that are paid pay on it also before their end.
    """

    taken: int
    on_account: int
    person: str = ""
    owes: int = 0
    account: int = 0  # the person's id

    @property
    def balance(self) -> tuple[str, str]:
        """What stands on the account, as sentences for a page and for papers; empty where none was touched."""
        if not self.person:
            return "", ""
        if self.owes:
            return (w.BALANCE_OWED, w.OWES_NOW) if self.owes > 0 else (w.BALANCE_AHEAD, w.PAID_AHEAD)
        return w.BALANCE_EVEN, w.OWES_NOTHING

    @property
    def facts(self) -> dict[str, object]:
        """What the sentences of the balance need."""
        return {"person": self.person, "owes": self.owes, "ahead": -self.owes}


def balance_words(house: House, settled: Settlement) -> str:
    """What stands on the account that was touched, for a page; empty where none was."""
    sentence, _ = settled.balance
    return house.say(sentence, **settled.facts) if sentence else ""


def closed_words(house: House, whole: TicketSnapshot) -> str:
    """What became of a ticket that was closed just now."""
    found, place = settlement(house, whole), place_of(house, whole)
    facts = {"place": place, "paid": found.taken, "amount": found.on_account, "person": found.person}
    phrase = w.CLOSED_PAID if not found.on_account else w.CLOSED_BOTH if found.taken else w.CLOSED_ON_ACCOUNT
    closed = house.say(phrase, owes=found.owes, **facts)
    return closed if found.on_account else f"{closed} {balance_words(house, found)}".strip()


def settlement(house: House, whole: TicketSnapshot, payer: int | None = None) -> Settlement:
    """Of a whole ticket, or of one payer."""
    payments = [one for one in whole.taken if payer is None or one.payer == payer]
    taken, on_account = total(one.given for one in payments if one.tender != Tender.ACCOUNT), whole.on_account(payer)
    if on_account and whole.head.person is not None:
        put = next(one for one in payments if one.tender == Tender.ACCOUNT)
        person = known(house, put.account or whole.head.person)
        return Settlement(taken, on_account, person.name, owed_by(house, person), person.id)
    paid_on = [line for line in whole.standing if line.role is Role.ACCOUNT_PAYMENT and line.account is not None]
    if not paid_on or whole.head.voided_at is not None:
        return Settlement(taken, on_account)
    person = known(house, paid_on[0].account or 0)
    pending = total(one.amount for one in paying(house, person).tickets if _is_paid(house, whole, one.ticket))
    return Settlement(taken, on_account, person.name, rest_of(owed_by(house, person), pending), person.id)


def _is_paid(house: House, whole: TicketSnapshot, ticket: int) -> bool:
    seen = whole if whole.head.id == ticket else load_ticket(house, ticket)
    return not seen.bill.due
