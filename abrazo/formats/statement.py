"""A statement of an account as CSV, as PDF (A4, ISO 216), and as an e-mail with both."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import TYPE_CHECKING

from abrazo.formats.plain_mail import Letter, plain_mail
from abrazo.formats.receipt_files import PLAIN
from abrazo.formats.report_json import harmless

if TYPE_CHECKING:
    from fpdf import FPDF

MARGIN, LINE = 18.0, 6.4  # mm
COLUMNS = (34.0, 84.0, 28.0, 28.0)  # mm: date, what, amount, balance
TEXT, TITLE = 10.0, 15.0  # points


@dataclass(frozen=True, slots=True)
class StatementPaper:
    """A statement in words; amounts are texts in `currency` (ISO 4217), rows are (date, what, amount, balance)."""

    house: str
    address: str
    person: str
    title: str
    dates: str
    heads: tuple[str, str, str, str]
    opening: tuple[str, str]
    rows: tuple[tuple[str, str, str, str], ...]
    closing: tuple[str, str]
    ages: tuple[tuple[str, str], ...]
    currency: str
    name: str  # of its files


def statement_csv(paper: StatementPaper) -> str:
    """The rows as CSV (RFC 4180), with opening and closing balance; no cell is a formula."""
    first, last = ("", paper.opening[0], "", paper.opening[1]), ("", paper.closing[0], "", paper.closing[1])
    return table_csv((paper.heads, first, *paper.rows, last))


def table_csv(rows: Iterable[Sequence[str]]) -> str:
    """Rows of words and amounts as CSV (RFC 4180); no cell is a formula."""
    out = io.StringIO()
    writer = csv.writer(out)
    for row in rows:
        writer.writerow([cell if _amount(cell) else harmless(cell) for cell in row])
    return out.getvalue()


def _amount(cell: str) -> bool:
    return cell.removeprefix("-").replace(".", "").isdigit()


def statement_pdf(paper: StatementPaper) -> bytes:
    """The statement on A4. Letters outside of Latin-1 become question marks."""
    return statements_pdf((paper,))


def statements_pdf(papers: Sequence[StatementPaper]) -> bytes:
    """Statements on A4, each begun on a page of its own. Letters outside of Latin-1 become question marks."""
    from fpdf import FPDF  # here, because it is slow to load and seldom needed

    pdf = FPDF(unit="mm", format="A4")
    pdf.set_margins(MARGIN, MARGIN)
    pdf.set_auto_page_break(True, MARGIN)
    pdf.set_title(_plain(papers[0].title))
    for paper in papers:
        pdf.add_page()
        _put(pdf, paper)
    return bytes(pdf.output())


def _put(pdf: FPDF, paper: StatementPaper) -> None:
    def line(cells: tuple[str, str, str, str], style: str = "", border: str = "B") -> None:
        pdf.set_font("Helvetica", style, TEXT)
        for at, (cell, wide) in enumerate(zip(cells, COLUMNS, strict=True)):
            pdf.cell(wide, LINE, _plain(cell), border=border, align="R" if at > 1 else "L")
        pdf.ln(LINE)

    pdf.set_font("Helvetica", "B", TITLE)
    pdf.multi_cell(0, LINE + 2, _plain(paper.title), new_x="LMARGIN", new_y="NEXT")
    pdf.set_font("Helvetica", "", TEXT)
    for words in (f"{paper.house}, {paper.address}", f"{paper.dates}, {paper.currency}"):
        pdf.multi_cell(0, LINE, _plain(words), new_x="LMARGIN", new_y="NEXT")
    pdf.ln(LINE)
    line(paper.heads, "B")
    line(("", paper.opening[0], "", paper.opening[1]))
    for row in paper.rows:
        line(row)
    line(("", paper.closing[0], "", paper.closing[1]), "B")
    pdf.ln(LINE)
    for words, amount in paper.ages:
        line((words, "", "", amount), border="")


def _plain(text: str) -> str:
    return text.translate(PLAIN).encode("latin-1", "replace").decode("latin-1")


def statement_mail(paper: StatementPaper, to: str, at: datetime) -> str:
    """An e-mail with what is owed in its text, and the statement as PDF and CSV beside it."""
    text = f"{paper.title}\n{paper.dates}\n\n{paper.closing[0]}: {paper.closing[1]} {paper.currency}\n"
    pdf, table = statement_pdf(paper), statement_csv(paper).encode()
    files = ((f"{paper.name}.pdf", pdf), (f"{paper.name}.csv", table))
    return plain_mail(Letter(f"{paper.title}, {paper.house}", text, to, paper.house, files), at)
