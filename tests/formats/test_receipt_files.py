"""Receipts as HTML, PDF and e-mail, read back by the standard library's parsers and by pypdf."""

from __future__ import annotations

import io
from dataclasses import replace
from datetime import UTC, datetime
from email import message_from_string, policy
from html.parser import HTMLParser

from pypdf import PdfReader

from abrazo.formats.receipt_files import receipt_html, receipt_mail, receipt_pdf
from abrazo.formats.receipt_text import WIDTH, gift_text, receipt_text
from tests.formats.test_receipt_text import ONE

AT = datetime(2026, 6, 13, 16, 26, tzinfo=UTC)


def words_of(html: str) -> str:
    found: list[str] = []

    class Words(HTMLParser):
        def handle_data(self, data: str) -> None:
            found.append(data)

    Words().feed(html)
    return " ".join(found)


def test_the_pdf_has_every_line() -> None:
    text = receipt_text(ONE)
    pages = PdfReader(io.BytesIO(receipt_pdf(text))).pages
    assert len(pages) == 1
    there = "".join(pages[0].extract_text().split())
    for line in text.split("\n"):
        assert "".join(line.split()) in there
    assert round(float(pages[0].mediabox.width) / 72 * 25.4) == 80


def test_the_page_escapes_what_people_typed() -> None:
    page = receipt_html(replace(ONE, whose="<script>x</script> & co"))
    assert "<script>" not in page
    assert "<script>x</script> & co" in words_of(page)


def test_the_mail_carries_text_html_and_pdf() -> None:
    mail = message_from_string(receipt_mail(ONE, receipt_text(ONE), "petra@example.test", AT), policy=policy.default)
    kinds = [part.get_content_type() for part in mail.walk() if not part.is_multipart()]
    assert kinds == ["text/plain", "text/html", "application/pdf"]
    assert (mail["To"], str(ONE.ticket) in mail["Subject"]) == ("petra@example.test", True)
    body = mail.get_body(("plain",))
    assert body is not None
    assert body.get_content().strip() == receipt_text(ONE).strip()


def test_a_gift_receipt_tells_no_sum() -> None:
    for text in (gift_text(ONE), words_of(receipt_html(ONE, gift=True))):
        assert "Estuary pale ale" in text
        for sum_ in ("6.20", "6.82", "10.00", "0.70"):
            assert sum_ not in text
    assert all(len(line) <= WIDTH for line in gift_text(ONE).split("\n"))
