"""The report of days as its page shows it: figures in sections, each with bars beside its numbers."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta

from abrazo.core.errors import Code, Refused
from abrazo.core.figures import FigureKind
from abrazo.core.money import total
from abrazo.core.report import (
    Correction,
    Counted,
    DrawerFigures,
    Exceptional,
    Report,
    average,
    bar_widths,
    change_tenths,
)
from abrazo.core.states import Direction
from abrazo.desk.context import Actor, House
from abrazo.desk.output.views.report import (
    PETTY_WORDS,
    advances,
    by_person,
    given_away,
    heading,
    paper_of,
    renamed,
    report_of,
    routes,
    stored,
    taxes,
)
from abrazo.desk.permissions import Right, need
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
class Sums:
    """What days come to: sold, how many tickets, what one comes to, what was taken; minor units."""

    first: str
    last: str
    sold: int
    tickets: int
    each: int
    taken: int


@dataclass(frozen=True, slots=True)
class ReportPage:
    """A report as its page shows it; amounts in minor units."""

    first: str
    last: str
    sealed: bool
    till: str
    heading: tuple[str, ...]
    sums: Sums
    before: Sums | None  # of as many dates before, when there are several
    sections: tuple[Section, ...]
    hours: tuple[Column, ...]
    drawers: tuple[DrawerFigures, ...]
    corrections: tuple[Correction, ...]
    later: tuple[Correction, ...]
    exceptions: tuple[Exceptional, ...]
    names: dict[str, str]
    paper: str
    day: int  # the only one of the report; 0 when there are several

    def change(self, name: str) -> str:
        """By how much a sum changed against the dates before, in percent with its sign; empty without any."""
        tenths = change_tenths(getattr(self.sums, name), getattr(self.before, name)) if self.before else None
        return "" if tenths is None else f"{'−' if tenths < 0 else '+'}{abs(tenths) // 10}.{abs(tenths) % 10} %"


def days_of(house: House, first: str, last: str) -> list[int]:
    """The days from one business date to another. Refused when there is none."""
    found = till.days_between(house.connection, first, last)
    if not found:
        raise Refused(Code.NO_DAYS, "from", first=first, last=last)
    return found


def report_page(house: House, actor: Actor, days: Sequence[int], till_id: str) -> ReportPage:
    """The report of days, of all tills or of one. Refused without the right; NotFound for a day that there is not."""
    need(actor, Right.SEE_REPORTS)
    found = report_of(house, days, till_id or None)
    taken = routes(house, found)
    names = {one.id: one.name for one in house.staff().values()} | {one.id: one.name for one in house.tills().values()}
    return ReportPage(
        found.days[0].date,
        found.days[-1].date,
        all(day.closed_at for day in found.days),
        till_id,
        heading(house, found),
        _sums(house, found),
        _before(house, found),
        tuple(one for one in _sections(house, found, taken) if one.rows),
        _hours(found),
        found.drawers,
        found.corrections,
        found.later,
        found.exceptions,
        names,
        day_report_text(paper_of(house, days, found)),
        days[0] if len(days) == 1 else 0,
    )


def _sums(house: House, found: Report) -> Sums:
    sold = total(found.amount(kind) for kind in (FigureKind.SALE, FigureKind.CHARGE))
    tickets, taken = total(one.count for one in found.of(FigureKind.TICKET)), routes(house, found)
    dates = found.days[0].date, found.days[-1].date
    return Sums(*dates, sold, tickets, average(sold, tickets), total(one.amount for one in taken))


def _before(house: House, found: Report) -> Sums | None:
    """The same of as many dates before; None for one date alone, or when there was no day then."""
    first, last = (date.fromisoformat(found.days[at].date) for at in (0, -1))
    if first == last:
        return None
    earlier = first - (last - first) - timedelta(days=1), first - timedelta(days=1)
    days = till.days_between(house.connection, *(one.isoformat() for one in earlier))
    return _sums(house, report_of(house, days, found.till)) if days else None


def _sections(house: House, found: Report, taken: Sequence[Counted]) -> Iterable[Section]:
    yield _section(house, w.BY_CATEGORY, found.groups, percents=True)
    yield _section(house, w.TAKEN_BY_ROUTE, taken)
    yield _section(
        house, w.BY_ITEM, [replace(one, name=one.detail) for one in found.of(FigureKind.SALE)], percents=True
    )
    yield _section(house, w.BY_PERSON, by_person(house, found.of(FigureKind.SOLD_BY)))
    yield _section(house, w.TIPS_BY_PERSON, by_person(house, found.of(FigureKind.TIP)))
    taxed = (replace(one, name=house.say(w.TAX_ON, label=one.name, base=one.base)) for one in taxes(found))
    ahead = (replace(one, name=house.say(w.TAX_ON, label=one.name, base=one.base)) for one in advances(house, found))
    yield _section(house, w.TAX_BY_RATE, [*taxed, *ahead])
    yield _section(house, w.CHARGES, renamed((one.name, one) for one in found.of(FigureKind.CHARGE)))
    yield _section(house, w.GIVEN_BY_REASON, given_away(house, found))
    yield _section(house, w.DEPOSITS_AND_ACCOUNTS, stored(house, found))
    yield _section(
        house, w.PAID_OUT_AND_IN, renamed((_petty_words(house, one), one) for one in found.of(FigureKind.PETTY))
    )


def _petty_words(house: House, one: Counted) -> str:
    return house.say(PETTY_WORDS[Direction(one.name)], category=one.detail)


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
