"""A sale in the books, row by row: what closing a ticket credits, and what of it each refund takes back.

Rules here
- a line credits its gross, and what its adjustments and the ticket's discounts took off it or put on; what a series
  covers was paid before, and is not credited again; a charge credits its amount; contained tax is taken out of sales
  and charges, cut over the rows of that tax by their nets
- what went back is reckoned from all that went back so far: each part of a row goes back as the net does, the last
  part taking what makes them agree with it, so that any order and any cutting of refunds adds up to the whole sale
  (reckoning, section 13)
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field
from fractions import Fraction

from abrazo.core.bill import Bill
from abrazo.core.money import round_half_up, totals
from abrazo.core.sharing import apportion
from abrazo.core.states import AdjustmentKind, RowKind, TaxMode
from abrazo.core.ticket import Adjustment, Charge, Discount, Line, LineBill, Ticket, adjustment_parts, discount_parts

Ref = tuple[RowKind, str]  # (line or charge, its id)
Leg = tuple[str, int]  # an account and what it is credited, in minor units


@dataclass(frozen=True, slots=True)
class Names:
    """What the accounts of a sale are called."""

    line: Callable[[Line], str]
    charge: Callable[[Charge], str]
    given: Callable[[Adjustment], str]  # a discount of the ticket comes as an adjustment
    tax: Callable[[str], str]


@dataclass(frozen=True, slots=True)
class SaleRow:
    """A line or charge: its tax and net, and its credits, its own account first; they add up to the net."""

    ref: Ref
    tax: str | None
    net: int
    legs: tuple[Leg, ...]

    def part(self, part: Fraction) -> list[Leg]:
        """The credits of a part of it, 0 to 1: each rounded, the last making them agree with the net's."""
        if part == 1:
            return list(self.legs)
        legs = [(account, round_half_up(amount * part)) for account, amount in self.legs[:-1]]
        rest = round_half_up(self.net * part) - sum(amount for _, amount in legs)
        return [*legs, (self.legs[-1][0], rest)]


@dataclass(frozen=True, slots=True)
class Given:
    """How much of each row (0 to 1), and of each tax in minor units."""

    rows: Mapping[Ref, Fraction] = field(default_factory=dict)
    taxes: Mapping[str | None, int] = field(default_factory=dict)


def sale_rows(ticket: Ticket, bill: Bill, names: Names) -> tuple[SaleRow, ...]:
    """The rows of a sale: its lines, then its charges, in the ticket's order."""
    cuts = discount_parts(ticket.lines, [amounts.own for amounts in bill.lines], ticket.discounts)
    found = [
        SaleRow(
            (RowKind.LINE, line.id),
            line.tax,
            amounts.net,
            tuple(
                _line_legs(
                    line, amounts, names, [(d, cut[index]) for d, cut in zip(ticket.discounts, cuts, strict=True)]
                )
            ),
        )
        for index, (line, amounts) in enumerate(zip(ticket.lines, bill.lines, strict=True))
    ]
    for charge, (_, amount) in zip(ticket.charges, bill.charges, strict=True):
        found.append(SaleRow((RowKind.CHARGE, charge.id), charge.tax, amount, ((names.charge(charge), amount),)))
    return tuple(found)


def _line_legs(line: Line, amounts: LineBill, names: Names, cuts: list[tuple[Discount, int]]) -> Iterator[Leg]:
    parts = list(zip(line.adjustments, adjustment_parts(amounts.gross, line.adjustments), strict=True))
    prepaid = sum(part for adjustment, part in parts if adjustment.kind == AdjustmentKind.SERIES)
    yield names.line(line), amounts.gross + prepaid
    for adjustment, part in parts:
        if adjustment.kind != AdjustmentKind.SERIES:
            yield names.given(adjustment), part
    for discount, cut in cuts:
        if cut:
            yield names.given(Adjustment(AdjustmentKind.DISCOUNT, reason=discount.reason, free=discount.free)), -cut


def all_of(ticket: Ticket, bill: Bill) -> Given:
    """The whole sale."""
    refs: list[Ref] = [(RowKind.LINE, line.id) for line in ticket.lines]
    refs += [(RowKind.CHARGE, charge.id) for charge in ticket.charges]
    return Given(dict.fromkeys(refs, Fraction(1)), {tax.id: tax.tax for tax in bill.taxes})


class SaleBooks:
    """The books of one sale."""

    def __init__(self, ticket: Ticket, bill: Bill, names: Names) -> None:
        self.contained = ticket.tax_mode == TaxMode.INCLUSIVE
        self.rows = sale_rows(ticket, bill, names)
        self.names = names

    def credits(self, given: Given) -> dict[str, int]:
        """What a part of the sale credits each account, in minor units; of the whole sale what closing does."""
        legs, by_tax = list[Leg](), dict[str | None, list[Leg]]()
        for row in self.rows:
            mine = row.part(given.rows.get(row.ref, Fraction(0)))
            legs += mine
            by_tax.setdefault(row.tax, []).append((mine[0][0], sum(amount for _, amount in mine)))
        for tax, amount in given.taxes.items():
            if tax is None or not amount:
                continue
            legs.append((self.names.tax(tax), amount))
            if self.contained:
                rows = by_tax[tax]
                parts = apportion(amount, [net for _, net in rows])
                legs += [(account, -part) for (account, _), part in zip(rows, parts, strict=True)]
        return totals(legs)

    def without_tax(self, given: Given) -> dict[Ref, int]:
        """What each row of the whole sale comes to without the tax that is in it, in minor units."""
        by_tax: dict[str | None, list[SaleRow]] = {}
        for row in self.rows:
            by_tax.setdefault(row.tax, []).append(row)
        found = {row.ref: row.net for row in self.rows}
        for tax, rows in by_tax.items() if self.contained else ():
            parts = apportion(given.taxes.get(tax, 0), [row.net for row in rows]) if given.taxes.get(tax) else ()
            found |= {row.ref: row.net - part for row, part in zip(rows, parts, strict=False)}
        return found

    def taken_back(self, before: Given, after: Given) -> dict[str, int]:
        """What a refund takes back of each account's credit: from what had gone back before it to what has now."""
        return totals(
            [*self.credits(after).items(), *((account, -part) for account, part in self.credits(before).items())]
        )

    def completed(self, amounts: Mapping[Ref, int], taxes: Mapping[str | None, int]) -> Given:
        """What went back in minor units, as parts of the rows; rows of 0 are back when everything else is."""
        whole = all(amounts.get(row.ref, 0) == row.net for row in self.rows if row.net)
        parts = {
            row.ref: Fraction(amounts.get(row.ref, 0), row.net) if row.net else Fraction(int(whole))
            for row in self.rows
        }
        return Given(parts, taxes)
