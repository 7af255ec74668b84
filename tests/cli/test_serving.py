"""Starting on a file: one process a house, and nothing is changed that is not a house of ours."""

from __future__ import annotations

import shutil
import socket
import sqlite3
import subprocess
import sys
import time
import urllib.request
from contextlib import nullcontext
from pathlib import Path

import pytest

from abrazo.cli import reports, serving
from abrazo.store.lock import lock_file
from abrazo.store.migrate import FileState, examine


def abrazo(*words: str) -> list[str]:
    return [sys.executable, "-m", "abrazo", *words]


def free_port() -> str:
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        return str(free.getsockname()[1])


def started(db: Path, port: str) -> subprocess.Popen[bytes]:
    process = subprocess.Popen(abrazo("serve", "--port", port, "--db", str(db)), stdout=subprocess.DEVNULL)
    patience = time.monotonic() + 60
    while time.monotonic() < patience and process.poll() is None:
        try:
            urllib.request.urlopen(f"http://127.0.0.1:{port}/sign-in", timeout=5)
            return process
        except OSError:
            time.sleep(0.05)
    process.kill()
    raise AssertionError("it did not start")


def test_a_second_process_is_sent_to_the_first(db: Path) -> None:
    port = free_port()
    first = started(db, port)
    try:
        for command in ("serve", "demo"):
            other = abrazo(command, "--port", free_port(), "--db", str(db))
            second = subprocess.run(other, capture_output=True, text=True, timeout=60)
            assert (second.returncode, second.stderr) == (
                2,
                f"This house is open already at http://127.0.0.1:{port}.\n",
            )
        stand_ins = subprocess.run(abrazo("stand-ins", "--db", str(db)), capture_output=True, text=True, timeout=60)
        assert stand_ins.returncode == 2
        assert "served already" in stand_ins.stderr
        books = subprocess.run(abrazo("journal", "--db", str(db)), capture_output=True, text=True, timeout=60)
        assert books.returncode == 0
    finally:
        first.kill()  # as kill -9: the lock is free at once
        first.wait()
    again = started(db, port)
    again.terminate()
    again.wait(30)


@pytest.mark.parametrize("command", ["serve", "demo"])
@pytest.mark.parametrize(
    ("where", "says"),
    [
        (
            ("--port", "{taken}"),
            "Another program answers at 127.0.0.1:{taken} already. Choose another port with --port.",
        ),
        (("--host", "192.0.2.1"), "192.0.2.1 is no address of this machine."),
    ],
)
def test_an_address_that_cannot_be_had_is_said_before_anything_is_made(
    tmp_path: Path, command: str, where: tuple[str, str], says: str
) -> None:
    with socket.create_server(("127.0.0.1", 0)) as other:
        taken = other.getsockname()[1]
        words = abrazo(command, where[0], where[1].format(taken=taken), "--db", str(tmp_path / "house.db"))
        refused = subprocess.run(words, capture_output=True, text=True, timeout=60)
    assert (refused.returncode, refused.stdout) == (2, "")
    assert refused.stderr.startswith(says.format(taken=taken))
    assert not (tmp_path / "house.db").exists()


HOW = serving.How("127.0.0.1", 0)


@pytest.fixture
def quick(monkeypatch: pytest.MonkeyPatch, founded: Path) -> list[Path]:
    """The command `demo` without a server, and with a house that is copied instead of played."""
    served: list[Path] = []
    monkeypatch.setattr(serving, "make_demo", lambda db, _house: shutil.copy(founded / "house.db", db))
    monkeypatch.setattr(serving, "started", lambda db: nullcontext(""))
    monkeypatch.setattr(serving, "_serve", lambda _how, of, _heard: served.append(of.db))
    return served


def demo(db: Path, *, fresh: bool = False) -> int:
    return serving.demo(HOW, db, fresh)


def test_fresh_moves_exactly_its_own_files(db: Path, quick: list[Path]) -> None:
    folder = db.parent
    neighbours = ["house-2025-backup.db", "houseboat.db", "house.txt", "house.jsonl", "house-other.mail"]
    for name in neighbours:
        (folder / name).write_text(name)
    own = ["house-sent.jsonl", "house-card-machine-1.jsonl", "house-payment-service.batch.csv", "house-cards.jsonl"]
    for name in own:
        (folder / name).write_text("own")
    before = db.read_bytes()
    assert demo(db, fresh=True) == 0
    assert [(folder / name).read_text() for name in neighbours] == neighbours
    (aside,) = [one for one in folder.iterdir() if one.is_dir()]
    assert (aside / "house.db").read_bytes() == before
    moved = {one.name for one in aside.iterdir()} - {"house.db-wal", "house.db-shm", "house.db-queue"}
    assert moved == {"house.db", *own}
    assert (examine(db), quick) == (FileState.HOUSE, [db])


def test_a_house_that_lacks_a_setting_is_never_replaced(
    db: Path, quick: list[Path], capsys: pytest.CaptureFixture[str]
) -> None:
    with sqlite3.connect(db) as raw:
        raw.execute("UPDATE settings SET ready = 0")
    raw.close()
    before = db.read_bytes()
    assert (demo(db), db.read_bytes(), quick) == (2, before, [])
    assert "not set up to the end" in capsys.readouterr().err


FOREIGN = {
    "text": b"notes about the house",
    "database": None,
}


@pytest.mark.parametrize("kind", FOREIGN)
def test_what_is_not_a_house_stays_as_it_is(
    tmp_path: Path, quick: list[Path], capsys: pytest.CaptureFixture[str], kind: str
) -> None:
    other = tmp_path / "other.db"
    if FOREIGN[kind] is None:
        raw = sqlite3.connect(other)
        raw.executescript("CREATE TABLE accounts (id INTEGER); CREATE TABLE setting (key, value)")
        raw.close()
    else:
        other.write_bytes(FOREIGN[kind] or b"")
    before = other.read_bytes()
    results = [demo(other), demo(other, fresh=True), serving.serve(HOW, other, ""), reports.journal(other)]
    assert results == [2] * 4
    assert capsys.readouterr().err.count("is not a house of Abrazo") == 4
    assert (other.read_bytes(), quick) == (before, [])
    assert {one.name for one in tmp_path.iterdir()} <= {other.name, lock_file(other).name}


@pytest.mark.parametrize(
    ("pragma", "state", "said"),
    [
        ("user_version = 9999", FileState.NEWER, "newer version"),
        ("application_id = 0", FileState.FOREIGN, "is not a house of Abrazo"),
    ],
)
def test_another_version_is_refused_unchanged(
    db: Path, quick: list[Path], capsys: pytest.CaptureFixture[str], pragma: str, state: FileState, said: str
) -> None:
    raw = sqlite3.connect(db)
    raw.execute(f"PRAGMA {pragma}")
    raw.close()
    _stays_and_is_refused(db, quick, capsys, state, said)


def test_what_came_before_the_first_schema_is_refused_unchanged(
    db: Path, quick: list[Path], capsys: pytest.CaptureFixture[str]
) -> None:
    """Its tables were called otherwise: `setting` for settings, `card_ask` for card_request."""
    raw = sqlite3.connect(db)
    raw.executescript("ALTER TABLE card_request RENAME TO card_ask; ALTER TABLE settings RENAME TO setting")
    raw.close()
    _stays_and_is_refused(db, quick, capsys, FileState.DRAFT, "earlier draft")


def _stays_and_is_refused(
    db: Path, quick: list[Path], capsys: pytest.CaptureFixture[str], state: FileState, said: str
) -> None:
    before = db.read_bytes()
    assert examine(db) is state
    assert (demo(db), serving.serve(HOW, db, ""), reports.journal(db)) == (2, 2, 2)
    assert capsys.readouterr().err.count(said) == 3
    assert (db.read_bytes(), quick) == (before, [])


def test_a_demo_is_of_a_house_that_there_is(db: Path, quick: list[Path], capsys: pytest.CaptureFixture[str]) -> None:
    assert serving.demo(HOW, db, False, name="atlantis") == 2
    assert "marram and quarry-lake" in capsys.readouterr().err
    assert serving.demo(HOW, db, False, name="quarry-lake") == 0
    assert quick == [db]
