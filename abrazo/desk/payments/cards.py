"""Keyed and stored cards, stored bank accounts: charged through the payment service.

A card's number goes to the service once, for a token, and is nowhere kept: not in the database, the journal, a log or
a page. Brand, last four, expiry and token are.
"""

from __future__ import annotations

import re
from dataclasses import dataclass, field
from datetime import timedelta
from math import ceil

from abrazo.core.codes import is_bank_account, is_card_number
from abrazo.core.errors import Code, Refused
from abrazo.core.hire import last_valid_day
from abrazo.core.journal import Kind, Personal
from abrazo.core.states import Tender, TenderKind
from abrazo.desk.act import acting, done_before, fresh
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.payments import tenders
from abrazo.desk.people.people import known as customer_known
from abrazo.desk.setup.tender_types import offered
from abrazo.desk.tickets.change import OnTicket, changing
from abrazo.devices.ports import DeviceFault, Incomplete, KnownAccount, KnownCard
from abrazo.store import cards, people
from abrazo.store.cards import Card
from abrazo.store.people import Person
from abrazo.words import phrases as w

MOST_TRIES, WITHIN = 8, timedelta(minutes=5)  # keyed cards at one till, right or wrong


@dataclass(frozen=True, slots=True)
class BankAccount:
    """A bank account that somebody lets the house collect from: by `agreed` they said so. Its number is not shown."""

    holder: str
    number: str = field(repr=False)
    agreed: bool = False


@dataclass(frozen=True, slots=True)
class Keyed:
    """A card as it is read out on the phone. Its number and code are in no representation of it."""

    number: str = field(repr=False)
    expiry: str
    code: str = field(repr=False)
    keep: bool = False  # store it for the ticket's person


def charge_keyed(house: House, actor: Actor, on: OnTicket, payer_id: int, keyed: Keyed, sum_: tenders.Sum) -> str:
    """Charge a keyed card through the payment service; gives our reference. Refused beside the field that is wrong."""
    done = done_before(house, on.key, "card", f"ticket {on.id}")
    if done is not None:
        return done
    offered(house, Tender.KEYED_CARD, TenderKind.KEYED)
    _check(house, keyed)
    _limit(house, actor)
    known = _token(house, keyed)
    with changing(house, actor, on, "card") as edit:
        if edit.done is not None:
            return edit.done
        person = edit.whole.head.person if keyed.keep else None
        if keyed.keep and person is None:
            raise Refused(Code.NOBODY_TO_STORE_FOR, "keep")
        facts = (known.token, known.brand, known.last_four, known.expiry, edit.at, actor.staff.id)
        card = cards.add(house.connection, Card(0, person, *facts))
        edit.answer = tenders.add_charge(edit, payer_id, house.devices.service.name, sum_, on.key, card=card)
    return edit.answer


def charge_stored(house: House, actor: Actor, on: OnTicket, payer_id: int, card_id: int, sum_: tenders.Sum) -> str:
    """Charge a stored card or bank account of the ticket's person or household; gives our reference."""
    with changing(house, actor, on, "card") as edit:
        if edit.done is not None:
            return edit.done
        stored = stored_for(house, edit.whole.head.person)
        card = next((card for card, _ in stored if card.id == card_id), None)
        offered(house, tender_of(card) if card else Tender.STORED_CARD, TenderKind.STORED_CARD)
        if card is None:
            raise NotFound(f"no stored card {card_id} for this ticket")
        edit.answer = tenders.add_charge(edit, payer_id, house.devices.service.name, sum_, on.key, card=card_id)
    return edit.answer


def store(house: House, actor: Actor, person_id: int, keyed: Keyed, key: str) -> int:
    """Let the payment service keep a card of somebody's without charging it; gives the card's id."""
    done = done_before(house, key, "stored card", f"person {person_id}")
    if done is not None:
        return int(done)
    person = customer_known(house, person_id)
    _check(house, keyed)
    _limit(house, actor)
    known = _token(house, keyed)
    with acting(house, actor, "stored card", key, f"person {person_id}") as act:
        if act.done is not None:  # pressed twice at once
            return int(act.done)
        facts = (known.token, known.brand, known.last_four, known.expiry, act.at, actor.staff.id)
        card = cards.add(act.connection, Card(0, person_id, *facts))
        name = Personal(person.name)
        act.record(Kind.CARD_STORED, brand=known.brand, last_four=known.last_four, customer=person_id, name=name)
        act.answer = str(card)
    return card


def card_words(house: House, card: Card) -> str:
    """A stored card or bank account, in words."""
    facts = {"last_four": card.last_four}
    return house.say(w.BANK_ENDING, **facts) if card.is_bank else f"{card.brand} ••{card.last_four}"


def tender_of(card: Card) -> Tender:
    """By which tender a card or bank account is charged."""
    return Tender.BANK_ACCOUNT if card.is_bank else Tender.STORED_CARD if card.person else Tender.KEYED_CARD


def store_account(house: House, actor: Actor, person_id: int, account: BankAccount, key: str) -> int:
    """Let the payment service keep a bank account of somebody's; gives its id. Refused beside what is wrong."""
    done = done_before(house, key, "stored account", f"person {person_id}")
    if done is not None:
        return int(done)
    person = customer_known(house, person_id)
    if not account.holder.strip():
        raise Refused(Code.NO_HOLDER, "holder")
    if not is_bank_account(account.number):
        raise Refused(Code.NOT_BANK_ACCOUNT, "account_number")
    if not account.agreed:
        raise Refused(Code.NOT_AGREED, "agreed")
    _limit(house, actor, "account_number")
    kept = _account_kept(house, account)
    with acting(house, actor, "stored account", key, f"person {person_id}") as act:
        if act.done is not None:  # pressed twice at once
            return int(act.done)
        facts = (kept.token, "", kept.last_four, "", act.at, actor.staff.id, None, kept.holder, kept.mandate)
        card = cards.add(act.connection, Card(0, person_id, *facts))
        name = Personal(person.name)
        act.record(Kind.ACCOUNT_STORED, last_four=kept.last_four, mandate=kept.mandate, customer=person_id, name=name)
        act.answer = str(card)
    return card


def _account_kept(house: House, account: BankAccount) -> KnownAccount:
    try:
        return house.devices.service.keep_account(account.holder.strip(), account.number.strip())
    except Incomplete as lack:
        raise Refused(_LACKS.get(lack.where, Code.NOT_BANK_ACCOUNT), lack.where) from None
    except DeviceFault:
        raise Refused(Code.SERVICE_SILENT, "account_number") from None


def stored_for(house: House, person_id: int | None) -> list[tuple[Card, Person]]:
    """Cards and bank accounts stored by a person, then by the others of the household, each with whose it is."""
    person = house.person(person_id) if person_id else None
    if person is None:
        return []
    others = people.household_of(house.connection, person.household) if person.household else []
    owners = [person, *(one for one in others if one.id != person.id)]
    return [(card, owner) for owner in owners for card in cards.of_person(house.connection, owner.id)]


def forget(house: House, actor: Actor, person_id: int, card_id: int) -> None:
    """A stored card is not offered any more."""
    with acting(house, actor, "set-up") as act:
        card = cards.read(act.connection, card_id)
        if card is None or card.person != person_id:
            raise NotFound(f"no card {card_id} of person {person_id}")
        if card.ended_at is None:
            cards.end(act.connection, card_id, act.at)
            name = Personal(customer_known(house, person_id).name)
            if card.is_bank:
                act.record(Kind.ACCOUNT_FORGOTTEN, last_four=card.last_four, customer=person_id, name=name)
            else:
                act.record(
                    Kind.CARD_FORGOTTEN, brand=card.brand, last_four=card.last_four, customer=person_id, name=name
                )


def _check(house: House, keyed: Keyed) -> None:
    """What can be known without the service: check digit (ISO/IEC 7812-1), expiry (ISO/IEC 7813), code."""
    number = re.sub(r"[ -]", "", keyed.number)
    if not number:
        raise Refused(Code.NO_CARD_NUMBER, "number")
    if not is_card_number(number):
        raise Refused(Code.NOT_CARD_NUMBER, "number")
    expiry = re.fullmatch(r"(0[1-9]|1[0-2]) ?/ ?([0-9]{2})", keyed.expiry.strip())
    if not expiry:
        raise Refused(Code.NO_EXPIRY, "expiry")
    if last_valid_day(2000 + int(expiry[2]), int(expiry[1])) < house.now().date():
        raise Refused(Code.CARD_EXPIRED, "expiry")
    if not re.fullmatch(r"[0-9]{3,4}", keyed.code.strip()):
        raise Refused(Code.NO_SECURITY_CODE, "code")


def _limit(house: House, actor: Actor, where: str = "number") -> None:
    """Count the try; refused when there were too many at this till."""
    with fresh(house):
        connection = house.connection
        tried = cards.tries_between(connection, actor.till.id, house.stamp(WITHIN), house.stamp())
        if len(tried) < MOST_TRIES:
            cards.add_try(connection, house.stamp(), actor.till.id, actor.staff.id)
            return
    wait = ceil(WITHIN.total_seconds() - house.since(tried[0]))
    raise Refused(Code.TOO_MANY_CARDS, where, count=MOST_TRIES, minutes=WITHIN.seconds // 60, wait=max(wait, 1))


_LACKS = {"number": Code.SERVICE_NUMBER, "expiry": Code.SERVICE_EXPIRY, "code": Code.SERVICE_CODE}


def _token(house: House, keyed: Keyed, *, again: bool = True) -> KnownCard:
    """What stands for a keyed card from now on; without an answer it is asked for twice, which costs nothing."""
    try:
        number, expiry = re.sub(r"[ -]", "", keyed.number), keyed.expiry.replace(" ", "")
        return house.devices.service.keep_card(number, expiry, keyed.code.strip())
    except Incomplete as lack:
        raise Refused(_LACKS[lack.where], lack.where) from None
    except DeviceFault:
        if again:
            return _token(house, keyed, again=False)
        raise Refused(Code.SERVICE_SILENT, "number") from None
