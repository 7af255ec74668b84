"""The figures of a day: of an open one as they stand, of a closed one as they were sealed.

Corrections are not sealed: they are rows of the day on which they were made, which nothing changes, and their reasons
can be erased.
"""

from __future__ import annotations

from dataclasses import replace

from abrazo.core.ledger import OPEN_TICKETS
from abrazo.core.money import total
from abrazo.core.report import Corrected, Correction, DayFigures, DrawerFigures, Exceptional, Sum, TaxName
from abrazo.core.states import CorrectionKind, TaxMode
from abrazo.core.tax import rate_text
from abrazo.core.till import expected_cash
from abrazo.desk.context import House, NotFound
from abrazo.desk.till.drawer import as_read
from abrazo.desk.till.views.till import counts_of, drawer_of, number_of
from abrazo.formats.sealed_report import read_sealed
from abrazo.store import corrections, figures, till
from abrazo.store.till import AnyDay


def day_figures(house: House, day_id: int) -> DayFigures:
    """A day's figures. Raises NotFound when there is no such day."""
    return house.once(("day figures", day_id), lambda: _day_figures(house, day_id))


def _day_figures(house: House, day_id: int) -> DayFigures:
    day = till.read_day(house.connection, day_id) if 0 < day_id < 2**63 else None
    if day is None:
        raise NotFound(f"no day {day_id}")
    sealed = figures.sealed(house.connection, day_id)
    found = figures_so_far(house, day) if sealed is None else read_sealed(sealed)
    return replace(found, corrections=corrections_on(house, day))


def figures_so_far(house: House, day: AnyDay) -> DayFigures:
    """A day's figures as they stand, corrections left out."""
    connection = house.connection
    before = _open_before(house, day.id)
    pieces = till.float_pieces(connection, day.id)
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
        tuple(_drawer(house, day, one, pieces.get(one, "")) for one in house.tills()),
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


def _drawer(house: House, day: AnyDay, till_id: str, pieces: str) -> DrawerFigures:
    drawer = drawer_of(house, day.id, till_id, day.floats.get(till_id, 0))
    count = counts_of(house, day.id).get(till_id)
    return DrawerFigures(
        till_id,
        day.business_date,
        drawer.float_,
        as_read(pieces),
        drawer.cash_in,
        drawer.change_and_refunds,
        drawer.paid_in,
        drawer.paid_out,
        expected_cash(drawer),
        count.total if count else None,
        as_read(count.pieces) if count else {},
        count.staff if count else "",
        count.over if count else 0,
    )


# ---- corrections


def corrections_on(house: House, day: AnyDay) -> tuple[Correction, ...]:
    """Refunds made on a day, and tickets that were opened again or made void on it, of whatever day."""
    refunds = corrections.refunds_on(house.connection, day.id)
    made = [one for one in corrections.in_day(house.connection, day.id) if one.day == day.id]
    return _corrections(house, refunds, made)


def corrected_later(house: House, day_id: int) -> tuple[Correction, ...]:
    """What was corrected on later days of what a day sold."""
    return house.once(("corrected later", day_id), lambda: _corrected_later(house, day_id))


def _corrected_later(house: House, day_id: int) -> tuple[Correction, ...]:
    refunds = corrections.refunds_of_day(house.connection, day_id)
    made = [one for one in corrections.in_day(house.connection, day_id) if one.day != day_id]
    return _corrections(house, refunds, made)


def _corrections(
    house: House, refunds: list[corrections.Refund], made: list[corrections.Correction]
) -> tuple[Correction, ...]:
    heads = house.heads([*(one.ticket for one in refunds), *(one.ticket for one in made)])
    if not refunds and not made:
        return ()
    dates = till.dates_of(house.connection)
    turned = figures.turned_totals(house.connection, [one.ticket for one in made])
    found = []
    for one in refunds:
        head = heads[one.ticket]
        of = dates[head.day] if head else ""
        found.append(
            (
                one.at,
                Correction(
                    Corrected.REFUND,
                    number_of(house, one.ticket),
                    dates[one.day],
                    of,
                    one.till,
                    one.handed,
                    one.reason,
                    one.staff,
                ),
            )
        )
    for each in made:
        kind = Corrected.VOID if each.kind == CorrectionKind.VOID else Corrected.REOPENED
        amount = turned.get((each.ticket, each.at), 0)
        found.append(
            (
                each.at,
                Correction(
                    kind,
                    number_of(house, each.ticket),
                    dates[each.day],
                    dates[each.of_day],
                    each.till,
                    amount,
                    each.reason,
                    each.staff,
                ),
            )
        )
    return tuple(one for _, one in sorted(found, key=lambda pair: pair[0]))
