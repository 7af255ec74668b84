"""A house served by two page processes and a worker: what one sees the others see, and none is missed when it dies."""

from __future__ import annotations

import os
import re
import shutil
import signal
import socket
import sqlite3
import subprocess
import sys
import threading
import time
import uuid
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import IO

import httpx2
import pytest

from abrazo.desk.context import Devices
from abrazo.desk.overview.soundness import soundness
from abrazo.desk.setup.founding import close_house, open_house
from abrazo.store.migrate import kept_before
from bench.evening import Station, kept_whole, version
from tests.desk.setup.test_founding import as_the_first_version_left_it
from tests.stories.house import demo_template
from tests.stories.waiting import until


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
        copies = [pid for pid in self.children() if "forkserver" in _command(pid) and _begun_by(pid) != self.parent.pid]
        return [pid for pid in copies if pid != self.worker() and _alive(pid)]

    def one(self, sql: str) -> int:
        raw = sqlite3.connect(self.db)
        try:
            return int(raw.execute(sql).fetchone()[0] or 0)
        finally:
            raw.close()


def answers(url: str) -> bool:
    try:
        return httpx2.get(f"{url}/sign-in", timeout=2).status_code == 200
    except httpx2.HTTPError:
        return False


def serve(db: Path, says: IO[bytes] | None = None) -> Served:
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    command = [sys.executable, "-m", "abrazo", "serve", "--port", str(port), "--db", str(db), "--workers", "2"]
    house = Served(db, f"http://127.0.0.1:{port}", subprocess.Popen(command, stdout=subprocess.DEVNULL, stderr=says))
    until(lambda: answers(house.url) and house.worker() is not None, patience=60)
    return house


@pytest.fixture(scope="module")
def one_house(founded: Path, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Callable[[], Served]]:
    """Gives the same house again, served anew only when the one that served it is dead."""
    folder = tmp_path_factory.mktemp("served") / "house"
    shutil.copytree(founded, folder)
    started: list[Served] = []

    def house() -> Served:
        if not started or started[-1].parent.poll() is not None:
            started.append(serve(folder / "house.db"))
        return started[-1]

    yield house
    for one in started:
        one.parent.terminate()
        one.parent.wait(20)


@pytest.fixture
def served(one_house: Callable[[], Served]) -> Served:
    """A house served by two page processes and a worker."""
    return one_house()


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
    until(lambda: served.one("SELECT count(*) FROM payment WHERE tender = 'card'") == before + 2, patience=40)
    assert served.worker() != gone


def test_a_page_process_that_dies_is_started_anew(served: Served) -> None:
    until(lambda: len(served.page_processes()) == 2)
    for pid in served.page_processes():
        os.kill(pid, signal.SIGKILL)
    until(lambda: answers(served.url))
    with at_a_station(served, "jory") as station:
        station.sell(1)
        assert station.errors == 0


def test_a_house_of_an_earlier_version_is_brought_to_this_one_before_anybody_asks(tmp_path: Path) -> None:
    """Once for both page processes and the worker: none of them finds it half done, and ends."""
    db = demo_template(tmp_path / "earlier") / "house.db"
    as_the_first_version_left_it(db)
    with (tmp_path / "said").open("wb") as said:
        house = serve(db, said)
        for pid in (house.parent.pid, *(children := house.children())):
            os.kill(pid, signal.SIGTERM)
        assert house.parent.wait(20) == 0
        until(lambda: not any(map(_alive, children)))
    lines = (tmp_path / "said").read_text("utf-8").splitlines()
    assert [one for one in lines if "stand-ins" not in one] == []  # these may be slow on a machine that is
    assert kept_before(db, 1).exists()


def _command(pid: int) -> str:
    file = Path(f"/proc/{pid}/cmdline")
    return file.read_text("utf-8").replace("\0", " ") if file.exists() else ""


def _begun_by(pid: int) -> int:
    stat = Path(f"/proc/{pid}/stat")
    return int(stat.read_text("utf-8").rpartition(")")[2].split()[1]) if stat.exists() else 0


def _alive(pid: int) -> bool:
    stat = Path(f"/proc/{pid}/stat")
    return stat.exists() and stat.read_text("utf-8").rpartition(")")[2].split()[0] != "Z"


class Stubborn(Station):
    """Somebody whose browser sends the same again until it is answered, as pages do when the house is not there."""

    def act(self, path: str, **fields: str) -> httpx2.Response:
        key = fields.pop("key", uuid.uuid4().hex)
        return self._until_answered(lambda: self.client.post(path, data={"csrf": self.csrf, "key": key, **fields}))

    def page(self, path: str) -> str:
        return self._until_answered(lambda: self.client.get(path)).text

    def _until_answered(self, ask: Callable[[], httpx2.Response]) -> httpx2.Response:
        for _ in range(300):
            try:
                answer = ask()
            except httpx2.HTTPError:
                answer = None
            if answer is not None and answer.status_code < 500:
                return answer
            time.sleep(0.1)
        raise AssertionError("it never answered")

    def sell(self, times: int, pause: float = 0) -> None:
        for _ in range(times):
            answer = self.act("/counter")
            path = answer.url.path
            for item in ("apple-juice", "lemon-posset", "still-water-bottle"):
                answer = self.act(f"{path}/add", item=item, version=version(answer.text))
            payer = re.search(r'data-payer="(\d+)"', self.page(f"{path}?view=pay"))[1]  # type: ignore[index]  # it is there
            self.act(f"{path}/cash", take="12.80", handed="20.00", payer=payer, version=version(answer.text))
            self.act(f"{path}/free")


def test_who_tells_all_processes_to_end_lets_pages_end_in_their_own_time(served: Served) -> None:
    """Of what the others are copies goes on until they have ended."""
    pages = sorted(served.page_processes())
    os.kill(_begun_by(pages[0]), signal.SIGTERM)
    time.sleep(1.0)
    assert sorted(served.page_processes()) == pages
    assert answers(served.url)


def test_nothing_is_lost_or_done_twice_while_processes_die_under_load(served: Served) -> None:
    """Four people sell; both page processes and the worker are killed one after the other meanwhile."""
    until(lambda: len(served.page_processes()) == 2)
    before, sales = kept_whole(served.db.parent), 6
    crowd = [Stubborn(served.url, who) for who in ("tamsin", "jory", "wren", "odile")]
    threads = [threading.Thread(target=one.sell, args=(sales,)) for one in crowd]
    for thread in threads:
        thread.start()
    first, second = served.page_processes()
    copy = served.db.with_name("copy.db")
    for pid in (first, served.worker(), second):
        time.sleep(1.0)
        assert pid is not None
        os.kill(pid, signal.SIGKILL)
    command = [sys.executable, "-m", "abrazo", "backup", str(copy), "--db", str(served.db)]
    assert subprocess.run(command, check=False, stdout=subprocess.DEVNULL).returncode == 0
    for thread in threads:
        thread.join(120)
        assert not thread.is_alive()
    for station in crowd:
        station.client.close()
    assert kept_whole(served.db.parent) - before == len(crowd) * sales
    for one in (served.db, copy):  # the copy was made while people sold
        house = open_house(one, Devices.beside(one))
        assert soundness(house) == []
        close_house(house)


def test_no_process_outlives_the_parent(served: Served) -> None:
    children = served.children()
    served.parent.kill()
    served.parent.wait(10)
    until(lambda: not any(map(_alive, children)))
