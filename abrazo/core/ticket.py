"""A ticket and what its lines come to, before anybody shares or pays.

Rules here
- line: `gross = round((unit price + choices) x quantity)`, then its own adjustments in order, each on what is left
- ticket discounts in order, apportioned over the eligible lines by their current amounts; what stands is the net
- charges: an amount, or a percent of the sum of nets or of grosses
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from fractions import Fraction

from abrazo.core.errors import Code, Refused, pointer
from abrazo.core.money import Currency, bounded, round_half_up, rounded
from abrazo.core.sharing import Guest, Payer, apportion
from abrazo.core.states import AdjustmentKind, RowKind, Share, Split, TaxMode, TipsTo
from abrazo.core.tax import Tax
from abrazo.core.tenders import Payment
from abrazo.core.tips import Tip


@dataclass(frozen=True, slots=True)
class Choice:
    """A modifier choice; its price may be negative."""

    price: int
    quantity: int = 1
    label: str | None = None


@dataclass(frozen=True, slots=True)
class Adjustment:
    """Benefit, discount or surcharge on one line: exactly one of `percent` and `amount`.

    `free`: somebody typed the reason, so that the books do not name it.
    """

    kind: AdjustmentKind
    percent: Fraction | None = None
    amount: int | None = None
    reason: str | None = None
    free: bool = False

    @property
    def named(self) -> str:
        """The reason as books name it; empty when somebody typed it."""
        return "" if self.free else self.reason or ""


@dataclass(frozen=True, slots=True)
class Line:
    """Something had. `shares` are whole weights by guest; none means all guests alike."""

    id: str
    unit_price: int
    quantity: Fraction = Fraction(1)
    label: str | None = None
    tax: str | None = None
    staff: str | None = None
    choices: tuple[Choice, ...] = ()
    adjustments: tuple[Adjustment, ...] = ()
    shares: tuple[tuple[str, int], ...] = ()
    discountable: bool = True


@dataclass(frozen=True, slots=True)
class Discount:
    """A discount on the ticket; `lines` empty reaches every eligible line, `stack` is one or all, `free` as above."""

    percent: Fraction | None = None
    amount: int | None = None
    reason: str | None = None
    lines: tuple[str, ...] = ()
    stack: str = "one"
    free: bool = False


@dataclass(frozen=True, slots=True)
class Charge:
    """A fee, delivery or service charge; `share` is proportional or even, `base` net or gross."""

    id: str
    percent: Fraction | None = None
    amount: int | None = None
    label: str | None = None
    base: str = "net"
    tax: str | None = None
    share: Share = Share.PROPORTIONAL


@dataclass(frozen=True, slots=True)
class Settled:
    """What a payer who has settled keeps, whatever happens to the ticket later: cells by (kind, ref), memo by tax."""

    cells: Mapping[tuple[RowKind, str], int]
    memo: Mapping[str, int]


@dataclass(frozen=True, slots=True)
class Ticket:
    """Everything that the reckoning of one ticket needs.

    `split` is shares, equal or amounts; `tips_to` is staff (those who served) or pool. `stated`: payers
    who give an amount, in minor units, while the others share the rest by shares or in equal parts. `fees`: payers who
    take the charges evenly or in proportion, whatever the charges say; the last one takes the rest.
    """

    currency: Currency
    tax_mode: TaxMode
    lines: tuple[Line, ...]
    cash_rounding: int = 1
    taxes: tuple[Tax, ...] = ()
    guests: tuple[Guest, ...] = ()
    staff: str | None = None
    discounts: tuple[Discount, ...] = ()
    charges: tuple[Charge, ...] = ()
    split: Split = Split.SHARES
    payers: tuple[Payer, ...] = ()
    tips: tuple[Tip, ...] = ()
    payments: tuple[Payment, ...] = ()
    settled: Mapping[str, Settled] = field(default_factory=dict)
    tips_to: TipsTo = TipsTo.STAFF
    stated: Mapping[str, int] = field(default_factory=dict)
    fees: Mapping[str, Share] = field(default_factory=dict)
    untipped: frozenset[str] = frozenset()  # lines that sell nothing, such as an old debt: no tip is reckoned on them


@dataclass(frozen=True, slots=True)
class LineBill:
    """A line's amounts in minor units: gross, own (after its adjustments), net (after ticket discounts)."""

    id: str
    gross: int
    own: int
    net: int


def price_of_one(unit_price: int, choices: Iterable[int]) -> int:
    """What one of a line comes to with the prices of its choices, in minor units."""
    return unit_price + sum(choices)


def line_gross(line: Line) -> int:
    """Gross of a line in minor units; refused below 0."""
    each = line.unit_price
    for choice in line.choices:
        each += choice.price * choice.quantity
    many = line.quantity
    gross = bounded(each * many.numerator if many.denominator == 1 else round_half_up(each * many))
    if gross < 0:
        raise Refused(Code.NEGATIVE_LINE)
    return gross


def part_of(left: int, percent: Fraction | None, amount: int | None) -> int:
    """A percent of what is left, rounded, or the amount itself."""
    if percent is None:
        assert amount is not None
        return amount
    return rounded(left * percent.numerator, 100 * percent.denominator)


def adjustment_parts(gross: int, adjustments: Sequence[Adjustment]) -> list[int]:
    """What each of a line's own adjustments adds (or, negative, takes away), in their order."""
    left, parts = gross, list[int]()
    if not adjustments:
        return parts
    for adjustment in adjustments:
        part = part_of(left, adjustment.percent, adjustment.amount)
        parts.append(part if adjustment.kind == AdjustmentKind.SURCHARGE else -min(part, left))
        left = bounded(left + parts[-1])
    return parts


def adjusted(gross: int, adjustments: Sequence[Adjustment]) -> int:
    """What is left of a gross after the line's own adjustments, in their order."""
    return gross + sum(adjustment_parts(gross, adjustments))


def eligible(line: Line, discount: Discount) -> bool:
    """Whether a ticket discount reaches a line."""
    if not line.discountable or (discount.lines and line.id not in discount.lines):
        return False
    return discount.stack == "all" or all(adjustment.kind != AdjustmentKind.DISCOUNT for adjustment in line.adjustments)


def discount_parts(lines: Sequence[Line], owns: Sequence[int], discounts: Sequence[Discount]) -> list[list[int]]:
    """What each ticket discount takes from each line (0 or more), discount by discount."""
    nets, found = list(owns), list[list[int]]()
    for discount in discounts:
        reached = [index for index, line in enumerate(lines) if eligible(line, discount)]
        amounts = [nets[index] for index in reached]
        whole = bounded(sum(amounts))
        taken = min(part_of(whole, discount.percent, discount.amount), whole)
        parts = [0] * len(nets)
        for index, part in zip(reached, apportion(taken, amounts) if taken else (), strict=False):
            parts[index] = part
            nets[index] -= part
        found.append(parts)
    return found


def discounted(lines: Sequence[Line], owns: Sequence[int], discounts: Sequence[Discount]) -> list[int]:
    """Nets of the lines after the ticket's discounts, in their order."""
    if not discounts:
        return list(owns)
    taken = discount_parts(lines, owns, discounts)
    return [own - sum(parts[index] for parts in taken) for index, own in enumerate(owns)]


def line_bills(ticket: Ticket) -> tuple[LineBill, ...]:
    """Gross, own and net of every line."""
    grosses, owns = [], []
    for index, line in enumerate(ticket.lines):
        try:
            grosses.append(line_gross(line))
            owns.append(adjusted(grosses[-1], line.adjustments))
        except Refused as refusal:
            raise refusal.at(pointer("lines", index)) from None
    nets = discounted(ticket.lines, owns, ticket.discounts)
    return tuple(LineBill(line.id, *amounts) for line, *amounts in zip(ticket.lines, grosses, owns, nets, strict=True))


def charge_amount(charge: Charge, bills: Sequence[LineBill], where: str = "") -> int:
    """What a charge comes to, in minor units."""
    base = sum(bill.gross if charge.base == "gross" else bill.net for bill in bills)
    return bounded(part_of(base, charge.percent, charge.amount), where)
