"""The command `abrazo`."""

from __future__ import annotations

import json
import logging
import sys
from collections.abc import Mapping
from pathlib import Path
from typing import Annotated

import typer
import uvicorn

from abrazo.demo.day import make_demo
from abrazo.demo.house import PINS
from abrazo.desk.house import Devices
from abrazo.desk.look.journal import day_journal
from abrazo.desk.set_up import close_house, is_house, open_house
from abrazo.formats import ticket_json
from abrazo.web.main import create_app

app = typer.Typer(add_completion=False, no_args_is_help=True, help="Checks out tickets.")


@app.callback()
def _abrazo() -> None:
    """Checks out tickets that come from tables, appointments and service jobs."""


@app.command()
def reckon(
    jsonl: Annotated[bool, typer.Option("--jsonl", help="One ticket a line in, one bill or error a line out.")] = False,
) -> None:
    """Read a ticket as JSON from standard input; write the bill as JSON to standard output."""
    if jsonl:
        raise typer.Exit(_reckon_lines())
    good, said = ticket_json.answer(sys.stdin.buffer.read())
    print(json.dumps(said), file=sys.stdout if good else sys.stderr)
    raise typer.Exit(0 if good else 2)


def _reckon_lines() -> int:
    worst = 0
    for line in sys.stdin.buffer:
        good, said = ticket_json.answer(line)
        print(json.dumps(said))
        worst = worst if good else 2
    return worst


Host = Annotated[str, typer.Option(help="Address to listen on.")]
Port = Annotated[int, typer.Option(help="Port to listen on.", min=1, max=65535)]
Db = Annotated[Path, typer.Option(help="The house's database; the stand-ins keep their files beside it.")]


@app.command()
def demo(
    host: Host = "127.0.0.1",
    port: Port = 8000,
    db: Db = Path("data/demo.db"),
    fresh: Annotated[bool, typer.Option("--fresh", help="Begin the demo's day again.")] = False,
) -> None:
    """Start the invented house on Saturday 13 June 2026, about 14:20; goes on with its database when there is one."""
    db.parent.mkdir(parents=True, exist_ok=True)
    if fresh or not is_house(db):
        for old in db.parent.glob(f"{db.stem}*"):
            if old.suffix in (".db", ".db-wal", ".db-shm", ".jsonl", ".txt"):
                old.unlink()
        make_demo(db, Devices.beside(db))
    _serve(db, host, port, PINS)


@app.command()
def serve(host: Host = "127.0.0.1", port: Port = 8000, db: Db = Path("data/house.db")) -> None:
    """Serve a house that was set up before."""
    if not is_house(db):
        print(f"There is no house in {db}. Start one with: abrazo demo --db {db}", file=sys.stderr)
        raise typer.Exit(2)
    _serve(db, host, port, {})


@app.command()
def journal(db: Db = Path("data/demo.db")) -> None:
    """Write the double-entry journal of a house as plain text to standard output."""
    if not is_house(db):
        print(f"There is no house in {db}.", file=sys.stderr)
        raise typer.Exit(2)
    house = open_house(db, Devices.beside(db))
    try:
        print(day_journal(house), end="")
    finally:
        close_house(house)


def _serve(db: Path, host: str, port: int, pins: Mapping[str, str]) -> None:
    logging.basicConfig(level=logging.WARNING, format="%(levelname)s %(name)s: %(message)s")
    print(f"Abrazo is at http://{host}:{port}", flush=True)
    uvicorn.run(create_app(db, pins=pins), host=host, port=port, log_level="warning", timeout_graceful_shutdown=2)


def run() -> None:
    """Entry point of the console script."""
    app()
