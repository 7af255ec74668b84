"""The rules for makers of card machines: our own stand-ins keep them, what only looks like one is told what it breaks."""

from __future__ import annotations

import json
import threading
from collections.abc import Iterator
from contextlib import closing
from http.server import BaseHTTPRequestHandler, HTTPServer
from pathlib import Path

import pytest

from abrazo.cli.conformance import check
from abrazo.cli.stand_ins import started
from abrazo.devices.conformance import tells_number
from abrazo.devices.drivers.http_cards import HttpMachine
from abrazo.devices.ports import Script
from abrazo.devices.simulator.card import StandInMachine


@pytest.fixture(scope="module")
def address(tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    with started(tmp_path_factory.mktemp("served") / "house.db") as address:
        yield address


@pytest.mark.parametrize("pace", [0, 0.05])
def test_the_stand_ins_keep_every_rule(address: str, pace: float, capsys: pytest.CaptureFixture[str]) -> None:
    with closing(HttpMachine("card machine 1", address)) as machine:
        machine.tell(Script(pace=pace))
        assert check(address, "card-machine-1", 5, True) == 0
        said = json.loads(capsys.readouterr().out)
        assert said == {"rules": 11, "broken": []}
        machine.tell(Script(outcome="decline", pace=0))
        assert check(address, "card-machine-1", 5, False) == 1
    assert "BROKEN a charge ends approved, declined or cancelled" in capsys.readouterr().out


@pytest.mark.parametrize(
    ("token", "found_out"),
    [
        ("4" * 16, True),
        ("4000 0012 3456 7899", True),
        ("pan-4000001234567899", True),
        ("123456789012abcdef", False),  # digits by chance, as in any name of random hexadecimal digits
        ("5f3d1c52-97c1-4b6e-8f7e-123456789012", False),  # a UUID (RFC 9562)
    ],
)
def test_a_token_that_is_a_number_is_told_from_a_random_name(token: str, found_out: bool) -> None:
    assert tells_number(token, "7899") is found_out


def test_no_name_that_a_stand_in_gives_can_be_taken_for_a_number(tmp_path: Path) -> None:
    machine = StandInMachine("card machine 1", tmp_path / "memory", Script(pace=0))
    for number in range(2_000):
        machine.start(f"once-{number}", 100)
        answer = machine.inquire(f"once-{number}")
        assert answer.token and not tells_number(answer.token, answer.last_four)


class Forgetful(BaseHTTPRequestHandler):
    """Says yes to everything, and remembers nothing."""

    def _yes(self) -> None:
        self.rfile.read(int(self.headers["content-length"] or 0))
        answer = {"step": "", "outcome": "approved", "amount": 100, "last_four": "4000001234567899", "token": "4" * 16}
        body = json.dumps(answer).encode()
        self.send_response(200)
        self.send_header("content-length", str(len(body)))
        self.end_headers()
        self.wfile.write(body)

    do_GET = do_PUT = do_DELETE = _yes  # as http.server calls them

    def log_message(self, *_: object) -> None:
        """Nothing is said."""


def test_what_says_yes_to_everything_is_found_out(capsys: pytest.CaptureFixture[str]) -> None:
    with HTTPServer(("127.0.0.1", 0), Forgetful) as server:
        threading.Thread(target=server.serve_forever, daemon=True).start()
        assert check(f"http://127.0.0.1:{server.server_port}", "card-machine-1", 2, True) == 1
        server.shutdown()
    broken = {one["rule"].split(":")[0] for one in json.loads(capsys.readouterr().out)["broken"]}
    assert {"a reference that it never heard of is 404", "the same reference for another amount is 409",
            "no number of a card is told", "its batch names every movement once, with its amount"} <= broken  # fmt: skip
    assert check("http://127.0.0.1:9", "card-machine-1", 2, True) == 1
