"""Drivers over HTTP against the stand-ins in a process of their own: what goes wrong on the wire, told apart."""

from __future__ import annotations

import os
import re
import signal
import socket
import time
from collections.abc import Iterator
from contextlib import closing, suppress
from pathlib import Path

import pytest

from abrazo.cli.stand_ins import started
from abrazo.core.states import RequestKind
from abrazo.devices.drivers.http_cards import HttpMachine, HttpService
from abrazo.devices.ports import DeviceFault, Duplicate, Incomplete, NoAnswer, NotKnown, Script, Unreachable

NUMBER = "4000 0012 3456 7899"  # check digit by ISO/IEC 7812-1, annex B; no bank's


@pytest.fixture(scope="module")
def address(tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    with started(tmp_path_factory.mktemp("served") / "house.db") as address:
        yield address


@pytest.fixture
def machine(address: str) -> Iterator[HttpMachine]:
    with closing(HttpMachine("card machine 1", address)) as one:
        one.tell(Script(pace=0))
        yield one


@pytest.fixture
def service(address: str) -> Iterator[HttpService]:
    with closing(HttpService("payment service", address)) as one:
        one.tell(Script(pace=0))
        yield one


def test_a_charge_and_its_batch(machine: HttpMachine) -> None:
    machine.tell(Script(tip_percent=10, pace=0))
    machine.start("b1", 2154, ask_tip=True)
    machine.start("b1", 2154, ask_tip=True)
    answer = machine.look("b1")
    assert (answer.outcome, answer.amount, answer.tip, answer) == ("approved", 2154, 215, machine.inquire("b1"))
    machine.start("b1-back", 2369, kind=RequestKind.REFUND, of="b1")
    machine.start("b1-tip", 100, kind=RequestKind.TIP, of="b1")
    assert (machine.look("b1-tip").last_four, machine.look("b1-back").token) == (answer.last_four, answer.token)
    assert machine.charged()[-3:] == [("b1", 2369), ("b1-back", -2369), ("b1-tip", 100)]
    head, *rows = [row.split(",") for row in machine.batch().splitlines()]
    assert head == ["reference", "kind", "amount", "tip", "brand", "last_four", "at"]
    assert [row[:4] for row in rows[-3:]] == [
        ["b1", "charge", "2154", "215"],
        ["b1-back", "refund", "-2369", "0"],
        ["b1-tip", "tip", "100", "0"],
    ]


@pytest.mark.parametrize(
    ("told", "sending", "looking", "asking", "moved"),
    [
        ("silent, charged", None, NoAnswer, "approved", 500),
        ("silent, not charged", None, NoAnswer, "declined", 0),
        ("answer lost", NoAnswer, NoAnswer, "approved", 500),
        ("duplicate", Duplicate, NotKnown, NotKnown, 0),
        ("part", None, "approved", "approved", 250),
        ("decline", None, "declined", "declined", 0),
    ],
)
def test_faults_look_like_faults(
    machine: HttpMachine,
    told: str,
    sending: type[Exception] | None,
    looking: type[Exception] | str,
    asking: type[Exception] | str,
    moved: int,
) -> None:
    machine.tell(Script(told, pace=0))
    reference, before = f"f-{told.replace(' ', '-').replace(',', '')}", sum(sum_ for _, sum_ in machine.charged())
    if sending is None:
        machine.start(reference, 500)
    else:
        with pytest.raises(sending):
            machine.start(reference, 500)
    for call, wanted in ((machine.look, looking), (machine.inquire, asking)):
        if isinstance(wanted, str):
            assert call(reference).outcome == wanted
        else:
            with pytest.raises(wanted):
                call(reference)
    assert sum(sum_ for _, sum_ in machine.charged()) - before == moved


def test_a_reference_asked_for_before_it_arrives_never_begins(machine: HttpMachine) -> None:
    """So 'not known' is final: what was slow on the wire is refused when it comes."""
    with pytest.raises(NotKnown):
        machine.inquire("late")
    with pytest.raises(Duplicate):
        machine.start("late", 500)
    assert "late" not in dict(machine.charged())


def test_the_same_reference_for_another_sum_is_a_duplicate(machine: HttpMachine) -> None:
    machine.start("d1", 500)
    with pytest.raises(Duplicate):
        machine.start("d1", 600)
    assert dict(machine.charged())["d1"] == 500


def test_nobody_there_and_nobody_answering(machine: HttpMachine) -> None:
    """Not reached: nothing was done. Reached and silent: it may have been."""
    with socket.create_server(("127.0.0.1", 0)) as deaf:
        address = f"http://127.0.0.1:{deaf.getsockname()[1]}"
        with closing(HttpMachine("card machine 1", address, patience=0.2)) as silent, pytest.raises(NoAnswer):
            silent.start("n1", 500)
    with closing(HttpMachine("card machine 1", address)) as gone:
        with pytest.raises(Unreachable):
            gone.start("n2", 500)
        with pytest.raises(NoAnswer):  # what was sent earlier may have been done
            gone.look("n1")
    machine.tell(Script(line_down=True))
    with pytest.raises(Unreachable):
        machine.start("n3", 500)
    with pytest.raises(NoAnswer):
        machine.inquire("n3")


def test_the_service_gives_a_token_for_a_number(service: HttpService) -> None:
    card = service.keep_card(NUMBER, "09/29", "123")
    assert (card.brand, card.last_four, card.expiry) == ("Pelagia", "7899", "09/29")
    service.start("s1", 900, of=card.token)
    answer = service.look("s1")
    assert (answer.outcome, answer.brand, answer.last_four, answer.step) == (
        "approved",
        "Pelagia",
        "7899",
        "Asking the bank",
    )
    service.start("s1-back", 900, kind=RequestKind.REFUND, of="s1")
    assert service.look("s1-back").last_four == "7899"
    service.start("s2", 900, of="nobody's")
    assert service.look("s2").reason == "the service does not know this card"
    old = service.keep_card(NUMBER, "01/20", "123")
    service.start("s3", 900, of=old.token)
    assert (service.look("s3").outcome, service.look("s3").reason) == ("declined", "the card has expired")


@pytest.mark.parametrize(
    ("number", "expiry", "code", "where"),
    [("4000001234567890", "09/29", "123", "number"), (NUMBER, "9/29", "123", "expiry"), (NUMBER, "09/29", "", "code")],
)
def test_the_service_says_what_is_missing(
    service: HttpService, number: str, expiry: str, code: str, where: str
) -> None:
    with pytest.raises(Incomplete) as lack:
        service.keep_card(number, expiry, code)
    assert lack.value.where == where


def test_the_stand_ins_remember_over_a_restart_and_keep_no_number(tmp_path: Path) -> None:
    with started(tmp_path / "house.db") as first, closing(HttpService("payment service", first)) as service:
        service.tell(Script(pace=0))
        card = service.keep_card(NUMBER, "09/29", "907")
        service.start("r1", 700, of=card.token)
    with started(tmp_path / "house.db") as second, closing(HttpService("payment service", second)) as again:
        assert again.inquire("r1").last_four == "7899"
    kept = "".join(file.read_text("utf-8") for file in tmp_path.iterdir() if file.suffix != ".lock")
    assert "7899" in kept
    assert NUMBER.replace(" ", "") not in kept
    assert not re.search(r"(?<!\d)907(?!\d)", kept.replace(card.token, ""))  # a moment may hold these digits


@pytest.mark.parametrize("harm", [signal.SIGKILL, signal.SIGSTOP], ids=["dead", "hung"])
def test_stand_ins_that_die_or_hang_are_started_anew_at_their_address(tmp_path: Path, harm: signal.Signals) -> None:
    db = tmp_path / "house.db"
    with started(db) as address, closing(HttpMachine("card machine 1", address)) as machine:
        machine.start("a-1", 980, kind=RequestKind.CHARGE)
        (child,) = children_for(db)
        os.kill(child, harm)
        until = time.monotonic() + 60
        while time.monotonic() < until:
            try:
                machine.inquire("a-1")
                break
            except DeviceFault:
                time.sleep(0.2)
        assert children_for(db) != [child]
        assert machine.inquire("a-1")  # they remember what they were asked


def children_for(db: Path) -> list[int]:
    """The processes of ours that serve the stand-ins beside a database."""
    found = []
    for folder in Path("/proc").glob("[0-9]*"):
        with suppress(OSError):
            if f"stand-ins\0--db\0{db}" in (folder / "cmdline").read_text():
                found.append(int(folder.name))
    return found
