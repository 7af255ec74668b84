"""Prepaid series on tickets: sold to somebody, and used by themselves for the lines that they cover.

Rules here
- a series is sold to whoever the line is for, one on a line; it can be used as soon as it stands on the same ticket, or
  when its ticket is closed, until the end of its last business day
- a line of who has one is covered by itself, piece by piece; it is kept for another day at a touch
- nothing changes by itself any more once something is paid, nor on a ticket that is opened again; what is taken off
  there frees its use
- a use that was had is booked when its ticket is closed
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import replace
from datetime import date
from fractions import Fraction
from typing import TYPE_CHECKING

from abrazo.core import series as core
from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Kind, Personal
from abrazo.core.ledger import Role
from abrazo.core.money import total
from abrazo.core.sale_books import Ref
from abrazo.core.states import AdjustmentKind, RowKind
from abrazo.desk.context import House, NotFound
from abrazo.desk.people.people import known
from abrazo.desk.tickets.benefits import Applying, holder_of
from abrazo.desk.tickets.snapshot import TicketSnapshot
from abrazo.store import adjustments, catalogue
from abrazo.store import series as series_store
from abrazo.store.adjustments import AppliedAdjustment
from abrazo.store.catalogue import Item
from abrazo.store.lines import LineRow
from abrazo.store.series import Series, SeriesKind, SeriesUse
from abrazo.words import phrases as w

if TYPE_CHECKING:
    from abrazo.desk.tickets.change import TicketChange

KEY = "series-"  # before a series' id where benefits are told apart by theirs


def kind_of(house: House, item: str) -> SeriesKind | None:
    """The series that an item sells; None when it is another item."""
    kinds = house.once("series kinds", lambda: series_store.list_kinds(house.connection))
    return next((one for one in kinds if one.item == item), None)


def last_day(house: House, one: Series) -> str:
    """Until when a series is good, as an ISO date; of one that is being sold as if it were paid today."""
    kind = kind_of(house, one.item)
    assert kind is not None
    return one.until or core.good_until(date.fromisoformat(house.business_date()), kind.days).isoformat()


def of_person(house: House, person: int) -> list[Series]:
    """All series that somebody has paid."""
    return house.once(("series of", person), lambda: series_store.of_person(house.connection, person))


def free_of(one: Series) -> list[int]:
    """The uses of a series that are left, the next one first."""
    return core.free_uses(one.uses, one.gone)


def worth_of(one: Series, numbers: Iterable[int]) -> int:
    """What some uses of a series are worth together, in minor units without tax."""
    return core.worth_of(one.net or 0, one.uses, numbers, one.had_before)


# ---- sold


def sell(edit: TicketChange, kind: SeriesKind, line: int) -> None:
    """A line that was just put on sells a series. Refused when nobody is known to whom."""
    row = next(one for one in edit.reread().standing if one.id == line)
    holder = holder_of(edit.house, edit.whole, row)
    if holder is None:
        raise Refused(Code.SOLD_TO_SOMEBODY, "item", item=row.label)
    series_store.add(edit.house.connection, line, kind, holder)


def _to_whom(edit: TicketChange, whole: TicketSnapshot) -> None:
    """A series that is being sold is for whom its line is."""
    for one in series_store.on_ticket(edit.house.connection, edit.id):
        holder = holder_of(edit.house, whole, whole.line(one.line or 0))
        if holder is None:
            raise Refused(Code.SOLD_TO_SOMEBODY, "q", item=one.name)
        if holder != one.person:
            series_store.set_person(edit.house.connection, one.id, holder)


# ---- used


def fit_series(edit: TicketChange) -> None:
    """Let series be used as the ticket now stands; called after every change."""
    house = edit.house
    if not series_store.any_sold(house.connection):
        return
    whole = edit.reread()
    _to_whom(edit, whole)
    uses = series_store.uses_on(house.connection, edit.id)
    still = not (whole.head.reopened_at or whole.open_requests or any(p.deposit is None for p in whole.taken))
    if not still:
        _free_dead(edit, whole, uses)
        return
    pieces = {piece.line: piece for piece in _pieces(house, whole)}
    people = dict.fromkeys(int(piece.holder) for piece in pieces.values())
    if not people and not uses:
        return
    kept = series_store.saved_on(house.connection, edit.id)
    have = series_store.of_people(house.connection, people, house.business_date(), edit.id)
    left = {one.id: one for one in have if one.id not in kept}
    for use in uses:
        piece, one = pieces.get(str(use.line)), left.get(use.series)
        if use.stands and piece and one and piece.pieces and _fits(one, piece, use):
            pieces[piece.line] = replace(piece, pieces=piece.pieces - 1)
        else:
            _free(edit, whole, use)
    _use(edit, whole, list(pieces.values()), left)


def _fits(one: Series, piece: core.Piece, use: SeriesUse) -> bool:
    return str(one.person) == piece.holder and piece.item in one.items and use.amount == piece.covers


def _pieces(house: House, whole: TicketSnapshot) -> Iterator[core.Piece]:
    """The lines that a series may cover: whole pieces of somebody's."""
    for line in whole.standing:
        many = Fraction(line.quantity)
        holder = holder_of(house, whole, line) if line.is_sale and not line.unit and many.denominator == 1 else None
        if holder is not None:
            yield core.Piece(str(line.id), str(holder), line.item, int(many), _covers(house, line))


def _covers(house: House, line: LineRow) -> int:
    """What a use covers of one piece of a line, in minor units."""
    groups = catalogue.list_groups(house.connection, line.item) if line.choices else []
    required = [({choice.label for choice in group.choices}, group.least) for group in groups if group.least]
    return core.covered_of_one(line.unit_price, line.choices, required)


def _offered(one: Series) -> core.Left:
    """What a series offers to lines; one that is being sold holds longer than any other."""
    return core.Left(one.id, str(one.person), frozenset(one.items), tuple(free_of(one)), one.until or "9999")


def _use(edit: TicketChange, whole: TicketSnapshot, pieces: Sequence[core.Piece], left: dict[int, Series]) -> None:
    """New uses for the lines that are not covered yet."""
    house, connection = edit.house, edit.house.connection
    free = {id: free_of(one) for id, one in left.items()}
    offers = list(map(_offered, left.values()))
    covers = {piece.line: piece.covers for piece in pieces}
    for line, uses in core.offered_uses(pieces, offers).items():
        for id, number in uses:
            one = left[id]
            free[id].remove(number)
            left_then, name = len(free[id]), Personal(one.name)
            reason = house.say(w.SERIES_USE, name=one.name, number=number, of=one.uses, left=left_then)
            facts = (0, int(line), AdjustmentKind.SERIES, None, covers[line], reason, "", edit.at, whole.head.staff)
            made = adjustments.add(connection, edit.id, AppliedAdjustment(*facts, person=one.person, series=id))
            series_store.add_use(connection, (id, number), edit.at, adjustment=made)
            text = Personal(whole.line(int(line)).label)
            edit.wrote(
                Kind.SERIES_APPLIED,
                series=id,
                name=name,
                number=number,
                of=one.uses,
                left=left_then,
                line=int(line),
                text=text,
            )


def usable_by(house: House, people: Iterable[int]) -> dict[int, list[Series]]:
    """The series that several people can use today, by person; one statement."""
    today = house.business_date()

    def read(missing: list[int]) -> dict[int, list[Series]]:
        if len(missing) == 1:  # their page reads all of them anyway
            return {missing[0]: [one for one in of_person(house, missing[0]) if (one.until or "") >= today]}
        found = dict[int, list[Series]]()
        for one in series_store.of_people(house.connection, missing, today, 0):
            found.setdefault(one.person, []).append(one)
        return found

    return {id: have or [] for id, have in house.each_once("usable series", people, read).items()}


def covered(house: House, person: int | None, items: Sequence[tuple[Item, int]]) -> list[int]:
    """What series will cover of each of some items of somebody's, a piece each, at these prices; minor units."""
    have = usable_by(house, [person]).get(person, []) if person is not None else []
    pieces = [core.Piece(str(n), str(person), item.id, 1, price) for n, (item, price) in enumerate(items)]
    uses = core.offered_uses(pieces, [_offered(one) for one in have])
    return [piece.covers if piece.line in uses else 0 for piece in pieces]


def _free_dead(edit: TicketChange, whole: TicketSnapshot, uses: Sequence[SeriesUse]) -> None:
    """Uses of lines that were taken off are free again; the others stay. Refused when what they use is sold no more."""
    sold = {one.id: one for one in series_store.on_ticket(edit.house.connection, edit.id)}
    found = {one.id: one for one in series_store.read_many(edit.house.connection, (use.series for use in uses))}
    for use in uses:
        if not use.stands:
            _free(edit, whole, use)
        elif found[use.series].net is None and use.series not in sold:
            raise Refused(Code.SERIES_USED, item=found[use.series].name, number=edit.whole.head.number)


def _free(edit: TicketChange, whole: TicketSnapshot, use: SeriesUse) -> None:
    connection = edit.house.connection
    adjustments.end(connection, use.adjustment, edit.at, edit.actor.staff.id)
    series_store.free_use(connection, use.id, edit.at)
    name = Personal(next(one.name for one in series_store.read_many(connection, [use.series])))
    edit.wrote(Kind.SERIES_FREED, series=use.series, name=name, number=use.number, line=use.line)


def applying(house: House, whole: TicketSnapshot) -> list[Applying]:
    """The series that are used on a ticket, and those that are kept for another day."""
    uses = [one for one in whole.given if one.series is not None]
    person, others = whole.head.person, any(line.booking or line.job or line.member for line in whole.lines)
    if not (uses or others or (person is not None and of_person(house, person))):
        return []  # nobody here has one to keep
    kept = series_store.saved_on(house.connection, whole.head.id)
    if not uses and not kept:
        return []
    return [
        _applying(house, one, [given for given in uses if given.series == one.id], kept=one.id in kept)
        for one in series_store.read_many(house.connection, {one.series or 0 for one in uses} | kept)
    ]


def _applying(house: House, one: Series, mine: Sequence[AppliedAdjustment], *, kept: bool) -> Applying:
    name = mine[0].reason if len(mine) == 1 else one.name
    off = total(given.amount or 0 for given in mine)
    return Applying(f"{KEY}{one.id}", name, known(house, one.person).name, off, kept)


def of_ticket(house: House, whole: TicketSnapshot) -> list[Series]:
    """The series that were sold or used on a ticket, as they stand now."""
    if not any(is_series(line) for line in whole.standing) and not any(one.series for one in whole.given):
        return []
    used = [one.series for one in whole.given if one.series is not None]
    sold = [one.id for one in series_store.on_ticket(house.connection, whole.head.id)]
    return series_store.read_many(house.connection, dict.fromkeys([*sold, *used]))


def keep_series(edit: TicketChange, series: int, *, another_day: bool) -> None:
    """Keep a series for another day on this visit, or use it after all; inside an edit under way."""
    found = series_store.read_many(edit.house.connection, [series])
    if not found:
        raise NotFound(f"no series {series}")
    if any(payment.deposit is None for payment in edit.whole.taken):
        raise Refused(Code.BENEFIT_SETTLED)
    (series_store.save if another_day else series_store.unsave)(edit.house.connection, edit.id, series)
    edit.wrote(Kind.BENEFIT_SAVED if another_day else Kind.BENEFIT_USED, series=series, name=Personal(found[0].name))


# ---- in the books


def close_series(edit: TicketChange, nets: Mapping[Ref, int]) -> None:
    """A closing ticket has sold its series, and its uses are had; `nets` are its rows without tax, in minor units."""
    connection = edit.house.connection
    today = edit.house.business_date()
    for one in series_store.on_ticket(connection, edit.id):
        until = last_day(edit.house, one)
        series_store.set_sold(connection, one.id, nets[RowKind.LINE, str(one.line)], today, until)
        whose = Personal(known(edit.house, one.person).name)
        text = Personal(one.name)
        edit.wrote(
            Kind.SERIES_SOLD, series=one.id, customer=one.person, of=one.uses, until=until, text=text, name=whose
        )
    for use in series_store.uses_on(connection, edit.id):
        _book(edit, use)


def _book(edit: TicketChange, use: SeriesUse) -> None:
    one, line = series_store.read_many(edit.house.connection, [use.series])[0], edit.whole.line(use.line)
    worth = worth_of(one, [use.number])
    series_store.book_use(edit.house.connection, use.id, worth)
    booked = core.used(worth, line.use, line.label, line.staff)
    edit.wrote(Kind.SERIES_HAD, booked, series=one.id, name=Personal(one.name), number=use.number, amount=worth)


def reopen_series(edit: TicketChange) -> None:
    """A ticket that is opened again has sold and used nothing yet. Refused when what it sold was used elsewhere."""
    connection = edit.house.connection
    uses = series_store.uses_on(connection, edit.id)
    sold = series_store.on_ticket(connection, edit.id)
    for one in sold:
        here = {use.number for use in uses if use.series == one.id}
        if set(one.gone) - here:
            raise Refused(Code.SERIES_USED, item=one.name, number=edit.whole.head.number)
    for use in uses:
        one, line = series_store.read_many(connection, [use.series])[0], edit.whole.line(use.line)
        series_store.book_use(connection, use.id, None)
        back = core.used(use.worth or 0, line.use, line.label, line.staff).turned()
        amount = use.worth or 0
        edit.wrote(Kind.SERIES_NOT_HAD, back, series=one.id, name=Personal(one.name), number=use.number, amount=amount)
    for one in sold:
        series_store.set_sold(connection, one.id, None, None, None)


def void_series(edit: TicketChange) -> None:
    """A ticket that is void had nothing: its uses are free, what was given on it stays as it was."""
    for use in series_store.uses_on(edit.house.connection, edit.id):
        series_store.free_use(edit.house.connection, use.id, edit.at)


def is_series(line: LineRow) -> bool:
    """Whether a line sells a series."""
    return line.role is Role.SERIES
