"""Text without control characters and direction marks, as it may be kept, shown and printed."""

from __future__ import annotations

import re

CONTROL = re.compile(
    r"[\x00-\x08\x0b\x0c\x0e-\x1f\x7f-\x9f\u2028\u2029"
    r"\u061c\u200e\u200f\u202a-\u202e\u2066-\u2069]"  # marks that turn the direction of what follows (UAX 9)
)


def plain(text: str) -> str:
    """Text without control characters and direction marks; line breaks and tabs stay."""
    return CONTROL.sub("", text)
