"""The command `abrazo`."""

from __future__ import annotations

import json
import sys
from typing import Annotated

import typer

from abrazo.formats import ticket_json

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


def run() -> None:
    """Entry point of the console script."""
    app()
