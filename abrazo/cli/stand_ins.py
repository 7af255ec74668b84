"""The stand-ins for card machines and payment service in a process of their own.

It says where it listens in the first line of its output, and ends when its input ends: when whoever started it is gone.
"""

from __future__ import annotations

import http.client
import logging
import os
import subprocess
import sys
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from socket import socket
from urllib.parse import urlsplit

import uvicorn

from abrazo.cli.listening import NotHeard, listening
from abrazo.devices.simulator.card import MACHINES
from abrazo.devices.simulator.served import stand_ins_app, stand_ins_beside, told_machines
from abrazo.store.lock import InUse, exclusive

LOOK_EVERY = 1.0  # seconds between looks at whether the stand-ins still answer
ANSWERS_IN = 3.0  # seconds that an answer may take
HANGS_AFTER = 3  # looks without an answer, one after the other
log = logging.getLogger("abrazo")
PATIENCE = 10.0  # seconds that the stand-ins of a process that was just killed may take to notice it


def serve(host: str, port: int, db: Path) -> int:
    """Serve the stand-ins whose memory lies beside a database; 2 when another process serves them."""
    memory = db.with_name(f"{db.stem}-stand-ins")
    try:
        with listening(host, port) as heard, exclusive(memory, _address(host, heard), patience=PATIENCE):
            told_machines(db).unlink(missing_ok=True)  # they remember nothing over a restart
            machines, service = stand_ins_beside(db, MACHINES)
            print(_address(host, heard), flush=True)
            threading.Thread(target=_end_with_input, daemon=True).start()
            server = uvicorn.Server(uvicorn.Config(stand_ins_app([*machines, service]), log_level="critical"))
            server.run(sockets=[heard])
    except InUse as other:
        print(f"The stand-ins beside {db} are served already at {other.address}.", file=sys.stderr)
        return 2
    except NotHeard as why:
        print(why, file=sys.stderr)
        return 2
    return 0


def _address(host: str, heard: socket) -> str:
    return f"http://{host}:{heard.getsockname()[1]}"


def _end_with_input() -> None:
    """Nothing is lost by it: what was answered is on disk already."""
    sys.stdin.buffer.read()
    os._exit(0)


@contextmanager
def started(db: Path) -> Iterator[str]:
    """The stand-ins as a child process, at the address that is given; one that dies or hangs is started anew there."""
    kept = _Kept(db)
    try:
        yield kept.address
    finally:
        kept.stop()


class _Kept:
    """A child process that answers: looked at again and again, started anew at the same address when it does not."""

    def __init__(self, db: Path) -> None:
        self._db = db
        self._child = self._begin(0)
        self.address = self._said(self._child)
        if not self.address:
            self._end()
            raise RuntimeError("the stand-ins did not start")
        self._ended = threading.Event()
        self._thread = threading.Thread(target=self._keep, name="stand-ins", daemon=True)
        self._thread.start()

    def stop(self) -> None:
        """End the child."""
        self._ended.set()
        self._thread.join(ANSWERS_IN * 2)
        self._end()

    def _begin(self, port: int) -> subprocess.Popen[str]:
        command = [sys.executable, "-m", "abrazo", "stand-ins", "--db", str(self._db), "--port", str(port)]
        return subprocess.Popen(command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True)  # noqa: S603

    def _said(self, child: subprocess.Popen[str]) -> str:
        assert child.stdout is not None
        return child.stdout.readline().strip()

    def _end(self) -> None:
        self._child.kill()  # what was answered is on disk already
        self._child.communicate()

    def _keep(self) -> None:
        silent = 0
        while not self._ended.wait(LOOK_EVERY):
            silent = 0 if self._answers() else silent + 1
            if self._child.poll() is None and silent < HANGS_AFTER:
                continue
            log.error("the stand-ins ended or hang; they are started anew")
            self._end()
            self._child, silent = self._begin(urlsplit(self.address).port or 0), 0
            self._said(self._child)

    def _answers(self) -> bool:
        """Whether anything is answered; what, does not matter."""
        where = urlsplit(self.address)
        connection = http.client.HTTPConnection(where.hostname or "", where.port, timeout=ANSWERS_IN)
        try:
            connection.request("GET", "/")
            connection.getresponse().read()
        except (OSError, http.client.HTTPException):
            return False
        finally:
            connection.close()
        return True
