"""The report of one business day or several, from figures: of all tills or of one.

Rules here
- a closed day's figures are those that were sealed at closing; several days are their sums
- percents have one decimal and are apportioned, so that they come to 100
- sales (less what series paid of them before), charges, added taxes, stored value sold, deposits taken, received on
  accounts, tips and rounding together are what the tenders brought and what the open tickets' balance moved by
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from enum import StrEnum
from fractions import Fraction

from abrazo.core.figures import TAX_OF_IT, FigureKind
from abrazo.core.ledger import Role
from abrazo.core.money import round_half_up, total
from abrazo.core.sharing import apportion
from abrazo.core.till import float_difference

PAID_BEFORE = (("used", Role.SERIES), ("used", "layaway"))


@dataclass(frozen=True, slots=True)
class Sum:
    """Figures of a day about the same, at one till within one hour of wall time; minor units."""

    kind: str
    name: str
    detail: str
    till: str
    hour: int
    count: int
    amount: int
    base: int


@dataclass(frozen=True, slots=True)
class DrawerFigures:
    """A drawer on one day, minor units; pieces by value; `counted` None: it was not counted."""

    till: str
    date: str
    float_amount: int
    float_pieces: Mapping[int, int]
    cash_in: int
    cash_out: int
    paid_in: int
    paid_out: int
    expected: int
    counted: int | None
    counted_pieces: Mapping[int, int]
    counted_by: str
    over: int
    taken_over: int = 0  # what it was left with at the last close
    difference: str = ""  # why the float is another; a core.states.FloatDifference
    banked: int = 0  # during the day, before the count
    to_bank: int = 0  # of what was counted
    left: int | None = None  # None: the day is not closed
    tips_out: int = 0  # paid out of it in cash
    until: str = ""  # when it was handed over within the day; empty: it was not
    handed_to: str = ""  # to whom
    petty_until: int = 0  # the last row of petty cash before it

    @property
    def all_in(self) -> int:
        """All cash that came in; minor units."""
        return self.cash_in + self.paid_in

    @property
    def all_out(self) -> int:
        """All cash that went out before the count; minor units."""
        return self.cash_out + self.paid_out + self.tips_out + self.banked

    @property
    def float_difference(self) -> int:
        """How much more the float is than what was taken over; minor units."""
        return float_difference(self.float_amount, self.taken_over)

    @property
    def paid_net(self) -> int:
        """What was paid in beyond what was paid out; minor units."""
        return self.paid_in - self.paid_out


class Corrected(StrEnum):
    """How a closed ticket was corrected."""

    REFUND = "refund"
    VOID = "void"
    REOPENED = "reopened"


@dataclass(frozen=True, slots=True)
class Correction:
    """A refund, a void or a ticket opened again: of which ticket and day, how much went back (minor units), why, by."""

    kind: Corrected
    ticket: int
    date: str
    of_date: str
    till: str
    amount: int
    reason: str
    by: str


@dataclass(frozen=True, slots=True)
class Exceptional:
    """What an owner looks at, by person: how often and how much in minor units."""

    kind: str
    person: str
    till: str
    count: int
    amount: int


@dataclass(frozen=True, slots=True)
class TaxName:
    """What a tax was called, and its rate as a decimal string."""

    id: str
    label: str
    rate: str


@dataclass(frozen=True, slots=True)
class DayFigures:
    """All figures of one day. `open_before` and `open_after`: the balance of open tickets, debit positive."""

    date: str
    opened_at: str
    opened_by: str
    closed_at: str
    closed_by: str
    first_sale: str
    last_sale: str
    open_before: int
    open_after: int
    tax_added: bool
    taxes: tuple[TaxName, ...] = ()
    sums: tuple[Sum, ...] = ()
    drawers: tuple[DrawerFigures, ...] = ()
    corrections: tuple[Correction, ...] = ()
    exceptions: tuple[Exceptional, ...] = ()


@dataclass(frozen=True, slots=True)
class Counted:
    """So many and so much under a name, in minor units; `base` of a tax, `tenths` of a percent of the sales."""

    name: str
    detail: str = ""
    count: int = 0
    amount: int = 0
    base: int = 0
    tenths: int = 0


@dataclass(frozen=True, slots=True)
class Report:
    """What the days come to, at all tills or at one; minor units."""

    days: tuple[DayFigures, ...]
    till: str | None
    parts: Mapping[FigureKind, tuple[Counted, ...]]
    groups: tuple[Counted, ...]
    hours: tuple[Counted, ...]
    drawers: tuple[DrawerFigures, ...]
    corrections: tuple[Correction, ...]
    later: tuple[Correction, ...]  # made after the days, of what they sold
    exceptions: tuple[Exceptional, ...]
    labels: Mapping[str, TaxName] = field(default_factory=dict)

    def of(self, kind: FigureKind) -> tuple[Counted, ...]:
        """The figures of a kind, in the order in which they first came."""
        return self.parts.get(kind, ())

    def amount(self, kind: FigureKind, name: str | None = None) -> int:
        """What a kind comes to, or what of it has a name; minor units."""
        return total(one.amount for one in self.of(kind) if name in (None, one.name))

    @property
    def open_before(self) -> int:
        """The balance of open tickets before the first of the days."""
        return self.days[0].open_before if self.days else 0

    @property
    def open_after(self) -> int:
        """The same after the last of them."""
        return self.days[-1].open_after if self.days else 0

    @property
    def added_tax(self) -> int:
        """The taxes that are added to prices; 0 where prices contain them."""
        return self.amount(FigureKind.TAX) if any(day.tax_added for day in self.days) else 0

    @property
    def brought(self) -> int:
        """What the sale side comes to."""
        kinds = (FigureKind.SALE, FigureKind.CHARGE, FigureKind.TIP, FigureKind.ROUNDING)
        sold = total(self.amount(kind) for kind in kinds) + self.added_tax
        stored = self.amount(FigureKind.STORED, "sold") + self.amount(FigureKind.DEPOSIT, "taken")
        unpaid = self.amount(FigureKind.ACCOUNT, TAX_OF_IT) if any(day.tax_added for day in self.days) else 0
        return sold - self.prepaid + unpaid + stored + self.amount(FigureKind.ACCOUNT, "received")

    @property
    def prepaid(self) -> int:
        """What of the sales was paid before, by series or for goods that were set aside."""
        return total(one.amount for one in self.of(FigureKind.STORED) if (one.name, one.detail) in PAID_BEFORE)

    @property
    def difference(self) -> int:
        """What the sale side is above the money side: 0 for all tills together, or there is a fault."""
        return self.brought - self.amount(FigureKind.TENDER) - (self.open_after - self.open_before)


def report(days: Sequence[DayFigures], till: str | None = None, later: Iterable[Correction] = ()) -> Report:
    """The report of days in their order, of all tills or of one.

    `later` is what was corrected on other days of what these sold.
    """
    sums = [one for day in days for one in day.sums if till in (None, one.till)]
    parts = {kind: _counted(sums, kind, lambda one: (one.name, one.detail)) for kind in FigureKind}
    groups = _with_percent(_counted(sums, FigureKind.SALE, lambda one: (one.name, "")))
    parts[FigureKind.SALE] = _with_percent(parts[FigureKind.SALE])
    return Report(
        tuple(days),
        till,
        parts,
        groups,
        tuple(sorted(_counted(sums, FigureKind.TICKET, lambda one: (f"{one.hour:02d}", "")), key=lambda one: one.name)),
        tuple(one for day in days for one in day.drawers if till in (None, one.till)),
        tuple(one for day in days for one in day.corrections if till in (None, one.till)),
        tuple(one for one in later if till in (None, one.till)),
        _exceptions(one for day in days for one in day.exceptions if till in (None, one.till)),
        {tax.id: tax for day in days for tax in day.taxes},
    )


def _counted(sums: Iterable[Sum], kind: FigureKind, named: Callable[[Sum], tuple[str, str]]) -> tuple[Counted, ...]:
    found: dict[tuple[str, str], Counted] = {}
    for one in sums:
        if one.kind != kind:
            continue
        name = named(one)
        has = found.get(name, Counted(*name))
        found[name] = Counted(*name, has.count + one.count, has.amount + one.amount, has.base + one.base)
    return tuple(one for one in found.values() if one.count or one.amount or one.base)


def _with_percent(found: tuple[Counted, ...]) -> tuple[Counted, ...]:
    weights = [max(0, one.amount) for one in found]
    tenths = apportion(1000, weights) if any(weights) else (0,) * len(found)
    return tuple(
        Counted(one.name, one.detail, one.count, one.amount, one.base, part)
        for one, part in zip(found, tenths, strict=True)
    )


def _exceptions(found: Iterable[Exceptional]) -> tuple[Exceptional, ...]:
    by: dict[tuple[str, str], Exceptional] = {}
    for one in found:
        has = by.get((one.kind, one.person))
        count, amount = (has.count, has.amount) if has else (0, 0)
        by[one.kind, one.person] = Exceptional(one.kind, one.person, one.till, count + one.count, amount + one.amount)
    return tuple(by.values())


def bar_widths(amounts: Sequence[int], full: int = 1000) -> list[int]:
    """How long bars are, the largest `full`; amounts of 0 or less have none."""
    most = max(amounts, default=0)
    return [max(0, amount) * full // most if most > 0 else 0 for amount in amounts]


def change_tenths(now: int, before: int) -> int | None:
    """By how many tenths of a percent something changed, rounded; None when there was nothing before."""
    return round_half_up(Fraction(1000 * (now - before), before)) if before > 0 else None


def average(amount: int, count: int) -> int:
    """What one comes to, rounded; 0 without any. Minor units."""
    return round_half_up(Fraction(amount, count)) if count else 0
