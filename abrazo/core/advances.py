"""Tax on advances: what of a deposit is tax while it is held, where it is owed when it is received.

Rules here
- the tax in a deposit is that of what it is for, in proportion to what that comes to; it is contained in the deposit,
  once per tax (Directive 2006/112/EC, article 65: tax on a payment on account is due when it is received)
- while a part of it is held the tax is in proportion to that part, reckoned from the whole, so that however it is used
  and given back nothing is left at its end; what is used is taxed anew with the whole sale
- what the house keeps because nobody came is no payment for anything: its tax goes back (CJEU C-277/05, from memory)
- while it is held the liability is the deposit without its tax
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from fractions import Fraction

from abrazo.core.figures import Booked, Figure, FigureKind
from abrazo.core.ledger import STORED, Posting, Role, tax_account
from abrazo.core.money import round_half_up, total
from abrazo.core.sharing import apportion
from abrazo.core.states import TaxMode
from abrazo.core.tax import tax_amount

RECEIVED, USED = "received", "used"


@dataclass(frozen=True, slots=True)
class AdvanceTax:
    """One tax in a deposit: its id, the part of the deposit that bears it, and the tax in that; minor units."""

    tax: str
    gross: int
    amount: int


def worth_of(price: int, quantity: Fraction, rate: Fraction, mode: TaxMode) -> Fraction:
    """What something is to come to with its tax, in minor units, exactly."""
    return price * quantity * (1 + rate if mode == TaxMode.EXCLUSIVE else 1)


def advance_taxes(
    deposit: int, worth: Iterable[tuple[str | None, Fraction]], rates: Mapping[str, Fraction]
) -> tuple[AdvanceTax, ...]:
    """The taxes in a deposit in minor units; `worth` is what it is for, as (tax id, what that comes to with its tax).

    Empty when nothing is known of what it is for; what bears no tax has its part without one.
    """
    weights: dict[str | None, Fraction] = {}
    for tax, amount in worth:
        weights[tax] = weights.get(tax, Fraction(0)) + amount
    if not any(weights.values()):
        return ()
    parts = apportion(deposit, list(weights.values()))
    return tuple(
        AdvanceTax(tax, part, tax_amount(part, rates[tax], TaxMode.INCLUSIVE))
        for tax, part in zip(weights, parts, strict=True)
        if tax is not None and part
    )


def while_held(one: AdvanceTax, deposit: int, held: int) -> AdvanceTax:
    """The same tax of what is held of a deposit: all of it, all of the tax; nothing, none."""
    gross, amount = (round_half_up(Fraction(part * held, deposit)) for part in (one.gross, one.amount))
    return AdvanceTax(one.tax, gross, amount)


def total_tax(several: Iterable[AdvanceTax]) -> int:
    """What some taxes come to, in minor units."""
    return total(one.amount for one in several)


def changed(before: Iterable[AdvanceTax], after: Iterable[AdvanceTax], held_as: str = Role.DEPOSIT) -> Booked:
    """What it books that a sum which is held, as a deposit or for goods set aside, bears other tax than before."""
    old, new = ({one.tax: one for one in several} for several in (before, after))
    none = AdvanceTax("", 0, 0)
    both = [(name, old.get(name, none), new.get(name, none)) for name in dict.fromkeys((*old, *new))]
    more = [(name, now.gross - was.gross, now.amount - was.amount) for name, was, now in both]
    tax = total(amount for _, _, amount in more)
    legs = [Posting(STORED[held_as], tax), *(Posting(tax_account(name), -amount) for name, _, amount in more)]
    figures = tuple(
        Figure(FigureKind.ADVANCE, name, RECEIVED if gross > 0 else USED, 0, amount, gross)
        for name, gross, amount in more
        if gross or amount
    )
    return Booked(tuple(leg for leg in legs if leg.amount), figures)
