"""What an entry of the journal puts into the day's report: figures by kind and name, beside its postings.

Rules here
- a figure counts on the day on which its entry was written, at the till where it was: what closed, what was taken, what
  went back; a correction on a later day counts on that later day
- sales are line nets as on the ticket, contained tax in them; a refund counts against the same names as the sale, and
  all refunds of a ticket together are exactly its sale
- a day holds when sales (less what series paid of them before), charges, added taxes, stored value sold, deposits
  taken, received on accounts, tips and rounding together are what the tenders brought, and what open tickets were paid
  less (`Report` checks it)
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from fractions import Fraction

from abrazo.core.bill import Bill
from abrazo.core.ledger import (
    ROUNDING,
    STORED,
    LineUse,
    Posting,
    Postings,
    Role,
    close_postings,
    sale_names,
    stored_postings,
    tip_back_postings,
    tip_parts,
    turned,
)
from abrazo.core.sale_books import Given, Names, Ref, SaleBooks, SaleRow, all_of, sale_rows
from abrazo.core.states import AdjustmentKind, RowKind, Tender
from abrazo.core.ticket import Adjustment, Line, Ticket

TAX_OF_IT = "tax back"  # of an account: it is in the taxes already


class FigureKind(StrEnum):
    """What a figure counts."""

    TICKET = "ticket"  # closed, by what it came to
    SALE = "sale"  # by report group and item
    SOLD_BY = "sold by"  # by person
    GIVEN = "given"  # discounts, benefits, comps (negative) and surcharges, by kind and reason
    CHARGE = "charge"
    TAX = "tax"  # with its base
    TIP = "tip"  # by person
    ROUNDING = "rounding"
    TENDER = "tender"  # by tender and route
    ACCOUNT = "account"  # put on, received, written off, tax of what was
    ADVANCE = "advance"  # tax on deposits, received and used, with what of them bears it
    DEPOSIT = "deposit"  # taken, used, given back, kept
    STORED = "stored value"  # sold, used, expired, by kind; a series is used by its worth without tax
    POINTS = "points"  # earned, spent; the count is points, the amount their worth
    PETTY = "petty"  # out, in, by category


@dataclass(frozen=True, slots=True)
class Figure:
    """So many, and so much in minor units; a tax with its base."""

    kind: FigureKind
    name: str = ""
    detail: str = ""
    count: int = 0
    amount: int = 0
    base: int = 0

    @property
    def key(self) -> tuple[FigureKind, str, str]:
        """What it is about."""
        return self.kind, self.name, self.detail


Figures = tuple[Figure, ...]


@dataclass(frozen=True, slots=True)
class Booked:
    """What an entry brings into the books and into the day's report."""

    postings: Postings = ()
    figures: Figures = ()

    def turned(self) -> Booked:
        """The same with all signs turned."""
        return Booked(turned(self.postings), minus(self.figures))


NOTHING = Booked()


def together(*parts: Booked) -> Booked:
    """What one entry books of several parts."""
    return Booked(
        tuple(posting for part in parts for posting in part.postings),
        tuple(figure for part in parts for figure in part.figures),
    )


def minus(figures: Iterable[Figure]) -> Figures:
    """Figures with their signs turned."""
    return tuple(replace(one, count=-one.count, amount=-one.amount, base=-one.base) for one in figures)


def summed(figures: Iterable[Figure]) -> Figures:
    """Figures about the same together, in the order in which they first came; what comes to nothing is left out."""
    found: dict[tuple[FigureKind, str, str], Figure] = {}
    for one in figures:
        has = found.get(one.key)
        both = (one.count, one.amount, one.base)
        if has is not None:
            both = (has.count + one.count, has.amount + one.amount, has.base + one.base)
        found[one.key] = Figure(*one.key, *both)
    return tuple(one for one in found.values() if one.count or one.amount or one.base)


# ---- a sale and its refunds


def _given_name(adjustment: Adjustment) -> str:
    comped = adjustment.percent == 100 and adjustment.kind == AdjustmentKind.DISCOUNT
    return f"{'comp' if comped else adjustment.kind}:{adjustment.named}"


IN_REPORT = Names(lambda line: line.label or line.id, lambda charge: charge.label or charge.id, _given_name, str)
SOLD: Mapping[Role, Callable[[int, int], Figure]] = {
    Role.DEPOSIT: lambda count, amount: Figure(FigureKind.DEPOSIT, "taken", "", count, amount),
    Role.ACCOUNT_PAYMENT: lambda count, amount: Figure(FigureKind.ACCOUNT, "received", "", count, amount),
}


def part_figures(ticket: Ticket, bill: Bill, uses: Mapping[str, LineUse], given: Given) -> Figures:
    """The figures of a part of a sale: of the whole of it, or of what went back so far. Tips are not among them."""
    found = list[Figure]()
    lines, bases = {line.id: line for line in ticket.lines}, dict[str | None, int]()
    for row in sale_rows(ticket, bill, IN_REPORT):
        part = given.rows.get(row.ref, Fraction(0))
        if not part:
            continue
        legs = row.part(part)
        net = sum(amount for _, amount in legs)
        bases[row.tax] = bases.get(row.tax, 0) + net
        found += _row_figures(row, lines.get(row.ref[1]), uses, part, net)
        found += [Figure(FigureKind.GIVEN, *_kind_and_reason(name), int(part), amount) for name, amount in legs[1:]]
    for tax in bill.taxes:
        amount, base = given.taxes.get(tax.id, 0), bases.get(tax.id, 0)
        if amount or base:
            found.append(Figure(FigureKind.TAX, tax.id, "", 0, amount, base))
    return summed(found)


def _kind_and_reason(name: str) -> tuple[str, str]:
    kind, _, reason = name.partition(":")
    return kind, reason


def _row_figures(
    row: SaleRow, line: Line | None, uses: Mapping[str, LineUse], part: Fraction, net: int
) -> Iterable[Figure]:
    label = row.legs[0][0]
    if line is None or row.ref[0] == RowKind.CHARGE:
        yield Figure(FigureKind.CHARGE, label, "", int(part), net)
        return
    use = uses[line.id]
    counted = line.quantity.denominator == 1 and not use.measured
    pieces = int(line.quantity * part) if counted else int(part)
    if use.role is Role.SALE:
        yield Figure(FigureKind.SALE, use.group, label, pieces, net)
        yield Figure(FigureKind.SOLD_BY, line.staff or "", "", pieces, net)
    elif use.role in SOLD:
        yield SOLD[use.role](int(part), net)
    else:
        yield Figure(FigureKind.STORED, "sold", use.role, int(part), net)


def closed(ticket: Ticket, bill: Bill, uses: Mapping[str, LineUse], sold_from: str = "") -> Booked:
    """What closing a settled ticket books. `uses` says by line id what each line does.

    `sold_from` is the account without a customer on which it was sold.
    """
    figures = [
        Figure(FigureKind.TICKET, sold_from, count=1, amount=bill.total),
        *part_figures(ticket, bill, uses, all_of(ticket, bill)),
    ]
    figures += [Figure(FigureKind.TIP, staff, "", 1, amount) for staff, amount in bill.staff_tips]
    if bill.rounding:
        figures.append(Figure(FigureKind.ROUNDING, count=1, amount=bill.rounding))
    return Booked(close_postings(ticket, bill, uses), tuple(figures))


@dataclass(frozen=True, slots=True)
class WentBack:
    """What went back of a sale: minor units by line and charge (added tax left out), and tax by its id."""

    amounts: Mapping[Ref, int]
    taxes: Mapping[str | None, int]


def refunded(ticket: Ticket, bill: Bill, uses: Mapping[str, LineUse], before: WentBack, after: WentBack) -> Booked:
    """What a refund takes back of the sale: from what had gone back before it to what has now; money is not in it."""
    books = SaleBooks(ticket, bill, sale_names(uses))
    earlier, now = (books.completed(one.amounts, one.taxes) for one in (before, after))
    legs = books.taken_back(earlier, now)
    parts = (part_figures(ticket, bill, uses, state) for state in (now, earlier))
    figures = summed([*minus(next(parts)), *next(parts)])
    return Booked(tuple(Posting(account, amount) for account, amount in legs.items() if amount), figures)


def tips_given_back(tip: int, account: str, shares: Sequence[tuple[str, int]]) -> Booked:
    """A tip given back for a closed ticket, from those whose it was; out of where the money lies, in minor units."""
    figures = tuple(Figure(FigureKind.TIP, staff, "", 0, -part) for staff, part in tip_parts(tip, shares))
    return Booked(tip_back_postings(account, tip, shares), figures)


# ---- money


def tender_figures(tender: str, route: str, amount: int, credit: int = 0, points: int = 0) -> Figures:
    """What a payment is in the report; `credit` is what of it became store credit, `points` how many paid it.

    Negative when it is taken back.
    """
    sign = 1 if amount >= 0 else -1
    found = [Figure(FigureKind.TENDER, tender, route, sign, amount)]
    if tender == Tender.ACCOUNT:
        found.append(Figure(FigureKind.ACCOUNT, "put on", "", sign, amount))
    elif tender == Tender.DEPOSIT:
        found.append(Figure(FigureKind.DEPOSIT, "used", "", sign, amount))
    elif tender == Tender.POINTS:
        found.append(Figure(FigureKind.POINTS, "spent", "", points, amount))
    elif tender in STORED:
        found.append(Figure(FigureKind.STORED, "used", tender, sign, amount))
    if credit:
        found.append(Figure(FigureKind.STORED, "sold", Tender.STORE_CREDIT, sign, credit))
    return tuple(found)


def deposit_given_back(account: str, amount: int) -> Booked:
    """What is left of a deposit goes back to whoever left it, out of where money lies; minor units."""
    figures = (Figure(FigureKind.DEPOSIT, "given back", "", 1, amount),)
    return Booked(stored_postings(account, "deposit", -amount), figures)


def cash_difference(amount: int, account: str) -> Booked:
    """What rounding of cash takes up when it goes back: more went back than was owed, or (negative) less."""
    if not amount:
        return NOTHING
    return Booked(
        (Posting(ROUNDING, amount), Posting(account, -amount)), (Figure(FigureKind.ROUNDING, count=0, amount=-amount),)
    )
