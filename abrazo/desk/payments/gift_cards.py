"""Selling gift cards and vouchers, topping them up, and spending stored value.

A card or voucher is sold as a line and counts from the closing of its ticket on. Its value is owed to whoever holds it
(a liability) until it is spent; VAT is due on what it is spent on (multi-purpose vouchers, Directive 2006/112/EC,
article 30b, from memory).
"""

from __future__ import annotations

import secrets
from dataclasses import dataclass

from abrazo.core.codes import gs1_check_digit
from abrazo.core.errors import Code, Refused, chosen
from abrazo.core.ledger import Role
from abrazo.core.money import rest_of
from abrazo.core.states import TenderKind
from abrazo.core.tenders import spent_of
from abrazo.desk.context import Actor, House
from abrazo.desk.payments import tenders
from abrazo.desk.payments.stored_value import (
    CREDIT,
    GIFT_CARD,
    POINTS,
    VOUCHER,
    Value,
    credit_for,
    credit_of,
    find_value,
    lapse,
    points_value,
)
from abrazo.desk.people.people import known
from abrazo.desk.setup import tender_types
from abrazo.desk.tickets.change import OnTicket, TicketChange, changing
from abrazo.desk.tickets.ticket_lines import UNLISTED, put_on
from abrazo.store import stored_value
from abrazo.store.lines import LineRow
from abrazo.store.stored_value import Stored
from abrazo.words import phrases as w

PREFIX = "28"  # GS1 General Specifications: 20 to 29 for use inside a company
LARGEST = 100_000  # minor units that are put on one card at a time; a house's caution


def sell(house: House, actor: Actor, on: OnTicket, kind: str, amount: int, code: str) -> None:
    """Put a gift card or voucher on the ticket; with the code of a gift card that exists it is topped up."""
    if kind not in (GIFT_CARD, VOUCHER, CREDIT):
        raise Refused(Code.NO_STORED_KIND, "stored")
    if not 0 < amount <= LARGEST:
        raise Refused(Code.STORED_AMOUNT, "stored", most=LARGEST)
    with changing(house, actor, on, "line added") as edit:
        if edit.done is not None:
            return
        if kind == CREDIT:
            number, label = _credit(edit)
        else:
            card = _topped_up(house, code) if code.strip() else _new(edit, kind)
            number, label = card.id, house.say(_label(kind, topped_up=bool(code.strip())), code=card.code)
        facts = (UNLISTED, label, amount, "1", None, "", actor.staff.id, "", edit.at, None, None)
        put_on(edit, LineRow(0, *facts, stored=number, role=Role(kind)))


def _label(kind: str, *, topped_up: bool) -> str:
    if kind == VOUCHER:
        return w.VOUCHER_NEW
    return w.GIFT_CARD_TOPPED_UP if topped_up else w.GIFT_CARD_NEW


def _credit(edit: TicketChange) -> tuple[int, str]:
    """The store credit of the ticket's person, and the words of its line."""
    person = edit.whole.head.person
    if person is None:
        raise Refused(Code.NOBODY_FOR_CREDIT, "stored")
    return credit_for(edit, person), edit.house.say(w.CREDIT_LINE, name=known(edit.house, person).name)


def _topped_up(house: House, code: str) -> Stored:
    card = stored_value.by_code(house.connection, code.strip())
    if card is None or card.kind != GIFT_CARD:
        raise Refused(Code.NO_GIFT_CARD, "code", code=code.strip())
    return card


def _new(edit: TicketChange, kind: str) -> Stored:
    """A new number, by chance so that nobody can guess one, with a check digit so that typing slips show."""
    digits = f"{PREFIX}{secrets.randbelow(10**10):010d}"
    code = f"{digits}{gs1_check_digit(digits)}"
    made = stored_value.add(edit.house.connection, Stored(0, kind, code, None, edit.at, edit.actor.staff.id))
    return Stored(made, kind, code, None, edit.at, edit.actor.staff.id)


@dataclass(frozen=True, slots=True)
class Spending:
    """Stored value to be used: its kind, at most so many minor units, and the number of a gift card or voucher."""

    kind: str
    amount: int
    code: str = ""


def spend(house: House, actor: Actor, on: OnTicket, payer_id: int, spending: Spending) -> int:
    """Pay with a gift card, voucher, store credit or points: at most what is on it. Gives the payment's id."""
    kind = spending.kind
    tender_types.offered(house, kind, chosen(TenderKind, kind, Code.TENDER_OFF))
    with changing(house, actor, on, kind) as edit:
        if edit.done is not None:
            return int(edit.done)
        tenders.may_pay(edit.whole, payer_id)
        value = _value(edit, payer_id, spending)
        taken = value.worth if kind == POINTS else spent_of(value.worth, spending.amount)[0]
        parts = tenders.cut(edit.whole, payer_id, taken)
        route = f"{value.points} points" if kind == POINTS else value.name
        payment = tenders.keep(edit, payer_id, parts, tenders.PaidBy(kind, route, stored=value.stored))
        lapse(edit, kind, rest_of(value.worth, parts.given))
        if kind == POINTS and edit.whole.head.person:
            stored_value.add_points(house.connection, edit.whole.head.person, edit.id, payment, -value.points, edit.at)
        edit.answer = str(payment)
        return payment


def _value(edit: TicketChange, payer_id: int, spending: Spending) -> Value:
    house, person, kind = edit.house, edit.whole.head.person, spending.kind
    if kind in (GIFT_CARD, VOUCHER):
        return find_value(house, kind, spending.code)
    if person is None:
        raise Refused(Code.NOBODY_FOR_VALUE, "reference", kind=kind)
    due = edit.whole.payer_bill(payer_id).account.due
    value = (
        credit_of(house, person) if kind == CREDIT else points_value(house, person, spent_of(due, spending.amount)[0])
    )
    if value is None:
        raise Refused(Code.NO_VALUE, "reference", name=known(house, person).name, kind=kind)
    return value
