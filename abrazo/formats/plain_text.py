"""Text without control characters, as it may be kept, shown and printed."""

from __future__ import annotations

import re

CONTROL = re.compile(r"[\x00-\x08\x0b\x0c\x0e-\x1f\x7f-\x9f\u2028\u2029]")


def plain(text: str) -> str:
    """Text without control characters; line breaks and tabs stay."""
    return CONTROL.sub("", text)
