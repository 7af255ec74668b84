"""A day's figures as they are sealed: canonical JSON (RFC 8785), money in whole minor units."""

from __future__ import annotations

from dataclasses import replace

from pydantic import TypeAdapter

from abrazo.core.journal import canonical
from abrazo.core.report import DayFigures, DrawerFigures

DAY = TypeAdapter(DayFigures)


def sealed_text(figures: DayFigures) -> str:
    """The figures as text."""
    return canonical(DAY.dump_python(figures, mode="json"))


def read_sealed(text: str) -> DayFigures:
    """The figures of a text that `sealed_text` wrote. There pieces stand in the order of texts: largest first again."""
    day = DAY.validate_json(text)
    return replace(day, drawers=tuple(_in_order(one) for one in day.drawers))


def _in_order(one: DrawerFigures) -> DrawerFigures:
    counted, began = (dict(sorted(pieces.items(), reverse=True)) for pieces in (one.counted_pieces, one.float_pieces))
    return replace(one, counted_pieces=counted, float_pieces=began)
