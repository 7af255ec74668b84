"""A house served by two page processes and a worker: what one sees the others see, and none is missed when it dies."""

from __future__ import annotations

import os
import re
import signal
import socket
import sqlite3
import subprocess
import sys
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path

import httpx2
import pytest

from bench.evening import Station, version


@dataclass
class Served:
    """The processes that serve a copy of the demo's house."""

    db: Path
    url: str
    parent: subprocess.Popen[bytes]

    def children(self) -> list[int]:
        """Processes started by the parent, or by those."""
        parents = [self.parent.pid]
        for pid in parents:
            tasks = Path(f"/proc/{pid}/task")
            for one in tasks.iterdir() if tasks.exists() else ():
                parents += map(int, (one / "children").read_text("utf-8").split())
        return parents[1:]

    def worker(self) -> int | None:
        """The process that works beside the pages: it says so in the file of its lock, once it has it."""
        lock = self.db.with_name(f"{self.db.name}.worker.lock")
        said = lock.read_text("utf-8") if lock.exists() else ""
        return int(said) if said else None

    def page_processes(self) -> list[int]:
        """The processes that answer pages."""
        return [pid for pid in self.children() if pid != self.worker() and "spawn_main" in _command(pid)]

    def one(self, sql: str) -> int:
        raw = sqlite3.connect(self.db)
        try:
            return int(raw.execute(sql).fetchone()[0] or 0)
        finally:
            raw.close()


def until(true: Callable[[], bool], seconds: float = 20) -> None:
    end = time.monotonic() + seconds
    while not true():
        assert time.monotonic() < end
        time.sleep(0.1)


def answers(url: str) -> bool:
    try:
        return httpx2.get(f"{url}/sign-in", timeout=2).status_code == 200
    except httpx2.HTTPError:
        return False


@pytest.fixture
def served(db: Path) -> Iterator[Served]:
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    command = [sys.executable, "-m", "abrazo", "serve", "--port", str(port), "--db", str(db), "--workers", "2"]
    house = Served(db, f"http://127.0.0.1:{port}", subprocess.Popen(command, stdout=subprocess.DEVNULL))
    try:
        until(lambda: answers(house.url) and house.worker() is not None, 60)
        yield house
    finally:
        house.parent.terminate()
        house.parent.wait(20)


@contextmanager
def at_a_station(house: Served, who: str) -> Iterator[Station]:
    """Somebody who signed in at a screen."""
    station = Station(house.url, who)
    try:
        yield station
    finally:
        station.client.close()


def charge(house: Served, station: Station, items: int = 1) -> None:
    """A counter sale that is charged on a card machine; the answer is awaited from the outside."""
    answer = station.act("/counter")
    path = answer.url.path
    for _ in range(items):
        answer = station.act(f"{path}/add", item="apple-juice", version=version(answer.text))
    payer = re.search(r'data-payer="(\d+)"', station.client.get(f"{path}?view=pay").text)[1]  # type: ignore[index]  # it is there
    station.act(f"{path}/card", take="3.60", machine="card machine 1", payer=payer, version=version(answer.text))


def test_both_pages_and_the_worker_are_one_house(served: Served) -> None:
    """Twelve connections at once are answered by two processes; a charge asked for in one is ended by the worker."""
    with at_a_station(served, "tamsin") as station:
        _charges_go_on(served, station)


def _charges_go_on(served: Served, station: Station) -> None:
    before = served.one("SELECT count(*) FROM payment WHERE tender = 'card'")
    charge(served, station)
    until(lambda: served.one("SELECT count(*) FROM payment WHERE tender = 'card'") == before + 1)
    gone = served.worker()
    assert gone is not None
    os.kill(gone, signal.SIGKILL)
    charge(served, station)
    until(lambda: served.one("SELECT count(*) FROM payment WHERE tender = 'card'") == before + 2, 40)
    assert served.worker() != gone


def test_a_page_process_that_dies_is_started_anew(served: Served) -> None:
    until(lambda: len(served.page_processes()) == 2)
    for pid in served.page_processes():
        os.kill(pid, signal.SIGKILL)
    until(lambda: answers(served.url), 30)
    with at_a_station(served, "jory") as station:
        station.sell(1)
        assert station.errors == 0


def test_no_process_outlives_the_parent(served: Served) -> None:
    children = served.children()
    served.parent.kill()
    served.parent.wait(10)
    until(lambda: not any(map(_alive, children)), 15)


def _command(pid: int) -> str:
    file = Path(f"/proc/{pid}/cmdline")
    return file.read_text("utf-8").replace("\0", " ") if file.exists() else ""


def _alive(pid: int) -> bool:
    stat = Path(f"/proc/{pid}/stat")
    return stat.exists() and stat.read_text("utf-8").rpartition(")")[2].split()[0] != "Z"
