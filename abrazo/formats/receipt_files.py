"""A receipt as HTML, as PDF, and as an e-mail that carries text, HTML and the PDF."""

from __future__ import annotations

import io
from base64 import b64encode
from datetime import datetime
from email.message import EmailMessage
from email.utils import format_datetime
from html import escape

from abrazo.formats.receipt_text import VOID_MARK, WIDTH, Receipt
from abrazo.words import phrases as w

PAPER = 80.0  # mm, the width of a receipt
MARGIN, LINE, LOGO = 4.0, 3.9, 18.0  # mm; the picture is at most so high
SIZE = 8.1  # points: 42 columns of Courier in 72 mm
STYLE = "body{font-family:sans-serif;max-width:34em;margin:2em auto}td:last-child{text-align:right}table{width:100%}"
PLAIN = str.maketrans({"−": "-", "∗": "*", "–": "-", "’": "'", "€": "EUR "})


def receipt_html(receipt: Receipt, *, gift: bool = False, logo: bytes = b"") -> str:
    """The receipt as a page that stands by itself, with a logo (PNG); as a gift receipt without prices."""
    r, say = receipt, receipt.reader.say
    rows = [(words, "") for words in r.things] if gift else list(r.rows)
    if not gift:
        rows += [
            (say(w.BILL_IN, currency=r.currency), r.total),
            *([(say(w.TIP_LINE), r.tip)] if r.tip else []),
            *r.paid,
            *r.taxes,
        ]
        rows += [(say(w.STILL_TO_PAY), r.due)] if r.due else []
        rows += r.void
    body = "".join(f"<tr><td>{escape(words)}</td><td>{escape(amount)}</td></tr>" for words, amount in rows)
    head = escape(f"{r.whose}, {say(w.PAPER_TICKET, number=r.ticket)}, {r.business_date} {r.at}")
    under = "<br>".join(map(escape, r.address.splitlines()))
    void = f"<p><b>{VOID_MARK}</b></p>" if r.void else ""
    blocks = "".join(f"<pre>{escape(chr(10).join(block))}</pre>" for block in r.blocks)
    return (
        f'<!doctype html><html lang="{escape(r.language)}"><head><meta charset="utf-8">'
        f"<title>{escape(say(w.RECEIPT_NAME, number=r.ticket))}</title>"
        f"<style>{STYLE}</style></head><body>{_logo(r.house, logo)}<h1>{escape(r.house)}</h1>"
        f"<p>{under}</p><p>{head}</p>{void}"
        f"<table>{body}</table>{blocks}<p>{escape(r.message)}</p></body></html>"
    )


def _logo(house: str, logo: bytes) -> str:
    """The picture at the head, inside the page itself."""
    if not logo:
        return ""
    return f'<p><img src="data:image/png;base64,{b64encode(logo).decode()}" alt="{escape(house)}"></p>'


def receipt_pdf(text: str, logo: bytes = b"") -> bytes:
    """The receipt's text as a PDF of its width and length. Letters outside of Latin-1 become question marks."""
    from fpdf import FPDF  # here, because it is slow to load and seldom needed

    lines = text.translate(PLAIN).encode("latin-1", "replace").decode("latin-1").split("\n")
    above = LOGO + 2 if logo else 0.0
    pdf = FPDF(unit="mm", format=(PAPER, 2 * MARGIN + above + LINE * len(lines) + 2))
    pdf.set_margins(MARGIN, MARGIN)
    pdf.set_auto_page_break(False)
    pdf.add_page()
    if logo:
        size, alt = (PAPER - 2 * MARGIN, LOGO), lines[0].strip()
        pdf.image(io.BytesIO(logo), MARGIN, MARGIN, *size, keep_aspect_ratio=True, alt_text=alt)
        pdf.set_y(MARGIN + above)
    pdf.set_font("Courier", size=SIZE)
    for line in lines:
        pdf.cell(PAPER - 2 * MARGIN, LINE, line[:WIDTH], new_x="LMARGIN", new_y="NEXT")
    return bytes(pdf.output())


def receipt_mail(receipt: Receipt, text: str, to: str, at: datetime, logo: bytes = b"") -> str:
    """An e-mail (RFC 5322) with the receipt as text, as HTML, and as a PDF beside it."""
    mail = EmailMessage()
    mail["Subject"] = receipt.reader.say(w.RECEIPT_SUBJECT, number=receipt.ticket, house=receipt.house)
    mail["From"] = f"{receipt.house} <receipts@house.example>"
    mail["To"] = to
    mail["Date"] = format_datetime(at)
    mail.set_content(text)
    mail.add_alternative(receipt_html(receipt, logo=logo), subtype="html")
    name = f"receipt-{receipt.ticket}.pdf"
    mail.add_attachment(receipt_pdf(text, logo), maintype="application", subtype="pdf", filename=name)
    return mail.as_string()
