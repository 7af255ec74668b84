"""Money given back after a ticket was closed: what of it is tax, and what may still go back.

Rules here
- a refund comes off the lines it is for, else off all lines and charges, in proportion to what each came to
- the tax in it is reckoned so that the tax of all refunds together is the rounded tax of all that went back: when
  everything is refunded, exactly the tax of the ticket is (EN 16931 rounds once per VAT category, as section 5 does)
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction

from abrazo.core.money import round_half_up
from abrazo.core.reckon import Bill
from abrazo.core.sharing import apportion
from abrazo.core.ticket import Ticket


@dataclass(frozen=True, slots=True)
class TaxedPart:
    """A part of a refund under one tax (None: untaxed), with the tax in it; minor units."""

    tax: str | None
    amount: int
    contained: int


def refundable(ticket: Ticket, bill: Bill) -> dict[str | None, int]:
    """What a ticket came to under each tax, tax included, in minor units."""
    found: dict[str | None, int] = {}
    taxed = [(line.tax, amounts.net) for line, amounts in zip(ticket.lines, bill.lines, strict=True)]
    taxed += [(charge.tax, amount) for charge, (_, amount) in zip(ticket.charges, bill.charges, strict=True)]
    for tax_id, amount in taxed:
        found[tax_id] = found.get(tax_id, 0) + amount
    if ticket.tax_mode == "exclusive":
        for tax in bill.taxes:
            found[tax.id] = found.get(tax.id, 0) + tax.tax
    return {tax_id: amount for tax_id, amount in found.items() if amount}


def lines_worth(ticket: Ticket, bill: Bill, lines: Sequence[str]) -> dict[str | None, int]:
    """What some lines came to under each tax, tax included; with no lines the whole ticket."""
    everything = refundable(ticket, bill)
    if not lines:
        return everything
    chosen: dict[str | None, int] = {}
    bases: dict[str | None, int] = {}
    for line, amounts in zip(ticket.lines, bill.lines, strict=True):
        bases[line.tax] = bases.get(line.tax, 0) + amounts.net
        if line.id in lines:
            chosen[line.tax] = chosen.get(line.tax, 0) + amounts.net
    if ticket.tax_mode == "inclusive":
        return chosen
    taxes = {tax.id: tax for tax in bill.taxes}
    return {
        tax_id: net + (round_half_up(Fraction(taxes[tax_id].tax * net, taxes[tax_id].base)) if tax_id in taxes else 0)
        for tax_id, net in chosen.items()
    }


def refund_parts(
    ticket: Ticket, bill: Bill, lines: Sequence[str], amount: int, before: Mapping[str | None, int]
) -> tuple[TaxedPart, ...]:
    """A refund cut by tax, with the tax in each part. `before` is what went back earlier under each tax."""
    worth = lines_worth(ticket, bill, lines)
    everything = refundable(ticket, bill)
    left = {tax_id: min(part, everything[tax_id] - before.get(tax_id, 0)) for tax_id, part in worth.items()}
    if sum(left.values()) < amount:  # more than those lines came to: the rest comes off the whole ticket
        left = {tax_id: part - before.get(tax_id, 0) for tax_id, part in everything.items()}
    taxes = {tax.id: tax.tax for tax in bill.taxes}
    found = []
    for tax_id, part in zip(left, apportion(amount, list(left.values())), strict=True):
        if not part:
            continue
        ratio = Fraction(taxes.get(tax_id or "", 0), everything[tax_id])
        earlier = before.get(tax_id, 0)
        contained = round_half_up(ratio * (earlier + part)) - round_half_up(ratio * earlier)
        found.append(TaxedPart(tax_id, part, contained))
    return tuple(found)
