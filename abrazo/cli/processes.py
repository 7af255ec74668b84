"""The processes that serve a house: one that answers pages and works beside them, or several for pages and one worker.

Rules here
- the parent holds the house's lock; its children end when it does, however it ends
- they are copies of a process that has read the code and does nothing else, so that each starts at once
- a page process or the worker that dies is started anew; what was confirmed is in the database
- there is one worker a house: it holds a lock of its own, which the system frees when it dies
"""

from __future__ import annotations

import gc
import importlib
import json
import logging
import multiprocessing
import os
import signal
import threading
from collections.abc import Mapping
from dataclasses import dataclass
from multiprocessing.connection import wait
from multiprocessing.process import BaseProcess
from pathlib import Path
from socket import socket

import uvicorn
import uvicorn._subprocess
from fastapi import FastAPI
from uvicorn.supervisors import Multiprocess

from abrazo.cli.logs import LogForm, set_up_logs
from abrazo.desk.context import Devices
from abrazo.desk.setup.founding import close_house, open_house
from abrazo.store.lock import exclusive
from abrazo.web.first_run import create_first_run
from abrazo.web.main import create_app
from abrazo.web.protocol import Connection
from abrazo.worker.worker import Worker

GIVEN = "ABRAZO_PAGE_PROCESS"  # what a page process is started with: the parent's own, not a setting
READ, COPIED = "abrazo.cli.read_once", "abrazo.cli.copied"  # what every process needs; of what the others are copies
COPIES = multiprocessing.get_context("forkserver")
LOOK_EVERY = 0.5  # seconds between looks at whether the worker, or the parent, is still there
HANGS_AFTER = 20  # seconds without an answer, after which a page process is started anew
PATIENCE = 30.0  # seconds that a new worker waits for the lock of one that is just ending


@dataclass(frozen=True, slots=True)
class Served:
    """What is served: a house, its devices' address, the PINs that a demo shows, how the processes write their log."""

    db: Path
    address: str
    pins: Mapping[str, str]
    log: LogForm = LogForm.TEXT


def serve_alone(served: Served, heard: socket) -> None:
    """Pages and worker in this process."""
    set_up_logs(served.log)
    importlib.import_module(READ)
    db = served.db
    app = create_app(db, Devices.over(served.address, db), served.pins, Worker, access_log=served.log is LogForm.JSON)
    _settle()
    uvicorn.Server(_config(app)).run([heard])


def ask_first(db: Path, heard: socket, code: str) -> None:
    """The first page of a new house, until it is made or somebody ends it."""
    set_up_logs(LogForm.TEXT)
    app = create_first_run(db, code, lambda: threading.Timer(0.5, _end, [server]).start())
    server = uvicorn.Server(_config(app))
    server.run([heard])


def _end(server: uvicorn.Server) -> None:
    server.should_exit = True


def serve_apart(served: Served, heard: socket, pages: int) -> None:
    """So many page processes, and one worker beside them. Raises NotAHouse."""
    set_up_logs(served.log)
    close_house(open_house(served.db, Devices.over(served.address, served.db)))  # brought to this version once, for all
    given = {"db": str(served.db), "address": served.address, "pins": dict(served.pins), "log": served.log.value}
    os.environ[GIVEN] = json.dumps(given)
    COPIES.set_forkserver_preload([COPIED])
    uvicorn._subprocess.spawn = COPIES  # type: ignore[assignment]  # else each page process reads all code anew
    keeper = _Keeper(served)
    keeper.start()
    try:
        Multiprocess(_config("abrazo.cli.processes:page_process", pages), sockets=[heard]).run()
    finally:
        keeper.stop()


def page_process() -> FastAPI:
    """The application in a page process; it ends with its parent."""
    given = json.loads(os.environ[GIVEN])
    log = LogForm(given["log"])
    set_up_logs(log)
    threading.Thread(target=_end_with_parent, name="parent", daemon=True).start()
    db = Path(given["db"])
    app = create_app(db, Devices.over(given["address"], db), given["pins"], access_log=log is LogForm.JSON)
    _settle()
    return app


def _settle() -> None:
    """What is there for good is taken out of the collector's sight: looking through it stops every answer for 70 ms."""
    gc.collect()
    gc.freeze()


def work(served: Served, again: bool) -> None:
    """The worker process: works until it is told to stop, or its parent is gone."""
    set_up_logs(served.log)
    server = os.getppid()
    db = served.db
    with exclusive(db.with_name(f"{db.name}.worker"), str(os.getpid()), patience=PATIENCE):
        worker = Worker(db, Devices.over(served.address, db))
        worker.start(again=again)
        while not _is_alone(server):
            pass
        worker.stop()


def _config(app: FastAPI | str, pages: int = 1) -> uvicorn.Config:
    """How pages are served; an application by name is made in each page process."""
    return uvicorn.Config(
        app,
        factory=isinstance(app, str),
        workers=pages,
        log_level="warning",
        timeout_graceful_shutdown=2,
        timeout_worker_healthcheck=HANGS_AFTER,
        timeout_keep_alive=75,
        http=Connection,
    )


class _Keeper:
    """Keeps one worker process running."""

    def __init__(self, served: Served) -> None:
        self._served = served
        self._ended = threading.Event()
        self._process: BaseProcess | None = None
        self._thread = threading.Thread(target=self._keep, name="keeper", daemon=True)

    def start(self) -> None:
        """Start the worker, and look after it."""
        self._process = self._begin(again=False)
        self._thread.start()

    def stop(self) -> None:
        """End the worker."""
        self._ended.set()
        self._thread.join(LOOK_EVERY * 2)
        if self._process is not None:
            self._process.terminate()
            self._process.join(5)

    def _begin(self, *, again: bool) -> BaseProcess:
        process = COPIES.Process(target=work, args=(self._served, again), name="worker", daemon=True)
        process.start()
        return process

    def _keep(self) -> None:
        while not self._ended.wait(LOOK_EVERY):
            if self._process is not None and not self._process.is_alive():
                if self._process.exitcode != -signal.SIGTERM:  # else somebody told it to, as when all are told to end
                    logging.getLogger("abrazo").error("the worker ended; it is started anew")
                self._process = self._begin(again=True)


def _is_alone(server: int) -> bool:
    """Wait a moment; whether the parent ended meanwhile, or the process of which this one is a copy."""
    parent = multiprocessing.parent_process()
    assert parent is not None
    return bool(wait([parent.sentinel], LOOK_EVERY)) or os.getppid() != server


def _end_with_parent() -> None:
    server = os.getppid()
    while not _is_alone(server):
        pass
    os._exit(1)  # without a parent nobody holds the house's lock
