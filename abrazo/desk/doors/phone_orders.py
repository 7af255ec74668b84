"""An order by phone: a ticket with named guests, a promised time, and a fee for bringing it."""

from __future__ import annotations

import re
from dataclasses import dataclass, replace
from datetime import datetime, timedelta

from abrazo.core.errors import Code, Refused, chosen
from abrazo.core.journal import Kind, Personal
from abrazo.core.moments import wall_text
from abrazo.core.states import OrderWay, Share, Source
from abrazo.desk.context import Actor, House
from abrazo.desk.people.people import recognised
from abrazo.desk.tickets.change import OnTicket, TicketChange, changing
from abrazo.desk.tickets.counter_lock import check_free
from abrazo.desk.tickets.snapshot import TicketSnapshot
from abrazo.desk.tickets.starting import MOST_GUESTS, Beginning, TicketOrigin, opening_at, read_name
from abrazo.formats.phone import read_phone, shown
from abrazo.store import charges as charges_kept
from abrazo.store import phone_orders
from abrazo.store import ticket as ticket_store
from abrazo.store.charges import ChargeRow
from abrazo.store.phone_orders import PhoneOrder
from abrazo.words import phrases as w

LONGEST = 200  # of an address, and of directions
PROMISED_IN = timedelta(minutes=30)  # unless said otherwise


@dataclass(frozen=True, slots=True)
class OrderForm:
    """What was said on the phone, as typed; `guests` are names divided by commas, `promised` a time of today."""

    name: str
    way: str = OrderWay.PICK_UP
    guests: str = ""
    phone: str = ""
    address: str = ""
    directions: str = ""
    promised: str = ""
    fee: int = 0
    person: int | None = None


@dataclass(frozen=True, slots=True)
class NewOrder:
    """An order for named guests, wanted at a wall time; `fee` in minor units is shared evenly among them."""

    name: str
    guests: tuple[str, ...]
    promised_at: str
    fee: int = 0
    how: PhoneOrder | None = None
    person: int | None = None


def take_order(house: House, actor: Actor, order: NewOrder, key: str) -> int:
    """Open an order; gives its ticket."""
    door = TicketOrigin(Source.PHONE, order.person, order.name, order.guests)
    with opening_at(house, actor, door, Beginning(Kind.PHONE_ORDER, name=Personal(order.name)), key, "ordered") as edit:
        if edit.done is None:
            _wanted(edit, order)
        return edit.id


def _wanted(edit: TicketChange, order: NewOrder) -> None:
    """When a ticket's order is wanted, how it reaches its people, and what that costs."""
    house = edit.house
    ticket_store.set_promised(house.connection, edit.id, order.promised_at)
    how = order.how or PhoneOrder(OrderWay.DELIVERY if order.fee else OrderWay.PICK_UP)
    phone_orders.add(house.connection, edit.id, how)
    if order.fee:
        charge = ChargeRow(0, house.say(w.DELIVERY), "0", house.settings.delivery_tax, Share.EVEN, order.fee)
        charges_kept.add_charge(house.connection, edit.id, charge)


def may_become_order(whole: TicketSnapshot) -> bool:
    """Whether a ticket can still become an order: a counter sale of which nothing is paid."""
    return whole.head.source == Source.COUNTER and not whole.taken


def become_order(house: House, actor: Actor, on: OnTicket, form: OrderForm) -> None:
    """A counter sale becomes an order that is fetched or brought later; what was picked stays on it."""
    check_free(house, actor)
    order = read_order(house, form)
    with changing(house, actor, on, "ordered") as edit:
        if edit.done is None:
            if not may_become_order(edit.whole):
                raise Refused(Code.NO_ORDER_OF_IT)
            ticket_store.set_who(house.connection, on.id, order.person or edit.whole.head.person, order.name)
            ticket_store.set_spot(house.connection, on.id, None, Source.PHONE)
            ticket_store.set_held(house.connection, on.id, None)
            _wanted(edit, order)
            edit.wrote(Kind.BECAME_ORDER, name=Personal(order.name))


def take_order_as_said(house: House, actor: Actor, form: OrderForm, key: str) -> int:
    """The same as `take_order` from what was typed."""
    return take_order(house, actor, read_order(house, form), key)


def read_order(house: House, form: OrderForm) -> NewOrder:
    """An order as typed. What is missing is named beside its field; a delivery needs phone and address."""
    name = read_name(form.name)
    way = chosen(OrderWay, form.way, Code.NO_WAY_TO_DELIVER, "way")
    brought = way == OrderWay.DELIVERY
    if brought and not form.phone.strip():
        raise Refused(Code.DELIVERY_NEEDS_PHONE, "phone")
    phone = read_phone(form.phone, house.settings.region, "phone") if form.phone.strip() else ""
    address, directions = " ".join(form.address.split()), " ".join(form.directions.split())
    if brought and not address:
        raise Refused(Code.DELIVERY_NEEDS_ADDRESS, "address")
    if brought and form.fee < 0:
        raise Refused(Code.NEGATIVE_FEE, "fee")
    for text, where in ((address, "address"), (directions, "directions")):
        if len(text) > LONGEST:
            raise Refused(Code.TOO_LONG, where, most=LONGEST, count=len(text))
    how = PhoneOrder(way, phone, address, directions)
    known = recognised(house, name, phone) if form.person is None else None
    person = known.id if known else form.person
    if known and not any(map(str.isalpha, name)):
        name = known.name  # only a number was typed
    guests, promised = _guests(form.guests) or (name,), _promised(house, form.promised)
    return NewOrder(name, guests, promised, form.fee if brought else 0, how, person)


def _guests(typed: str) -> tuple[str, ...]:
    names = tuple(" ".join(part.split()) for part in typed.split(",") if part.strip())
    if len(names) > MOST_GUESTS:
        raise Refused(Code.TOO_MANY_GUESTS, "guests", most=MOST_GUESTS, count=len(names))
    try:
        return tuple(read_name(one) for one in names)
    except Refused as refusal:
        raise refusal.at("guests") from None


def _promised(house: House, typed: str) -> str:
    """A time of today, or of tomorrow when it has passed."""
    now = house.now()
    if not typed.strip():
        return wall_text(now + PROMISED_IN)
    found = re.fullmatch(r"([01]?[0-9]|2[0-3])[:.]?([0-5][0-9])", typed.strip())
    if not found:
        raise Refused(Code.NOT_PROMISED_TIME, "promised", typed=typed.strip())
    at = datetime.combine(now.date(), datetime.min.time()).replace(hour=int(found[1]), minute=int(found[2]))
    return wall_text(at if at >= now - timedelta(minutes=1) else at + timedelta(days=1))


def order_of(house: House, ticket: int) -> PhoneOrder | None:
    """How an order by phone reaches its people, the phone as people write it; None when the ticket is no such order."""
    order = phone_orders.read(house.connection, ticket)
    return replace(order, phone=shown(order.phone, house.settings.region)) if order and order.phone else order
