"""Settings of a process by option, environment and file, in that order; its log as JSON without a word about persons."""

from __future__ import annotations

import io
import json
import logging
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import pytest
from starlette.testclient import TestClient
from typer.testing import CliRunner

from abrazo.cli import main, serving
from abrazo.cli.logs import JsonLines, LogForm
from abrazo.web.main import create_app
from tests.web.test_pages import hidden

Given = list[tuple[serving.How, Path, str]]


@pytest.fixture
def given(monkeypatch: pytest.MonkeyPatch, tmp_path: Path) -> Given:
    """The command `serve` without a server: what it was given."""
    served: Given = []

    def serve(how: serving.How, db: Path, devices: str) -> int:
        served.append((how, db, devices))
        return 0

    monkeypatch.setattr(serving, "serve", serve)
    monkeypatch.chdir(tmp_path)
    return served


def run(*words: str, **environment: str) -> tuple[int, str]:
    answer = CliRunner().invoke(
        main.app, list(words), env={f"ABRAZO_{name.upper()}": one for name, one in environment.items()}
    )
    return answer.exit_code, answer.output


def test_an_option_counts_before_the_environment_and_that_before_the_file(given: Given, tmp_path: Path) -> None:
    file = tmp_path / "abrazo.toml"
    file.write_text(
        'db = "of-file.db"\nlog = "json"\n[serve]\nport = 8100\nworkers = 2\n[demo]\nport = 8200\n', "utf-8"
    )
    assert run("--config", str(file), "serve")[0] == 0
    assert run(
        "serve", "--port", "8300", config=str(file), port="8400", db="of-environment.db", devices="http://d"
    ) == (0, "")
    assert given == [
        (serving.How("127.0.0.1", 8100, 2, LogForm.JSON), Path("of-file.db"), ""),
        (serving.How("127.0.0.1", 8300, 2, LogForm.JSON), Path("of-environment.db"), "http://d"),
    ]
    assert run("serve")[0] == 0
    assert given[-1] == (serving.How(), Path("data/house.db"), "")


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("port = \n", "is no TOML file"),
        (
            "ports = 8100\n[serves]\nx = 1\n[serve]\nfresh = true",
            "no command has 'ports'; there is no command 'serves'",
        ),
        ('[serve]\nport = "many"\n', "'--port'"),
        ("[serve]\nport = 99999\n", "less than or equal to 65535"),
    ],
)
def test_a_file_that_says_nonsense_is_refused(given: Given, tmp_path: Path, text: str, said: str) -> None:
    file = tmp_path / "abrazo.toml"
    file.write_text(text, "utf-8")
    code, output = run("--config", str(file), "serve")
    assert (code, given) == (2, [])
    assert said in " ".join(output.replace("│", " ").split())
    assert run("--config", str(tmp_path / "none.toml"), "serve")[0] == 2


@contextmanager
def heard() -> Iterator[io.StringIO]:
    stream, log = io.StringIO(), logging.getLogger("abrazo")
    handler = logging.StreamHandler(stream)
    handler.setFormatter(JsonLines())
    log.addHandler(handler)
    logging.getLogger("abrazo.access").setLevel(logging.INFO)
    try:
        yield stream
    finally:
        log.removeHandler(handler)
        logging.getLogger("abrazo.access").setLevel(logging.NOTSET)


def test_each_request_is_one_line_with_act_and_person_and_nothing_of_guests(db: Path) -> None:
    with heard() as stream, TestClient(create_app(db, access_log=True), base_url="http://127.0.0.1") as client:
        first = client.get("/sign-in?who=odile").text
        form = {"csrf": hidden(first, "csrf"), "who": "odile", "till": "galley", "pin": "407118", "back": ""}
        assert client.post("/sign-in", data=form).status_code == 200
        csrf = hidden(client.get("/people", params={"q": "Petra Moe"}).text, "csrf")
        client.post("/people", data={"csrf": csrf, "key": "k" * 20, "name": "Petra Moe", "phone": "020 910 0199"})
        client.get("/people/1")
        client.get("/no-such-page/Petra-Moe")
        client.get("/static/abrazo.css")
    lines = [json.loads(line) for line in stream.getvalue().splitlines()]
    acts = {line["act"]: line for line in lines if line["of"] == "abrazo.access"}
    assert {"GET /people", "GET /people/{person:int}", "GET "} <= set(acts)
    one = acts["GET /people/{person:int}"]
    assert (one["staff"], one["status"], one["level"]) == ("odile", 200, "info")
    assert one["ms"] > 0 and len(one["request"]) == 8 and one["till"]
    assert "Moe" not in stream.getvalue() and "910" not in stream.getvalue()
    assert not any("static" in line["act"] for line in lines)
