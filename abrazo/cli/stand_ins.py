"""The stand-ins for card machines and payment service in a process of their own.

It says where it listens in the first line of its output, and ends when its input ends: when whoever started it is gone.
"""

from __future__ import annotations

import os
import socket
import subprocess
import sys
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import uvicorn

from abrazo.desk.context import MACHINES
from abrazo.devices.simulator.served import stand_ins_app, stand_ins_beside
from abrazo.store.lock import InUse, exclusive

PATIENCE = 10.0  # seconds that the stand-ins of a process that was just killed may take to notice it


def serve(host: str, port: int, db: Path) -> int:
    """Serve the stand-ins whose memory lies beside a database; 2 when another process serves them."""
    memory = db.with_name(f"{db.stem}-stand-ins")
    listening = socket.create_server((host, port))
    address = f"http://{host}:{listening.getsockname()[1]}"
    try:
        with exclusive(memory, address, patience=PATIENCE):
            machines, service = stand_ins_beside(db, MACHINES)
            print(address, flush=True)
            threading.Thread(target=_end_with_input, daemon=True).start()
            server = uvicorn.Server(uvicorn.Config(stand_ins_app([*machines, service]), log_level="critical"))
            server.run(sockets=[listening])
    except InUse as other:
        print(f"The stand-ins beside {db} are served already at {other.address}.", file=sys.stderr)
        return 2
    return 0


def _end_with_input() -> None:
    """Nothing is lost by it: what was answered is on disk already."""
    sys.stdin.buffer.read()
    os._exit(0)


@contextmanager
def started(db: Path) -> Iterator[str]:
    """The stand-ins as a child process, at the address that is given."""
    command = [sys.executable, "-m", "abrazo", "stand-ins", "--db", str(db)]
    with subprocess.Popen(command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True) as child:  # noqa: S603
        assert child.stdout is not None
        address = child.stdout.readline().strip()
        if not address:
            raise RuntimeError("the stand-ins did not start")
        yield address
