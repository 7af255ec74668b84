"""Many stations at once: no line is lost, and one request is carried out once, however often it comes."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

from abrazo.core.errors import Refused
from abrazo.desk import tenders, ticket
from abrazo.desk.house import Actor, House, Stale
from abrazo.desk.set_up import open_house
from abrazo.desk.ticket import Picked
from abrazo.desk.whole import read_whole
from abrazo.store import journal
from tests.desk.conftest import Desk
from tests.desk.test_tenders import MACHINE, one_payer

STATIONS = 8


def at_once(desk: Desk, work: Callable[[House, Actor, int], object], times: int) -> list[object]:
    """Do the same work from many threads, each with a connection of its own."""
    database = Path(desk.folder, "house.db")

    def station(number: int) -> object:
        house = open_house(database, desk.house.devices, clock=desk.clock)
        try:
            return work(house, Actor(house.staff()["tamsin"], house.tills()["galley"]), number)
        except (Refused, Stale) as refusal:
            return refusal
        finally:
            house.connection.close()

    with ThreadPoolExecutor(STATIONS) as pool:
        return list(pool.map(station, range(times)))


def test_no_line_is_lost(desk: Desk) -> None:
    number = ticket.seat(desk.house, desk.tamsin, "G2", 2, desk.key())

    def add(house: House, who: Actor, station: int) -> None:
        ticket.add_line(house, who, number, None, Picked("apple-juice"), f"line-{station}")

    at_once(desk, add, 40)
    whole = desk.whole(number)
    assert (len(whole.standing), whole.bill.total) == (40, 40 * 360)
    assert len(journal.of_ticket(desk.house.connection, number)) == 41


def test_one_payment_for_many_requests(desk: Desk) -> None:
    number, payer = one_payer(desk)
    version = desk.version(number)

    def pay(house: House, who: Actor, _: int) -> int:
        return tenders.take_cash(house, who, number, version, payer, 980, 1000, "one")

    assert len(set(at_once(desk, pay, 40))) == 1
    assert (len(desk.whole(number).payments), desk.balance("assets:cash")) == (1, 980)


def test_one_charge_however_many_press_it(desk: Desk) -> None:
    """Different keys, as from two screens: the second finds the first one open."""
    number, payer = one_payer(desk)
    version = desk.version(number)

    def charge(house: House, who: Actor, station: int) -> str:
        return tenders.ask_card(house, who, number, version, payer, MACHINE, 980, f"key-of-{station}")

    answers = at_once(desk, charge, 20)
    assert sum(isinstance(answer, str) for answer in answers) == 1
    desk.follow()
    assert (desk.charged(), read_whole(desk.house, number).bill.paid) == (980, 980)


def test_one_party_a_table(desk: Desk) -> None:
    answers = at_once(desk, lambda house, who, _: ticket.seat(house, who, "D6", 2, desk.key()), 20)
    assert sum(isinstance(answer, int) for answer in answers) == 1
