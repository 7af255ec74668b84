"""An invoice as PDF on A4 (ISO 216), archived as PDF/A-3 (ISO 19005-3) with its fonts; its data may lie in it.

With EN 16931 XML in it, it is a hybrid invoice: the file is called factur-x.xml and is an alternative of the page, as
the hybrid format's published extension of the metadata says.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from fpdf import FPDF

FONTS = Path(__file__).with_name("fonts")
TEXT, MORE = "Text", "More letters"
MARGIN, LINE, GAP = 18.0, 6.0, 5.0  # mm
WHAT, COUNT, TAX, AMOUNT = 96.0, 18.0, 30.0, 30.0  # mm
SIZE, SMALL, TITLE = 10.0, 9.0, 20.0  # points
XML_NAME = "factur-x.xml"


@dataclass(frozen=True, slots=True)
class InvoicePaper:
    """An invoice in words. Amounts are texts; `rows` are (what, how many, tax, amount), others (words, amount)."""

    title: str
    subject: str
    seller: tuple[str, ...]
    buyer: tuple[str, ...]
    facts: tuple[tuple[str, str], ...]
    heads: tuple[str, str, str, str]
    rows: tuple[tuple[str, str, str, str], ...]
    sums: tuple[tuple[str, str], ...]
    last: tuple[str, str]
    notes: tuple[str, ...]
    language: str
    author: str
    name: str  # of its file


def invoice_pdf(paper: InvoicePaper, at: datetime, data: bytes | None = None) -> bytes:
    """The invoice on A4, made at a moment; with `data` its XML lies in it."""
    from fpdf import FPDF  # here, because it is slow to load and seldom needed

    pdf = FPDF(unit="mm", format="A4", enforce_compliance="PDFA_3B")
    for weight, style in ((400, ""), (700, "B")):
        pdf.add_font(TEXT, style, FONTS / f"atkinson-hyperlegible-next-latin-{weight}.ttf")
        pdf.add_font(MORE, style, FONTS / f"atkinson-hyperlegible-next-latin-ext-{weight}.ttf")
    pdf.set_fallback_fonts([MORE])
    pdf.set_margins(MARGIN, MARGIN)
    pdf.set_auto_page_break(True, MARGIN)
    pdf.set_lang(paper.language)
    pdf.set_title(paper.title)
    pdf.set_author(paper.author)
    pdf.set_creation_date(at)
    pdf.add_page()
    _head(pdf, paper)
    _rows(pdf, paper)
    _sums(pdf, paper)
    if data is not None:
        pdf.embed_file(bytes=data, basename=XML_NAME, mime_type="text/xml", modification_date=at,
                       associated_file_relationship="ALTERNATIVE", desc=paper.title)  # fmt: skip
        pdf.set_xmp_metadata(_metadata(paper, at))
    return bytes(pdf.output())


def _head(pdf: FPDF, paper: InvoicePaper) -> None:
    pdf.set_font(TEXT, "B", TITLE)
    pdf.cell(0, LINE * 2, paper.title, new_x="LMARGIN", new_y="NEXT")
    top = pdf.get_y() + GAP
    half = (pdf.epw - GAP) / 2
    bottom = top
    for place, party in enumerate((paper.buyer, paper.seller)):
        pdf.set_xy(MARGIN + place * (half + GAP), top)
        for number, words in enumerate(party):
            pdf.set_font(TEXT, "B" if not number else "", SIZE)
            pdf.set_x(MARGIN + place * (half + GAP))
            pdf.multi_cell(half, LINE, words, align="L", new_x="LMARGIN", new_y="NEXT")
        bottom = max(bottom, pdf.get_y())
    pdf.set_y(bottom + GAP)
    for words, fact in paper.facts:
        pdf.set_font(TEXT, "", SIZE)
        pdf.cell(42, LINE, words)
        pdf.set_font(TEXT, "B", SIZE)
        pdf.multi_cell(0, LINE, fact, align="L", new_x="LMARGIN", new_y="NEXT")
    pdf.ln(GAP)


def _rows(pdf: FPDF, paper: InvoicePaper) -> None:
    pdf.set_font(TEXT, "", SMALL)
    aligned = ("LEFT", "RIGHT", "LEFT", "RIGHT")
    with pdf.table(col_widths=(WHAT, COUNT, TAX, AMOUNT), text_align=aligned, line_height=LINE,
                   borders_layout="HORIZONTAL_LINES", padding=(1, 1.5)) as table:  # fmt: skip
        for cells in (paper.heads, *paper.rows):
            table.row(cells)
    pdf.ln(GAP / 2)


def _sums(pdf: FPDF, paper: InvoicePaper) -> None:
    wide = pdf.epw - AMOUNT
    for words, amount in paper.sums:
        pdf.set_font(TEXT, "", SIZE)
        pdf.cell(wide, LINE, words, align="R")
        pdf.cell(AMOUNT, LINE, amount, align="R", new_x="LMARGIN", new_y="NEXT")
    pdf.set_font(TEXT, "B", SIZE + 2)
    pdf.cell(wide, LINE + 2, paper.last[0], align="R")
    pdf.cell(AMOUNT, LINE + 2, paper.last[1], align="R", new_x="LMARGIN", new_y="NEXT")
    pdf.ln(GAP)
    pdf.set_font(TEXT, "", SMALL)
    for note in paper.notes:
        pdf.multi_cell(0, LINE, note, align="L", new_x="LMARGIN", new_y="NEXT")


def _metadata(paper: InvoicePaper, at: datetime) -> str:
    """The metadata of a hybrid invoice, with the description of its own properties; the wrapping is the writer's."""
    from xml.sax.saxutils import escape

    from drafthorse.xmp_schema import XMP_SCHEMA

    facts = {"title": paper.title, "author": paper.author, "subject": paper.subject}
    filled: str = XMP_SCHEMA.format(
        **{name: escape(text) for name, text in facts.items()},
        producer="fpdf2",
        creator_tool="Abrazo",
        timestamp=at.isoformat(timespec="seconds"),
        urn="urn:factur-x:pdfa:CrossIndustryDocument:invoice:1p0#",
        documenttype="INVOICE",
        xml_filename=XML_NAME,
        version="1.0",
        xmp_level="EN 16931",
    )
    return filled[filled.index("<x:xmpmeta") : filled.index("</x:xmpmeta>") + len("</x:xmpmeta>")]
