"""The printer stand-in: paper grows, and paper out prints nothing."""

from __future__ import annotations

from pathlib import Path

import pytest

from abrazo.devices.base import Unreachable
from abrazo.devices.printer import StandInPrinter


def test_paper(tmp_path: Path) -> None:
    printer = StandInPrinter(tmp_path / "paper.txt")
    assert printer.shown() == ""
    printer.put("one", "first ∗ €1.00")
    printer.paper_out = True
    with pytest.raises(Unreachable):
        printer.put("two", "second")
    printer.paper_out = False
    printer.put("three", "third")
    assert [line for line in printer.shown().split("\n") if line.strip(" -")] == ["first ∗ €1.00", "third"]
