"""The drawer and the day: paid in and out, counting, closing, opening.

The expected cash shows only after a count. A day is closed by a supervisor, when every drawer that moved is counted, no
ticket is open and no card machine owes an answer.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from abrazo.core.errors import Code, Refused, chosen
from abrazo.core.figures import Booked, Figure, FigureKind
from abrazo.core.journal import Kind, Personal
from abrazo.core.ledger import over_short_postings, petty_postings
from abrazo.core.states import Direction
from abrazo.core.till import expected_cash, worth_of
from abrazo.desk.act import Act, acting
from abrazo.desk.context import Actor, House
from abrazo.desk.permissions import Right, need
from abrazo.desk.till import drawer
from abrazo.desk.till.views.day_figures import figures_so_far
from abrazo.desk.till.views.till import counts_of, drawer_of
from abrazo.formats.sealed_report import sealed_text
from abrazo.store import figures, journal, tenders, till
from abrazo.store import ticket as ticket_store
from abrazo.store.till import Count, Petty

LONGEST = 80
MOST_PIECES = 9999


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
    if not category:
        raise Refused(Code.NO_CATEGORY, "category")
    if len(category) > LONGEST or len(note) > LONGEST:
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
    day = house.day()
    if amount > expected_cash(drawer_of(house, day.id, till_id, day.floats.get(till_id, 0))):
        raise Refused(Code.MORE_THAN_DRAWER, "amount")
    return by


def pieces_total(pieces: Mapping[int, int]) -> int:
    """What counted pieces come to, in minor units."""
    if any(not 0 <= number <= MOST_PIECES for number in pieces.values()):
        raise Refused(Code.PIECES_RANGE, "pieces", most=MOST_PIECES)
    return worth_of(pieces)


def counted_sum(pieces: Mapping[int, int], total: int | None) -> int | None:
    """What was counted, by piece or as a total, in minor units; None when nothing was entered.

    Refused when both were and they disagree.
    """
    by_piece = pieces_total(pieces) if any(pieces.values()) else None
    if None not in (by_piece, total) and by_piece != total:
        raise Refused(Code.COUNT_DISAGREES, "total", pieces=by_piece, total=total)
    return total if by_piece is None else by_piece


def count_drawer(house: House, actor: Actor, pieces: Mapping[int, int], total: int | None, key: str) -> None:
    """Count the till's drawer, by denomination or as a total. Counting again replaces; every count is kept.

    What it should hold has shown by then: a new count is by right, own or lent.
    """
    counted = counted_sum(pieces, total)
    if counted is None:
        raise Refused(Code.EMPTY_COUNT, "total")
    if counted < 0:
        raise Refused(Code.NEGATIVE_TOTAL, "total")
    with acting(house, actor, "counted", key) as act:
        if act.done is not None:
            return
        day, at = house.day(), act.at
        again = actor.till.id in till.counts_of(act.connection, day.id)
        by = need(actor, Right.COUNT_AGAIN) if again else None
        expected = expected_cash(drawer_of(house, day.id, actor.till.id, day.floats.get(actor.till.id, 0)))
        shown = drawer.as_kept(pieces)
        till.add_count(act.connection, day.id, Count(actor.till.id, actor.staff.id, at, shown, counted, expected))
        act.record(Kind.DRAWER_COUNTED, counted=counted, expected=expected, again=again or None, lender=by)


def in_the_way(house: House) -> list[Refused]:
    """Everything that keeps the day from being closed."""
    day = house.day()
    found = []
    open_tickets = house.heads(ticket_store.list_open(house.connection)).values()
    if open_tickets:
        numbers = ", ".join(str(head.number) for head in open_tickets if head)
        found.append(Refused(Code.TICKETS_OPEN, count=len(open_tickets), numbers=numbers))
    asks = tenders.open_requests(house.connection)
    if asks:
        found.append(Refused(Code.CHARGES_OPEN, count=len(asks)))
    counts = counts_of(house, day.id)
    for one in house.tills().values():
        drawer = drawer_of(house, day.id, one.id, day.floats.get(one.id, 0))
        count = counts.get(one.id)
        if count is None and (drawer.cash_in or drawer.paid_out or drawer.paid_in):
            found.append(Refused(Code.NOT_COUNTED, till=one.name))
        elif count is not None and count.expected != expected_cash(drawer):
            found.append(Refused(Code.MOVED_AFTER_COUNT, till=one.name))
    return found


def close_day(house: House, actor: Actor, key: str) -> int:
    """Close the open day; over and short are posted. Gives the day's id. All that is in the way is said at once."""
    with acting(house, actor, "day closed", key, needs=Right.CLOSE_DAY) as act:
        if act.done is not None:
            return int(act.done)
        problems = in_the_way(house)
        if problems:
            raise Refused(Code.IN_THE_WAY, problems=tuple(problems))
        day, at = house.day(), act.at
        for count in till.counts_of(act.connection, day.id).values():
            if count.over:
                kind, postings = (
                    Kind.OVER if count.over > 0 else Kind.SHORT,
                    over_short_postings(count.till, count.over),
                )
                act.record(kind, None, Booked(postings), of_till=count.till, amount=abs(count.over))
        act.record(Kind.DAY_CLOSED, date=day.business_date, lender=act.by)
        till.close_day(act.connection, day.id, at, actor.staff.id)
        seal_day(house, day.id)
        act.answer = str(day.id)
    return day.id


def seal_day(house: House, day_id: int) -> None:
    """Keep the figures of a day that was just closed; nothing changes them from here on."""
    house.forget()
    day = till.read_day(house.connection, day_id)
    assert day is not None
    entries, head = journal.head(house.connection)
    figures.seal(house.connection, day_id, sealed_text(figures_so_far(house, day)), entries, head)


def skipped_float(house: House, actor: Actor) -> tuple[int, dict[int, int]]:
    """The float of a till that is not counted, and its pieces: what its drawer held at the last close.

    A supervisor's right.
    """
    need(actor, Right.SKIP_FLOAT)
    day = till.last_closed(house.connection)
    count = till.counts_of(house.connection, day).get(actor.till.id) if day else None
    return (count.total, drawer.as_read(count.pieces)) if count else (0, {})


def count_float(house: House, actor: Actor, amount: int, key: str, pieces: Mapping[int, int] | None = None) -> None:
    """A till joins the open day with its float; `pieces` when it was counted by denomination."""
    if amount < 0:
        raise Refused(Code.NEGATIVE_FLOAT, "total")
    with acting(house, actor, "float", key) as act:
        if act.done is not None:
            return
        day = house.day()
        if actor.till.id in day.floats:
            raise Refused(Code.FLOAT_THERE, "total", till=actor.till.name)
        till.add_float(act.connection, day.id, actor.till.id, amount)
        drawer.holds(house, actor.till.id, pieces or {})
        act.record(Kind.TILL_JOINED, of_till=actor.till.id, amount=amount)


def open_day(
    house: House, actor: Actor, floats: Mapping[str, int], key: str, pieces: Mapping[int, int] | None = None
) -> None:
    """Open a business day, dated today, with the floats of tills; others join it when they are counted.

    `pieces` are those of the actor's own float, when it was counted by denomination.
    """
    if any(amount < 0 for amount in floats.values()):
        raise Refused(Code.NEGATIVE_FLOAT, "total")
    with acting(house, actor, "day opened", key) as act:
        if act.done is not None:
            return
        if act.house.open_day() is not None:
            raise Refused(Code.DAY_OPEN)
        at = act.at
        date = house.now().date().isoformat()
        day = till.add_day(act.connection, date, at, actor.staff.id, dict(floats))
        drawer.holds(house, actor.till.id, pieces or {})
        act.record(Kind.DAY_OPENED, date=date)
        for of_till, amount in floats.items():
            act.record(Kind.TILL_JOINED, of_till=of_till, amount=amount)
        act.answer = str(day)
