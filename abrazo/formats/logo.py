"""A picture for the head of receipts: read from PNG, JPEG or GIF, made black and white and as wide as paper can be."""

from __future__ import annotations

import io
import warnings
from dataclasses import dataclass
from typing import TYPE_CHECKING

from abrazo.core.errors import Code, Refused

if TYPE_CHECKING:
    from PIL.Image import Image

MOST_BYTES, MOST_DOTS = 1_000_000, 16_000_000
WIDEST, HIGHEST = 384, 200  # dots; paper of 80 mm has 576 beside each other (common practice)
KINDS = ("PNG", "JPEG", "GIF")


@dataclass(frozen=True, slots=True)
class Logo:
    """A black and white picture (PNG), with its size in dots."""

    png: bytes
    width: int
    height: int


def read_logo(data: bytes, where: str = "logo") -> Logo:
    """What was brought, as it is printed. Refused when it is no picture, or too large."""
    from PIL import Image, UnidentifiedImageError  # here, because it is slow to load and seldom needed

    if len(data) > MOST_BYTES:
        raise Refused(Code.PICTURE_LARGE, where)
    try:
        with warnings.catch_warnings(action="error"), Image.open(io.BytesIO(data), formats=KINDS) as found:
            if found.width * found.height > MOST_DOTS:
                raise Refused(Code.PICTURE_LARGE, where)
            picture = _on_white(found)
    except (UnidentifiedImageError, OSError, ValueError, SyntaxError, Image.DecompressionBombError, Warning):
        raise Refused(Code.NOT_PICTURE, where) from None
    picture.thumbnail((WIDEST, HIGHEST))
    out = io.BytesIO()
    picture.convert("1").save(out, "PNG")
    return Logo(out.getvalue(), picture.width, picture.height)


def _on_white(found: Image) -> Image:
    """In shades of grey; what is not covered is white."""
    from PIL import Image

    covered = found.convert("RGBA")
    white = Image.new("RGBA", covered.size, "white")
    white.alpha_composite(covered)
    return white.convert("L")
