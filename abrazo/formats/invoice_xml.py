"""An invoice as EN 16931 data: UN/CEFACT Cross Industry Invoice (CII) XML, written by a library that knows its terms.

Business terms (BT) are EN 16931-1's. A line's price is its net amount for its whole quantity (BT-149), since what is
shared or discounted does not always divide into whole cents for one piece.
"""

from __future__ import annotations

from datetime import date
from decimal import Decimal
from typing import TYPE_CHECKING

from abrazo.core.invoices import Invoice, InvoiceRow, InvoiceTax, Party
from abrazo.core.money import Currency
from abrazo.core.states import InvoiceKind, RowKind

if TYPE_CHECKING:
    from drafthorse.models.accounting import MonetarySummation
    from drafthorse.models.document import Document
    from drafthorse.models.party import TradeParty

GUIDELINE = "urn:cen.eu:en16931:2017"  # BT-24
TYPES = {InvoiceKind.INVOICE: "380", InvoiceKind.CREDIT_NOTE: "381"}  # BT-3, UNTDID 1001
PIECE = "C62"  # BT-130, UN/ECE Recommendation 20: one
VAT = "VAT"  # UNTDID 5153
VAT_NUMBER = "VA"  # BT-31, BT-48
NOT_DEFINED = "1"  # BT-81, UNTDID 4461: instrument not defined


def invoice_xml(invoice: Invoice) -> bytes:
    """The invoice as XML, checked against the schema; ValueError for one that cannot go out as data."""
    from drafthorse.models.document import Document  # here, because it is slow to load and seldom needed

    if not invoice.exchangeable:
        raise ValueError(f"{invoice.number} is not EN 16931 data")
    doc = Document()
    doc.context.guideline_parameter.id = GUIDELINE
    doc.header.id = invoice.number
    doc.header.type_code = TYPES[invoice.kind]
    doc.header.issue_date_time = date.fromisoformat(invoice.issued_on)
    agreement = doc.trade.agreement
    _party(agreement.seller, invoice.seller)
    _party(agreement.buyer, invoice.buyer)
    if invoice.reference:
        agreement.buyer_order.issuer_assigned_id = invoice.reference
    doc.trade.delivery.event.occurrence = date.fromisoformat(invoice.supplied_on)
    money = _Money(Currency.of(invoice.currency))
    taxes = {tax.id: tax for tax in invoice.figures.taxes}
    lines = [row for row in invoice.figures.rows if row.kind == RowKind.LINE]
    for number, row in enumerate(lines, start=1):
        doc.trade.items.add(_line(number, row, taxes[row.tax], money))
    _settlement(doc, invoice, money)
    return bytes(doc.serialize(schema="FACTUR-X_EN16931"))


class _Money:
    """Minor units as decimals of a currency."""

    def __init__(self, currency: Currency) -> None:
        self.code, self.text = currency.code, currency.text

    def of(self, amount: int) -> Decimal:
        return Decimal(self.text(amount))


def _party(place: TradeParty, party: Party) -> None:
    from drafthorse.models.party import TaxRegistration

    place.name = party.name
    if party.address:
        place.address.line_one = party.address
    place.address.country_id = party.country
    if party.vat_number:
        place.tax_registrations.add(TaxRegistration(id=(VAT_NUMBER, party.vat_number)))


def _percent(tax: InvoiceTax) -> Decimal:
    return Decimal(tax.rate) * 100


def _line(number: int, row: InvoiceRow, tax: InvoiceTax, money: _Money) -> object:
    from drafthorse.models.tradelines import LineItem

    line, quantity = LineItem(), Decimal(row.quantity)
    line.document.line_id = str(number)
    line.product.name = row.label
    line.agreement.net.amount = money.of(row.amount)
    line.agreement.net.basis_quantity = (quantity, PIECE)
    line.delivery.billed_quantity = (quantity, PIECE)
    line.settlement.trade_tax.type_code = VAT
    line.settlement.trade_tax.category_code = tax.category
    line.settlement.trade_tax.rate_applicable_percent = _percent(tax)
    line.settlement.monetary_summation.total_amount = money.of(row.amount)
    return line


def _settlement(doc: Document, invoice: Invoice, money: _Money) -> None:
    from drafthorse.models.accounting import ApplicableTradeTax, CategoryTradeTax, TradeAllowanceCharge
    from drafthorse.models.payment import PaymentMeans, PaymentTerms

    settlement, figures = doc.trade.settlement, invoice.figures
    settlement.currency_code = money.code
    settlement.payment_means.add(PaymentMeans(type_code=NOT_DEFINED))
    for tax in figures.taxes:
        one = ApplicableTradeTax()
        one.calculated_amount, one.basis_amount = money.of(tax.tax), money.of(tax.base)
        one.type_code, one.category_code = VAT, tax.category
        one.rate_applicable_percent = _percent(tax)
        if tax.exemption:
            one.exemption_reason = tax.exemption
        settlement.trade_tax.add(one)
    taxes = {tax.id: tax for tax in figures.taxes}
    for row in figures.rows:
        if row.kind == RowKind.CHARGE:
            charge, category = TradeAllowanceCharge(), CategoryTradeTax()
            charge.indicator, charge.actual_amount, charge.reason = True, money.of(row.amount), row.label
            category.type_code, category.category_code = VAT, taxes[row.tax].category
            category.rate_applicable_percent = _percent(taxes[row.tax])
            charge.trade_tax.add(category)
            settlement.allowance_charge.add(charge)
    if figures.due:  # BR-CO-25; what a credit note takes off an account, it takes at once
        settlement.terms.add(PaymentTerms(due=date.fromisoformat(invoice.due_on or invoice.issued_on)))
    if invoice.credits:
        settlement.invoice_referenced_document.issuer_assigned_id = invoice.credits
    _sums(settlement.monetary_summation, invoice, money)


def _sums(sums: MonetarySummation, invoice: Invoice, money: _Money) -> None:
    figures = invoice.figures
    sums.line_total = money.of(figures.lines_total)
    sums.charge_total = money.of(figures.charges_total)
    sums.allowance_total = money.of(0)
    sums.tax_basis_total = money.of(figures.base)
    sums.tax_total = (money.of(figures.tax), money.code)
    sums.grand_total = money.of(figures.total)
    if figures.rounding:
        sums.rounding_amount = money.of(figures.rounding)
    sums.prepaid_total = money.of(figures.paid)
    sums.due_amount = money.of(figures.due)
