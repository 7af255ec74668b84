"""Cash that goes through the drawer without a sale: paid out, paid in, to the bank or the safe.

Rules here
- paid out above the house's limit by right; never more than the drawer holds, and how much that is is not said
- it can be taken back on the same day
"""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.core.errors import Code, Refused, chosen
from abrazo.core.figures import Booked, Figure, FigureKind, minus
from abrazo.core.journal import Kind, Personal
from abrazo.core.ledger import banked_postings, petty_postings, turned
from abrazo.core.states import Direction
from abrazo.core.till import expected_cash
from abrazo.desk.act import Act, acting
from abrazo.desk.context import Actor, House
from abrazo.desk.permissions import Right, need
from abrazo.desk.till import drawer
from abrazo.desk.till.views.till import drawer_of
from abrazo.store import till
from abrazo.store.till import Banked, Petty

LONGEST = 80


@dataclass(frozen=True, slots=True)
class MovedCash:
    """Cash that is paid out of a drawer or in: `out` or `in`, minor units, a category and a note."""

    direction: str
    amount: int
    category: str
    note: str = ""


def move_cash(house: House, actor: Actor, moved: MovedCash, key: str) -> None:
    """Pay money out of the drawer, or in; with a category and a note."""
    category, note, amount = " ".join(moved.category.split()), " ".join(moved.note.split()), moved.amount
    way = chosen(Direction, moved.direction, Code.NO_DIRECTION, "direction")
    if amount <= 0:
        raise Refused(Code.NO_AMOUNT, "amount")
    if category not in till.petty_categories(house.connection):
        raise Refused(Code.NO_CATEGORY, "category")
    if len(note) > LONGEST:
        raise Refused(Code.WORDS_TOO_LONG, "note", most=LONGEST)
    with acting(house, actor, "petty", key) as act:
        if act.done is not None:
            return
        by = _may_go_out(act, amount) if way == Direction.OUT else None
        day, at = act.day, act.at
        petty = Petty(actor.till.id, actor.staff.id, at, way, category, note, amount)
        drawer.moved(house, actor.till.id, *((0, amount) if way == Direction.OUT else (amount, 0)))
        till.add_petty(act.connection, day, petty)
        signed = amount if way == Direction.OUT else -amount
        act.record(
            Kind.PAID_OUT if way == Direction.OUT else Kind.PAID_IN,
            None,
            Booked(
                petty_postings(actor.till.id, category, signed), (Figure(FigureKind.PETTY, way, category, 1, amount),)
            ),
            amount=amount,
            category=Personal(category),
            note=Personal(note) if note else None,
            lender=by,
        )


def _may_go_out(act: Act, amount: int) -> str | None:
    """Above the house's limit by right: whose, when it was lent. Never more than the drawer holds, nor is that said."""
    house, till_id = act.house, act.actor.till.id
    by = need(act.actor, Right.PAY_OUT_LARGE) if amount > house.settings.pay_out_limit else None
    must_be_there(house, till_id, amount)
    return by


def must_be_there(house: House, till_id: str, amount: int) -> None:
    """Refused when a drawer cannot hold so much; how much it holds is not said."""
    if amount > expected_cash(drawer_of(house, house.day().id, till_id)):
        raise Refused(Code.MORE_THAN_DRAWER, "amount")


def take_back(house: House, actor: Actor, petty: int, key: str) -> None:
    """What was paid out of this till's drawer today, or in, goes back; the row stays, another turns it round."""
    with acting(house, actor, "petty back", key, str(petty)) as act:
        if act.done is not None:
            return
        here = [one for one in till.petty_on(act.connection, act.day) if one.till == actor.till.id]
        row = next((one for one in here if one.id == petty and not one.takes_back and one.deposit is None), None)
        if row is None:
            raise Refused(Code.NO_SUCH_PETTY, "petty")
        if any(one.takes_back == petty for one in here):
            raise Refused(Code.TAKEN_BACK, "petty")
        if row.direction == Direction.IN:
            must_be_there(house, actor.till.id, row.amount)
        _turn_round(act, row)


def _turn_round(act: Act, row: Petty) -> None:
    out, by = row.direction == Direction.OUT, act.actor.staff.id
    other = Direction.IN if out else Direction.OUT
    back = Petty(row.till, by, act.at, other, row.category, row.note, row.amount, takes_back=row.id)
    drawer.moved(act.house, row.till, *((row.amount, 0) if out else (0, row.amount)))
    till.add_petty(act.connection, act.day, back)
    posted = turned(petty_postings(row.till, row.category, row.amount if out else -row.amount))
    (figure,) = minus([Figure(FigureKind.PETTY, row.direction, row.category, 1, row.amount)])
    booked, category = Booked(posted, (figure,)), Personal(row.category)
    act.record(Kind.PETTY_BACK, None, booked, amount=row.amount, category=category)


def bank_cash(house: House, actor: Actor, amount: int, key: str) -> None:
    """Cash of this till's drawer goes to the bank or the safe, minor units; at any hour of the open day."""
    if amount <= 0:
        raise Refused(Code.NO_AMOUNT, "amount")
    with acting(house, actor, "banked", key) as act:
        if act.done is not None:
            return
        by = _may_go_out(act, amount)
        drawer.moved(house, actor.till.id, 0, amount)
        till.add_banked(act.connection, act.day, Banked(actor.till.id, actor.staff.id, act.at, amount, False))
        booked = Booked(banked_postings(actor.till.id, amount))
        act.record(Kind.BANKED, None, booked, of_till=actor.till.id, amount=amount, lender=by)
