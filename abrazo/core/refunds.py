"""Money given back after a ticket was closed: off which lines and charges it comes, and what of it is tax.

Rules here
- what a refund gives back is remembered by line and charge, so nothing goes back twice (reckoning, section 12)
- lines and charges chosen without an amount give back all that is left of them; an amount comes off what was chosen in
  proportion to what is left of each, and is refused above it
- pieces of a line give back cumulatively, `round(net x q2 / Q) - round(net x q1 / Q)`, of what amounts left of its net
- the tax in a refund is reckoned so that the tax of all refunds together is the rounded tax of all that went back: when
  everything is refunded, exactly the tax of the ticket is (EN 16931 rounds once per VAT category, as section 5 does)
- where tax is added it goes back with its line; where it is contained it is within
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from fractions import Fraction

from abrazo.core.bill import Bill
from abrazo.core.errors import Code, Refused
from abrazo.core.money import round_half_up, totals
from abrazo.core.sharing import apportion
from abrazo.core.states import RowKind, TaxMode
from abrazo.core.ticket import Ticket

Ref = tuple[RowKind, str]  # (line or charge, its id)


@dataclass(frozen=True, slots=True)
class TaxedPart:
    """A part of a refund under one tax (None: untaxed), with the tax in it; minor units, an added tax included."""

    tax: str | None
    amount: int
    contained: int


@dataclass(frozen=True, slots=True)
class GivenBack:
    """What earlier refunds of a ticket gave back, in minor units: by line and charge (added tax left out), and tax."""

    amounts: Mapping[Ref, int] = field(default_factory=dict)
    taxes: Mapping[str | None, int] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class RefundPlan:
    """A refund: what comes off each line and charge (added tax left out), and its parts by tax."""

    rows: tuple[tuple[Ref, int], ...]
    parts: tuple[TaxedPart, ...]

    @property
    def amount(self) -> int:
        """What goes back in all, in minor units, tips left out."""
        return sum(part.amount for part in self.parts)


class _Books:
    """A closed ticket as its refunds see it."""

    def __init__(self, ticket: Ticket, bill: Bill, given: GivenBack) -> None:
        self.given, self.added = given, ticket.tax_mode == TaxMode.EXCLUSIVE
        rows = [
            ((RowKind.LINE, line.id), line.tax, amounts.net)
            for line, amounts in zip(ticket.lines, bill.lines, strict=True)
        ]
        rows += [
            ((RowKind.CHARGE, c.id), c.tax, amount) for c, (_, amount) in zip(ticket.charges, bill.charges, strict=True)
        ]
        self.tax_of = {ref: tax for ref, tax, _ in rows}
        self.left = {ref: amount - given.amounts.get(ref, 0) for ref, _, amount in rows}
        self.taxes: dict[str | None, tuple[int, int]] = {tax.id: (tax.base, tax.tax) for tax in bill.taxes}
        self.before: dict[str | None, int] = {}
        for ref, tax, amount in rows:
            self.before[tax] = self.before.get(tax, 0) + amount - self.left[ref]

    def tax_on(self, tax: str | None, amount: int) -> int:
        """The tax that goes back with an amount of its base."""
        base, whole = self.taxes.get(tax, (0, 0))
        if not base:
            return 0
        cumulative = round_half_up(Fraction(whole * (self.before[tax] + amount), base))
        return max(0, cumulative - self.given.taxes.get(tax, 0))

    def gross(self, tax: str | None, amount: int) -> int:
        """An amount of a base with the tax that is added to it."""
        return amount + (self.tax_on(tax, amount) if self.added else 0)

    def by_tax(self, refs: Sequence[Ref]) -> dict[str | None, list[Ref]]:
        """Rows under their taxes, in their order."""
        found: dict[str | None, list[Ref]] = {}
        for ref in refs:
            found.setdefault(self.tax_of[ref], []).append(ref)
        return found

    def base_of(self, tax: str | None, gross: int, base: int) -> int:
        """What of a base goes back with a part of its gross; all of it only with all of the gross."""
        if not self.added:
            return gross
        whole = self.gross(tax, base)
        return gross - round_half_up(Fraction(gross * (whole - base), whole))


def left_of(taken: Mapping[int, int], gone: Iterable[tuple[int, int]]) -> dict[int, int]:
    """What of each payment can still go back, in minor units; those of which nothing is left are not named.

    `taken` is what each brought, `gone` what refunds gave back or may be giving back of it.
    """
    left = totals([*taken.items(), *((payment, -amount) for payment, amount in gone)])
    return {payment: amount for payment, amount in left.items() if amount > 0}


def refundable(ticket: Ticket, bill: Bill, given: GivenBack) -> dict[Ref, int]:
    """What of each line and charge can still go back alone, in minor units with its added tax."""
    books = _Books(ticket, bill, given)
    return {ref: books.gross(books.tax_of[ref], left) if left else 0 for ref, left in books.left.items()}


def pieces_worth(net: int, quantity: Fraction, before: Fraction, back: Fraction) -> int:
    """What pieces of a line give back when `before` of its quantity went back earlier; minor units.

    `net` is of the whole line, less what was given back of it as amounts. Refused: none, or more than is left.
    """
    if back <= 0 or before + back > quantity:
        raise Refused(Code.ABOVE_QUANTITY, "lines")
    return round_half_up(net * (before + back) / quantity) - round_half_up(net * before / quantity)


def plan_refund(
    ticket: Ticket,
    bill: Bill,
    given: GivenBack,
    chosen: Sequence[Ref] = (),
    amount: int | None = None,
    most: Mapping[Ref, int] | None = None,
) -> RefundPlan:
    """What a refund of chosen lines and charges gives back: all that is left of them, or an amount in minor units.

    With nothing chosen an amount comes off everything. `most` is what goes back of rows of which only pieces do.
    Refused: chosen twice, nothing left, above what is left.
    """
    books = _Books(ticket, bill, given)
    books.left |= {ref: min(books.left[ref], part) for ref, part in (most or {}).items() if ref in books.left}
    if len(set(chosen)) < len(chosen):
        raise Refused(Code.LINE_TWICE, "lines")
    if any(ref not in books.left for ref in chosen):
        raise Refused(Code.NOT_ON_TICKET, "lines")
    if any(not books.left[ref] and (amount is None or len(chosen) == 1) for ref in chosen):
        raise Refused(Code.REFUNDED_ALREADY, "lines")
    groups = books.by_tax([ref for ref in chosen or books.left if books.left[ref]])
    bases = {tax: sum(books.left[ref] for ref in refs) for tax, refs in groups.items()}
    if amount is None:
        return _plan(books, groups, bases, {tax: books.gross(tax, base) for tax, base in bases.items()})
    left = {tax: books.gross(tax, base) for tax, base in bases.items()}
    if amount > sum(left.values()):
        raise Refused(Code.ABOVE_REFUNDABLE, "refund", left=sum(left.values()))
    gross = dict(zip(left, apportion(amount, list(left.values())), strict=True)) if amount else dict.fromkeys(left, 0)
    return _plan(books, groups, {tax: books.base_of(tax, part, bases[tax]) for tax, part in gross.items()}, gross)


def _plan(
    books: _Books,
    groups: Mapping[str | None, list[Ref]],
    bases: Mapping[str | None, int],
    gross: Mapping[str | None, int],
) -> RefundPlan:
    rows: list[tuple[Ref, int]] = []
    parts: list[TaxedPart] = []
    for tax, refs in groups.items():
        if not gross[tax]:
            continue
        cuts = apportion(bases[tax], [books.left[ref] for ref in refs])
        rows += [(ref, cut) for ref, cut in zip(refs, cuts, strict=True) if cut]
        contained = gross[tax] - bases[tax] if books.added else books.tax_on(tax, bases[tax])
        parts.append(TaxedPart(tax, gross[tax], contained))
    return RefundPlan(tuple(rows), tuple(parts))
