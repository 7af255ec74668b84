"""The processes that serve a house: one that answers pages and works beside them, or several for pages and one worker.

Rules here
- the parent holds the house's lock; its children end when it does, however it ends
- a page process or the worker that dies is started anew; what was confirmed is in the database
- there is one worker a house: it holds a lock of its own, which the system frees when it dies
"""

from __future__ import annotations

import gc
import json
import logging
import multiprocessing
import os
import socket
import threading
import time
from collections.abc import Mapping
from dataclasses import dataclass
from multiprocessing.process import BaseProcess
from pathlib import Path

import uvicorn
from fastapi import FastAPI
from uvicorn.supervisors import Multiprocess

from abrazo.cli.logs import LogForm, set_up_logs
from abrazo.desk.context import Devices
from abrazo.store.lock import exclusive
from abrazo.web.first_run import create_first_run
from abrazo.web.main import create_app
from abrazo.web.pages import compiled
from abrazo.web.protocol import Connection
from abrazo.worker.worker import Worker

GIVEN = "ABRAZO_PAGE_PROCESS"  # what a page process is started with: the parent's own, not a setting
LOOK_EVERY = 0.5  # seconds between looks at whether the worker, or the parent, is still there
SOCKET_PATIENCE = 5.0  # seconds that a new parent waits for the page processes of a killed one to end
PATIENCE = 30.0  # seconds that a new worker waits for the lock of one that is just ending


@dataclass(frozen=True, slots=True)
class Served:
    """What is served: a house, its devices' address, the PINs that a demo shows, how the processes write their log."""

    db: Path
    address: str
    pins: Mapping[str, str]
    log: LogForm = LogForm.TEXT


def serve_alone(served: Served, host: str, port: int) -> None:
    """Pages and worker in this process."""
    set_up_logs(served.log)
    db = served.db
    app = create_app(db, Devices.over(served.address, db), served.pins, Worker, access_log=served.log is LogForm.JSON)
    _settle()
    uvicorn.Server(_config(app, host, port)).run()


def ask_first(db: Path, host: str, port: int, code: str) -> None:
    """The first page of a new house, until it is made or somebody ends it."""
    set_up_logs(LogForm.TEXT)
    app = create_first_run(db, code, lambda: threading.Timer(0.5, _end, [server]).start())
    server = uvicorn.Server(_config(app, host, port))
    server.run()


def _end(server: uvicorn.Server) -> None:
    server.should_exit = True


def serve_apart(served: Served, host: str, port: int, pages: int) -> None:
    """So many page processes, and one worker beside them."""
    set_up_logs(served.log)
    given = {"db": str(served.db), "address": served.address, "pins": dict(served.pins), "parent": os.getpid()}
    os.environ[GIVEN] = json.dumps({**given, "log": served.log.value})
    keeper = _Keeper(served)
    keeper.start()
    try:
        config = _config("abrazo.cli.processes:page_process", host, port, pages)
        shared = _socket(host, port)
        shared.setsockopt(socket.IPPROTO_TCP, socket.TCP_NODELAY, 1)  # else an answer waits 40 ms for one after it
        Multiprocess(config, sockets=[shared]).run()
    finally:
        keeper.stop()


def page_process() -> FastAPI:
    """The application in a page process; it ends with its parent."""
    given = json.loads(os.environ[GIVEN])
    log = LogForm(given["log"])
    set_up_logs(log)
    _end_with(given["parent"])
    db = Path(given["db"])
    app = create_app(db, Devices.over(given["address"], db), given["pins"], access_log=log is LogForm.JSON)
    _settle()
    return app


def _settle() -> None:
    """What is there for good is taken out of the collector's sight: looking through it stops every answer for 70 ms."""
    compiled("en")
    gc.collect()
    gc.freeze()


def work(served: Served, parent: int, again: bool) -> None:
    """The worker process: works until it is told to stop, or its parent is gone."""
    set_up_logs(served.log)
    db = served.db
    with exclusive(db.with_name(f"{db.name}.worker"), str(os.getpid()), patience=PATIENCE):
        worker = Worker(db, Devices.over(served.address, db))
        worker.start(again=again)
        while os.getppid() == parent:
            time.sleep(LOOK_EVERY)
        worker.stop()


def _socket(host: str, port: int) -> socket.socket:
    """The socket of all page processes; those of a parent that was killed may hold it for a moment longer."""
    until = time.monotonic() + SOCKET_PATIENCE
    while True:
        try:
            return socket.create_server((host, port), family=socket.AF_INET6 if ":" in host else socket.AF_INET)
        except OSError:
            if time.monotonic() > until:
                raise
        time.sleep(LOOK_EVERY / 2)


def _config(app: FastAPI | str, host: str, port: int, pages: int = 1) -> uvicorn.Config:
    """How pages are served; an application by name is made in each page process."""
    return uvicorn.Config(
        app,
        factory=isinstance(app, str),
        workers=pages,
        host=host,
        port=port,
        log_level="warning",
        timeout_graceful_shutdown=2,
        timeout_keep_alive=75,
        http=Connection,
    )


class _Keeper:
    """Keeps one worker process running."""

    def __init__(self, served: Served) -> None:
        self._given = (served, os.getpid())
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
        process = multiprocessing.get_context("spawn").Process(
            target=work, args=(*self._given, again), name="worker", daemon=True
        )
        process.start()
        return process

    def _keep(self) -> None:
        while not self._ended.wait(LOOK_EVERY):
            if self._process is not None and not self._process.is_alive():
                logging.getLogger("abrazo").error("the worker ended; it is started anew")
                self._process = self._begin(again=True)


def _end_with(parent: int) -> None:
    def watch() -> None:
        while os.getppid() == parent:
            time.sleep(LOOK_EVERY)
        os._exit(1)  # without a parent nobody holds the house's lock

    threading.Thread(target=watch, name="parent", daemon=True).start()
