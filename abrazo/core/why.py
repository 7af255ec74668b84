"""Why this much: every amount of a bill with its derivation, as data. The figures are the reckoning's own.

Rules here
- a line's steps begin at its list price and add up to its net
- a charge names what it is a percent of; one of a fixed amount is that amount
- a tax names what it is on, its rate and its exact value before the one rounding
- a payer's cell names the row it is part of, the weights, and its exact value before the table was rounded
"""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from abrazo.core.bill import Bill, TableRow
from abrazo.core.states import RowKind, TaxMode
from abrazo.core.ticket import Line, Ticket, adjustment_parts, discount_parts, eligible, line_bills


@dataclass(frozen=True, slots=True)
class Step:
    """One step of a line. `amount` is what it adds, in minor units (for price and choice: of one piece).

    `of` is the amount that a percent or a part is taken of; `exact` the value before rounding, where it differs.
    """

    kind: str  # price, choice, quantity, benefit, discount, surcharge, ticket discount
    amount: int
    label: str | None = None
    times: Fraction = Fraction(1)
    percent: Fraction | None = None
    of: int | None = None
    exact: Fraction | None = None

    @property
    def comes_to(self) -> int:
        """The amount as often as it counts, in minor units."""
        return int(self.amount * self.times)


@dataclass(frozen=True, slots=True)
class LineWhy:
    """A line's steps; gross after quantity, own after adjustments, net at the end."""

    id: str
    steps: tuple[Step, ...]
    gross: int
    own: int
    net: int


@dataclass(frozen=True, slots=True)
class ChargeWhy:
    """A charge: a percent of the lines' nets or grosses (`of`) with its value before rounding, or a fixed amount."""

    id: str
    amount: int
    percent: Fraction | None = None
    of: int | None = None
    exact: Fraction | None = None


@dataclass(frozen=True, slots=True)
class TaxWhy:
    """A tax: what it is on, by (kind, ref, minor units), and its value before and after rounding."""

    id: str
    rate: Fraction
    parts: tuple[tuple[str, str, int], ...]
    base: int
    exact: Fraction
    amount: int


@dataclass(frozen=True, slots=True)
class CellWhy:
    """A payer's part of a row: `weight` of `weights`, exact and rounded. `kept`: paid before, so it stays."""

    ref: str
    kind: str
    whole: int
    weight: int
    weights: int
    exact: Fraction
    amount: int
    kept: bool = False


@dataclass(frozen=True, slots=True)
class PayerWhy:
    """A payer's cells, their exact sum, and the total after rounding."""

    id: str
    cells: tuple[CellWhy, ...]
    exact: Fraction
    total: int


@dataclass(frozen=True, slots=True)
class Why:
    """The derivation of a whole bill."""

    lines: tuple[LineWhy, ...]
    charges: tuple[ChargeWhy, ...]
    taxes: tuple[TaxWhy, ...]
    payers: tuple[PayerWhy, ...]


def why(ticket: Ticket, bill: Bill) -> Why:
    """Derive every amount of a bill that was reckoned from this ticket."""
    return Why(why_lines(ticket), why_charges(ticket, bill), why_taxes(ticket, bill), why_payers(bill))


def why_lines(ticket: Ticket) -> tuple[LineWhy, ...]:
    """The steps of every line, from list price to net."""
    bills = line_bills(ticket)
    owns = [bill.own for bill in bills]
    taken = discount_parts(ticket.lines, owns, ticket.discounts)
    found = []
    for index, (line, bill) in enumerate(zip(ticket.lines, bills, strict=True)):
        steps = [*_price_steps(line, bill.gross), *_adjustment_steps(line, bill.gross)]
        left = bill.own
        for number, (discount, parts) in enumerate(zip(ticket.discounts, taken, strict=True)):
            if parts[index]:
                before = [own - sum(taken[i][j] for i in range(number)) for j, own in enumerate(owns)]
                reached = sum(a for a, other in zip(before, ticket.lines, strict=True) if eligible(other, discount))
                exact = Fraction(sum(parts) * left, reached)
                percent, reason = discount.percent, discount.reason
                steps.append(Step("ticket discount", -parts[index], reason, percent=percent, of=left, exact=-exact))
                left -= parts[index]
        found.append(LineWhy(line.id, tuple(steps), bill.gross, bill.own, bill.net))
    return tuple(found)


def _price_steps(line: Line, gross: int) -> list[Step]:
    steps = [Step("price", line.unit_price, line.label)]
    steps += [Step("choice", choice.price, choice.label, Fraction(choice.quantity)) for choice in line.choices]
    each = line.unit_price + sum(choice.price * choice.quantity for choice in line.choices)
    return [*steps, Step("quantity", gross, None, line.quantity, of=each, exact=each * line.quantity)]


def _adjustment_steps(line: Line, gross: int) -> list[Step]:
    left, steps = gross, list[Step]()
    for adjustment, part in zip(line.adjustments, adjustment_parts(gross, line.adjustments), strict=True):
        percent, sign = adjustment.percent, -1 if part < 0 else 1
        exact = None if percent is None else sign * left * percent / 100
        steps.append(Step(adjustment.kind, part, adjustment.reason, percent=percent, of=left, exact=exact))
        left += part
    return steps


def why_charges(ticket: Ticket, bill: Bill) -> tuple[ChargeWhy, ...]:
    """What every charge is taken of, and its exact value before rounding."""
    found = []
    for charge, (_, amount) in zip(ticket.charges, bill.charges, strict=True):
        if charge.percent is None:
            found.append(ChargeWhy(charge.id, amount))
        else:
            of = bill.gross if charge.base == "gross" else bill.net
            found.append(ChargeWhy(charge.id, amount, charge.percent, of, charge.percent * of / 100))
    return tuple(found)


def why_taxes(ticket: Ticket, bill: Bill) -> tuple[TaxWhy, ...]:
    """What every tax is on, and its exact value before the one rounding."""
    found = []
    for tax, reckoned in zip(ticket.taxes, bill.taxes, strict=True):
        lines = zip(ticket.lines, bill.lines, strict=True)
        parts = [(RowKind.LINE, line.id, amounts.net) for line, amounts in lines if line.tax == tax.id]
        charges = zip(ticket.charges, bill.charges, strict=True)
        parts += [(RowKind.CHARGE, charge.id, amount) for charge, (_, amount) in charges if charge.tax == tax.id]
        exact = reckoned.base * tax.rate
        exact = exact if ticket.tax_mode == TaxMode.EXCLUSIVE else exact / (1 + tax.rate)
        found.append(TaxWhy(tax.id, tax.rate, tuple(parts), reckoned.base, exact, reckoned.tax))
    return tuple(found)


def why_payers(bill: Bill) -> tuple[PayerWhy, ...]:
    """Every payer's cells with their exact values; empty cells are left out."""
    found = []
    for column, payer in enumerate(bill.payers):
        cells = tuple(cell for row in bill.table if (cell := _cell(row, column)) is not None)
        exact = sum((cell.exact for cell in cells), Fraction(0))
        found.append(PayerWhy(payer.id, cells, exact, payer.account.total))
    return tuple(found)


def _cell(row: TableRow, column: int) -> CellWhy | None:
    kept, weight, weights = row.kept[column], row.row.weights[column], sum(row.row.weights)
    whole = row.row.amount + sum(row.kept)
    if kept:
        return CellWhy(row.ref, row.kind, whole, 0, weights, Fraction(kept), kept, kept=True)
    if not weight or not row.row.amount:
        return None
    exact = Fraction(row.row.amount * weight, weights)
    return CellWhy(row.ref, row.kind, whole, weight, weights, exact, row.cells[column])
