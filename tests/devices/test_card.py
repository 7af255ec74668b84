"""The card machine stand-in: its memory is its own, and outlives the process that asked."""

from __future__ import annotations

from pathlib import Path

import pytest

from abrazo.core.states import RequestKind
from abrazo.devices.ports import NoAnswer, NotKnown, Script, Unreachable
from abrazo.devices.simulator.card import StandInMachine
from abrazo.devices.simulator.drawer import StandInDrawers
from abrazo.devices.simulator.post import StandInPost
from abrazo.devices.simulator.scanner import StandInScanner


class Time:
    now = 1000.0


@pytest.fixture
def memory(tmp_path: Path) -> Path:
    return tmp_path / "memory.jsonl"


def machine(memory: Path, told: Script | None = None) -> StandInMachine:
    return StandInMachine("card machine 1", memory, told, now=lambda: Time.now)


def test_goes_on_by_itself_while_nobody_looks(memory: Path) -> None:
    Time.now = 1000.0
    machine(memory, Script(tip_percent=10)).start("r1", 2154, ask_tip=True)
    Time.now = 1002.5
    assert machine(memory).look("r1").step == "Tip chosen"
    Time.now = 1006.0
    answer = machine(memory).look("r1")
    assert (answer.outcome, answer.tip, len(answer.last_four)) == ("approved", 215, 4)
    assert machine(memory).charged() == [("r1", 2369)]


def test_the_same_reference_is_charged_once(memory: Path) -> None:
    one = machine(memory, Script(pace=0))
    for _ in range(3):
        one.start("r1", 500)
    one.start("r1-back", 500, kind=RequestKind.REFUND, ask_tip=True)
    assert one.charged() == [("r1", 500), ("r1-back", -500)]


def test_silence_says_nothing_and_still_knows(memory: Path) -> None:
    one = machine(memory, Script("silent, charged", pace=0))
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
    one = machine(memory, Script(line_down=True))
    with pytest.raises(Unreachable):
        one.start("r1", 500)
    one.tell(Script())
    with pytest.raises(NotKnown):
        one.inquire("r1")


def test_a_line_cut_short_was_never_confirmed(memory: Path) -> None:
    machine(memory, Script(pace=0)).start("r1", 500)
    with memory.open("a") as file:
        file.write('{"reference": "r2", "amo')
    assert machine(memory).charged() == [("r1", 500)]


def test_a_hold_is_taken_or_let_go_once(memory: Path) -> None:
    """The machine knows by itself what is held; captures show the card of their hold."""
    one = machine(memory, Script(pace=0))
    for reference in ("h1", "h2", "h3"):
        one.start(reference, 3000, kind=RequestKind.HOLD)
    one.start("t1", 3720, kind=RequestKind.CAPTURE, of="h1")
    one.start("g2", 3000, kind=RequestKind.RELEASE, of="h2")
    again = machine(memory)
    assert (again.charged(), again.held()) == ([("t1", 3720)], [("h3", 3000)])
    held, taken = again.inquire("h1"), again.inquire("t1")
    assert (held.token, held.last_four, held.expiry) == (taken.token, taken.last_four, taken.expiry)


def test_the_other_stand_ins_fail_when_told(tmp_path: Path) -> None:
    drawers, post, scanner = StandInDrawers(), StandInPost(tmp_path / "sent"), StandInScanner()
    drawers.open("galley", "sale")
    assert drawers.seen("galley") and not drawers.seen("landing")
    drawers.push_shut("galley")
    drawers.stuck = post.line_down = scanner.dead = True
    with pytest.raises(Unreachable):
        drawers.open("galley", "sale")
    with pytest.raises(Unreachable):
        post.send(1, "+353", "ready", "your sail")
    scanner.scan("galley", "S1036")
    assert (drawers.seen("galley"), post.delivered(), scanner.count("galley")) == (None, [], 0)
    scanner.dead = False
    scanner.scan("galley", "S1036")
    assert (scanner.after("galley", 0), scanner.after("landing", 0)) == (["S1036"], [])
