"""Paper as ESC/POS bytes, by the python-escpos library: text at 42 columns in Windows-1252, a Code 128, a cut.

A character that the printer's page does not have prints as a question mark.
"""

from __future__ import annotations

import io

CENTRED, LEFT = b"\x1ba\x01", b"\x1ba\x00"  # ESC a
WINDOWS_1252 = b"\x1bt\x10"  # ESC t 16: the code page that has the euro sign
# What data may say is letters and line breaks: no command of the printer (below 0x20) comes from it.
PLAIN: dict[int, int | str | None] = dict.fromkeys([*(code for code in range(0x20) if code != 0x0A), 0x7F])
PLAIN |= {ord(sign): plain for sign, plain in (("−", "-"), ("∗", "*"), ("–", "-"), ("’", "'"))}


def paper_bytes(text: str, barcode: str = "", logo: bytes = b"") -> bytes:
    """A sheet's bytes; the barcode, of printable ASCII, stands under the text, the logo (a PNG) above it."""
    from escpos.printer import Dummy  # here, because it takes half a second to load and the first sheet can wait

    printer = Dummy()
    printer.hw("INIT")
    if logo:
        from PIL import Image

        printer._raw(CENTRED)
        printer.image(Image.open(io.BytesIO(logo)), impl="bitImageRaster")
        printer._raw(LEFT)
    printer._raw(WINDOWS_1252)
    printer._raw(text.translate(PLAIN).encode("cp1252", "replace") + b"\n")
    if barcode:
        printer.barcode("{B" + barcode, "CODE128", height=60, width=2, pos="OFF", function_type="B")
    printer.cut()
    return bytes(printer.output)
