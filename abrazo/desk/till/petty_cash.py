"""Money that goes without a sale: paid out of a drawer, paid in, spent outside, to the bank or the safe.

Rules here
- paid out above the house's limit by right; never more than the drawer holds, and how much that is is not said
- it can be taken back on the same day, once; goods that it bought for the shelves are counted in, and out again
"""

from __future__ import annotations

from dataclasses import dataclass, replace

from abrazo.core.errors import Code, Refused, chosen
from abrazo.core.figures import Booked, Figure, FigureKind, minus
from abrazo.core.journal import Kind, Personal
from abrazo.core.ledger import banked_postings, petty_postings, turned
from abrazo.core.states import Direction, GoodsMove
from abrazo.core.till import expected_cash
from abrazo.desk.act import Act, acting
from abrazo.desk.context import Actor, House
from abrazo.desk.permissions import Right, need
from abrazo.desk.stock.stock import on_shelves, read_pieces, write_move
from abrazo.desk.till import drawer
from abrazo.desk.till.views.till import drawer_of
from abrazo.store import stock, till
from abrazo.store.stock import StockMove
from abrazo.store.till import Banked, Petty

LONGEST = 80


@dataclass(frozen=True, slots=True)
class MovedCash:
    """Money that goes without a sale: `out`, `in` or `outside` of the drawer, minor units, a category and a note.

    `item` and `pieces`: goods for the shelves that it bought, or (in) that went back for it; pieces as decimal text.
    """

    direction: str
    amount: int
    category: str
    note: str = ""
    item: str = ""
    pieces: str = ""


def move_cash(house: House, actor: Actor, moved: MovedCash, key: str) -> None:
    """Pay money out of the drawer, or in, or write down what was spent outside; with a category and a note."""
    category, note, amount = " ".join(moved.category.split()), " ".join(moved.note.split()), moved.amount
    way = chosen(Direction, moved.direction, Code.NO_DIRECTION, "direction")
    if amount <= 0:
        raise Refused(Code.NO_AMOUNT, "amount")
    if category not in till.petty_categories(house.connection):
        raise Refused(Code.NO_CATEGORY, "category")
    if len(note) > LONGEST:
        raise Refused(Code.WORDS_TOO_LONG, "note", most=LONGEST)
    goods = _goods(house, moved)
    with acting(house, actor, "petty", key) as act:
        if act.done is not None:
            return
        by = None if way is Direction.IN else _may_spend(act, amount)
        if way is Direction.OUT:
            must_be_there(house, actor.till.id, amount)
        petty = Petty(actor.till.id, actor.staff.id, act.at, way, category, note, amount)
        _through_drawer(house, actor.till.id, way, amount)
        row = till.add_petty(act.connection, act.day, petty)
        booked = Booked(
            petty_postings(actor.till.id, category, amount, way), (Figure(FigureKind.PETTY, way, category, 1, amount),)
        )
        said = Personal(note) if note else None
        act.record(KINDS[way], None, booked, amount=amount, category=Personal(category), note=said, lender=by)
        if goods:
            came = goods if way is not Direction.IN else f"-{goods}"
            why = GoodsMove.TAKEN_BACK if way is Direction.IN else GoodsMove.BOUGHT
            who = (actor.staff.id, actor.till.id)
            write_move(house, StockMove(moved.item, act.at, came, why, None, row, *who), act.record)


KINDS = {Direction.OUT: Kind.PAID_OUT, Direction.IN: Kind.PAID_IN, Direction.OUTSIDE: Kind.SPENT_OUTSIDE}


def _goods(house: House, moved: MovedCash) -> str:
    """How many pieces of goods move with the money, as decimal text; empty without any."""
    if not moved.item and not moved.pieces.strip():
        return ""
    if not moved.item or not on_shelves(house, [moved.item]):
        raise Refused(Code.NO_GOODS, "item")
    return read_pieces(house, moved.item, moved.pieces)


def _through_drawer(house: House, till_id: str, way: Direction, amount: int) -> None:
    if way is not Direction.OUTSIDE:
        drawer.moved(house, till_id, *((0, amount) if way is Direction.OUT else (amount, 0)))


def _may_spend(act: Act, amount: int) -> str | None:
    """Above the house's limit by right: whose, when it was lent."""
    return need(act.actor, Right.PAY_OUT_LARGE) if amount > act.house.settings.pay_out_limit else None


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


OTHER_WAY = {Direction.OUT: Direction.IN, Direction.IN: Direction.OUT, Direction.OUTSIDE: Direction.OUTSIDE}


def _turn_round(act: Act, row: Petty) -> None:
    who, other = (act.actor.staff.id, row.till), OTHER_WAY[row.direction]
    back = Petty(row.till, who[0], act.at, other, row.category, row.note, row.amount, takes_back=row.id)
    _through_drawer(act.house, row.till, other, row.amount)
    till.add_petty(act.connection, act.day, back)
    posted = turned(petty_postings(row.till, row.category, row.amount, row.direction))
    (figure,) = minus([Figure(FigureKind.PETTY, row.direction, row.category, 1, row.amount)])
    booked, category = Booked(posted, (figure,)), Personal(row.category)
    act.record(Kind.PETTY_BACK, None, booked, amount=row.amount, category=category)
    for moved in stock.moves_of_petty(act.connection, row.id):
        other_way = moved.quantity.removeprefix("-") if moved.quantity.startswith("-") else f"-{moved.quantity}"
        write_move(act.house, replace(moved, at=act.at, quantity=other_way, why=GoodsMove.TAKEN_BACK,
                                      petty=None, staff=who[0]), act.record)  # fmt: skip


def bank_cash(house: House, actor: Actor, amount: int, key: str) -> None:
    """Cash of this till's drawer goes to the bank or the safe, minor units; at any hour of the open day."""
    if amount <= 0:
        raise Refused(Code.NO_AMOUNT, "amount")
    with acting(house, actor, "banked", key) as act:
        if act.done is not None:
            return
        by = _may_spend(act, amount)
        must_be_there(house, actor.till.id, amount)
        drawer.moved(house, actor.till.id, 0, amount)
        till.add_banked(act.connection, act.day, Banked(actor.till.id, actor.staff.id, act.at, amount, False))
        booked = Booked(banked_postings(actor.till.id, amount))
        act.record(Kind.BANKED, None, booked, of_till=actor.till.id, amount=amount, lender=by)
