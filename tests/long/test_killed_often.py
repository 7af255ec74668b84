"""A house that is killed again and again while many sell: what was confirmed is there, once, and the books balance."""

from __future__ import annotations

import random
import re
import threading
import time
import uuid
from pathlib import Path

import httpx2

from abrazo.core.journal import chain_faults
from abrazo.store import journal
from tests.stories.house import Running, books

KILLS = 50
SELLERS = ("tamsin", "2086"), ("odile", "407118"), ("wren", "5512")


class Seller:
    """Sells for cash and tries again when the house is gone; remembers what was confirmed."""

    def __init__(self, url: str, who: str, pin: str) -> None:
        self.client = httpx2.Client(base_url=url, timeout=20, follow_redirects=False)
        self.who, self.pin = who, pin
        self.confirmed: list[int] = []
        self.ended = threading.Event()

    def _ask(self, method: str, path: str, **data: str) -> httpx2.Response:
        """Ask until there is an answer; a form keeps its key, so it counts once."""
        while True:
            try:
                return self.client.request(method, path, data=data or None)
            except httpx2.HTTPError:
                time.sleep(0.05)

    def _token(self, path: str) -> str:
        found = re.search(r'name="csrf" value="([^"]+)"', self._ask("GET", path).text)
        assert found, path
        return found[1]

    def sign_in(self) -> None:
        data = {"csrf": self._token(f"/sign-in?who={self.who}"), "who": self.who, "till": "galley", "pin": self.pin}
        assert self._ask("POST", "/sign-in", **data, back="").status_code == 303
        self.csrf = self._token("/")

    def _send(self, path: str, **data: str) -> httpx2.Response:
        return self._ask("POST", path, csrf=self.csrf, key=uuid.uuid4().hex, **data)

    def sell(self) -> None:
        while not self.ended.is_set():
            at = httpx2.URL(self._send("/counter").headers["location"]).path
            number = int(at.split("/")[2])
            version = self._version(at)
            added = self._send(f"/tickets/{number}/add", item="apple-juice", version=version)
            assert added.status_code == 303, added.text[:300]
            page = self._ask("GET", f"/tickets/{number}?view=pay").text
            payer = re.search(r'data-payer="(\d+)"', page)
            assert payer
            cash = {"take": "3.60", "handed": "5.00", "payer": payer[1], "version": self._version(at)}
            if self._send(f"/tickets/{number}/cash", **cash).status_code == 303:
                self.confirmed.append(number)

    def _version(self, at: str) -> str:
        found = re.search(r'name="version" value="(\d+)"', self._ask("GET", at).text)
        assert found
        return found[1]


def test_a_house_killed_fifty_times(running: Running, tmp_path: Path) -> None:
    before = books(running)  # one charge of the demo's day has no answer yet
    chance, sellers = random.Random(20), [Seller(running.url, *who) for who in SELLERS]
    for seller in sellers:
        seller.sign_in()
    threads = [threading.Thread(target=seller.sell) for seller in sellers]
    for thread in threads:
        thread.start()
    for _ in range(KILLS):
        time.sleep(chance.uniform(0.2, 1.5))
        running.kill()
        running.start(again=0)
    time.sleep(1)
    for seller in sellers:
        seller.ended.set()
    for thread in threads:
        thread.join(60)
    for seller in sellers:
        seller.client.close()
    house = running.look()
    taken = dict(house.connection.execute("SELECT ticket, count(*) FROM payment WHERE tender = 'cash' GROUP BY ticket"))
    confirmed = [number for seller in sellers for number in seller.confirmed]
    assert len(confirmed) > KILLS
    assert {number: taken.get(number) for number in confirmed} == dict.fromkeys(confirmed, 1)
    assert chain_faults(journal.chain(house.connection)) == []
    house.connection.close()
    ours, theirs = books(running)
    assert theirs - ours == before[1] - before[0]
