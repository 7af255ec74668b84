"""What is stored for a person: cards, store credit, points; and what is on a gift card or voucher."""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.core.loyalty import points_worth
from abrazo.core.states import Tender
from abrazo.desk.context import House
from abrazo.desk.payments.stored_value import CREDIT
from abrazo.desk.people.people import known
from abrazo.store import cards, stored_value
from abrazo.store.cards import Card


@dataclass(frozen=True, slots=True)
class OfPerson:
    """Cards and bank accounts that the service knows, store credit in minor units, points and what they are worth."""

    cards: list[Card]
    banks: list[Card]
    credit: int
    points: int
    worth: int


def of_person(house: House, person: int) -> OfPerson:
    """Everything that is stored for somebody."""
    credit = stored_value.credit_of(house.connection, person)
    company, settings = known(house, person).company, house.settings  # which earns none
    points = 0 if company else stored_value.points_of(house.connection, person)
    worth = points_worth(points, settings.points_lot, settings.points_value)
    on_credit = stored_value.balance(house.connection, credit.id) if credit else 0
    stored = cards.of_person(house.connection, person)
    both = [one for one in stored if not one.is_bank], [one for one in stored if one.is_bank]
    return OfPerson(*both, on_credit, points, worth)


@dataclass(frozen=True, slots=True)
class OnCard:
    """A gift card or voucher: what is on it, and what was done with it (when, what, ticket number, minor units)."""

    kind: str
    code: str
    balance: int
    used: bool
    moves: list[tuple[str, str, int | None, int]]


def on_card(house: House, code: str) -> OnCard | None:
    """A gift card or voucher by its number; None when it is none of ours."""
    card = stored_value.by_code(house.connection, code.strip())
    if card is None or card.kind == CREDIT:
        return None
    used = stored_value.is_spent(house.connection, card.id)
    balance = 0 if card.kind == Tender.VOUCHER and used else stored_value.balance(house.connection, card.id)
    return OnCard(card.kind, card.code or "", balance, used, stored_value.moves(house.connection, card.id))
