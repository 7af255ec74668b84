"""The card machine stand-in: its memory is its own, and outlives the process that asked."""

from __future__ import annotations

from pathlib import Path

import pytest

from abrazo.devices.base import NoAnswer, NotKnown, Unreachable
from abrazo.devices.card import StandInMachine, Told


class Time:
    now = 1000.0


@pytest.fixture
def memory(tmp_path: Path) -> Path:
    return tmp_path / "memory.jsonl"


def machine(memory: Path, told: Told | None = None) -> StandInMachine:
    return StandInMachine("card machine 1", memory, told, now=lambda: Time.now)


def test_goes_on_by_itself_while_nobody_looks(memory: Path) -> None:
    Time.now = 1000.0
    machine(memory, Told(tip_percent=10)).start("r1", 2154, ask_tip=True)
    Time.now = 1002.5
    assert machine(memory).look("r1").step == "Tip chosen"
    Time.now = 1006.0
    answer = machine(memory).look("r1")
    assert (answer.outcome, answer.tip, len(answer.last_four)) == ("approved", 215, 4)
    assert machine(memory).charged() == [("r1", 2369)]


def test_the_same_reference_is_charged_once(memory: Path) -> None:
    one = machine(memory, Told(pace=0))
    for _ in range(3):
        one.start("r1", 500)
    one.start("r1-back", 500, kind="refund", ask_tip=True)
    assert one.charged() == [("r1", 500), ("r1-back", -500)]


def test_silence_says_nothing_and_still_knows(memory: Path) -> None:
    one = machine(memory, Told("silent, charged", pace=0))
    one.start("r1", 500)
    with pytest.raises(NoAnswer):
        one.look("r1")
    assert one.inquire("r1").outcome == "approved"


def test_stop_only_before_the_bank_answers(memory: Path) -> None:
    Time.now = 1000.0
    one = machine(memory)
    one.start("r1", 500)
    one.start("r2", 500)
    one.stop("r1")
    Time.now = 1010.0
    one.stop("r2")
    assert (one.look("r1").outcome, one.look("r2").outcome) == ("cancelled", "approved")


def test_line_down_and_unknown_references(memory: Path) -> None:
    one = machine(memory, Told(line_down=True))
    with pytest.raises(Unreachable):
        one.start("r1", 500)
    one.tell(Told())
    with pytest.raises(NotKnown):
        one.inquire("r1")


def test_a_line_cut_short_was_never_confirmed(memory: Path) -> None:
    machine(memory, Told(pace=0)).start("r1", 500)
    with memory.open("a") as file:
        file.write('{"reference": "r2", "amo')
    assert machine(memory).charged() == [("r1", 500)]
