"""The command `abrazo`. Commands that need a house load it when they are called: `abrazo reckon` starts without it."""

from __future__ import annotations

import importlib
import json
import os
import sys
from datetime import date
from enum import Enum
from pathlib import Path
from types import ModuleType
from typing import Annotated, Any

import typer

from abrazo.cli.logs import LogForm

app = typer.Typer(add_completion=False, no_args_is_help=True, help="Checks out tickets.")

Host = Annotated[str, typer.Option(help="Address to listen on.", envvar="ABRAZO_HOST")]
Port = Annotated[int, typer.Option(help="Port to listen on.", min=1, max=65535, envvar="ABRAZO_PORT")]
Pages = Annotated[
    int, typer.Option(help="Page processes; with more than one a worker beside.", min=1, max=8, envvar="ABRAZO_WORKERS")
]
Db = Annotated[
    Path, typer.Option(help="The house's database; the stand-ins keep their files beside it.", envvar="ABRAZO_DB")
]
Log = Annotated[LogForm, typer.Option(help="How the log is written.", envvar="ABRAZO_LOG")]


First = Annotated[str, typer.Option("--from", help="The first business date, for example 2026-06-01.")]
Last = Annotated[str, typer.Option("--to", help="The last business date.")]
PRESENT = 60.0  # seconds that somebody has to present a card
DEMO = Path("data/demo.db")


class StatementForm(Enum):
    """How a statement is written."""

    CSV = "csv"
    PDF = "pdf"
    JSON = "json"


class Form(Enum):
    """How a report is written."""

    JSON = "json"
    CSV = "csv"
    XLSX = "xlsx"
    PDF = "pdf"
    TEXT = "text"


@app.callback()
def _abrazo(
    ctx: typer.Context,
    config: Annotated[
        Path | None, typer.Option(help="TOML with settings that nothing else says.", envvar="ABRAZO_CONFIG")
    ] = None,
) -> None:
    """Checks out tickets that come from tables, appointments and service jobs."""
    os.umask(0o077)  # a house's files are its owner's alone
    if config is not None:
        settings = importlib.import_module("abrazo.cli.process_settings")
        known = {name: frozenset(str(one.name) for one in of.params) for name, of in _commands(ctx).items()}
        try:
            ctx.default_map = settings.read_settings(config, known)
        except settings.BadSettings as fault:
            raise typer.BadParameter(str(fault), param_hint="--config") from None


def _commands(ctx: typer.Context) -> dict[str, Any]:
    group: Any = ctx.command
    return {name: command for name, command in group.commands.items() if not hasattr(command, "commands")}


@app.command()
def reckon(
    jsonl: Annotated[bool, typer.Option("--jsonl", help="One ticket a line in, one bill or error a line out.")] = False,
    postings: Annotated[bool, typer.Option("--postings", help="The double entries beside the bill.")] = False,
) -> None:
    """Read a ticket as JSON from standard input; write the bill as JSON to standard output."""
    ticket_json = importlib.import_module("abrazo.formats.ticket_json")  # slow to load, and other commands need it not
    if jsonl:
        raise typer.Exit(_reckon_lines(ticket_json, postings))
    good, said = ticket_json.answer(sys.stdin.buffer.read(), postings=postings)
    print(json.dumps(said), file=sys.stdout if good else sys.stderr)
    raise typer.Exit(0 if good else 2)


def _reckon_lines(ticket_json: ModuleType, postings: bool) -> int:
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
    db: Annotated[Path | None, typer.Option(help="The database; else that of the house in data.")] = None,
    fresh: Annotated[bool, typer.Option("--fresh", help="Begin again; the old files move to a folder beside.")] = False,
    workers: Pages = 1,
    house: Annotated[str, typer.Option(help="Which one; a name that there is not lists them.")] = "",
) -> None:
    """Start an invented house in the middle of its day; goes on with its database when there is one."""
    serving = _serving()
    raise typer.Exit(serving.demo(serving.How(host, port, workers), db, fresh, house))


@app.command()
def serve(
    host: Host = "127.0.0.1",
    port: Port = 8000,
    db: Db = Path("data/house.db"),
    devices: Annotated[
        str, typer.Option(help="Address of card machines and payment service.", envvar="ABRAZO_DEVICES")
    ] = "",
    workers: Pages = 1,
    log: Log = LogForm.TEXT,
) -> None:
    """Serve a house; where there is none yet, its first page asks what it is."""
    serving = _serving()
    raise typer.Exit(serving.serve(serving.How(host, port, workers, log), db, devices))


@app.command()
def init(
    db: Db = Path("data/house.db"),
    profile: Annotated[Path | None, typer.Option(help="The file that says what the house begins with, TOML.")] = None,
    example: Annotated[bool, typer.Option("--example", help="Print a profile with every setting explained.")] = False,
    as_json: Annotated[bool, typer.Option("--json", help="The faults as JSON.")] = False,
) -> None:
    """Make a new house of a profile."""
    profiles = importlib.import_module("abrazo.cli.profiles")
    if example or profile is None:
        print(profiles.example(), end="")
        raise typer.Exit(0 if example else 2)
    raise typer.Exit(profiles.init(db, profile, as_json=as_json))


@app.command("export")
def export_(
    kind: Annotated[str, typer.Argument(help="What; a name that there is not lists them.")] = "",
    db: Db = Path("data/house.db"),
    first: First = "",
    last: Last = "",
    form: Annotated[str, typer.Option("--format", help="csv, xlsx, or jsonl for what goes by days.")] = "csv",
    out: Annotated[Path | None, typer.Option(help="The file; without one it goes to standard output.")] = None,
    everything: Annotated[Path | None, typer.Option("--all", help="The whole house, into this new folder.")] = None,
) -> None:
    """Write what a house is set up with, people, bookings, tickets, payments and the rest as tables."""
    files = importlib.import_module("abrazo.cli.files")
    if everything is not None:
        raise typer.Exit(files.write_all(db, everything))
    between = (_date(first) or "0000-01-01", _date(last) or "9999-12-31")
    if kind not in files.all_kinds() or form not in files.forms(kind) or (form == "xlsx" and out is None):
        raise typer.BadParameter(f"Kinds: {', '.join(files.all_kinds())}; formats: csv, jsonl, and xlsx with --out.")
    raise typer.Exit(files.write_out(db, kind, form, out, between))


@app.command("import")
def import_(
    kind: str,
    file: Path,
    db: Db = Path("data/house.db"),
    check: Annotated[bool, typer.Option("--check", help="Only say what it would do.")] = False,
    holds_from: Annotated[str, typer.Option("--from", help="What it changes holds from this business date on.")] = "",
    as_json: Annotated[bool, typer.Option("--json", help="What it does, or would, as JSON.")] = False,
) -> None:
    """Read such a table in, all or nothing."""
    files, incoming = importlib.import_module("abrazo.cli.files"), importlib.import_module("abrazo.cli.incoming")
    if kind in incoming.KINDS:
        if holds_from:
            raise typer.BadParameter(f"What {kind} brings holds at once: without --from.")
        raise typer.Exit(incoming.read_file(db, kind, file, check=check, as_json=as_json))
    if kind not in files.kinds():
        raise typer.BadParameter(f"Kinds: {', '.join((*files.kinds(), *incoming.KINDS))}.")
    raise typer.Exit(files.read_file(db, kind, file, check=check, as_json=as_json, holds_from=holds_from))


staff = typer.Typer(add_completion=False, no_args_is_help=True, help="People who work here.")
app.add_typer(staff, name="staff")


@staff.command("pin")
def staff_pin(
    name: str,
    db: Db = Path("data/house.db"),
    pin: Annotated[str, typer.Option(prompt=True, hide_input=True, confirmation_prompt=True, help="Asked for.")] = "",
) -> None:
    """Give somebody another PIN, for who is locked out."""
    raise typer.Exit(importlib.import_module("abrazo.cli.people").set_pin(db, name, pin))


@app.command("stand-ins")
def stand_ins(
    host: Host = "127.0.0.1",
    port: Annotated[int, typer.Option(help="Port to listen on; 0 for any that is free.", min=0, max=65535)] = 0,
    db: Db = Path("data/demo.db"),
    check: Annotated[
        str, typer.Option(help="Serve nothing; ask a device at this address whether it keeps to it.")
    ] = "",
    device: Annotated[str, typer.Option(help="Which one, with --check.")] = "card-machine-1",
    as_json: Annotated[bool, typer.Option("--json", help="What --check found, as JSON.")] = False,
) -> None:
    """Serve the stand-ins for card machines and payment service, until standard input ends; or check a device."""
    if check:
        raise typer.Exit(importlib.import_module("abrazo.cli.conformance").check(check, device, PRESENT, as_json))
    raise typer.Exit(importlib.import_module("abrazo.cli.stand_ins").serve(host, port, db))


@app.command()
def journal(db: Db = DEMO, first: First = "", last: Last = "") -> None:
    """Write the double-entry journal of a house as plain text to standard output."""
    raise typer.Exit(_reports().journal(db, _date(first), _date(last) or "9999-12-31"))


@app.command()
def report(
    db: Db = DEMO,
    day: Annotated[str, typer.Option(help="A business date, for example 2026-06-13.")] = "",
    first: First = "",
    last: Last = "",
    till: Annotated[str, typer.Option(help="Of one till alone.")] = "",
    form: Annotated[Form, typer.Option("--format", help="How it is written.")] = Form.TEXT,
) -> None:
    """Write the report of a business date, or of all from one to another, to standard output."""
    if bool(day) == bool(first and last):
        raise typer.BadParameter("Give --day, or both --from and --to.")
    begins, ends = _date(day or first), _date(day or last)
    raise typer.Exit(_reports().report(db, begins, ends, till, form.value))


@app.command()
def audit(to: Path, db: Db = DEMO, first: First = "", last: Last = "") -> None:
    """Write tickets, receipts, journal with its heads, changes and sealed reports of some dates into a new folder."""
    raise typer.Exit(_reports().audit(db, _date(first), _date(last) or "9999-12-31", to))


@app.command()
def check(
    db: Db = DEMO,
    head: Annotated[str, typer.Option(help="A head of the journal, as a paper says it.")] = "",
    as_json: Annotated[bool, typer.Option("--json", help="The faults as JSON.")] = False,
) -> None:
    """Say whether a house's books are sound; exit 1 with every fault when they are not."""
    raise typer.Exit(_reports().check(db, head, as_json))


@app.command()
def statement(
    who: Annotated[str, typer.Argument(help="A name or phone number, or parts of them that fit one person.")],
    db: Db = DEMO,
    first: First = "",
    last: Last = "",
    form: Annotated[StatementForm, typer.Option("--format", help="How it is written.")] = StatementForm.CSV,
) -> None:
    """Write the statement of somebody's account to standard output; of the last ninety days unless said otherwise."""
    raise typer.Exit(_reports().statement(db, who, (_date(first), _date(last)), form.value))


@app.command()
def backup(
    to: Annotated[Path, typer.Argument(help="A new file; with --keep a folder.")],
    db: Db = DEMO,
    keep: Annotated[int, typer.Option(min=0, max=3660, help="Days after which older copies in it are removed.")] = 0,
) -> None:
    """Copy a house's database, also while it is being served; with --keep into a folder, under the moment's name."""
    raise typer.Exit(_reports().backup_kept(db, to, keep) if keep else _reports().backup(db, to))


@app.command()
def restore(source: Annotated[Path, typer.Argument(metavar="FROM")], db: Db = DEMO) -> None:
    """Put a copy in a house's place; what was there moves to a folder beside."""
    raise typer.Exit(_reports().restore(source, db))


def _reports() -> ModuleType:
    return importlib.import_module("abrazo.cli.reports")


def _date(typed: str) -> str:
    try:
        return typed and date.fromisoformat(typed).isoformat()
    except ValueError:
        raise typer.BadParameter(f"{typed!r} is not a date; write it as 2026-06-13.") from None


def run() -> None:
    """Entry point of the console script."""
    app()
