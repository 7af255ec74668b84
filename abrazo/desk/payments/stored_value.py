"""Stored value: what is on gift cards, vouchers, store credit and points; points earned; what taking back undoes."""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.core.errors import Code, Refused
from abrazo.core.figures import Booked, Figure, FigureKind
from abrazo.core.journal import Kind
from abrazo.core.ledger import STORED, Posting, points_postings
from abrazo.core.loyalty import booked_worth, earning_net, points_earned, points_to_spend, points_worth
from abrazo.core.money import rest_of, total
from abrazo.core.states import Tender
from abrazo.desk.context import House
from abrazo.desk.people.people import known
from abrazo.desk.tickets.change import TicketChange
from abrazo.desk.tickets.snapshot import TicketSnapshot
from abrazo.store import journal, stored_value
from abrazo.store.stored_value import Stored
from abrazo.store.tenders import PaymentRow

GIFT_CARD, VOUCHER, CREDIT, POINTS = Tender.GIFT_CARD, Tender.VOUCHER, Tender.STORE_CREDIT, Tender.POINTS


@dataclass(frozen=True, slots=True)
class Value:
    """What somebody can spend: `worth` in minor units; `points` when it is points."""

    name: str
    worth: int
    stored: int | None = None
    points: int = 0


# ---- what can be spent


def find_value(house: House, kind: str, code: str) -> Value:
    """What is on a gift card or voucher; refused when there is none, or nothing is left on it."""
    plain = "".join(code.split())
    card = stored_value.by_code(house.connection, plain) if plain else None
    if card is None or card.kind != kind:
        raise Refused(Code.NO_SUCH_STORED if plain else Code.WHICH_STORED, "reference", kind=kind, number=plain[:20])
    worth = stored_value.balance(house.connection, card.id)
    if kind == VOUCHER and stored_value.is_spent(house.connection, card.id):
        raise Refused(Code.VOUCHER_USED, "reference", plain=plain)
    if worth <= 0:
        raise Refused(Code.STORED_EMPTY, "reference", kind=kind, plain=plain, worth=worth)
    return Value(f"{kind} ending {card.ending}", worth, card.id)


def credit_of(house: House, person: int | None) -> Value | None:
    """Somebody's store credit, when there is any."""
    one = stored_value.credit_of(house.connection, person) if person else None
    worth = stored_value.balance(house.connection, one.id) if one else 0
    return Value(Tender.STORE_CREDIT, worth, one.id) if one and worth > 0 else None


def points_value(house: House, person: int | None, most: int) -> Value | None:
    """The points that somebody can spend on at most so much, in whole lots; None when there is not one lot."""
    if person is None:
        return None
    lot, value = house.settings.points_lot, house.settings.points_value
    points = points_to_spend(stored_value.points_of(house.connection, person), lot, value, most)
    return Value(POINTS, points_worth(points, lot, value), None, points) if points > 0 else None


def lapse(edit: TicketChange, kind: str, rest: int) -> None:
    """What a voucher is worth beyond the bill is not given back: it counts once."""
    if kind == VOUCHER and rest:
        edit.wrote(Kind.VOUCHER_LAPSED, lapsed(rest), amount=rest)


def lapsed(rest: int) -> Booked:
    """The unused rest of a voucher becomes the house's; negative when it is given back."""
    postings = (Posting(STORED[VOUCHER], rest), Posting("income:vouchers-lapsed", -rest))
    return Booked(postings, (Figure(FigureKind.STORED, "expired", VOUCHER, 1 if rest > 0 else -1, rest),))


def given_back(edit: TicketChange, payment: PaymentRow) -> None:
    """What spending also did is turned round when the payment is taken back."""
    connection = edit.house.connection
    if payment.tender == VOUCHER and payment.stored:
        rest = rest_of(
            stored_value.balance(connection, payment.stored), payment.given
        )  # the payment itself is back already
        if rest:
            edit.wrote(Kind.VOUCHER_COUNTS, lapsed(-rest), amount=rest)
    points = -stored_value.points_of_payment(connection, payment.id)
    if points and edit.whole.head.person:
        stored_value.add_points(connection, edit.whole.head.person, edit.id, payment.id, points, edit.at)
    if payment.credit and payment.stored and stored_value.balance(connection, payment.stored) < 0:
        raise Refused(Code.CREDIT_SPENT)


def credit_for(edit: TicketChange, person: int) -> int:
    """The store credit of somebody, made when there is none; gives its id."""
    one = stored_value.credit_of(edit.house.connection, person)
    facts = (CREDIT, None, person, edit.at, edit.actor.staff.id)
    return one.id if one else stored_value.add(edit.house.connection, Stored(0, *facts))


# ---- earning


def earn(edit: TicketChange) -> None:
    """A closing ticket earns points for its person: on what was sold and not paid with points."""
    whole, person = edit.whole, edit.whole.head.person
    if person is None or known(edit.house, person).company:
        return
    points = rest_of(points_for(edit.house, whole), stored_value.earned_on(edit.house.connection, edit.id, person))
    _earned(edit, person, points)


def unearn(edit: TicketChange) -> None:
    """A ticket that is opened again has earned nothing yet."""
    person = edit.whole.head.person
    if person is not None:
        points = stored_value.earned_on(edit.house.connection, edit.id, person)
        _earned(edit, person, -points)


def _earned(edit: TicketChange, person: int, points: int) -> None:
    if points:
        stored_value.add_points(edit.house.connection, person, edit.id, None, points, edit.at)
        worth = booked_worth(points, edit.house.settings.points_lot, edit.house.settings.points_value)
        kind = Kind.POINTS_EARNED if points > 0 else Kind.POINTS_TAKEN_BACK
        figures = (Figure(FigureKind.POINTS, "earned", "", points, worth),)
        edit.wrote(kind, Booked(points_postings(worth), figures), points=abs(points), customer=person)


def earn_on_rest(edit: TicketChange, gone: int, back: int) -> None:
    """After a refund a ticket has earned on what is left of it: `gone` of its sales went back, `back` to points.

    A balance may fall below 0 by it, and is then not spent.
    """
    whole, person = edit.whole, edit.whole.head.person
    if person is not None:
        earned = stored_value.earned_on(edit.house.connection, edit.id, person)
        points = rest_of(points_for(edit.house, whole, gone, back), earned)
        if points < 0 < earned:
            _earned(edit, person, points)


def points_on(house: House, whole: TicketSnapshot) -> int:
    """What a ticket earns its person when it is closed as it stands; nothing for companies, and for nobody."""
    person = whole.head.person
    return 0 if person is None or known(house, person).company else points_for(house, whole)


def points_for(house: House, whole: TicketSnapshot, gone: int = 0, back: int = 0) -> int:
    """What a ticket earns as it stands; minor units of its sales that went back, and of its points, left out."""
    sales = {str(line.id) for line in whole.standing if line.sells}
    sold = total(line.net for line in whole.bill.lines if line.id in sales)
    spent = total(payment.given for payment in whole.taken if payment.tender == POINTS)
    return points_earned(earning_net(rest_of(sold, gone), rest_of(spent, back)), house.settings.points_per)


def owed_in_all(house: House, kind: str) -> int:
    """What the house owes by the books to all holders of a kind, in minor units."""
    return -journal.balance(house.connection, STORED[kind])
