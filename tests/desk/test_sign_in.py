"""PINs: hashed, counted by screen and person, with a wait that grows; sign-ins that end."""

from __future__ import annotations

from dataclasses import replace

import pytest

from abrazo.core.errors import Code, Refused
from abrazo.desk import sign_in as desk_sign_in
from abrazo.desk.permissions import Right, has, may_lend
from abrazo.desk.sign_in import check_new_pin, lend, sign_in
from abrazo.store import staff
from tests.desk.conftest import Desk
from tests.refusals import refuses

NOTED = "SELECT count(*) FROM journal WHERE kind = 'wrong pin'"


def wrong(desk: Desk, screen: str, times: int) -> Refused:
    for _ in range(times):
        with pytest.raises(Refused) as refused:
            sign_in(desk.house, "tamsin", "galley", "0000", screen)
    return refused.value


def test_the_wait_grows_at_one_screen_and_locks_nobody_out_elsewhere(desk: Desk) -> None:
    assert wrong(desk, "a", 4).facts == {"left": 1}
    assert wrong(desk, "a", 1).facts == {"wait": 60}
    with refuses("wait another 60 seconds"):
        sign_in(desk.house, "tamsin", "galley", "2086", "a")
    assert sign_in(desk.house, "jory", "galley", "3395", "a").staff.name == "Jory Penhale"
    assert sign_in(desk.house, "tamsin", "galley", "2086", "b").staff.name == "Tamsin Rook"
    for wait in (60, 120, 240, 480, 900, 900):
        desk.clock.on(wait + 1)
        assert wrong(desk, "a", 1).code == Code.PIN_LOCKED_NOW
    desk.clock.on(901)
    assert desk_sign_in.many_wrong(desk.house) == [(desk.house.staff()["tamsin"], 11)]
    assert desk.house.connection.execute(NOTED).fetchone()[0] == 11
    assert sign_in(desk.house, "tamsin", "galley", "2086", "a").till.name == "Galley"
    assert wrong(desk, "a", 1).facts == {"left": 4}


def test_a_lenders_pin_is_counted_at_the_screen_of_whoever_borrows(desk: Desk) -> None:
    at = replace(desk.tamsin, screen="a")
    for _ in range(5):
        with pytest.raises(Refused):
            lend(desk.house, at, "odile", "111111")
    with refuses("wait another"):
        lend(desk.house, at, "odile", "407118")
    assert lend(desk.house, replace(at, screen="b"), "odile", "407118").id == "odile"


def test_pins_have_four_digits_and_six_for_those_who_lend(desk: Desk) -> None:
    people = desk.house.staff()
    check_new_pin(people["tamsin"], "2086")
    check_new_pin(people["odile"], "407118")
    for who, pin in (("tamsin", "208"), ("tamsin", "20a6"), ("odile", "4071"), ("tamsin", "1" * 13)):
        with refuses("A PIN here has"):
            check_new_pin(people[who], pin)


def test_a_sign_in_ends_by_locking_by_doing_nothing_and_by_its_age(desk: Desk) -> None:
    def stands(token: str, *, reads_slips: bool = False) -> bool:
        return desk_sign_in.signed_in(desk.house, token, reads_slips=reads_slips) is not None

    first, second = (desk_sign_in.begin(desk.house, desk.tamsin) for _ in range(2))
    desk_sign_in.end(desk.house, first)
    assert (stands(first), stands(second), stands("made up"), stands("")) == (False, True, False, False)
    desk.clock.on(299)
    row = desk_sign_in.signed_in(desk.house, second, reads_slips=False)
    assert row is not None
    assert desk_sign_in.is_to_be_noted(desk.house, row)
    desk_sign_in.still_here(desk.house, row)
    desk.clock.on(299)
    assert stands(second)
    desk.clock.on(2)
    assert (stands(second), stands(second, reads_slips=True)) == (False, True)
    desk.clock.on(14 * 3600)
    assert not stands(second, reads_slips=True)


def test_no_pin_is_kept(desk: Desk) -> None:
    hashed = staff.pin_hash(desk.house.connection, "tamsin")
    assert hashed.startswith("$argon2id$")
    assert "2086" not in (desk.folder / "house.db").read_bytes().decode("latin-1").replace(hashed, "")


def test_whoever_was_given_a_right_lends_it_with_six_digits_only(desk: Desk) -> None:
    staff.set_role_right(desk.house.connection, "server", "count goods", allowed=True)
    desk.house.forget()
    tamsin = desk.house.staff()["tamsin"]
    assert (has(tamsin, Right.COUNT_GOODS), may_lend(tamsin)) == (True, False)
    assert may_lend(replace(tamsin, pin_digits=6))
    with refuses("Only a supervisor can lend"):
        lend(desk.house, desk.tamsin, "tamsin", "2086")
