"""A fault between every two statements of every act: either all of it is there, or nothing is."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any, cast

import pytest

from abrazo.desk.context import Actor, House
from abrazo.desk.doors import bookings, counter, jobs, phone_orders, tabs
from abrazo.desk.doors.jobs import DropOff, read_job
from abrazo.desk.payments import accounts, card_poller, closing, deposits, tenders, tips
from abrazo.desk.people import people
from abrazo.desk.tickets import customer, line_changes, memberships, moving, sharing, starting, ticket_lines
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.deposits import of_job
from abrazo.desk.tickets.moving import Parting
from abrazo.desk.tickets.ticket_lines import Picked
from abrazo.desk.till import business_day, counting, petty_cash
from abrazo.store import holds
from abrazo.store.db import Connection
from tests.desk.conftest import MACHINE, Desk
from tests.desk.doors.test_phone_orders import SAID
from tests.desk.scenes import booked, dropped, pay, person, wren
from tests.desk.tickets.test_change import add


class Killed(BaseException):
    """The process ended here."""


class Fragile:
    """A connection that ends the process at its n-th writing statement."""

    def __init__(self, connection: Connection, left: int) -> None:
        self._connection, self._left = connection, left

    def _spend(self, sql: str) -> None:
        if sql.lstrip().startswith(("INSERT", "UPDATE", "DELETE", "COMMIT")):
            if self._left == 0:
                raise Killed
            self._left -= 1

    def execute(self, sql: str, *values: Any) -> Any:
        self._spend(sql)
        return self._connection.execute(sql, *values)

    def executemany(self, sql: str, rows: Any) -> Any:
        self._spend(sql)
        return self._connection.executemany(sql, rows)

    def __getattr__(self, name: str) -> Any:
        return getattr(self._connection, name)


def everything(connection: Connection) -> list[str]:
    """All that is in the database."""
    return list(connection.iterdump())


def table_of_two(desk: Desk) -> int:
    number = starting.seat(desk.house, desk.tamsin, "G2", 2, desk.key())
    add(desk, number, "bottle-of-cider")
    add(desk, number, "lemon-posset", "B")
    return number


Act = Callable[[House, Actor, int], object]


def first_payer(desk: Desk, number: int) -> int:
    return desk.whole(number).payers[0].id


def acts(desk: Desk) -> dict[str, tuple[Callable[[int], object], Act]]:
    """Every act with what must have happened before it."""

    def version(number: int) -> int:
        return desk.version(number)

    def share(number: int) -> None:
        sharing.by_seat(desk.house, desk.tamsin, OnTicket(number, version(number)))

    def ask(number: int) -> None:
        on, payer = OnTicket(number, version(number), "c"), first_payer(desk, number)
        tenders.ask_card(desk.house, desk.tamsin, on, payer, MACHINE, tenders.Sum(1860))

    def charged(number: int) -> None:
        ask(number)
        desk.follow()

    def paid(number: int) -> None:
        payer = first_payer(desk, number)
        tenders.take_cash(
            desk.house, desk.tamsin, OnTicket(number, version(number), "p"), payer, tenders.Sum(1860), 2000
        )

    def asked(number: int) -> None:
        ask(number)
        card_poller.follow(desk.house)

    def sold_and_counted(number: int) -> None:
        paid(number)
        closing.free_table(desk.house, desk.tamsin, OnTicket(number, None, "f"))
        pay(desk, other)
        counting.count_drawer(desk.house, wren(desk), counting.Counted({}, 12000), "l")
        counting.count_drawer(desk.house, desk.tamsin, counting.Counted({}, 16000), "n")

    def nothing(_: int) -> None:
        return None

    who, waiting = person(desk), [booked(desk, "Petra Moe")]
    ready, _ = dropped(desk, who, 5000)

    def settled(_: int) -> None:
        pay(desk, jobs.settle(desk.house, desk.tamsin, [ready], desk.key()), close=False)

    def selling(_: int) -> None:
        sale = starting.open_counter(desk.house, desk.tamsin, desk.key())
        ticket_lines.add_line(desk.house, desk.tamsin, desk.on(sale), Picked("lemon-posset"))

    def sold() -> int:
        sale = counter.sale_of(desk.house, desk.tamsin)
        assert sale is not None
        return sale.head.id

    def moved(number: int) -> None:
        moving.to_table(desk.house, desk.tamsin, desk.on(number), "D6")

    def held(number: int) -> None:
        tabs.hold_card(desk.house, desk.tamsin, OnTicket(number, None, "h"), MACHINE, 3000)
        desk.follow()

    def taking(number: int) -> None:
        held(number)
        payer, hold = first_payer(desk, number), holds.of_ticket(desk.house.connection, number)[0].id
        tabs.charge_held(desk.house, desk.tamsin, OnTicket(number, version(number), "c"), payer, hold, 1860)
        card_poller.follow(desk.house)

    def member(number: int) -> None:
        memberships.give_membership(desk.house, desk.boss, who, "tidekeeper", "2027-01-01", "m")
        add(desk, number, "first-paddle")

    def owing(_: int) -> None:
        people.change_person(desk.house, desk.tamsin, who, {"name": "Petra Moe", "account": "yes"})
        visit = customer.open_sale(desk.house, desk.tamsin, who, "s")
        add(desk, visit, "apple-juice")
        accounts.put_on_account(
            desk.house, desk.tamsin, OnTicket(visit, version(visit), "a"), first_payer(desk, visit), accounts.Leave(360)
        )

    def invoices() -> list[int]:
        return [one.payment for one in accounts.open_invoices(desk.house, people.known(desk.house, who))]

    def asked_to_hold(number: int) -> None:
        tabs.hold_card(desk.house, desk.tamsin, OnTicket(number, None, "h"), MACHINE, 3000)
        card_poller.follow(desk.house)

    other = starting.open_counter(desk.house, desk.tamsin, desk.key())
    add(desk, other, "apple-juice")
    dropping = DropOff(who, "Sail", (("sail-seam-patch", "1", ""),), "2026-06-13", "18:00", deposit=1000)
    odile = Actor(desk.house.staff()["odile"], desk.house.tills()["galley"])
    return {
        "seat": (nothing, lambda h, who, _: starting.seat(h, who, "D6", 3, "k")),
        "add": (
            nothing,
            lambda h, who, n: ticket_lines.add_line(
                h, who, OnTicket(n, version(n), "k"), Picked("apple-juice", guests=("A",))
            ),
        ),
        "remove": (
            nothing,
            lambda h, who, n: ticket_lines.remove_line(h, who, OnTicket(n, version(n)), desk.whole(n).lines[0].id),
        ),
        "share": (nothing, lambda h, who, n: sharing.by_seat(h, who, OnTicket(n, version(n)))),
        "equal": (share, lambda h, who, n: sharing.equal_parts(h, who, OnTicket(n, version(n)), 3)),
        "undo": (share, lambda h, who, n: sharing.undo(h, who, OnTicket(n, version(n)))),
        "tip": (
            nothing,
            lambda h, who, n: tips.set_tip(
                h, who, OnTicket(n, version(n)), first_payer(desk, n), tips.TipWanted(percent="10")
            ),
        ),
        "cash": (
            nothing,
            lambda h, who, n: tenders.take_cash(
                h, who, OnTicket(n, version(n), "k"), first_payer(desk, n), tenders.Sum(1860), 2000
            ),
        ),
        "ask": (
            nothing,
            lambda h, who, n: tenders.ask_card(
                h, who, OnTicket(n, version(n), "k"), first_payer(desk, n), MACHINE, tenders.Sum(1860)
            ),
        ),
        "approval": (asked, lambda h, who, n: card_poller.follow(h)),
        "back in cash": (
            paid,
            lambda h, who, n: tenders.take_back(h, who, OnTicket(n, version(n), "k"), desk.whole(n).payments[0].id),
        ),
        "back by card": (
            charged,
            lambda h, who, n: tenders.take_back(h, who, OnTicket(n, version(n), "k"), desk.whole(n).payments[0].id),
        ),
        "free": (paid, lambda h, who, n: closing.free_table(h, who, OnTicket(n, None, "k"))),
        "paid out": (
            nothing,
            lambda h, who, _: petty_cash.move_cash(h, who, petty_cash.MovedCash("out", 350, "ice"), "k"),
        ),
        "check out": (nothing, lambda h, who, _: bookings.check_out(h, who, waiting, "k")),
        "booking added": (
            nothing,
            lambda h, who, n: bookings.add_to_ticket(h, who, OnTicket(n, version(n), "k"), waiting[0]),
        ),
        "drop off": (nothing, lambda h, who, _: jobs.drop_off(h, who, dropping, None, "k")),
        "settle a job": (nothing, lambda h, who, _: jobs.settle(h, who, [ready], "k")),
        "job added": (nothing, lambda h, who, n: jobs.add_to_ticket(h, who, OnTicket(n, version(n), "k"), ready)),
        "hand over": (settled, lambda h, who, _: jobs.hand_out(h, who, ready, None, "", "k")),
        "give back": (settled, lambda h, who, _: deposits.give_back(h, who, of_job(read_job(h, ready)), "k")),
        "hold": (nothing, lambda h, who, n: tabs.hold_card(h, who, OnTicket(n, None, "k"), MACHINE, 3000)),
        "held": (asked_to_hold, lambda h, who, n: card_poller.follow(h)),
        "captured": (taking, lambda h, who, n: card_poller.follow(h)),
        "merge": (held, lambda h, who, n: moving.merge(h, who, OnTicket(n, version(n), "k"), other)),
        "guest moved": (
            nothing,
            lambda h, who, n: moving.move_guests(h, who, OnTicket(n, version(n), "k"), Parting(("B",)), other),
        ),
        "walk-in": (
            nothing,
            lambda h, who, _: bookings.serve(
                h, who, bookings.Arrival("Ada", "020 910 0300", "roll-clinic", "idris", None), "k"
            ),
        ),
        "stated": (share, lambda h, who, n: sharing.state_amount(h, who, OnTicket(n, version(n)), 500)),
        "split off": (
            nothing,
            lambda h, who, n: moving.split_off(h, who, OnTicket(n, version(n), "k"), Parting(("B",)), "D6"),
        ),
        "moved back": (moved, lambda h, who, n: moving.off_table(h, who, OnTicket(n, version(n), "k"))),
        "order": (selling, lambda h, who, _: phone_orders.become_order(h, who, OnTicket(sold(), None, "k"), SAID)),
        "first item": (nothing, lambda h, who, _: counter.pick(h, who, Picked("lemon-posset"), "k")),
        "changed": (
            nothing,
            lambda h, who, n: line_changes.change_line(
                h,
                who,
                OnTicket(n, version(n)),
                desk.whole(n).lines[0].id,
                Picked(desk.whole(n).lines[0].item, "3", note="hot"),
            ),
        ),
        "cleared": (nothing, lambda h, who, n: line_changes.clear(h, who, OnTicket(n, version(n)))),
        "new person": (
            nothing,
            lambda h, who, n: customer.set_new_person(h, who, OnTicket(n, version(n), "k"), {"name": "Ro"}),
        ),
        "member": (
            nothing,
            lambda h, by, _: memberships.give_membership(h, odile, who, "tidekeeper", "2027-01-01", "k"),
        ),
        "benefit": (member, lambda h, by, n: customer.set_person(h, by, OnTicket(n, version(n)), who)),
        "deposit kept": (
            nothing,
            lambda h, _, n: deposits.keep(h, odile, of_job(read_job(h, ready)), "its terms", "k"),
        ),
        "invoices": (owing, lambda h, by, _: accounts.receive_invoices(h, by, who, invoices(), "k")),
        "close": (sold_and_counted, lambda h, who, _: business_day.close_day(h, odile, "k")),
    }


NAMES = ["seat", "add", "remove", "share", "equal", "undo", "tip", "cash", "ask", "approval", "back in cash"]
NAMES += [
    "back by card",
    "free",
    "paid out",
    "close",
    "check out",
    "booking added",
    "drop off",
    "settle a job",
    "job added",
]
NAMES += ["stated", "split off", "changed", "cleared", "new person", "member", "benefit", "deposit kept", "invoices"]
NAMES += ["moved back", "order", "first item"]
NAMES += ["hand over", "give back", "hold", "held", "captured", "merge", "guest moved", "walk-in"]


@pytest.mark.parametrize("name", NAMES)
def test_all_or_nothing(desk: Desk, name: str) -> None:
    number = table_of_two(desk)
    before, act = acts(desk)[name]
    before(number)
    start = everything(desk.house.connection)
    for writes in range(60):
        fragile = replace(desk.house, connection=cast(Connection, Fragile(desk.house.connection, writes)))
        try:
            act(fragile, desk.tamsin, number)
        except Killed:
            assert everything(desk.house.connection) == start, f"half of it was there after {writes} writes"
            continue
        break
    else:
        raise AssertionError("the act never came to its end")
    assert writes >= 3, "an act that writes next to nothing is no test"
    assert everything(desk.house.connection) != start
    assert desk.balance("") == 0
