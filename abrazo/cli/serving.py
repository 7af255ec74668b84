"""What the commands that need a house do. Apart from main.py, so that `abrazo reckon` starts without a web server."""

from __future__ import annotations

import logging
import shutil
import sys
from collections.abc import Mapping
from pathlib import Path

import uvicorn

from abrazo.cli.stand_ins import started
from abrazo.demo.day import make_demo
from abrazo.demo.house import PINS
from abrazo.desk.house import Devices
from abrazo.desk.look.journal import day_journal
from abrazo.desk.set_up import close_house, is_house, open_house
from abrazo.web.main import create_app

STAND_INS = (".db", ".db-wal", ".db-shm", ".jsonl", ".txt")


def demo(host: str, port: int, db: Path, fresh: bool) -> None:
    """Serve the invented house, making it first where there is none."""
    db.parent.mkdir(parents=True, exist_ok=True)
    if fresh or not is_house(db):
        for old in db.parent.glob(f"{db.stem}*"):
            if old.suffix in STAND_INS:
                old.unlink()
            elif old.suffix == ".mail":
                shutil.rmtree(old)
        make_demo(db, Devices.beside(db))
    with started(db) as address:
        _serve(db, host, port, address, PINS)


def serve(host: str, port: int, db: Path, address: str) -> int:
    """Serve a house that exists, with devices at an address or else the stand-ins; 2 when there is none."""
    if not is_house(db):
        print(f"There is no house in {db}. Start one with: abrazo demo --db {db}", file=sys.stderr)
        return 2
    if address:
        _serve(db, host, port, address, {})
        return 0
    with started(db) as beside:
        _serve(db, host, port, beside, {})
    return 0


def journal(db: Path) -> int:
    """Write a house's double-entry journal to standard output; 2 when there is none."""
    if not is_house(db):
        print(f"There is no house in {db}.", file=sys.stderr)
        return 2
    house = open_house(db, Devices.beside(db))
    try:
        print(day_journal(house), end="")
    finally:
        close_house(house)
    return 0


def _serve(db: Path, host: str, port: int, address: str, pins: Mapping[str, str]) -> None:
    logging.basicConfig(level=logging.WARNING, format="%(levelname)s %(name)s: %(message)s")
    print(f"Abrazo is at http://{host}:{port}", flush=True)
    app = create_app(db, Devices.over(address, db), pins)
    uvicorn.run(app, host=host, port=port, log_level="warning", timeout_graceful_shutdown=2,
                timeout_keep_alive=75)  # fmt: skip
