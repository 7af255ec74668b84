"""Printed barcodes, read back by a reader that knows nothing of us; check digits against another's arithmetic."""

from __future__ import annotations

import zxingcpp
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image, ImageDraw
from stdnum import ean

from abrazo.demo.house import PLAN
from abrazo.formats.barcode import code128

codes = st.from_regex(r"[ST][0-9]{3,9}", fullmatch=True) | st.text(
    st.characters(min_codepoint=33, max_codepoint=126), min_size=1, max_size=12
)


@settings(deadline=None)
@given(codes)
def test_another_reader_reads_what_is_printed(code: str) -> None:
    """Outside: zxing-cpp, from a picture of the bars at three dots a module."""
    drawn = code128(code)
    picture = Image.new("L", (drawn.width * 3, 60), 255)
    pen = ImageDraw.Draw(picture)
    for start, width in drawn.bars:
        pen.rectangle((start * 3, 0, (start + width) * 3 - 1, 59), 0)
    (found,) = zxingcpp.read_barcodes(picture)
    assert (found.text, found.format) == (code, zxingcpp.BarcodeFormat.Code128)


def test_the_houses_goods_have_right_in_house_codes() -> None:
    """Outside: python-stdnum's EAN; prefixes 20 to 29 are for use inside a house (GS1 General Specifications)."""
    found = [item.code for item, _ in PLAN.items if item.code]
    assert len(found) == len(set(found)) >= 12
    assert all(ean.is_valid(code) and 20 <= int(code[:2]) <= 29 for code in found)
