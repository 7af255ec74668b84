"""The slip for a place that prepares things, as plain text at 42 columns."""

from __future__ import annotations

from collections.abc import Sequence

from abrazo.formats.receipt_text import WIDTH, row, wrap


def slip_words(head: str, spot: str, staff: str, at: str, lines: Sequence[tuple[str, str]]) -> str:
    """What to make, or to stop making, as its head says: where it goes first, then (how many, what)."""
    body = [text for quantity, words in lines for text in wrap(f"{quantity} x {words}", WIDTH)]
    return "\n".join([*row(head, at), *wrap(spot, WIDTH), "-" * WIDTH, *body, "-" * WIDTH, *wrap(staff, WIDTH)])
