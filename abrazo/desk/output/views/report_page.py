"""The report of days as its page shows it: figures in sections, each with bars beside its numbers."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

from abrazo.core.figures import FigureKind
from abrazo.core.money import total
from abrazo.core.report import Correction, Counted, DrawerFigures, Report, average, bar_widths
from abrazo.desk.context import House
from abrazo.desk.output.views.report import (
    DEPOSITS,
    GIVEN,
    STORED_SOLD,
    STORED_USED,
    heading,
    paper_of,
    renamed,
    report_of,
    route_name,
)
from abrazo.desk.till.views.day_figures import corrected_later
from abrazo.formats.day_report import day_report_text
from abrazo.store import till
from abrazo.words import phrases as w


@dataclass(frozen=True, slots=True)
class Bar:
    """One row: its words, how many, how much (minor units), the percent in words, and the bar's length of 1000."""

    words: str
    count: int
    amount: int
    percent: str
    width: int


@dataclass(frozen=True, slots=True)
class Section:
    """Rows about the same, under a title."""

    title: str
    rows: tuple[Bar, ...]
    percents: bool = False


@dataclass(frozen=True, slots=True)
class Column:
    """One hour: what its tickets came to (minor units), how many, and the column's height of 100."""

    hour: str
    count: int
    amount: int
    height: int


@dataclass(frozen=True, slots=True)
class CorrectedRow:
    """A refund, a void or a ticket opened again."""

    kind: str
    ticket: int
    date: str
    of_date: str
    amount: int
    reason: str
    by: str


@dataclass(frozen=True, slots=True)
class ExceptionRow:
    """What an owner looks at: what, who, how often, how much."""

    kind: str
    person: str
    count: int
    amount: int


@dataclass(frozen=True, slots=True)
class ReportPage:
    """A report as its page shows it; amounts in minor units."""

    first: str
    last: str
    sealed: bool
    till: str
    heading: tuple[str, ...]
    sold: int
    tickets: int
    each: int
    taken: int
    sections: tuple[Section, ...]
    hours: tuple[Column, ...]
    drawers: tuple[DrawerFigures, ...]
    corrections: tuple[CorrectedRow, ...]
    later: tuple[CorrectedRow, ...]
    exceptions: tuple[ExceptionRow, ...]
    names: dict[str, str]
    paper: str
    day: int  # the only one of the report; 0 when there are several


def days_of(house: House, day: int, first: str, last: str) -> list[int]:
    """The days that are asked for: one by its id, or all from one business date to another."""
    return till.days_between(house.connection, first, last) if first and last else [day]


def report_page(house: House, days: Sequence[int], till_id: str) -> ReportPage:
    """The report of days, of all tills or of one. Raises NotFound for a day that there is not."""
    found = report_of(house, days, till_id or None)
    sold = total(found.amount(kind) for kind in (FigureKind.SALE, FigureKind.CHARGE))
    tickets = total(one.count for one in found.of(FigureKind.TICKET))
    names = {one.id: one.name for one in house.staff().values()} | {one.id: one.name for one in house.tills().values()}
    return ReportPage(
        found.days[0].date,
        found.days[-1].date,
        all(day.closed_at for day in found.days),
        till_id,
        heading(house, found),
        sold,
        tickets,
        average(sold, tickets),
        found.amount(FigureKind.TENDER),
        tuple(one for one in _sections(house, found) if one.rows),
        _hours(found),
        found.drawers,
        tuple(_corrected(one, names) for one in found.corrections),
        tuple(_corrected(one, names) for day in days for one in corrected_later(house, day)),
        tuple(
            ExceptionRow(one.kind, names.get(one.person, one.person), one.count, one.amount) for one in found.exceptions
        ),
        names,
        day_report_text(paper_of(house, days, found)),
        days[0] if len(days) == 1 else 0,
    )


def _corrected(one: Correction, names: Mapping[str, str]) -> CorrectedRow:
    who = names.get(one.by, one.by)
    return CorrectedRow(one.kind, one.ticket, one.date, one.of_date, one.amount, one.reason, who)


def _sections(house: House, found: Report) -> Iterable[Section]:
    people = {one.id: one.name for one in house.staff().values()}
    sales = FigureKind.SALE
    yield _section(house, w.BY_CATEGORY, found.groups, percents=True)
    yield _section(
        house, w.TAKEN_BY_ROUTE, renamed((route_name(house, one), one) for one in found.of(FigureKind.TENDER))
    )
    yield _section(
        house,
        w.BY_ITEM,
        [Counted(one.detail, "", one.count, one.amount, 0, one.tenths) for one in found.of(sales)],
        percents=True,
    )
    yield _section(house, w.BY_PERSON, _people(people, found.of(FigureKind.SOLD_BY)))
    yield _section(house, w.TIPS_BY_PERSON, _people(people, found.of(FigureKind.TIP)))
    labels = {id: tax.label for id, tax in found.labels.items()}
    yield _section(house, w.TAX_BY_RATE, renamed((labels[one.name], one) for one in found.of(FigureKind.TAX)))
    yield _section(house, w.CHARGES, renamed((one.name, one) for one in found.of(FigureKind.CHARGE)))
    given = renamed((house.say(GIVEN[one.name], reason=one.detail), one) for one in found.of(FigureKind.GIVEN))
    yield _section(house, w.GIVEN_BY_REASON, given)
    yield _section(house, w.DEPOSITS_AND_ACCOUNTS, renamed(_stored(house, found)))
    petty = (
        (house.say(w.PAID_IN if one.name == "in" else w.PAID_OUT, category=one.detail), one)
        for one in found.of(FigureKind.PETTY)
    )
    yield _section(house, w.PAID_OUT_AND_IN, renamed(petty))


def _stored(house: House, found: Report) -> Iterable[tuple[str, Counted]]:
    for one in found.of(FigureKind.DEPOSIT):
        yield house.say(DEPOSITS.get(one.name, w.DEPOSITS_USED)), one
    for one in found.of(FigureKind.ACCOUNT):
        yield house.say(w.LEFT_ON_ACCOUNTS if one.name == "put on" else w.RECEIVED_ON_ACCOUNTS), one
    for one in found.of(FigureKind.STORED):
        yield (
            house.say(STORED_SOLD[one.detail] if one.name == "sold" else STORED_USED.get(one.detail, w.VOUCHERS_USED)),
            one,
        )


def _people(names: dict[str, str], found: Iterable[Counted]) -> list[Counted]:
    return renamed((names.get(one.name, one.name), one) for one in found)


def _section(house: House, title: str, found: Sequence[Counted], *, percents: bool = False) -> Section:
    rows = sorted(found, key=lambda one: -one.amount) if percents else list(found)
    widths = bar_widths([one.amount for one in rows])
    bars = [
        Bar(one.name, one.count, one.amount, f"{one.tenths // 10}.{one.tenths % 10} %", width)
        for one, width in zip(rows, widths, strict=True)
    ]
    return Section(house.say(title), tuple(bars), percents)


def _hours(found: Report) -> tuple[Column, ...]:
    heights = bar_widths([one.amount for one in found.hours], 100)
    return tuple(
        Column(one.name, one.count, one.amount, height) for one, height in zip(found.hours, heights, strict=True)
    )
