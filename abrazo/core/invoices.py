"""Invoices and credit notes of what payers bought, as EN 16931 has them.

Rules here
- one per payer: their part of every line that sells something, of charges and of taxes; a tip is not on it, nor what
  only takes money for later (gift cards, deposits, payments on accounts)
- from prices that contain tax: the base of a tax is what bears it less the tax in it, cut over the rows by their
  amounts, so that rows add up to their bases and bases to the whole (EN 16931 BR-CO-10, BR-CO-13, BR-S-08)
- what was put on an account is due (BT-115), the rest is paid (BT-113), cash rounding stands apart (BT-114)
- a credit note says with amounts above zero what an invoice is too much (BT-3 is 381)
"""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction

from abrazo.core.bill import Bill
from abrazo.core.money import Currency, total
from abrazo.core.sharing import apportion
from abrazo.core.states import InvoiceKind, RowKind, TaxCategory, TaxMode
from abrazo.core.tax import Tax, rate_text
from abrazo.core.ticket import Ticket

VAT_PREFIXES = {"GR": "EL"}  # where it is not the country's code
DECIMALS = 2


@dataclass(frozen=True, slots=True)
class InvoiceRow:
    """A line or a charge, in minor units without tax; `quantity` is decimal text, 1 for a part of what was shared."""

    kind: RowKind
    label: str
    quantity: str
    amount: int
    tax: str | None = None


@dataclass(frozen=True, slots=True)
class InvoiceTax:
    """One tax: minor units that bear it, and the tax on them; `rate` is decimal text from 0 to 1."""

    id: str | None
    label: str
    rate: str
    category: TaxCategory | None
    exemption: str
    base: int
    tax: int

    @property
    def exchangeable(self) -> bool:
        """Whether it can be said as EN 16931 data (BR-S-05, BR-Z-05, BR-E-05, BR-E-10).

        What lies outside of tax (O) cannot: it may not stand beside other categories, nor beside VAT numbers (BR-O-02,
        BR-O-11).
        """
        if self.category == TaxCategory.RATED:
            return Fraction(self.rate) > 0
        if self.category == TaxCategory.EXEMPT:
            return Fraction(self.rate) == 0 and bool(self.exemption)
        return self.category == TaxCategory.ZERO and Fraction(self.rate) == 0


@dataclass(frozen=True, slots=True)
class InvoiceFigures:
    """What an invoice says in minor units; `rounding` is what cash rounding put on it, `due` what stays to be paid."""

    rows: tuple[InvoiceRow, ...]
    taxes: tuple[InvoiceTax, ...]
    rounding: int
    due: int

    @property
    def lines_total(self) -> int:
        """BT-106: all lines without tax."""
        return total(row.amount for row in self.rows if row.kind == RowKind.LINE)

    @property
    def charges_total(self) -> int:
        """BT-108: all charges without tax."""
        return total(row.amount for row in self.rows if row.kind == RowKind.CHARGE)

    @property
    def base(self) -> int:
        """BT-109: everything without tax."""
        return self.lines_total + self.charges_total

    @property
    def tax(self) -> int:
        """BT-110: all taxes."""
        return total(one.tax for one in self.taxes)

    @property
    def total(self) -> int:
        """BT-112: everything with tax."""
        return self.base + self.tax

    @property
    def paid(self) -> int:
        """BT-113: what of it is paid."""
        return self.total + self.rounding - self.due


@dataclass(frozen=True, slots=True)
class Party:
    """Who sells or buys; `country` is ISO 3166, `tax_number` as the authority gave it."""

    name: str
    address: str = ""
    country: str = ""
    tax_number: str = ""

    @property
    def vat_number(self) -> str:
        """The tax number where it is one for VAT, without blanks: it begins with its country (BR-CO-09); else empty."""
        compact = "".join(self.tax_number.split()).upper()
        return compact if self.country and compact.startswith(VAT_PREFIXES.get(self.country, self.country)) else ""


@dataclass(frozen=True, slots=True)
class Invoice:
    """An invoice or a credit note as it was made; dates are ISO, `due_on` until when it is to be paid.

    `credits` is the number of the invoice that it takes back, of a credit note.
    """

    kind: InvoiceKind
    number: str
    issued_on: str
    supplied_on: str
    currency: str
    ticket: int
    seller: Party
    buyer: Party
    figures: InvoiceFigures
    due_on: str = ""
    reference: str = ""
    credits: str = ""
    reason: str = ""

    @property
    def exchangeable(self) -> bool:
        """Whether it can go out as EN 16931 data.

        The seller has a VAT number (BR-CO-26), there is a line (BR-16), each tax has its category, money no more than
        two decimals (BR-DEC-23).
        """
        if Currency.of(self.currency).digits > DECIMALS:
            return False
        taxed = all(one.exchangeable for one in self.figures.taxes)
        lines = any(row.kind == RowKind.LINE for row in self.figures.rows)
        return bool(self.seller.vat_number and self.buyer.country and lines and taxed)


Part = tuple[RowKind, str, str, str | None, int]  # kind, label, quantity, tax, minor units as on the bill


def is_country(code: str) -> bool:
    """Whether a text is written as an ISO 3166-1 alpha-2 code; whether there is such a country is not looked up."""
    return len(code) == 2 and code.isascii() and code.isalpha() and code.isupper()


def invoiced(ticket: Ticket, bill: Bill, payer: str, supplies: Collection[str], put_off: int) -> InvoiceFigures:
    """A payer's invoice. `supplies` are the ids of the lines that sell something; `put_off` is on an account.

    For tickets that are shared by rows. `put_off` is minor units without the tip.
    """
    mine = next(one for one in bill.payers if one.id == payer)
    lines, charges = {line.id: line for line in ticket.lines}, {charge.id: charge for charge in ticket.charges}
    whole = {(RowKind.LINE, line.id): amounts.net for line, amounts in zip(ticket.lines, bill.lines, strict=True)}
    parts = list[Part]()
    for row in mine.rows:
        if row.kind == RowKind.LINE and row.ref in supplies:
            line = lines[row.ref]
            count = rate_text(line.quantity) if whole[row.kind, row.ref] == row.amount else "1"
            parts.append((row.kind, line.label or line.id, count, line.tax, row.amount))
        elif row.kind == RowKind.CHARGE:
            charge = charges[row.ref]
            parts.append((row.kind, charge.label or charge.id, "1", charge.tax, row.amount))
    if ticket.tax_mode == TaxMode.INCLUSIVE:
        taxes = dict(mine.taxes)
    else:
        taxes = {row.ref: row.amount for row in mine.rows if row.kind == RowKind.TAX}
    figures = figures_of(ticket.taxes, parts, taxes, contained=ticket.tax_mode == TaxMode.INCLUSIVE)
    rounding = mine.account.rounding
    return replace(figures, rounding=rounding, due=min(put_off, figures.total + rounding))


def figures_of(
    house: Sequence[Tax], parts: Sequence[Part], taxes: Mapping[str, int], *, contained: bool
) -> InvoiceFigures:
    """The figures of some parts of a bill with the taxes in or on them, all of it paid; minor units."""
    by_tax: dict[str | None, list[int]] = {}
    for place, part in enumerate(parts):
        by_tax.setdefault(part[3], []).append(place)
    known, amounts = {tax.id: tax for tax in house}, [part[4] for part in parts]
    listed = list[InvoiceTax]()
    for id, places in by_tax.items():
        tax = taxes.get(id, 0) if id else 0
        base = total(amounts[place] for place in places) - (tax if contained else 0)
        for place, net in zip(places, apportion(base, [amounts[place] for place in places]), strict=True):
            amounts[place] = net
        listed.append(_tax(known, id, base, tax))
    rows = (InvoiceRow(part[0], part[1], part[2], net, part[3]) for part, net in zip(parts, amounts, strict=True))
    return InvoiceFigures(tuple(rows), tuple(listed), 0, 0)


def _tax(known: Mapping[str, Tax], id: str | None, base: int, tax: int) -> InvoiceTax:
    one = known.get(id or "")
    if one is None:
        return InvoiceTax(None, "", "0", None, "", base, tax)
    return InvoiceTax(one.id, one.label or one.id, rate_text(one.rate), one.category, one.exemption, base, tax)


def credited(
    ticket: Ticket, rows: Sequence[tuple[RowKind, str, int]], taxes: Mapping[str, int], to_account: int
) -> InvoiceFigures:
    """What a refund takes back of an invoice: rows as (kind, id, minor units), with the taxes in or on them.

    `to_account` is what of it went back to an account: it lessens what is owed there.
    """
    lines, charges = {line.id: line for line in ticket.lines}, {charge.id: charge for charge in ticket.charges}
    parts = list[Part]()
    for kind, ref, amount in rows:
        one = lines[ref] if kind == RowKind.LINE else charges[ref]
        parts.append((kind, one.label or one.id, "1", one.tax, amount))
    figures = figures_of(ticket.taxes, parts, taxes, contained=ticket.tax_mode == TaxMode.INCLUSIVE)
    return replace(figures, due=min(to_account, figures.total))
