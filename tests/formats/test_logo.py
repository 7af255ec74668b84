"""A house's picture on receipts: read from what people bring, printed by the command that printers know."""

from __future__ import annotations

import io

import pytest
from PIL import Image

from abrazo.core.errors import Code, Refused
from abrazo.devices.simulator.paper import read_paper
from abrazo.formats.escpos import paper_bytes
from abrazo.formats.logo import HIGHEST, WIDEST, read_logo
from abrazo.formats.receipt_files import receipt_pdf


def picture(kind: str, size: tuple[int, int] = (800, 300), colour: str = "black", mode: str = "RGB") -> bytes:
    out = io.BytesIO()
    Image.new(mode, size, colour).save(out, kind)
    return out.getvalue()


@pytest.mark.parametrize("kind", ["PNG", "JPEG", "GIF"])
def test_a_picture_is_made_to_fit_and_prints(kind: str) -> None:
    logo = read_logo(picture(kind))
    assert (logo.width, logo.height) == (WIDEST, WIDEST * 300 // 800)
    again = Image.open(io.BytesIO(logo.png))
    assert (again.mode, again.size) == ("1", (logo.width, logo.height))
    sent = paper_bytes("Marram", "T1", logo.png)
    # GS v 0 (ESC/POS command set, from memory): m, bytes a row, rows; each bit that is set is a black dot
    at = sent.index(b"\x1dv0")
    wide, high = int.from_bytes(sent[at + 4 : at + 6], "little"), int.from_bytes(sent[at + 6 : at + 8], "little")
    assert (wide * 8, high) == (logo.width, logo.height)
    assert set(sent[at + 8 : at + 8 + wide * high]) == {0xFF}  # all of it is black
    assert read_paper(sent).text == f"[picture, {logo.width} by {logo.height} dots]\nMarram"
    assert receipt_pdf("Marram", logo.png).count(b"/Image") >= 1


def test_what_is_see_through_is_white_and_what_is_tall_stays_low() -> None:
    logo = read_logo(picture("PNG", (50, 900), mode="RGBA", colour="#00000000"))
    assert logo.height == HIGHEST
    assert Image.open(io.BytesIO(logo.png)).getextrema() == (255, 255)


@pytest.mark.parametrize(
    ("data", "code"),
    [
        (b"", Code.NOT_PICTURE),
        (b"PK\x03\x04 no picture", Code.NOT_PICTURE),
        (b"<svg xmlns='http://www.w3.org/2000/svg'/>", Code.NOT_PICTURE),
        (picture("PNG")[:60], Code.NOT_PICTURE),
        (picture("BMP", (4, 4)), Code.NOT_PICTURE),
        (picture("PNG", (5000, 5000), mode="1", colour="white"), Code.PICTURE_LARGE),
        (b"\x89PNG" + bytes(1_000_001), Code.PICTURE_LARGE),
    ],
)
def test_what_is_none_is_refused(data: bytes, code: Code) -> None:
    with pytest.raises(Refused) as refusal:
        read_logo(data)
    assert (refusal.value.code, refusal.value.where) == (code, "logo")
