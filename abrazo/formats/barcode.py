"""Code 128 (ISO/IEC 15417), by the python-barcode library: a code as bars."""

from __future__ import annotations

from dataclasses import dataclass

from barcode import Code128

QUIET = 10  # modules left white on both sides, as the standard asks


@dataclass(frozen=True, slots=True)
class Bars:
    """Black bars as (first module, modules wide), and how many modules the whole is wide, quiet zones included."""

    code: str
    width: int
    bars: tuple[tuple[int, int], ...]


def code128(code: str) -> Bars:
    """The bars of a code of printable ASCII."""
    modules = Code128(code).build()[0]
    bars: list[tuple[int, int]] = []
    for place, module in enumerate(modules):
        if module != "1":
            continue
        if bars and bars[-1][0] + bars[-1][1] == place + QUIET:
            bars[-1] = (bars[-1][0], bars[-1][1] + 1)
        else:
            bars.append((place + QUIET, 1))
    return Bars(code, len(modules) + 2 * QUIET, tuple(bars))
