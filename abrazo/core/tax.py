"""How tax is reckoned.

Rules here
- one rounding per tax on the ticket, never per line, as EN 16931 does per VAT category (rule BR-CO-17)
- exclusive: `round(base x rate)` added; inclusive: `round(base x rate / (1 + rate))` contained
- a tax with parts (state, town) is apportioned over them by rate
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from decimal import Decimal
from fractions import Fraction

from abrazo.core.money import rounded
from abrazo.core.sharing import apportion
from abrazo.core.states import TaxCategory, TaxMode


@dataclass(frozen=True, slots=True)
class TaxPart:
    """One authority's part of a tax."""

    label: str | None
    rate: Fraction


@dataclass(frozen=True, slots=True)
class Tax:
    """A tax rate from 0 to 1; its parts, if any, add up to it. `category` and `exemption` are for invoices."""

    id: str
    rate: Fraction
    label: str | None = None
    parts: tuple[TaxPart, ...] = ()
    category: TaxCategory | None = None
    exemption: str = ""


@dataclass(frozen=True, slots=True)
class TaxBill:
    """What one tax comes to: base and tax in minor units, and the tax of each part."""

    id: str
    base: int
    tax: int
    parts: tuple[tuple[str | None, int], ...]


def rate_text(rate: Fraction) -> str:
    """A rate as a decimal string, for example 0.2; rates are read from decimals, so that nothing is lost."""
    return f"{(Decimal(rate.numerator) / Decimal(rate.denominator)).normalize():f}"


def tax_amount(base: int, rate: Fraction, mode: TaxMode) -> int:
    """Tax on a base in minor units; `mode` is exclusive (added) or inclusive (contained). Source: EN 16931 BR-CO-17."""
    top, bottom = rate.numerator, rate.denominator
    return rounded(base * top, bottom if mode == TaxMode.EXCLUSIVE else bottom + top)


def with_added_tax(amounts: Iterable[tuple[str | None, int]], taxes: Sequence[Tax], mode: TaxMode) -> int:
    """What amounts, as (tax id, net), come to in minor units: with the tax that is added, once per tax."""
    bases: dict[str | None, int] = {}
    for tax_id, amount in amounts:
        bases[tax_id] = bases.get(tax_id, 0) + amount
    added = sum(tax_amount(bases.get(tax.id, 0), tax.rate, mode) for tax in taxes) if mode == TaxMode.EXCLUSIVE else 0
    return sum(bases.values()) + added


def tax_bill(tax: Tax, base: int, mode: TaxMode) -> TaxBill:
    """One tax on its base, with its parts."""
    amount = tax_amount(base, tax.rate, mode)
    return TaxBill(tax.id, base, amount, in_parts(tax, amount))


def in_parts(tax: Tax, amount: int) -> tuple[tuple[str | None, int], ...]:
    """An amount of a tax over its parts by their rates, as (label, minor units); empty for one that has none."""
    cuts = apportion(amount, [part.rate for part in tax.parts]) if tax.parts else ()
    return tuple((part.label, cut) for part, cut in zip(tax.parts, cuts, strict=True))


def parts_fit(rate: Fraction, parts: Iterable[Fraction]) -> bool:
    """Whether the rates of a tax's parts add up to its own."""
    return sum(parts, Fraction(0)) == rate


def rate_of_percent(percent: str) -> str:
    """A percent as people write it, "8.25", as the decimal text of a rate: "0.0825"."""
    return f"{(Decimal(percent) / 100).normalize():f}"


def percent_of_rate(rate: str) -> str:
    """A rate as the percent that people write: "0.0825" is "8.25"."""
    return f"{(Decimal(rate) * 100).normalize():f}"
