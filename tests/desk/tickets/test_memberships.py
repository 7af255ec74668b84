"""Memberships that are sold: to whom, from when, resting, given back; and what they give meanwhile."""

from __future__ import annotations

from datetime import timedelta

import pytest

from abrazo.core.errors import Code, Refused
from abrazo.desk.overview.soundness import soundness
from abrazo.desk.payments import refunds, reopening
from abrazo.desk.payments.refunds import RefundWanted
from abrazo.desk.setup import house_settings
from abrazo.desk.tickets import customer, memberships, ticket_lines
from tests.desk.books import holds
from tests.desk.conftest import Desk
from tests.desk.scenes import lent, pay, person, wren
from tests.desk.tickets.test_benefits import nets, sale_for
from tests.desk.tickets.test_series import pick
from tests.refusals import refuses

YEAR = "tidekeeper-a-year"


def bought(desk: Desk, who: int) -> int:
    number = sale_for(desk, who)
    pick(desk, number, YEAR)
    pay(desk, number)
    return number


def days(desk: Desk, who: int) -> list[tuple[str, str]]:
    return [(one.since, one.until) for one in memberships.of_person(desk.house, who)]


def test_bought_today_it_holds_at_once_and_renewing_goes_on(desk: Desk) -> None:
    who = person(desk)
    number = sale_for(desk, who)
    pick(desk, number, "roll-clinic")
    pick(desk, number, YEAR)
    assert nets(desk, number) == {"Roll clinic": 5632, "Tidekeeper, a year": 9600}
    pay(desk, number)
    assert days(desk, who) == [("2026-06-13", "2027-06-12")]
    bought(desk, who)
    assert days(desk, who)[1] == ("2027-06-13", "2028-06-12")
    other = sale_for(desk, person(desk, "Other Moe"))
    pick(desk, other, "roll-clinic")
    assert nets(desk, other) == {"Roll clinic": 6400}
    desk.clock.time += timedelta(days=364)
    later = sale_for(desk, who)
    pick(desk, later, "roll-clinic")
    assert nets(desk, later) == {"Roll clinic": 5632}  # the last day of the first one
    holds(desk)


def test_it_is_for_whom_the_ticket_is_and_one_on_a_line(desk: Desk) -> None:
    one, other = person(desk, "One Moe"), person(desk, "Two Moe")
    number = sale_for(desk, one)
    pick(desk, number, YEAR, "2")
    assert [line.quantity for line in desk.whole(number).standing] == ["1", "1"]
    with pytest.raises(Refused) as refusal:
        customer.set_person(desk.house, wren(desk), desk.on(number), 0)
    assert refusal.value.code is Code.SOLD_TO_SOMEBODY
    line = desk.whole(number).standing[0].id
    with refuses("stands on a line of its own"):
        ticket_lines.set_quantity(desk.house, wren(desk), desk.on(number), line, "2")
    customer.set_person(desk.house, wren(desk), desk.on(number), other)
    pay(desk, number)
    assert (days(desk, one), days(desk, other)) == (
        [], [("2026-06-13", "2027-06-12"), ("2027-06-13", "2028-06-12")],
    )  # fmt: skip
    reopening.reopen(desk.house, desk.boss, desk.on(number), "wrong")
    assert days(desk, other) == []


def test_it_rests_and_ends_later(desk: Desk) -> None:
    who = person(desk)
    bought(desk, who)
    held = memberships.of_person(desk.house, who)[0].id
    rest = ("2026-06-20", "2026-07-19")
    with refuses("A membership is given or ended by a supervisor"):
        memberships.pause_membership(desk.house, wren(desk), who, held, rest, desk.key())
    for wrong, code in (
        (("2026-06-12", "2026-07-01"), Code.REST_OUTSIDE), (("2027-06-13", "2027-07-01"), Code.REST_OUTSIDE),
        (("2026-06-20", "2026-06-19"), Code.REST_BACKWARDS), (("2026-06-20", "2036-06-20"), Code.REST_BACKWARDS),
        (("soon", "2026-06-20"), Code.NOT_DATE),
    ):  # fmt: skip
        with pytest.raises(Refused) as refusal:
            memberships.pause_membership(desk.house, desk.boss, who, held, wrong, desk.key())
        assert refusal.value.code is code, wrong
    for _ in range(2):
        memberships.pause_membership(desk.house, lent(desk, wren(desk)), who, held, rest, "rest")  # pressed twice
    assert days(desk, who) == [("2026-06-13", "2027-07-12")]
    with refuses("It rests at that time already."):
        memberships.pause_membership(desk.house, desk.boss, who, held, ("2026-07-19", "2026-07-25"), desk.key())
    desk.clock.time += timedelta(days=7)
    number = sale_for(desk, who)
    pick(desk, number, "roll-clinic")
    assert nets(desk, number) == {"Roll clinic": 6400}


def test_days_that_are_left_go_back_where_the_house_does_that(desk: Desk) -> None:
    who = person(desk)
    number = bought(desk, who)
    line, payment = desk.whole(number).standing[0].id, desk.whole(number).taken[0].id
    desk.clock.time += timedelta(days=72)  # 73 of 365 days were had, at 0.22 without tax each
    wanted = RefundWanted(payment, None, (line,))
    house_settings.decide(desk.house, desk.boss, "memberships_back", "no")
    desk.house.forget()
    with refuses("Nothing of Tidekeeper, a year is given back"):
        refunds.refund(desk.house, desk.boss, desk.on(number), wanted, "moves")
    house_settings.decide(desk.house, desk.boss, "memberships_back", "yes")
    desk.house.forget()
    refunds.refund(desk.house, desk.boss, desk.on(number), wanted, "moves")
    (back,) = refunds.refunds_of(desk.house, number)
    assert back.amount == 7673 and days(desk, who) == [("2026-06-13", "2026-08-24")]
    with refuses("Nothing of Tidekeeper, a year is given back"):
        refunds.refund(desk.house, desk.boss, desk.on(number), wanted, "again")
    holds(desk)
    assert soundness(desk.house) == []


def test_one_of_a_household_covers_all_of_it(desk: Desk) -> None:
    desk.house.connection.execute("UPDATE membership_kind SET household = 1")
    one, other = person(desk, "One Moe", "Moe"), person(desk, "Two Moe", "Moe")
    bought(desk, one)
    for who, price in ((other, 5632), (person(desk, "Three Roe"), 6400)):
        number = sale_for(desk, who)
        pick(desk, number, "roll-clinic")
        assert nets(desk, number) == {"Roll clinic": price}
