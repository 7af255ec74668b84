"""What the commands that need a house do. Apart from main.py, so that `abrazo reckon` starts without a web server."""

from __future__ import annotations

import secrets
import sys
from collections.abc import Mapping
from pathlib import Path

from abrazo.cli.houses import BAD, move_aside, refuse
from abrazo.cli.processes import ask_first, serve_alone, serve_apart
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


def demo(host: str, port: int, kept: Path | None, fresh: bool, pages: int = 1, name: str = "") -> int:
    """Serve an invented house, making it first where there is none; `fresh` moves the old one to a folder beside."""
    house = HOUSES.get(name or FIRST)
    if house is None:
        print(f"There is no house {name!r} for a demo, only {' and '.join(HOUSES)}.", file=sys.stderr)
        return BAD
    db = kept or (KEPT if name in ("", FIRST) else KEPT.with_name(f"{name}.db"))
    db.parent.mkdir(parents=True, exist_ok=True)
    address = f"http://{host}:{port}"
    try:
        with exclusive(db, address):
            state = examine(db)
            if state is FileState.FOREIGN or (state not in (FileState.HOUSE, FileState.MISSING) and not fresh):
                return refuse(db, state)
            if fresh and house_files(db):
                print(f"The house until now lies in {move_aside(db)}", flush=True)
            if fresh or state is FileState.MISSING:
                make_demo(db, house)
            with started(db) as beside:
                _serve(db, host, port, beside, PINS, pages)
    except InUse as other:
        return _in_use(other)
    except NotAHouse as other:
        return refuse(db, other.state)
    return 0


def serve(host: str, port: int, db: Path, address: str, pages: int = 1) -> int:
    """Serve a house, with devices at an address or else the stand-ins; where there is none, its first page makes it."""
    state = examine(db)
    if state is not FileState.HOUSE and state is not FileState.MISSING:
        return refuse(db, state)
    db.parent.mkdir(parents=True, exist_ok=True)
    try:
        with exclusive(db, f"http://{host}:{port}"):
            if state is FileState.MISSING and not first_run(db, host, port):
                return 0
            if address:
                _serve(db, host, port, address, {}, pages)
                return 0
            with started(db) as beside:
                _serve(db, host, port, beside, {}, pages)
    except InUse as other:
        return _in_use(other)
    except NotAHouse as other:
        return refuse(db, other.state)
    return 0


def first_run(db: Path, host: str, port: int) -> bool:
    """Ask in the browser what the new house is; False when it was ended before it was made."""
    code = secrets.token_hex(4)
    print(f"There is no house in {db} yet. Make it at http://{host}:{port}", flush=True)
    print(f"From another machine: http://{host}:{port}/?code={code}", flush=True)
    ask_first(db, host, port, code)
    return examine(db) is FileState.HOUSE


def _in_use(other: InUse) -> int:
    print(f"This house is open already at {other.address or 'an address that it has not said yet'}.", file=sys.stderr)
    return BAD


def _serve(db: Path, host: str, port: int, address: str, pins: Mapping[str, str], pages: int) -> None:
    told_file(db).unlink(missing_ok=True)  # devices remember nothing over a restart
    print(f"Abrazo is at http://{host}:{port}", flush=True)
    if pages == 1:
        serve_alone(db, host, port, address, pins)
    else:
        serve_apart(db, host, port, address, pins, pages)
