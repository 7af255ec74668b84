"""A house for browser tests: the demo's, in a process of its own, that can be killed and started again."""

from __future__ import annotations

import atexit
import fcntl
import functools
import os
import shutil
import signal
import socket
import subprocess
import tempfile
import time
import urllib.request
from collections.abc import Sequence
from pathlib import Path

from abrazo.core.journal import Kind
from abrazo.demo.houses import HOUSES
from abrazo.demo.making import make_demo, start_clock
from abrazo.desk.context import Devices, House
from abrazo.desk.setup.founding import close_house, open_house
from abrazo.store import journal
from tests.stories.forking import Forked

FIRST = next(iter(HOUSES))
START = 90  # seconds that a start may take


class Running:
    """The application on a port of its own."""

    def __init__(self, folder: Path, command: Sequence[str] = (), what: str = "demo") -> None:
        """With a `command` that is run anew each time; without one it is a copy of what has read everything."""
        self.db = folder / "house.db"
        self._abrazo, self._what = command, what
        self._process: subprocess.Popen[bytes] | Forked | None = None
        self._choose_port()

    def _choose_port(self) -> None:
        with socket.socket() as free:
            free.bind(("127.0.0.1", 0))
            self.port = free.getsockname()[1]
        self.url = f"http://127.0.0.1:{self.port}"

    def start(self, again: int = 2) -> None:
        """Start it; on another port when somebody took the one that was free a moment before."""
        arguments = [self._what, "--port", str(self.port), "--db", str(self.db)]
        if self._abrazo:
            self._process = subprocess.Popen([*self._abrazo, *arguments], stdout=subprocess.DEVNULL)
        else:
            self._process = Forked(arguments)
        patience = time.monotonic() + START  # two starts at once on a busy machine take their time
        while time.monotonic() < patience and self._process.poll() is None:
            try:
                urllib.request.urlopen(f"{self.url}/sign-in", timeout=5)
                return None
            except OSError:
                time.sleep(0.05)
        ended = self._process.poll() is not None
        self._process.kill()
        self._process.wait()
        if ended and again:
            self._choose_port()
            return self.start(again - 1)
        raise AssertionError("the application did not start")

    @property
    def pid(self) -> int:
        """The process that serves it."""
        assert self._process is not None
        return self._process.pid

    def kill(self) -> None:
        """As `kill -9` does: no time to tidy up."""
        assert self._process is not None
        os.kill(self._process.pid, signal.SIGKILL)
        self._process.wait()

    def stop(self) -> None:
        assert self._process is not None
        self._process.terminate()
        self._process.wait(60)

    def ticket(self, spot: str) -> int:
        """The open ticket of a table."""
        house = self.look()
        found = house.connection.execute("SELECT id FROM ticket WHERE spot = ? AND state = 'open'", (spot,)).fetchone()
        house.connection.close()
        return int(found[0])

    def look(self) -> House:
        """The house as it lies on disk, for checking what was confirmed."""
        return open_house(self.db, Devices.beside(self.db))


@functools.cache
def _made(name: str) -> Path:
    """A demo's files, made once by the processes that run tests together; each has a copy of its own."""
    folder = Path(tempfile.mkdtemp(prefix="abrazo-demo-"))
    atexit.register(shutil.rmtree, folder, ignore_errors=True)
    run = os.environ.get("PYTEST_XDIST_TESTRUNUID", str(os.getpid()))
    shared = Path(tempfile.gettempdir(), f"abrazo-demo-{run}-{name}")
    atexit.register(shutil.rmtree, shared, ignore_errors=True)
    with shared.with_suffix(".lock").open("w") as lock:
        atexit.register(Path(lock.name).unlink, missing_ok=True)
        fcntl.flock(lock, fcntl.LOCK_EX)
        if not shared.exists():
            make_demo(folder / "house.db", HOUSES[name])
            shutil.copytree(folder, shared.with_suffix(".part"), dirs_exist_ok=True)
            shared.with_suffix(".part").rename(shared)
        else:
            shutil.copytree(shared, folder, dirs_exist_ok=True)
    return folder


def demo_template(folder: Path, name: str = FIRST) -> Path:
    """A demo's files, to be copied for every test; its clock stands at the beginning."""
    return _copy(_made(name), folder, name)


def _copy(template: Path, folder: Path, name: str) -> Path:
    shutil.copytree(template, folder, dirs_exist_ok=True)
    house = open_house(folder / "house.db", Devices.beside(folder / "house.db"))
    start_clock(house, HOUSES[name])
    close_house(house)
    return folder


def copy_of(template: Path, folder: Path, name: str = FIRST) -> Running:
    """A running copy of the template."""
    _copy(template, folder, name)
    running = Running(folder)
    running.start()
    return running


CHARGED = """
SELECT sum(p.amount) FROM posting p JOIN journal j ON j.number = p.entry WHERE p.account LIKE 'assets:card:%' AND j.kind <> ?
"""  # what was paid out since is at the bank


def books(running: Running) -> tuple[int, int]:
    """(what our books say was charged, what machines' and service's own memory says), in minor units."""
    house = running.look()
    try:
        (ours,) = house.connection.execute(CHARGED, (Kind.PAYOUT,)).fetchone()
        takers = (*house.devices.machines.values(), house.devices.service)
        theirs = sum(moved for taker in takers for _, moved in taker.charged())
        assert journal.unbalanced(house.connection) == []
        return ours, theirs
    finally:
        house.connection.close()
