"""A full Saturday: twenty stations at once on sixty open tickets, and Today with a million past ones."""

from __future__ import annotations

import random
import re
import shutil
import socket
import sqlite3
import subprocess
import sys
import threading
import time
import uuid
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import replace
from functools import partial
from itertools import count
from pathlib import Path
from statistics import median, quantiles

import httpx2

from abrazo.desk.context import Actor, Devices, House
from abrazo.desk.overview.finder import find
from abrazo.desk.overview.today import today
from abrazo.desk.payments.views.past import past_page
from abrazo.desk.setup.founding import open_house
from abrazo.desk.tickets import starting, ticket_lines
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.ticket_lines import Picked
from abrazo.desk.tickets.views.catalogue import OFTEN, Sought, pick_page
from abrazo.store import journal

OPEN, STATIONS, SALES = 60, 20, 5
PINS = {"tamsin": "2086", "jory": "3395", "odile": "407118", "wren": "5512"}
Tell = Callable[[str, float, str, float], None]
Seconds = Callable[[Callable[[], object], int], float]


def many_past(database: Path, many: int) -> None:
    """Fill a house with closed tickets of one line and one payment each, every third with a name, up to so many."""
    raw = sqlite3.connect(database, isolation_level=None)
    raw.execute("PRAGMA synchronous = OFF")
    (day,) = raw.execute("SELECT min(id) FROM day").fetchone()
    (there,) = raw.execute("SELECT count(*) FROM ticket WHERE state = 'closed'").fetchone()
    first = raw.execute("SELECT max(id) FROM ticket").fetchone()[0] + 1
    number = max(10_000_000, raw.execute("SELECT max(number) FROM ticket").fetchone()[0] + 1)
    ids = {
        t: raw.execute(f"SELECT coalesce(max(id), 0) + 1 FROM {t}").fetchone()[0] for t in ("payer", "line", "payment")
    }
    at = [f"2026-0{1 + n % 5}-{1 + n % 28:02d}T{10 + n % 12}:{n % 60:02d}:00" for n in range(1680)]
    todo = range(max(0, many - there))
    raw.execute("BEGIN")
    raw.executemany(
        "INSERT INTO ticket (id, number, staff, till, day, opened_at, closed_at, state, source, name) "
        "VALUES (?, ?, 'tamsin', 'galley', ?, ?, ?, 'closed', 'counter', ?)",
        (
            (first + n, number + n, day, at[n % 1680], at[n % 1680], None if n % 3 else f"Visitor {n % 9973}")
            for n in todo
        ),
    )
    raw.executemany(
        "INSERT INTO payer (id, ticket, letter, position, settled_at) VALUES (?, ?, 'A', 0, ?)",
        ((ids["payer"] + n, first + n, at[n % 1680]) for n in todo),
    )
    raw.executemany(
        "INSERT INTO line (id, ticket, item, label, unit_price, quantity, tax, report_group, staff, note, added_at) "
        "VALUES (?, ?, 'apple-juice', 'Apple juice', 360, '1', 'std', 'food', 'tamsin', '', ?)",
        ((ids["line"] + n, first + n, at[n % 1680]) for n in todo),
    )
    raw.executemany(
        "INSERT INTO payment (id, ticket, payer, day, till, staff, at, tender, route, amount, tip, tendered) "
        "VALUES (?, ?, ?, ?, 'galley', 'tamsin', ?, 'cash', 'cash', 360, 0, 360)",
        ((ids["payment"] + n, first + n, ids["payer"] + n, day, at[n % 1680]) for n in todo),
    )
    raw.execute("COMMIT")
    raw.execute("ANALYZE")
    raw.close()


def sixty_open(house: House) -> None:
    """Open counter sales beside the demo's own, until sixty tickets are open."""
    actor, keys = Actor(house.staff()["jory"], house.tills()["galley"]), count()
    (there,) = house.connection.execute("SELECT count(*) FROM ticket WHERE state = 'open'").fetchone()
    for _ in range(OPEN - there):
        number = starting.open_counter(house, actor, f"bench-open-{next(keys)}")
        for item in ("apple-juice", "lemon-posset", "still-water-bottle"):
            ticket_lines.add_line(house, actor, OnTicket(number, None, f"bench-open-{next(keys)}"), Picked(item))


def past(folder: Path, tell: Tell, seconds: Seconds) -> None:
    """Today, the finder and past tickets among ten thousand and among a million past ones."""
    found: dict[tuple[str, int], float] = {}
    for many in (10_000, 1_000_000):
        many_past(folder / "house.db", many)
        house = open_house(folder / "house.db", Devices.beside(folder / "house.db"))

        def of(act: Callable[[House], object], house: House = house) -> Callable[[], object]:
            """An act as one request does it."""
            return lambda: act(replace(house, memo={}))

        actor = Actor(house.staff()["tamsin"], house.tills()["galley"])
        acts: dict[str, Callable[[], object]] = {
            "Today": of(partial(today, actor=actor)),
            "finder, a name": of(lambda house: find(house, "amari")),
            "finder, a number": of(lambda house: find(house, "2118")),
            "favourites": of(partial(pick_page, actor=actor, sought=Sought(OFTEN))),
            "past tickets, today": of(lambda house: past_page(house, {}, 1)),
            "past tickets, a name": of(lambda house: past_page(house, {"q": "amari", "span": "all"}, 1)),
            "past tickets, an amount": of(lambda house: past_page(house, {"amount": "92.30", "span": "all"}, 1)),
        }
        for name, act in acts.items():
            found[name, many] = seconds(act, 9)
        house.connection.close()
    for name in dict.fromkeys(name for name, _ in found):
        tell(f"{name}, a million past tickets", found[name, 1_000_000], "the same among 10,000", found[name, 10_000])


class Station:
    """Somebody at a screen: signs in, then sells and takes cash; every act is timed with the page that answers it."""

    def __init__(self, url: str, who: str, number: int = 0) -> None:
        self.client = httpx2.Client(base_url=url, follow_redirects=True, timeout=30)
        self.took: list[float] = []
        self.errors = 0
        self.pause, self.chance = 0.0, random.Random(f"{who} {number}")  # no two in step
        page = self.client.get(f"/sign-in?who={who}&till=galley").text
        self.csrf = re.search(r'name="csrf" value="([^"]+)"', page)[1]  # type: ignore[index]  # it is there
        self.client.post(
            "/sign-in", data={"csrf": self.csrf, "who": who, "till": "galley", "pin": PINS[who], "back": ""}
        )
        page = self.client.get("/").text
        self.csrf = re.search(r'name="csrf" value="([^"]+)"', page)[1]  # type: ignore[index]  # it is there

    def act(self, path: str, **fields: str) -> httpx2.Response:
        data = {"csrf": self.csrf, "key": uuid.uuid4().hex, **fields}
        time.sleep(self.pause * self.chance.uniform(0.5, 1.5))
        start = time.perf_counter()
        answer = self.client.post(path, data=data)
        self.took.append(time.perf_counter() - start)
        self.errors += answer.status_code != 200
        return answer

    def sell(self, times: int, pause: float = 0) -> None:
        """So many sales of five acts, with a pause before each act in which people talk."""
        self.pause = pause
        for _ in range(times):
            answer = self.act("/counter")
            path = answer.url.path
            for item in ("apple-juice", "lemon-posset", "still-water-bottle"):
                answer = self.act(f"{path}/add", item=item, version=version(answer.text))
            payer = re.search(r'data-payer="(\d+)"', self.client.get(f"{path}?view=pay").text)[1]  # type: ignore[index]  # it is there
            self.act(f"{path}/cash", take="12.80", handed="20.00", payer=payer, version=version(answer.text))
            self.act(f"{path}/free")


def version(page: str) -> str:
    """The ticket's version, as the page's forms send it."""
    found = re.search(r'name="version" value="(\d+)"', page)
    return found[1] if found else "0"


def stations(folder: Path, tell: Tell) -> None:
    """One station alone, then twenty at a Saturday's pace, then without a pause; on sixty open tickets."""
    before = kept_whole(folder)
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    with served(folder, port, "1") as url:
        alone = Station(url, "tamsin")
        alone.sell(SALES)
        _crowd(url, tell, median(alone.took), "a pause of 2 s before each", 2.0, SALES)
        one = _crowd(url, tell, median(alone.took), "no pause at all", 0.0, SALES)
    with served(folder, port, "2") as url:
        _crowd(url, tell, median(alone.took), "two page processes, a pause of 2 s before each", 2.0, SALES)
        two = _crowd(url, tell, median(alone.took), "two page processes, no pause at all", 0.0, SALES)
    tell("an act without pause, two page processes", 1 / two, "the same in one process", 1 / one)
    _nothing_lost(folder, before, (4 * STATIONS + 1) * SALES)


@contextmanager
def served(folder: Path, port: int, pages: str) -> Iterator[str]:
    """The house in a folder, answered by so many page processes; gives its address."""
    command = [sys.executable, "-m", "abrazo", "serve", "--port", str(port), "--db", str(folder / "house.db")]
    process, url = (
        subprocess.Popen([*command, "--workers", pages], stdout=subprocess.DEVNULL),
        f"http://127.0.0.1:{port}",
    )
    try:
        _wait(url)
        yield url
    finally:
        process.terminate()
        process.wait(20)


def _crowd(url: str, tell: Tell, alone: float, words: str, pause: float, sales: int) -> float:
    """Twenty stations at once; gives the acts a second."""
    crowd = [Station(url, list(PINS)[n % len(PINS)], n) for n in range(STATIONS)]
    threads = [threading.Thread(target=one.sell, args=(sales, pause)) for one in crowd]
    start = time.perf_counter()
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    whole = time.perf_counter() - start
    took = [one for station in crowd for one in station.took]
    tell(f"20 stations, {words}: median", median(took), "one station alone, median", alone)
    tell(f"20 stations, {words}: 99 %", quantiles(took, n=100)[98], "one station alone, median", alone)
    errors = sum(station.errors for station in crowd)
    print(f"{len(took)} acts in {whole:.1f} s, {len(took) / whole:.1f} a second, {errors} errors")
    return len(took) / whole


def _wait(url: str) -> None:
    for _ in range(400):
        try:
            httpx2.get(f"{url}/sign-in", timeout=1)
            return
        except httpx2.HTTPError:
            time.sleep(0.1)
    raise AssertionError("the application did not start")


def kept_whole(folder: Path) -> int:
    """Closed counter sales that have their three lines and their payment."""
    raw = sqlite3.connect(folder / "house.db")
    sql = """
    SELECT count(*) FROM ticket t WHERE t.source = 'counter' AND t.state = 'closed'
    AND (SELECT count(*) FROM line WHERE ticket = t.id) = 3
    AND (SELECT sum(amount) FROM payment WHERE ticket = t.id) = 1280
    """
    (kept,) = raw.execute(sql).fetchone()
    raw.close()
    return int(kept)


def _nothing_lost(folder: Path, before: int, sales: int) -> None:
    """Every sale is closed with its three lines and its payment, and the books balance; else the run fails."""
    kept = kept_whole(folder) - before
    house = open_house(folder / "house.db", Devices.beside(folder / "house.db"))
    unbalanced = journal.unbalanced(house.connection)
    house.connection.close()
    print(f"{kept} of {sales} sales kept whole, {len(unbalanced)} entries out of balance")
    if kept != sales or unbalanced:
        raise SystemExit("a line or a payment was lost")


def evening(template: Path, folder: Path, tell: Tell, seconds: Seconds) -> None:
    """Both on copies of the demo's house, with sixty open tickets."""
    shutil.copytree(template, folder / "evening")
    house = open_house(folder / "evening" / "house.db", Devices.beside(folder / "evening" / "house.db"))
    sixty_open(house)
    house.connection.close()
    shutil.copytree(folder / "evening", folder / "past")
    stations(folder / "evening", tell)
    past(folder / "past", tell, seconds)
