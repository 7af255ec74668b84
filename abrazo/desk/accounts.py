"""Accounts: what is left unpaid becomes a receivable of a person, and is paid later by a ticket of its own."""

from __future__ import annotations

from abrazo.core.errors import Refused
from abrazo.core.ledger import ON_ACCOUNT, line_account, money_account, taken_postings
from abrazo.desk.edit import editing
from abrazo.desk.house import Actor, House
from abrazo.desk.people import known
from abrazo.desk.tender_list import offered
from abrazo.desk.tenders import cut, may_pay
from abrazo.desk.ticket import UNLISTED, Door, opening_at, put_on
from abrazo.store import journal, tenders
from abrazo.store.people import Person
from abrazo.store.tenders import KeptPayment
from abrazo.store.ticket import KeptLine


def account_name(person: Person) -> str:
    """What somebody's account is known by in the books; names repeat, so it is the number."""
    return f"person {person.id}"


def owed_by(house: House, person: Person) -> int:
    """What somebody owes on account, in minor units; negative when they have paid ahead."""
    return journal.balance(house.connection, line_account(f"{ON_ACCOUNT}{account_name(person)}"))


def put_on_account(
    house: House, actor: Actor, ticket_id: int, version: int, payer_id: int, amount: int, key: str
) -> int:
    """Leave a payer's sum unpaid on the account of the ticket's person; gives the payment's id."""
    with editing(house, actor, ticket_id, version, key=key, kind="on account") as edit:
        if edit.done is not None:
            return int(edit.done)
        offered(house, "account", "account")
        if edit.whole.head.person is None:
            raise Refused("nobody", "A ticket without a person cannot be left unpaid.")
        person = known(house, edit.whole.head.person)
        if not person.company:
            raise Refused("no_account", f"{person.name} has no account here; only companies have one so far.")
        may_pay(edit.whole, payer_id)
        parts = cut(edit.whole, payer_id, amount, cash=False)
        who, till, route = actor.staff.id, actor.till.id, f"account of {person.name}"
        text = house.settings.currency.text(parts.given)
        postings = taken_postings(money_account("account", account_name(person)), parts.given)
        edit.wrote("payment", f"{text} put on the {route}", postings)
        payment = KeptPayment(0, edit.id, payer_id, edit.day, till, who, edit.at, "account", route, parts.amount,
                              parts.tip, None, None, None, None, None)  # fmt: skip
        made = tenders.add_payment(house.connection, payment)
        edit.answer = str(made)
        return made


def receive(house: House, actor: Actor, person_id: int, amount: int, key: str) -> int:
    """A ticket on which somebody pays what they owe, or a part of it; gives its id."""
    person = known(house, person_id)
    if amount <= 0:
        raise Refused("amount", "How much? More than 0.", "account")
    door = Door("counter", person.id, person.name, (person.name,))
    with opening_at(house, actor, door, f"{person.name} pays on account", key, "on account") as edit:
        if edit.done is None:
            group = f"{ON_ACCOUNT}{account_name(person)}"
            label = f"Payment on account, {person.name}"
            facts = (UNLISTED, label, amount, "1", None, group, actor.staff.id, "", edit.at, None, None)
            put_on(edit, KeptLine(0, *facts))
        return edit.id
