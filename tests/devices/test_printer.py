"""The printer stand-in: ESC/POS in, paper out; paper out prints nothing."""

from __future__ import annotations

from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from abrazo.devices.ports import Unreachable
from abrazo.devices.simulator.paper import NotUnderstood, read_paper
from abrazo.devices.simulator.printer import StandInPrinter
from abrazo.formats.escpos import paper_bytes


def test_paper(tmp_path: Path) -> None:
    printer = StandInPrinter(tmp_path / "paper.txt")
    assert printer.shown() == ""
    printer.put("one", paper_bytes("first, €1.00"))
    printer.paper_out = True
    with pytest.raises(Unreachable):
        printer.put("two", paper_bytes("second"))
    printer.paper_out = False
    printer.put("three", paper_bytes("third", "T2118"))
    lines = [line for line in printer.shown().split("\n") if line.strip(" -")]
    assert lines == ["first, €1.00", "third", "||||| T2118"]


WINDOWS = "".join(bytes([byte]).decode("cp1252", "ignore") for byte in range(32, 256) if byte != 127)


@given(st.text(WINDOWS, max_size=60), st.from_regex(r"[ST][0-9]{1,9}", fullmatch=True))
def test_what_the_library_writes_our_reader_reads(text: str, code: str) -> None:
    """The bytes come from python-escpos, the reading from the command set: neither knows the other."""
    sheet = read_paper(paper_bytes(text, code))
    for fancy, plain in (("–", "-"), ("’", "'")):
        text = text.replace(fancy, plain)
    assert (sheet.text, sheet.codes, sheet.cut) == (text.strip("\n"), (code,), True)


def test_letters_that_the_page_lacks_print_as_question_marks() -> None:
    assert read_paper(paper_bytes("Łucja −5 ∗")).text == "?ucja -5 *"


def test_bytes_of_another_kind_are_not_understood() -> None:
    with pytest.raises(NotUnderstood):
        read_paper(b"\x1b@\x1b!")
