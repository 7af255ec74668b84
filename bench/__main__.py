"""`make bench`: prints ratios; nothing here passes or fails by time."""

from __future__ import annotations

import json
import random
import sqlite3
import tempfile
import time
from collections.abc import Callable
from functools import partial
from pathlib import Path
from statistics import median

import networkx as nx
from fastapi.testclient import TestClient
from jinja2 import Environment

from abrazo.core.people import search_words
from abrazo.core.reckon import reckon
from abrazo.core.sharing import Row, exact_columns, round_table
from abrazo.demo.day import MARRAM
from abrazo.demo.making import make_demo
from abrazo.demo.people import FIRST, LAST
from abrazo.demo.story import StoryClock
from abrazo.desk.context import Actor, Devices
from abrazo.desk.payments import tenders
from abrazo.desk.people import people
from abrazo.desk.setup.founding import open_house
from abrazo.desk.tickets import starting, ticket_lines
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.snapshot import load_ticket
from abrazo.desk.tickets.ticket_lines import Picked
from abrazo.formats.ticket_json import answer, read_ticket
from abrazo.web.main import create_app
from abrazo.worker.worker import Worker
from bench.evening import evening


def seconds(work: Callable[[], object], times: int) -> float:
    """The median of several runs."""
    found = []
    for _ in range(times):
        start = time.perf_counter()
        work()
        found.append(time.perf_counter() - start)
    return median(found)


def tell(what: str, ours: float, baseline: str, theirs: float) -> None:
    """One line: what, our time, the baseline's, and the ratio."""
    print(f"{what:46} {ours * 1000:9.2f} ms   {baseline:44} {theirs * 1000:9.2f} ms   ratio {ours / theirs:6.2f}")


def table(rows: int, columns: int) -> list[Row]:
    """A table of shares, always the same."""
    chance = random.Random(rows * columns)
    return [Row(chance.randrange(5000), tuple(chance.randrange(1, 4) for _ in range(columns))) for _ in range(rows)]


def flow(rows: list[Row], columns: int) -> None:
    """The same table through a general min-cost-flow library."""
    exact = exact_columns(rows, columns)
    graph, wanted = nx.DiGraph(), [int(value) for value in exact]
    needed = 0
    for i, row in enumerate(rows):
        base = sum(row.weights)
        floors = [row.amount * weight // base for weight in row.weights]
        needed += row.amount - sum(floors)
        graph.add_node(("row", i), demand=-(row.amount - sum(floors)))
        for j, weight in enumerate(row.weights):
            wanted[j] -= floors[j]
            if row.amount * weight % base:
                graph.add_edge(("row", i), j, capacity=1, weight=0)
    for j, value in enumerate(exact):
        graph.add_node(j, demand=wanted[j])
        graph.add_edge(j, "spare", capacity=int(value.denominator > 1), weight=int((1 - 2 * (value % 1)) * 10**6))
    graph.add_node("spare", demand=needed - sum(wanted))
    nx.network_simplex(graph)


def sample(lines: int, guests: int) -> bytes:
    """A ticket as JSON."""
    names = [{"id": f"g{i}"} for i in range(guests)]
    one = [{"id": f"l{i}", "unit_price": f"{i % 30}.35", "tax": "std"} for i in range(lines)]
    taxes = [{"id": "std", "rate": "0.20"}]
    return json.dumps(
        {"currency": "EUR", "tax_mode": "inclusive", "taxes": taxes, "guests": names, "lines": one}
    ).encode()


def core() -> None:
    """The reckoning."""
    small, large, huge = (read_ticket(sample(*size)) for size in ((6, 3), (60, 8), (300, 30)))
    base = seconds(lambda: json.loads(sample(6, 3)), 50)
    tell("reckon 6 lines, 3 payers", seconds(lambda: reckon(small), 50), "json.loads of the same ticket", base)
    first = seconds(lambda: reckon(large), 20)
    tell("reckon 60 lines, 8 payers", first, "json.loads of the small ticket", base)
    tell("reckon 300 lines, 30 payers", seconds(lambda: reckon(huge), 5), "reckon 60 lines, 8 payers", first)
    rows = table(60, 8)
    theirs = seconds(lambda: flow(rows, 8), 3)
    tell(
        "share table 60 x 8", seconds(lambda: round_table(rows, 8), 20), "networkx network simplex, same table", theirs
    )
    smaller, second = table(150, 30), table(300, 30)
    half = seconds(lambda: round_table(smaller, 30), 10)
    tell(
        "share table 300 x 30",
        seconds(lambda: round_table(second, 30), 10),
        "share table 150 x 30 (half the cells)",
        half,
    )
    text = sample(6, 3)
    print(f"{'abrazo reckon --jsonl, in process':46} {1 / seconds(lambda: answer(text), 200):9.0f} tickets a second")


def pages(folder: Path) -> None:
    """Pages and payments of the demo's house."""
    database = folder / "house.db"
    make_demo(database, MARRAM)
    devices = Devices.beside(database)
    with TestClient(create_app(database, devices, worker=Worker)) as client:
        form = client.get("/sign-in?who=tamsin").text
        raw = sqlite3.connect(database)
        (d4,) = raw.execute("SELECT id FROM ticket WHERE spot = 'D4' AND state = 'open'").fetchone()
        csrf = form.split('name="csrf" value="')[1].split('"')[0]
        client.post("/sign-in", data={"csrf": csrf, "who": "tamsin", "till": "galley", "pin": "2086", "back": ""})
        for path, times in (
            ("/", 20),
            ("/?lens=bookings", 20),
            ("/?lens=jobs", 20),
            (f"/tickets/{d4}?view=share", 20),
            (f"/tickets/{d4}?view=pay", 20),
            ("/find?q=amari", 20),
            ("/past", 10),
        ):
            body = client.get(path).text
            bare = Environment().from_string("{% for line in lines %}{{ line }}\n{% endfor %}")
            lines = body.split("\n")
            base = seconds(partial(bare.render, lines=lines), 50)
            ours = seconds(partial(client.get, path), times)
            tell(f"page {path}", ours, "a bare Jinja page of the same bytes", base)
    payments(folder, database, devices)


def payments(folder: Path, database: Path, devices: Devices) -> None:
    """Settling a payment against raw durable commits of SQLite."""
    house = open_house(database, devices, clock=StoryClock())
    actor = Actor(house.staff()["tamsin"], house.tills()["galley"])
    number = starting.seat(house, actor, "G2", 1, "bench-seat")
    for index in range(30):
        ticket_lines.add_line(house, actor, OnTicket(number, None, f"bench-line-{index}"), Picked("apple-juice"))
    payer, keys = load_ticket(house, number).payers[0].id, iter(range(10**6))

    def pay() -> None:
        version = load_ticket(house, number).head.version
        tenders.take_cash(house, actor, OnTicket(number, version, f"bench-{next(keys)}"), payer, tenders.Sum(100), 100)

    raw = sqlite3.connect(folder / "raw.db", isolation_level=None)
    raw.executescript("PRAGMA journal_mode = WAL; PRAGMA synchronous = FULL; CREATE TABLE t (a INTEGER)")
    base = seconds(lambda: raw.execute("INSERT INTO t VALUES (1)"), 60)
    tell("settling one payment, all checks", seconds(pay, 60), "one durable commit of SQLite", base)


def search(folder: Path) -> None:
    """Finding people among a thousand and among a hundred thousand."""
    house = open_house(folder / "house.db", Devices.beside(folder / "house.db"), clock=StoryClock())
    chance, found = random.Random(5), {}
    for many in (1_000, 99_000):
        rows = []
        for index in range(many):
            name = f"{chance.choice(FIRST)} {chance.choice(LAST)}-{chance.choice(LAST)} {index}"
            phone = f"+35320{chance.randrange(10**7):07d}"
            rows.append((name, phone, "2026-01-01", search_words(name, phone, None)))
        house.connection.execute("BEGIN")
        house.connection.executemany("INSERT INTO person (name, phone, since, search_words) VALUES (?, ?, ?, ?)", rows)
        house.connection.execute("COMMIT")
        for question in ("lindqv ama", "910 0130", "brekke", "el"):
            took = seconds(partial(people.find_people, house, question), 30)
            found[question, many] = took
    for question in ("lindqv ama", "910 0130", "brekke", "el"):
        ours, base = found[question, 99_000], found[question, 1_000]
        tell(f"find people: {question!r} among 100,000", ours, "the same among 1,000", base)


if __name__ == "__main__":
    core()
    with tempfile.TemporaryDirectory() as work:
        template = Path(work) / "template"
        template.mkdir()
        make_demo(template / "house.db", MARRAM)
        evening(template, Path(work), tell, seconds)
        pages(Path(work))
        search(Path(work))
