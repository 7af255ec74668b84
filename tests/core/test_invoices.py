"""Invoices: rows, bases, taxes and what is paid add up for every payer, and credit notes take back what went back."""

from __future__ import annotations

import json
from fractions import Fraction
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from abrazo.core.bill import Bill
from abrazo.core.invoices import InvoiceFigures, InvoiceTax, Party, credited, invoiced, is_country
from abrazo.core.reckon import reckon
from abrazo.core.states import RowKind, TaxCategory, TaxMode
from abrazo.core.ticket import Ticket
from abrazo.formats.ticket_json import read_ticket
from tests.strategies import tickets


def drawn_bill(drawn: dict[str, Any]) -> tuple[Ticket, Bill, list[str]]:
    ticket = read_ticket(json.dumps(drawn).encode())
    return ticket, reckon(ticket), [line.id for line in ticket.lines]


def check(figures: InvoiceFigures, rates: dict[str, Fraction], off: Fraction) -> None:
    """Sums as BR-CO-10, BR-CO-13, BR-CO-14, BR-CO-15, BR-CO-16 and BR-S-08 of EN 16931-1 have them.

    BR-CO-17 asks that a tax be its base x rate, rounded. From prices that contain tax it cannot always be: `off` is
    by how many minor units the two may differ.
    """
    assert figures.lines_total + figures.charges_total == figures.base == sum(row.amount for row in figures.rows)
    assert figures.total == figures.base + sum(tax.tax for tax in figures.taxes)
    assert figures.due == figures.total - figures.paid + figures.rounding
    for tax in figures.taxes:
        rows = [row.amount for row in figures.rows if row.tax == tax.id]
        assert tax.base == sum(rows)
        rate = rates.get(tax.id or "", Fraction(0))
        assert abs(tax.base * rate - tax.tax) <= off + rate * len(rows)
    assert {row.tax for row in figures.rows} == {tax.id for tax in figures.taxes}


@given(tickets(), st.integers(0, 40_000))
def test_every_payers_invoice_adds_up(drawn: dict[str, Any], put_off: int) -> None:
    ticket, bill, supplies = drawn_bill(drawn)
    rates = {tax.id: tax.rate for tax in ticket.taxes}
    found = [invoiced(ticket, bill, payer.id, supplies, put_off) for payer in bill.payers]
    for payer, figures in zip(bill.payers, found, strict=True):
        check(figures, rates, Fraction(2))
        assert (figures.total, figures.rounding) == (payer.account.total, payer.account.rounding)
        assert figures.due == min(put_off, figures.total + figures.rounding)
    assert sum(figures.tax for figures in found) == bill.tax_total


@given(tickets())
def test_a_sole_payers_tax_is_base_times_rate_to_a_cent(drawn: dict[str, Any]) -> None:
    alone = drawn | {
        "guests": drawn["guests"][:1],
        "tips": [],
        "lines": [one | {"shares": {}} for one in drawn["lines"]],
    }
    ticket, bill, supplies = drawn_bill(alone)
    figures = invoiced(ticket, bill, bill.payers[0].id, supplies, 0)
    for tax in figures.taxes:
        rate = next((one.rate for one in ticket.taxes if one.id == tax.id), Fraction(0))
        off = Fraction(1, 2) if ticket.tax_mode == TaxMode.EXCLUSIVE else (1 + rate) / 2
        assert abs(tax.base * rate - tax.tax) <= off < 1


@given(tickets(), st.data())
def test_what_sells_nothing_is_not_on_an_invoice(drawn: dict[str, Any], data: st.DataObject) -> None:
    ticket, bill, _ = drawn_bill(drawn)
    sells = [line.id for line in ticket.lines if line.tax or data.draw(st.booleans())]
    for payer in bill.payers:
        figures = invoiced(ticket, bill, payer.id, sells, 0)
        theirs = sum(row.amount for row in payer.rows if row.kind == RowKind.LINE and row.ref not in sells)
        assert figures.total == payer.account.total - theirs


@given(tickets(), st.integers(0, 40_000))
def test_a_credit_note_of_all_rows_is_the_invoice(drawn: dict[str, Any], to_account: int) -> None:
    ticket, bill, supplies = drawn_bill(drawn)
    for payer in bill.payers:
        whole = invoiced(ticket, bill, payer.id, supplies, 0)
        taxes = {tax.id: tax.tax for tax in whole.taxes if tax.id}
        rows = [(row.kind, row.ref, row.amount) for row in payer.rows if row.kind != RowKind.TAX]
        back = credited(ticket, rows, taxes, to_account)
        assert back.taxes == whole.taxes
        assert [row.amount for row in back.rows] == [row.amount for row in whole.rows]
        assert back.due == min(to_account, whole.total)


@pytest.mark.parametrize(("code", "written"), [("IE", True), ("ie", False), ("IRL", False), ("", False), ("I1", False)])
def test_how_a_country_is_written(code: str, written: bool) -> None:
    """ISO 3166-1 alpha-2; from memory."""
    assert is_country(code) is written


@pytest.mark.parametrize(
    ("country", "typed", "number"),
    [
        ("IE", "ie 0000000 mb", "IE0000000MB"),
        ("GR", "EL000000000", "EL000000000"),
        ("GR", "GR000000000", ""),
        ("US", "12-3456789", ""),
        ("", "IE0000000MB", ""),
    ],
)
def test_a_number_for_vat_begins_with_its_country(country: str, typed: str, number: str) -> None:
    """EN 16931 BR-CO-09."""
    assert Party("Somebody", country=country, tax_number=typed).vat_number == number


@pytest.mark.parametrize(
    ("category", "rate", "exemption", "goes_out"),
    [
        (TaxCategory.RATED, "0.2", "", True),
        (TaxCategory.RATED, "0", "", False),
        (TaxCategory.ZERO, "0", "", True),
        (TaxCategory.ZERO, "0.2", "", False),
        (TaxCategory.EXEMPT, "0", "Lessons in school subjects", True),
        (TaxCategory.EXEMPT, "0", "", False),
        (TaxCategory.OUTSIDE, "0", "Not subject", False),
        (None, "0", "", False),
    ],
)
def test_which_taxes_go_out_as_data(category: TaxCategory | None, rate: str, exemption: str, goes_out: bool) -> None:
    """EN 16931 BR-S-05, BR-Z-05, BR-E-05, BR-E-10, BR-O-11."""
    assert InvoiceTax("one", "One", rate, category, exemption, 100, 0).exchangeable is goes_out
