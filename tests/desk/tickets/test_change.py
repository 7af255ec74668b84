"""Seating, picking, removing, freeing."""

from __future__ import annotations

import pytest

from abrazo.core.errors import Refused
from abrazo.desk.context import NotFound, Stale
from abrazo.desk.history import told
from abrazo.desk.payments import closing
from abrazo.desk.tickets import holding, starting, ticket_lines
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.ticket_lines import Picked
from tests.desk.conftest import Desk
from tests.refusals import refuses


def add(desk: Desk, number: int, item: str, *guests: str, choices: tuple[str, ...] = (), quantity: str = "1") -> None:
    picked = Picked(item, quantity, choices, guests)
    ticket_lines.add_line(desk.house, desk.tamsin, desk.on(number), picked)


def test_a_table_takes_one_party(desk: Desk) -> None:
    starting.seat(desk.house, desk.tamsin, "G2", 3, desk.key())
    with refuses("seated meanwhile"):
        starting.seat(desk.house, desk.jory, "G2", 2, desk.key())
    with pytest.raises(NotFound):
        starting.seat(desk.house, desk.tamsin, "Z9", 2, desk.key())


def test_large_parties_bear_a_service_charge(desk: Desk) -> None:
    number = starting.seat(desk.house, desk.tamsin, "P1", 8, desk.key())
    add(desk, number, "bottle-of-cider")
    assert desk.whole(number).bill.charges_total == 124


@pytest.mark.parametrize(
    ("picked", "where"),
    [
        (Picked("crab-toastie"), "bread"),
        (Picked("crab-toastie", choices=("bread-1", "bread-2")), "bread"),
        (Picked("crab-toastie", choices=("bread-1", "sauce-1", "sauce-2", "sauce-3")), "sauce"),
        (Picked("apple-juice", quantity="0"), "quantity"),
        (Picked("apple-juice", quantity="1.5"), "quantity"),
        (Picked("apple-juice", quantity="100"), "quantity"),
        (Picked("apple-juice", note="x" * 121), "note"),
    ],
)
def test_bad_picks_name_the_field_and_change_nothing(desk: Desk, picked: Picked, where: str) -> None:
    number = starting.seat(desk.house, desk.tamsin, "G2", 2, desk.key())
    with pytest.raises(Refused) as refusal:
        ticket_lines.add_line(desk.house, desk.tamsin, OnTicket(number, 1, desk.key()), picked)
    assert refusal.value.where == where
    assert (desk.version(number), desk.whole(number).lines) == (1, [])


def test_same_key_adds_one_line(desk: Desk) -> None:
    number = starting.seat(desk.house, desk.tamsin, "G2", 2, desk.key())
    for _ in range(3):
        ticket_lines.add_line(desk.house, desk.tamsin, OnTicket(number, 1, "the same"), Picked("apple-juice"))
    assert len(desk.whole(number).standing) == 1


def test_second_of_two_servers_is_told(desk: Desk) -> None:
    number = starting.seat(desk.house, desk.tamsin, "G2", 2, desk.key())
    add(desk, number, "apple-juice")
    with pytest.raises(Stale) as stale:
        ticket_lines.add_line(desk.house, desk.jory, OnTicket(number, 1, desk.key()), Picked("small-cider"))
    assert [one.what for one in told(desk.house, stale.value.changes)] == ["Added 1 × Apple juice"]


def test_a_removed_line_stays_with_who_and_when(desk: Desk) -> None:
    number = starting.seat(desk.house, desk.tamsin, "G2", 2, desk.key())
    add(desk, number, "estuary-pale-ale", "A", choices=("pint-2",), quantity="2")
    line = desk.whole(number).lines[0]
    ticket_lines.remove_line(desk.house, desk.jory, desk.on(number), line.id)
    whole = desk.whole(number)
    assert (whole.standing, whole.lines[0].removed_by, whole.bill.total) == ([], "jory", 0)
    assert desk.told(number)[-1] == "Removed 2 × Estuary pale ale (pint)"


def test_guests_have_names_or_not(desk: Desk) -> None:
    number = starting.seat(desk.house, desk.tamsin, "G2", 2, desk.key())
    holding.name_guest(desk.house, desk.tamsin, OnTicket(number, 1), "B", "  Rui  ")
    assert [guest.name for guest in desk.whole(number).guests] == [None, "Rui"]
    with refuses("at most 40"):
        holding.name_guest(desk.house, desk.tamsin, OnTicket(number, 2), "B", "x" * 41)
    holding.name_guest(desk.house, desk.tamsin, OnTicket(number, 2), "B", "")
    assert desk.whole(number).guests[1].name is None


def test_a_table_with_something_to_pay_is_not_freed(desk: Desk) -> None:
    number = starting.seat(desk.house, desk.tamsin, "G2", 2, desk.key())
    add(desk, number, "apple-juice")
    with refuses("is still to pay"):
        closing.free_table(desk.house, desk.tamsin, OnTicket(number, None, desk.key()))
    line = desk.whole(number).lines[0]
    ticket_lines.remove_line(desk.house, desk.tamsin, desk.on(number), line.id)
    closing.free_table(desk.house, desk.tamsin, OnTicket(number, None, desk.key()))
    assert desk.whole(number).head.state == "left"
    with refuses("is closed"):
        add(desk, number, "apple-juice")
