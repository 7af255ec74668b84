"""The figures of a day: of an open one as they stand, of a closed one as they were sealed.

Corrections are not sealed: they are rows of the day on which they were made, which nothing changes, and their reasons
can be erased.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace

from abrazo.core.ledger import OPEN_TICKETS
from abrazo.core.money import total
from abrazo.core.report import Corrected, Correction, DayFigures, DrawerFigures, Exceptional, Sum, TaxName
from abrazo.core.states import CorrectionKind, TaxMode
from abrazo.core.tax import rate_text
from abrazo.core.till import Drawer, expected_cash, since
from abrazo.desk.context import House, NotFound
from abrazo.desk.till.drawer import as_read
from abrazo.desk.till.views.till import drawer_in, float_rows, movements, sections_of
from abrazo.formats.sealed_report import read_sealed
from abrazo.store import corrections, figures, till
from abrazo.store.corrections import Refund
from abrazo.store.db import snapshot
from abrazo.store.drawer_sections import Section
from abrazo.store.till import AnyDay, Count, FloatRow


def figures_of(house: House, days: Sequence[int]) -> tuple[list[DayFigures], list[Correction]]:
    """The figures of days, in their order, and what was corrected on other days of what they sold.

    A fixed number of statements for days that were sealed. Raises NotFound for a day that there is not.
    """
    if house.connection.in_transaction:
        return _figures_of(house, days)
    with snapshot(house.connection):  # all figures of one moment
        return _figures_of(house, days)


def _figures_of(house: House, days: Sequence[int]) -> tuple[list[DayFigures], list[Correction]]:
    known = till.read_days(house.connection, [day for day in days if 0 < day < 2**63])
    for day in days:
        if day not in known:
            raise NotFound(f"no day {day}")
    sealed = figures.sealed(house.connection, days)
    made = _corrections(house, days)
    found = []
    for day in days:
        figures_then = read_sealed(sealed[day]) if day in sealed else figures_so_far(house, known[day])
        found.append(replace(figures_then, corrections=tuple(one for on, _, one in made if on == day)))
    return found, [one for on, of, one in made if of in days and on not in days]


def figures_so_far(house: House, day: AnyDay) -> DayFigures:
    """A day's figures as they stand, corrections left out."""
    connection = house.connection
    before = _open_before(house, day.id)
    counts = till.counts_of(connection, day.id)
    first, last = figures.first_and_last_sale(connection, day.id)
    return DayFigures(
        day.business_date,
        day.opened_at,
        day.opened_by,
        day.closed_at or "",
        day.closed_by or "",
        first,
        last,
        before,
        total((before, figures.moved_on(connection, OPEN_TICKETS, day.id))),
        house.settings.tax_mode == TaxMode.EXCLUSIVE,
        tuple(TaxName(tax.id, tax.label or tax.id, rate_text(tax.rate)) for tax in house.taxes()),
        tuple(_sum(house, row) for row in figures.of_day(connection, day.id)),
        tuple(
            one
            for began in float_rows(house, day.id).values()
            for one in _drawers(house, day, began, counts.get(began.till))
        ),
        exceptions=tuple(Exceptional(*row) for row in figures.exceptions(connection, day.id)),
    )


def _open_before(house: House, day: int) -> int:
    before = figures.sealed_before(house.connection, day)
    return (
        figures.balance_before(house.connection, OPEN_TICKETS, day)
        if before is None
        else read_sealed(before).open_after
    )


def _sum(house: House, row: figures.FigureRow) -> Sum:
    hour = house.wall(f"{row.at}0:00Z").hour  # kept to ten minutes, so that zones of half an hour are right
    return Sum(row.kind, row.name, row.detail, row.till, hour, row.count, row.amount, row.base)


def _drawers(house: House, day: AnyDay, began: FloatRow, count: Count | None) -> Iterator[DrawerFigures]:
    """A drawer of a day, in as many parts as it was handed over and one more."""
    moved, before = movements(house, day.id), Drawer(0)
    for ended in (one for one in sections_of(house, day.id) if one.till == began.till):
        drawer = since(replace(ended.moved, float_=began.amount), before)
        part = _drawer(day, drawer, replace(began, left=ended.total), Count(*_count_fields(ended)))
        yield replace(part, until=ended.at, handed_to=ended.handed_to, petty_until=ended.petty)
        before = ended.moved
        began = replace(began, amount=ended.total, pieces=ended.pieces, taken_over=ended.total, difference=None)
    drawer = since(drawer_in(moved, day.id, began.till, began.amount), before)
    to_bank = total(one.amount for one in moved.banked if one.till == began.till and one.closing)
    yield replace(_drawer(day, drawer, began, count), to_bank=to_bank)


def _count_fields(ended: Section) -> tuple[str, str, str, str, int, int]:
    return ended.till, ended.staff, ended.at, ended.pieces, ended.total, ended.expected


def _drawer(day: AnyDay, drawer: Drawer, began: FloatRow, count: Count | None) -> DrawerFigures:
    return DrawerFigures(
        began.till,
        day.business_date,
        drawer.float_,
        as_read(began.pieces),
        drawer.cash_in,
        drawer.change_and_refunds,
        drawer.paid_in,
        drawer.paid_out,
        expected_cash(drawer),
        count.total if count else None,
        as_read(count.pieces) if count else {},
        count.staff if count else "",
        count.over if count else 0,
        began.taken_over,
        began.difference or "",
        drawer.banked,
        left=began.left,
        tips_out=drawer.tips_paid_out,
    )


# ---- corrections


def _corrections(house: House, days: Sequence[int]) -> list[tuple[int, int, Correction]]:
    """Refunds and corrections made on these days, or of what they sold: (day, day of the sale, what)."""
    connection = house.connection
    refunds, made = corrections.refunds_of_days(connection, days), corrections.of_days(connection, days)
    if not refunds and not made:
        return []
    heads = house.heads([*(one.ticket for one in refunds), *(one.ticket for one in made)])
    turned = figures.turned_totals(connection, [one.ticket for one in made])
    dates = till.dates_of(connection)

    entries: list[tuple[Refund | corrections.Correction, Corrected, int]] = []
    entries += [(one, Corrected.REFUND, one.handed) for one in refunds]
    for one in made:
        kind = Corrected.VOID if one.kind == CorrectionKind.VOID else Corrected.REOPENED
        entries.append((one, kind, turned.get((one.ticket, one.at), 0)))
    found = []
    for entry, kind, amount in sorted(entries, key=lambda each: each[0].at):
        head = heads[entry.ticket]
        assert head is not None
        when = (dates[entry.day], dates[head.day], entry.till)
        what = Correction(kind, head.number, *when, amount, entry.reason, entry.staff)
        found.append((entry.day, head.day, what))
    return found
