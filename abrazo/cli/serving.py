"""What the commands that need a house do. Apart from main.py, so that `abrazo reckon` starts without a web server."""

from __future__ import annotations

import secrets
import sys
from contextlib import nullcontext
from dataclasses import dataclass
from pathlib import Path
from socket import socket

from abrazo.cli.houses import BAD, move_aside, refuse
from abrazo.cli.listening import NotHeard, listening
from abrazo.cli.logs import LogForm
from abrazo.cli.processes import Served, ask_first, serve_alone, serve_apart
from abrazo.cli.stand_ins import started
from abrazo.demo.houses import HOUSES
from abrazo.demo.making import make_demo
from abrazo.desk.context import told_file
from abrazo.desk.setup.founding import NotAHouse, house_files
from abrazo.store.lock import InUse, exclusive
from abrazo.store.migrate import FileState, examine

FIRST = next(iter(HOUSES))
PINS = {id: pin for one in HOUSES.values() for id, pin in one.pins.items()}  # whichever of them a file holds
KEPT = Path("data/demo.db")  # the first house; others beside it, by their names


@dataclass(frozen=True, slots=True)
class How:
    """How a house is served: where, by how many page processes, with which log."""

    host: str = "127.0.0.1"
    port: int = 8000
    pages: int = 1
    log: LogForm = LogForm.TEXT

    @property
    def address(self) -> str:
        """Where its pages are."""
        return f"http://{self.host}:{self.port}"


def demo(how: How, kept: Path | None, fresh: bool, name: str = "") -> int:
    """Serve an invented house, making it first where there is none; `fresh` moves the old one to a folder beside."""
    house = HOUSES.get(name or FIRST)
    if house is None:
        print(f"There is no house {name!r} for a demo, only {' and '.join(HOUSES)}.", file=sys.stderr)
        return BAD
    db = kept or (KEPT if name in ("", FIRST) else KEPT.with_name(f"{name}.db"))
    db.parent.mkdir(parents=True, exist_ok=True)
    try:
        with exclusive(db, how.address), listening(how.host, how.port) as heard:
            state = examine(db)
            if state is FileState.FOREIGN or (state not in (FileState.HOUSE, FileState.MISSING) and not fresh):
                return refuse(db, state)
            if fresh and house_files(db):
                print(f"The house until now lies in {move_aside(db)}", flush=True)
            if fresh or state is FileState.MISSING:
                make_demo(db, house)
            with started(db) as beside:
                _serve(how, Served(db, beside, PINS, how.log), heard)
    except (InUse, NotHeard, NotAHouse) as other:
        return _not_served(db, other)
    return 0


def serve(how: How, db: Path, address: str) -> int:
    """Serve a house, with devices at an address or else the stand-ins; where there is none, its first page makes it."""
    state = examine(db)
    if state is not FileState.HOUSE and state is not FileState.MISSING:
        return refuse(db, state)
    db.parent.mkdir(parents=True, exist_ok=True)
    try:
        with exclusive(db, how.address), listening(how.host, how.port) as heard:
            if state is FileState.MISSING and not first_run(db, how, heard.dup()):
                return 0
            with nullcontext(address) if address else started(db) as beside:
                _serve(how, Served(db, beside, {}, how.log), heard)
    except (InUse, NotHeard, NotAHouse) as other:
        return _not_served(db, other)
    return 0


def first_run(db: Path, how: How, heard: socket) -> bool:
    """Ask in the browser what the new house is; False when it was ended before it was made."""
    code = secrets.token_hex(4)
    print(f"There is no house in {db} yet. Make it at {how.address}", flush=True)
    print(f"From another machine: {how.address}/?code={code}", flush=True)
    ask_first(db, heard, code)
    return examine(db) is FileState.HOUSE


def _not_served(db: Path, why: InUse | NotHeard | NotAHouse) -> int:
    if isinstance(why, NotAHouse):
        return refuse(db, why.state)
    if isinstance(why, InUse):
        print(f"This house is open already at {why.address or 'an address that it has not said yet'}.", file=sys.stderr)
    else:
        print(why, file=sys.stderr)
    return BAD


def _serve(how: How, served: Served, heard: socket) -> None:
    told_file(served.db).unlink(missing_ok=True)  # devices remember nothing over a restart
    print(f"Abrazo is at {how.address}", flush=True)
    if how.pages == 1:
        serve_alone(served, heard)
    else:
        serve_apart(served, heard, how.pages)
