"""The receipt printer stand-in: paper is a text file that grows, shown on the device desk."""

from __future__ import annotations

from pathlib import Path

from abrazo.devices.ports import Unreachable
from abrazo.devices.simulator.paper import read_paper
from abrazo.devices.simulator.shared import SharedMemory, append, told

BARS = "||||| "  # stands for the bars on the stand-in's paper; the device desk draws them
CUT = "\n" + "- " * 21 + "\n\n"


class StandInPrinter:
    """Prints to a file; can be told that its paper is out."""

    paper_out = told("paper out")

    def __init__(self, paper: Path, memory: SharedMemory | None = None) -> None:
        self.memory = memory or SharedMemory()
        self._paper = paper

    def put(self, title: str, data: bytes) -> None:
        """Print a sheet. Raises Unreachable without paper."""
        sheet = read_paper(data)
        bars = "".join(f"\n\n{BARS}{code}" for code in sheet.codes)
        if self.paper_out:
            raise Unreachable("the printer is out of paper")
        append(self._paper, sheet.text + bars + (CUT if sheet.cut else "\n"))

    def shown(self, most: int = 6000) -> str:
        """The end of the paper."""
        return self._paper.read_text("utf-8")[-most:] if self._paper.exists() else ""
