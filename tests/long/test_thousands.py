"""By the thousand: corrections that move no sealed figure, and every money act sent twice at once and done once."""

from __future__ import annotations

import random
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from itertools import repeat

import pytest

from abrazo.core.journal import chain_faults
from abrazo.desk.context import House
from abrazo.desk.payments import accounts, closing, gift_cards, refunds, tenders
from abrazo.desk.payments.tenders import Sum
from abrazo.desk.setup.founding import open_house
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.till import petty_cash
from abrazo.store import figures, journal
from tests.desk.books import holds
from tests.desk.conftest import MACHINE, Desk
from tests.desk.payments.test_stored_value import sold, visit
from tests.desk.scenes import person
from tests.desk.test_clock import a_night
from tests.desk.test_week import CLOSED_BEFORE, a_day, correct, figures_text

MOST_DAYS, VISITS, A_DAY = 40, 3, 150  # days, rounds of visits on each, and corrections tried on each
TIMES, A_TICKET = 1000, 20


def test_a_thousand_corrections_move_no_sealed_figure(desk: Desk) -> None:
    chance, left = random.Random(13), list[int]()
    known = [person(desk, name) for name in ("Petra Moe", "Teun Abara")] + [person(desk, "Rowers", company="yes")]
    sealed: dict[int, tuple[object, str]] = {}
    done = 0
    for _ in range(MOST_DAYS):
        change = petty_cash.MovedCash("in", 300_000, "ice", "next door")  # so much is given back that drawers need it
        petty_cash.move_cash(desk.house, desk.boss, change, desk.key())
        for _ in range(VISITS):
            a_day(desk, chance, known, left)
        closed = [row[0] for row in desk.house.connection.execute(CLOSED_BEFORE, (desk.house.day().id,))]
        done += sum(correct(desk, chance, chance.choice(closed), desk.boss) for _ in range(A_DAY if closed else 0))
        day = desk.house.day().id
        a_night(desk, again=False, later=24 * 3600)
        sealed[day] = figures.sealed(desk.house.connection, [day]), figures_text(desk, day)
        if done >= TIMES:
            break
    assert done >= TIMES
    for day, before in sealed.items():
        assert (figures.sealed(desk.house.connection, [day]), figures_text(desk, day)) == before
    assert chain_faults(journal.chain(desk.house.connection)) == []


Once = Callable[[House, str], object]  # an act with its key, done by whoever has the house's connection


def _ticket(desk: Desk) -> tuple[int, int, int]:
    """A counter sale of somebody with an account, 140.00 to pay; gives ticket, payer, person."""
    number, payer, who = visit(desk, 20)
    desk.house.connection.execute("UPDATE person SET account = 1 WHERE id = ?", (who,))
    return number, payer, who


def paid_by(desk: Desk, how: str, number: int, code: str) -> Once:
    """A payment of 5.00 on a ticket as it is now, by one way to pay."""
    payer, version = desk.whole(number).payers[0].id, desk.version(number)

    def once(house: House, key: str) -> object:
        on = OnTicket(number, version, key)
        if how == "cash":
            return tenders.take_cash(house, desk.boss, on, payer, Sum(500), 1000)
        if how == "recorded":
            return tenders.record(house, desk.boss, on, payer, tenders.Recorded(500, "card elsewhere", "0417"))
        if how == "gift card":
            return gift_cards.spend(house, desk.boss, on, payer, gift_cards.Spending(how, 500, code))
        if how == "account":
            return accounts.put_on_account(house, desk.boss, on, payer, accounts.Leave(500))
        return tenders.ask_card(house, desk.boss, on, payer, MACHINE, Sum(500))

    return once


def paying(desk: Desk, how: str) -> Iterator[Once]:
    """Payments without end, twenty on each ticket."""
    while True:
        number, _, _ = _ticket(desk)
        code = sold(desk, amount=10_000) if how == "gift card" else ""
        for _ in range(A_TICKET):
            yield paid_by(desk, how, number, code)
            if how == "card":
                desk.follow()


def refunded(desk: Desk, number: int) -> Once:
    """A refund of 0.50 from a ticket's first payment."""
    wanted = refunds.RefundWanted(desk.whole(number).payments[0].id, 50, [])
    return lambda house, key: refunds.refund(house, desk.boss, OnTicket(number, None, key), wanted, "cold")


def refunding(desk: Desk, how: str) -> Iterator[Once]:
    """Refunds without end, twenty from each ticket that was paid in cash."""
    while True:
        number, payer, _who = _ticket(desk)
        on = OnTicket(number, desk.version(number), desk.key())
        tenders.take_cash(desk.house, desk.boss, on, payer, Sum(14_000), 14_000)
        closing.free_table(desk.house, desk.boss, OnTicket(number, None, desk.key()))
        for _ in range(A_TICKET):
            yield refunded(desk, number)


def moving_cash(desk: Desk, how: str) -> Iterator[Once]:
    """Money in and out of a drawer without a sale."""

    def once(house: House, key: str) -> None:
        if how == "bank":
            petty_cash.bank_cash(house, desk.boss, 5, key)
        else:
            petty_cash.move_cash(house, desk.boss, petty_cash.MovedCash(how, 5, "ice", "next door"), key)

    yield from repeat(once)


def receiving(desk: Desk, how: str) -> Iterator[Once]:
    """Tickets on which somebody pays a part of what they owe."""
    _, _, who = _ticket(desk)
    yield from repeat(lambda house, key: accounts.receive(house, desk.boss, who, 100, key))


PAID = "SELECT count(*) FROM payment WHERE amount = 500 AND tender = "
MOVED = "SELECT count(*) FROM petty_cash WHERE amount = 5 AND direction = "


@pytest.mark.parametrize(
    ("way", "how", "count"),
    [
        (paying, "cash", PAID + "'cash'"),
        (paying, "recorded", PAID + "'card elsewhere'"),
        (paying, "card", PAID + "'card'"),
        (paying, "gift card", PAID + "'gift card'"),
        (paying, "account", PAID + "'account'"),
        (refunding, "", "SELECT count(*) FROM refund"),
        (moving_cash, "in", MOVED + "'in'"),
        (moving_cash, "out", MOVED + "'out'"),
        (moving_cash, "outside", MOVED + "'outside'"),
        (moving_cash, "bank", "SELECT count(*) FROM journal WHERE kind = 'banked'"),
        (receiving, "", "SELECT count(*) FROM journal WHERE kind = 'pays account'"),
    ],
)
def test_a_thousand_times_twice_at_once(
    desk: Desk, way: Callable[[Desk, str], Iterator[Once]], how: str, count: str
) -> None:
    """Two stations send the same request at the same moment; it is done once, and both get its answer."""
    two = [open_house(desk.folder / "house.db", desk.house.devices, clock=desk.clock) for _ in range(2)]
    with ThreadPoolExecutor(2) as pool:
        for _, once in zip(range(TIMES), way(desk, how), strict=False):
            first, second = pool.map(once, two, [desk.key()] * 2)
            assert first == second
    desk.follow()
    assert desk.house.connection.execute(count).fetchone()[0] == TIMES
    holds(desk)
    for house in two:
        house.connection.close()
