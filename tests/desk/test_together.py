"""Many stations at once: no line is lost, and one request is carried out once, however often it comes."""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

from abrazo.core.errors import Refused
from abrazo.desk.context import Actor, House, Stale
from abrazo.desk.payments import tenders
from abrazo.desk.setup.founding import open_house
from abrazo.desk.tickets import starting, ticket_lines
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.snapshot import load_ticket
from abrazo.desk.tickets.ticket_lines import Picked
from abrazo.store import journal
from tests.conftest import TIMES
from tests.desk.conftest import MACHINE, Desk
from tests.desk.payments.test_tenders import one_payer

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
    number = starting.seat(desk.house, desk.tamsin, "G2", 2, desk.key())

    def add(house: House, who: Actor, station: int) -> None:
        ticket_lines.add_line(house, who, OnTicket(number, None, f"line-{station}"), Picked("apple-juice"))

    at_once(desk, add, 40)
    whole = desk.whole(number)
    assert (len(whole.standing), whole.bill.total) == (40, 40 * 360)
    assert len(journal.of_ticket(desk.house.connection, number)) == 41


def test_one_payment_for_many_requests(desk: Desk) -> None:
    number, payer = one_payer(desk)
    version = desk.version(number)

    def pay(house: House, who: Actor, _: int) -> int:
        return tenders.take_cash(house, who, OnTicket(number, version, "one"), payer, tenders.Sum(980), 1000)

    assert len(set(at_once(desk, pay, 40))) == 1
    assert (len(desk.whole(number).payments), desk.cash()) == (1, 980)


def test_one_charge_however_many_press_it(desk: Desk) -> None:
    """Different keys, as from two screens: the second finds the first one open."""
    number, payer = one_payer(desk)
    version = desk.version(number)

    def charge(house: House, who: Actor, station: int) -> str:
        return tenders.ask_card(
            house, who, OnTicket(number, version, f"key-of-{station}"), payer, MACHINE, tenders.Sum(980)
        )

    answers = at_once(desk, charge, 20)
    assert sum(isinstance(answer, str) for answer in answers) == 1
    desk.follow()
    assert (desk.charged(), load_ticket(desk.house, number).bill.paid) == (980, 980)


def test_one_party_a_table(desk: Desk) -> None:
    answers = at_once(desk, lambda house, who, _: starting.seat(house, who, "D6", 2, desk.key()), 20)
    assert sum(isinstance(answer, int) for answer in answers) == 1


def test_double_submissions_leave_one_payment_each(desk: Desk) -> None:
    """Fifty tickets, four part payments each (in the long run twenty), every one sent twice at the same time."""
    many = 200 if TIMES == 1 else 1000
    tickets = []
    for number in range(50):
        made = starting.open_counter(desk.house, desk.tamsin, desk.key())
        ticket_lines.add_unlisted(desk.house, desk.tamsin, desk.on(made), f"Cleat {number}", 700, "shop")
        tickets.append((made, desk.whole(made).payers[0].id))

    def pay(house: House, who: Actor, turn: int) -> int:
        (number, payer), key = tickets[turn // 2 % 50], f"payment number {turn // 2}"
        for _ in range(50):
            try:
                version = load_ticket(house, number).head.version
                return tenders.take_cash(house, who, OnTicket(number, version, key), payer, tenders.Sum(5), 10)
            except Stale:  # somebody else paid on this ticket meanwhile: look, and press again
                continue
        raise AssertionError("never came to an end")

    paid = at_once(desk, pay, 2 * many)
    assert len(paid) == 2 * many
    assert [first == second for first, second in zip(paid[::2], paid[1::2], strict=True)] == [True] * many
    assert len(set(paid)) == many
    assert (desk.cash(), journal.unbalanced(desk.house.connection)) == (5 * many, [])
    assert all(desk.whole(number).bill.paid == many // 10 for number, _ in tickets)
