"""The command `abrazo`. Commands that need a house load it when they are called: `abrazo reckon` starts without it."""

from __future__ import annotations

import importlib
import json
import sys
from pathlib import Path
from types import ModuleType
from typing import Annotated

import typer

from abrazo.formats import ticket_json

app = typer.Typer(add_completion=False, no_args_is_help=True, help="Checks out tickets.")

Host = Annotated[str, typer.Option(help="Address to listen on.")]
Port = Annotated[int, typer.Option(help="Port to listen on.", min=1, max=65535)]
Pages = Annotated[int, typer.Option(help="Page processes; with more than one a worker beside.", min=1, max=8)]
Db = Annotated[Path, typer.Option(help="The house's database; the stand-ins keep their files beside it.")]


@app.callback()
def _abrazo() -> None:
    """Checks out tickets that come from tables, appointments and service jobs."""


@app.command()
def reckon(
    jsonl: Annotated[bool, typer.Option("--jsonl", help="One ticket a line in, one bill or error a line out.")] = False,
    postings: Annotated[bool, typer.Option("--postings", help="The double entries beside the bill.")] = False,
) -> None:
    """Read a ticket as JSON from standard input; write the bill as JSON to standard output."""
    if jsonl:
        raise typer.Exit(_reckon_lines(postings))
    good, said = ticket_json.answer(sys.stdin.buffer.read(), postings=postings)
    print(json.dumps(said), file=sys.stdout if good else sys.stderr)
    raise typer.Exit(0 if good else 2)


def _reckon_lines(postings: bool) -> int:
    worst = 0
    for line in sys.stdin.buffer:
        good, said = ticket_json.answer(line, postings=postings)
        print(json.dumps(said))
        worst = worst if good else 2
    return worst


def _serving() -> ModuleType:
    return importlib.import_module("abrazo.cli.serving")


@app.command()
def demo(
    host: Host = "127.0.0.1",
    port: Port = 8000,
    db: Db = Path("data/demo.db"),
    fresh: Annotated[bool, typer.Option("--fresh", help="Begin again; the old files move to a folder beside.")] = False,
    workers: Pages = 1,
) -> None:
    """Start the invented house on Saturday 13 June 2026, about 14:20; goes on with its database when there is one."""
    raise typer.Exit(_serving().demo(host, port, db, fresh, workers))


@app.command()
def serve(
    host: Host = "127.0.0.1",
    port: Port = 8000,
    db: Db = Path("data/house.db"),
    devices: Annotated[str, typer.Option(help="Address of card machines and payment service.")] = "",
    workers: Pages = 1,
) -> None:
    """Serve a house that was set up before."""
    raise typer.Exit(_serving().serve(host, port, db, devices, workers))


@app.command("stand-ins")
def stand_ins(
    host: Host = "127.0.0.1",
    port: Annotated[int, typer.Option(help="Port to listen on; 0 for any that is free.", min=0, max=65535)] = 0,
    db: Db = Path("data/demo.db"),
) -> None:
    """Serve the stand-ins for card machines and payment service, until standard input ends."""
    raise typer.Exit(importlib.import_module("abrazo.cli.stand_ins").serve(host, port, db))


@app.command()
def journal(db: Db = Path("data/demo.db")) -> None:
    """Write the double-entry journal of a house as plain text to standard output."""
    raise typer.Exit(_serving().journal(db))


def run() -> None:
    """Entry point of the console script."""
    app()
