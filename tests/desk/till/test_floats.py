"""Floats follow from what drawers were left with; cash goes to the bank; petty cash is taken back."""

from __future__ import annotations

from dataclasses import replace

import pytest

from abrazo.core.errors import Refused
from abrazo.core.figures import FigureKind
from abrazo.core.states import Extra, FloatDifference
from abrazo.desk.context import Actor
from abrazo.desk.output.views.report import day_report, report_of
from abrazo.desk.overview.soundness import soundness
from abrazo.desk.payments import closing, tenders
from abrazo.desk.stock import stock
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.till import business_day, counting, opening, petty_cash, tips_paid
from abrazo.desk.till.opening import Float
from abrazo.desk.till.views.till import till_page
from abrazo.formats.day_report import day_report_text
from abrazo.formats.report_json import report_json
from tests.desk.books import holds
from tests.desk.conftest import Desk
from tests.desk.payments.test_tenders import one_payer
from tests.desk.till.test_business_day import odile, sold
from tests.refusals import refuses


def test_a_float_follows_from_the_last_close(desk: Desk) -> None:
    sold(desk)
    counting.count_drawer(desk.house, desk.tamsin, counting.Counted({}, 15900), desk.key())  # 80 short
    with refuses("no more than that can go to the bank") as refused:
        business_day.close_day(desk.house, odile(desk), desk.key(), {"galley": 15901})
    assert refused.value.where == "bank-galley"
    first = business_day.close_day(desk.house, odile(desk), desk.key(), {"galley": 5900})
    holds(desk)
    desk.clock.on(20 * 3600)
    with refuses("not what the drawer was left with") as refused:
        opening.open_day(desk.house, desk.tamsin, {"galley": Float(9900)}, desk.key())
    assert refused.value.facts == {}  # a server counts blind
    with refuses("left with .*100.00.*99.00"):
        opening.open_day(desk.house, odile(desk), {"galley": Float(9900)}, desk.key())
    opening.open_day(desk.house, desk.tamsin, {"galley": Float(9900, why=FloatDifference.UNKNOWN)}, desk.key())
    assert desk.balance("expenses:over-and-short") == 80 + 100
    assert desk.balance("assets:bank") == 5900
    assert desk.balance("assets:safe") == -15000 - 12000
    holds(desk)
    (drawer,) = [one for one in drawers(desk, desk.house.day().id) if one["till"] == "galley"]
    assert (drawer["taken_over"], drawer["difference"], drawer["float"]) == (
        "100.00",
        {"reason": "unknown", "amount": "-1.00"},
        "99.00",
    )
    (before,) = [one for one in drawers(desk, first) if one["till"] == "galley"]
    assert [before[name] for name in ("expected", "counted", "over", "to_bank", "left")] == [
        "159.80",
        "159.00",
        "-0.80",
        "59.00",
        "100.00",
    ]
    left = opening.skipped_float(desk.house, Actor(odile(desk).staff, desk.house.tills()["landing"]))
    assert left == Float(12000)  # nothing moved in it, so nobody counted it


def drawers(desk: Desk, day: int) -> list[dict[str, object]]:
    found: list[dict[str, object]] = report_json(report_of(desk.house, [day]), desk.house.settings.currency)["drawers"]
    return found


def test_a_second_day_of_one_date_is_asked_about(desk: Desk) -> None:
    business_day.close_day(desk.house, odile(desk), desk.key())
    with refuses("business day .* already"):
        opening.open_day(desk.house, desk.tamsin, {"galley": Float(15000)}, desk.key())
    opening.open_day(desk.house, desk.tamsin, {"galley": Float(15000)}, desk.key(), again=True)
    holds(desk)


def test_a_till_that_was_not_opened_gives_no_change_but_keeps_what_it_takes(desk: Desk) -> None:
    business_day.close_day(desk.house, odile(desk), desk.key())
    opening.open_day(desk.house, desk.tamsin, {"galley": Float(15000)}, desk.key(), again=True)
    at_landing = replace(desk.tamsin, till=desk.house.tills()["landing"])
    number, payer = one_payer(desk)
    with refuses("was not opened today"):
        tenders.take_cash(desk.house, at_landing, desk.on(number), payer, tenders.Sum(980), 1000)
    tenders.take_cash(desk.house, at_landing, desk.on(number), payer, tenders.Sum(980), 980)
    holds(desk)


def test_cash_to_the_bank_within_the_day(desk: Desk) -> None:
    with refuses("more than the house lets everybody"):
        petty_cash.bank_cash(desk.house, desk.tamsin, 9000, desk.key())
    for _ in range(2):
        petty_cash.bank_cash(desk.house, odile(desk), 9000, "once")
    with refuses("more than the drawer can hold"):
        petty_cash.bank_cash(desk.house, odile(desk), 6001, desk.key())
    assert (desk.balance("assets:cash:galley"), desk.balance("assets:bank")) == (6000, 9000)
    holds(desk)


@pytest.mark.parametrize("direction", ["out", "in"])
def test_petty_cash_is_taken_back_once_and_on_its_day(desk: Desk, direction: str) -> None:
    petty_cash.move_cash(desk.house, desk.tamsin, petty_cash.MovedCash(direction, 350, "ice"), desk.key())
    other = replace(desk.tamsin, till=desk.house.tills()["landing"])
    with refuses("not paid out or in at this till"):
        petty_cash.take_back(desk.house, other, 1, desk.key())
    for _ in range(2):
        petty_cash.take_back(desk.house, desk.tamsin, 1, "once")
    with refuses("taken back already"):
        petty_cash.take_back(desk.house, desk.tamsin, 1, desk.key())
    with refuses("not paid out or in"):
        petty_cash.take_back(desk.house, desk.tamsin, 2, desk.key())
    assert (desk.balance("assets:cash:galley"), desk.balance("expenses:petty")) == (15000, 0)
    holds(desk)


def test_tips_are_paid_out_up_to_what_is_owed(desk: Desk) -> None:
    number, payer = one_payer(desk)
    tenders.take_cash(desk.house, desk.tamsin, desk.on(number), payer, tenders.Sum(1180, Extra.TIP), 1180)
    closing.free_table(desk.house, desk.tamsin, OnTicket(number, None, desk.key()))
    ((person, _, owed),) = tips_paid.owed_tips(desk.house)
    assert (person, owed) == ("tamsin", 200)
    with refuses("paid out by a supervisor"):
        tips_paid.pay_tips(desk.house, desk.tamsin, "tamsin", 200, desk.key())
    with refuses("No more than .*2.00"):
        tips_paid.pay_tips(desk.house, odile(desk), "tamsin", 201, desk.key())
    borrowed = replace(desk.tamsin, lender=odile(desk).staff)
    for _ in range(2):
        tips_paid.pay_tips(desk.house, borrowed, "tamsin", 150, "once")
    assert [left for _, _, left in tips_paid.owed_tips(desk.house)] == [50]
    assert desk.balance("assets:cash:galley") == 15000 + 1180 - 150
    holds(desk)


def test_a_till_that_took_money_before_it_was_counted_has_its_float_without_it(desk: Desk) -> None:
    business_day.close_day(desk.house, odile(desk), desk.key())
    opening.open_day(desk.house, desk.tamsin, {"galley": Float(15000)}, desk.key(), again=True)
    at_landing = replace(desk.tamsin, till=desk.house.tills()["landing"])
    number, payer = one_payer(desk)
    tenders.take_cash(desk.house, at_landing, desk.on(number), payer, tenders.Sum(980), 980)
    supervisor = Actor(odile(desk).staff, at_landing.till)
    assert opening.skipped_float(desk.house, supervisor) == Float(12980)
    opening.count_float(desk.house, at_landing, Float(12980), desk.key())  # as it lies there: left, and what was taken
    (landing,) = [one for one in drawers(desk, desk.house.day().id) if one["till"] == "landing"]
    assert [landing[name] for name in ("taken_over", "float", "expected")] == ["120.00", "120.00", "129.80"]
    holds(desk)


def test_a_sealed_days_pieces_stand_largest_first(desk: Desk) -> None:
    counting.count_drawer(
        desk.house, desk.tamsin, counting.Counted({1000: 2, 500: 3, 10000: 1, 50: 2}, None), desk.key()
    )
    day = business_day.close_day(desk.house, odile(desk), desk.key())
    (galley,) = [one for one in drawers(desk, day) if one["till"] == "galley"]
    pieces = galley["counted_pieces"]
    assert isinstance(pieces, dict) and list(pieces) == ["100.00", "10.00", "5.00", "0.50"]


def test_a_drawer_that_is_handed_over_has_an_over_or_short_of_its_own(desk: Desk) -> None:
    """Common practice: who takes over a drawer answers for what comes after, not for what was."""
    sold(desk)
    petty_cash.move_cash(desk.house, desk.tamsin, petty_cash.MovedCash("out", 200, "ice"), desk.key())
    expected = till_page(desk.house, desk.tamsin.till).expected
    key = desk.key()
    for _ in range(2):
        counting.count_drawer(desk.house, desk.tamsin, counting.Counted({}, expected - 50, "jory"), key)
    desk.clock.on(60)
    seen = till_page(desk.house, desk.tamsin.till)
    assert (seen.expected, seen.count, seen.petty) == (expected - 50, None, [])
    assert seen.handed is not None and (seen.handed.staff, seen.handed.handed_to) == ("tamsin", "jory")
    holds(desk)
    sold(desk)
    petty_cash.move_cash(desk.house, desk.tamsin, petty_cash.MovedCash("in", 300, "ice"), desk.key())
    assert till_page(desk.house, desk.tamsin.till).expected == expected - 50 + 980 + 300
    for wrong in ("tamsin", "nobody"):
        with refuses("Who goes on"):
            counting.count_drawer(desk.house, desk.tamsin, counting.Counted({}, 100, wrong), desk.key())
    counting.count_drawer(desk.house, desk.tamsin, counting.Counted({}, expected - 50 + 980 + 310), desk.key())
    business_day.close_day(desk.house, desk.boss, desk.key(), {desk.tamsin.till.id: 1000})
    first, second = (one for one in report_of(desk.house, [1]).drawers if one.till == desk.tamsin.till.id)
    assert (first.over, first.left, first.counted_by, first.paid_out) == (-50, expected - 50, "tamsin", 200)
    assert (second.taken_over, second.float_amount) == (expected - 50, expected - 50)
    assert (second.over, second.cash_in - second.cash_out, second.paid_in, second.paid_out, second.to_bank) == (
        10,
        980,
        300,
        0,
        1000,
    )
    assert second.left == expected - 50 + 980 + 310 - 1000
    assert desk.balance("expenses:over-and-short") == 40
    holds(desk)
    assert soundness(desk.house) == []
    paper = day_report_text(day_report(desk.house, 1))
    assert "Handed over at" in paper and paper.count("ice") == 2


def test_goods_bought_from_the_drawer_are_counted_in_and_spending_outside_moves_no_drawer(desk: Desk) -> None:
    bag, before = "dry-bag-l-teal", till_page(desk.house, desk.tamsin.till).expected
    stock.count_goods(desk.house, desk.boss, bag, "5", "recount", desk.key())
    desk.clock.on(60)
    bought = petty_cash.MovedCash("out", 400, "ice", "", bag, "3")
    for wrong in (replace(bought, pieces=""), replace(bought, pieces="0"), replace(bought, item="tea")):
        with pytest.raises(Refused):
            petty_cash.move_cash(desk.house, desk.tamsin, wrong, desk.key())
    key = desk.key()
    for _ in range(2):
        petty_cash.move_cash(desk.house, desk.tamsin, bought, key)
    assert stock.here(desk.house, bag) == 8
    assert till_page(desk.house, desk.tamsin.till).expected == before - 400
    desk.clock.on(60)
    petty_cash.move_cash(desk.house, desk.tamsin, replace(bought, direction="in", pieces="1", amount=130), desk.key())
    assert stock.here(desk.house, bag) == 7
    desk.clock.on(60)
    (row, _) = till_page(desk.house, desk.tamsin.till).petty
    petty_cash.take_back(desk.house, desk.tamsin, row.id, desk.key())
    assert stock.here(desk.house, bag) == 4
    assert till_page(desk.house, desk.tamsin.till).expected == before + 130
    petty_cash.move_cash(desk.house, desk.tamsin, petty_cash.MovedCash("outside", 900, "ice"), desk.key())
    assert till_page(desk.house, desk.tamsin.till).expected == before + 130
    assert (desk.balance("assets:bank"), desk.balance("expenses:petty:ice")) == (-900, 770)
    with refuses("supervisor"):
        petty_cash.move_cash(desk.house, desk.tamsin, petty_cash.MovedCash("outside", 99_900, "ice"), desk.key())
    outside = till_page(desk.house, desk.tamsin.till).petty[-1]
    petty_cash.move_cash(desk.house, desk.tamsin, petty_cash.MovedCash("outside", 200, "ice"), desk.key())
    petty_cash.take_back(desk.house, desk.tamsin, outside.id, desk.key())
    assert desk.balance("assets:bank") == -200
    found = {(one.name, one.amount) for one in report_of(desk.house, [1]).of(FigureKind.PETTY)}
    assert found == {("in", 130), ("outside", 200)}
    assert "Spent, not out of a drawer" in day_report_text(day_report(desk.house, 1))
    holds(desk)
    assert soundness(desk.house) == []
