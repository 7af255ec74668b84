"""What the commands that need a house do. Apart from main.py, so that `abrazo reckon` starts without a web server."""

from __future__ import annotations

import secrets
import sys
from dataclasses import dataclass
from pathlib import Path

from abrazo.cli.houses import BAD, move_aside, refuse
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
        with exclusive(db, how.address):
            state = examine(db)
            if state is FileState.FOREIGN or (state not in (FileState.HOUSE, FileState.MISSING) and not fresh):
                return refuse(db, state)
            if fresh and house_files(db):
                print(f"The house until now lies in {move_aside(db)}", flush=True)
            if fresh or state is FileState.MISSING:
                make_demo(db, house)
            with started(db) as beside:
                _serve(how, Served(db, beside, PINS, how.log))
    except InUse as other:
        return _in_use(other)
    except NotAHouse as other:
        return refuse(db, other.state)
    return 0


def serve(how: How, db: Path, address: str) -> int:
    """Serve a house, with devices at an address or else the stand-ins; where there is none, its first page makes it."""
    state = examine(db)
    if state is not FileState.HOUSE and state is not FileState.MISSING:
        return refuse(db, state)
    db.parent.mkdir(parents=True, exist_ok=True)
    try:
        with exclusive(db, how.address):
            if state is FileState.MISSING and not first_run(db, how):
                return 0
            if address:
                _serve(how, Served(db, address, {}, how.log))
                return 0
            with started(db) as beside:
                _serve(how, Served(db, beside, {}, how.log))
    except InUse as other:
        return _in_use(other)
    except NotAHouse as other:
        return refuse(db, other.state)
    return 0


def first_run(db: Path, how: How) -> bool:
    """Ask in the browser what the new house is; False when it was ended before it was made."""
    code = secrets.token_hex(4)
    print(f"There is no house in {db} yet. Make it at {how.address}", flush=True)
    print(f"From another machine: {how.address}/?code={code}", flush=True)
    ask_first(db, how.host, how.port, code)
    return examine(db) is FileState.HOUSE


def _in_use(other: InUse) -> int:
    print(f"This house is open already at {other.address or 'an address that it has not said yet'}.", file=sys.stderr)
    return BAD


def _serve(how: How, served: Served) -> None:
    told_file(served.db).unlink(missing_ok=True)  # devices remember nothing over a restart
    print(f"Abrazo is at {how.address}", flush=True)
    if how.pages == 1:
        serve_alone(served, how.host, how.port)
    else:
        serve_apart(served, how.host, how.port, how.pages)
