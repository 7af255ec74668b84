"""A day's figures as they are sealed: canonical JSON (RFC 8785), money in whole minor units."""

from __future__ import annotations

from pydantic import TypeAdapter

from abrazo.core.journal import canonical
from abrazo.core.report import DayFigures

DAY = TypeAdapter(DayFigures)


def sealed_text(figures: DayFigures) -> str:
    """The figures as text."""
    return canonical(DAY.dump_python(figures, mode="json"))


def read_sealed(text: str) -> DayFigures:
    """The figures of a text that `sealed_text` wrote."""
    return DAY.validate_json(text)
