"""The drawer and the day: counted before it is known, closed only when nothing is in the way, books agree."""

from __future__ import annotations

import json
from dataclasses import replace

import pytest

from abrazo.core.errors import Refused
from abrazo.core.states import FloatDifference
from abrazo.desk.context import Actor
from abrazo.desk.output.views.report import day_report, report_of
from abrazo.desk.payments import closing, tenders
from abrazo.desk.payments.views.past import past_page
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.till import business_day, counting, opening, petty_cash
from abrazo.formats.day_report import day_report_text
from tests.desk.conftest import Desk
from tests.desk.payments.test_tenders import ask, one_payer
from tests.refusals import refuses, sentence


def odile(desk: Desk) -> Actor:
    return Actor(desk.house.staff()["odile"], desk.house.tills()["galley"])


def sold(desk: Desk) -> None:
    """One ticket of 9.80 paid in cash, its table freed."""
    number, payer = one_payer(desk)
    tenders.take_cash(desk.house, desk.tamsin, desk.on(number), payer, tenders.Sum(980), 1000)
    closing.free_table(desk.house, desk.tamsin, OnTicket(number, None, desk.key()))


def test_a_day_from_sale_to_close(desk: Desk) -> None:
    sold(desk)
    petty_cash.move_cash(desk.house, desk.tamsin, petty_cash.MovedCash("out", 350, "ice", "two bags"), "ice")
    petty_cash.move_cash(desk.house, desk.tamsin, petty_cash.MovedCash("out", 350, "ice", "two bags"), "ice")
    with refuses("Galley is not counted"):
        business_day.close_day(desk.house, odile(desk), desk.key())
    counting.count_drawer(
        desk.house, desk.tamsin, counting.Counted({5000: 2, 1000: 5, 500: 1, 20: 5}, None), desk.key()
    )  # 156.00
    with refuses("supervisor closes"):
        business_day.close_day(desk.house, desk.tamsin, desk.key())
    assert business_day.close_day(desk.house, odile(desk), "close") == business_day.close_day(
        desk.house, odile(desk), "close"
    )
    paper = day_report_text(day_report(desk.house, 1))
    assert all(len(line) <= 42 for line in paper.split("\n"))
    for words in (
        "Closed 14:20 by Odile Marsh",
        "Paid out: ice, two bags -3.50",
        "Short 0.30",
    ):
        assert words in " ".join(paper.split())
    assert (desk.cash(), desk.balance("expenses:over-and-short")) == (600, 30)
    assert desk.balance("") == 0


def test_all_that_is_in_the_way_is_said_at_once(desk: Desk) -> None:
    sold(desk)
    number, payer = one_payer(desk)
    desk.tell("silent, charged")
    ask(desk, number, payer)
    desk.follow()
    with pytest.raises(Refused) as refusal:
        business_day.close_day(desk.house, odile(desk), desk.key())
    for words in ("Open tickets, 1: 2102", "without an answer, 1", "Galley is not counted"):
        assert words in sentence(refusal.value)


def test_money_after_the_count_asks_for_another(desk: Desk) -> None:
    sold(desk)
    counting.count_drawer(desk.house, desk.tamsin, counting.Counted({}, 15980), desk.key())
    assert business_day.in_the_way(desk.house) == []
    petty_cash.move_cash(desk.house, desk.tamsin, petty_cash.MovedCash("in", 100, "small change"), desk.key())
    (problem,) = business_day.in_the_way(desk.house)
    assert sentence(problem) == "Money moved at till Galley after its count. Count it again."


def test_an_empty_count_and_one_that_contradicts_itself_are_asked_about(desk: Desk) -> None:
    with refuses("Is the drawer empty"):
        counting.count_drawer(desk.house, desk.tamsin, counting.Counted({5000: 0}, None), desk.key())
    with refuses("pieces come to .*50.00.*total says .*51.00"):
        counting.count_drawer(desk.house, desk.tamsin, counting.Counted({5000: 1}, 5100), desk.key())
    assert desk.house.connection.execute("SELECT count(*) FROM drawer_count").fetchone()[0] == 0
    counting.count_drawer(desk.house, desk.tamsin, counting.Counted({5000: 0}, 0), desk.key())
    with refuses("counts a drawer again"):  # what it should hold is known by now
        counting.count_drawer(desk.house, desk.tamsin, counting.Counted({5000: 1}, 5000), desk.key())
    borrowed = replace(desk.tamsin, lender=odile(desk).staff)
    counting.count_drawer(desk.house, borrowed, counting.Counted({5000: 1}, 5000), desk.key())
    (again,) = [one for one in report_of(desk.house, [1]).exceptions if one.kind == "drawer counted"]
    assert (again.person, again.count) == ("tamsin", 1)
    counts = desk.house.connection.execute("SELECT total FROM drawer_count ORDER BY id").fetchall()
    assert [row[0] for row in counts] == [0, 5000]


def test_paid_out_is_bounded_by_right_and_by_the_drawer(desk: Desk) -> None:
    """99,999 went out of a drawer that held 536, by anybody."""

    def out(actor: Actor, amount: int) -> None:
        petty_cash.move_cash(desk.house, actor, petty_cash.MovedCash("out", amount, "ice"), desk.key())

    out(desk.tamsin, 5000)
    with refuses("more than the house lets everybody"):
        out(desk.tamsin, 5001)
    with refuses("more than the drawer can hold") as refused:
        out(odile(desk), 9_999_900)
    assert not any(character.isdigit() for character in str(refused.value.facts))
    out(replace(desk.tamsin, lender=odile(desk).staff), 5001)
    assert desk.balance("expenses:petty:ice") == 10001
    last = desk.house.connection.execute("SELECT facts FROM journal ORDER BY number DESC LIMIT 1").fetchone()[0]
    assert json.loads(last)["lender"] == "odile"


def test_after_midnight_still_belongs_to_the_open_day(desk: Desk) -> None:
    sold(desk)
    desk.clock.on(10 * 3600 + 20 * 60)  # 00:40
    sold(desk)
    assert len(past_page(desk.house, {}, 1).tickets) == 2  # 'today' is the business date
    counting.count_drawer(desk.house, desk.tamsin, counting.Counted({}, 16960), desk.key())
    business_day.close_day(desk.house, odile(desk), desk.key())
    assert "last sale 00:40" in day_report_text(day_report(desk.house, 1))
    assert desk.house.connection.execute("SELECT business_date FROM day").fetchone()[0] == "2026-06-13"
    with refuses("No day is open"):
        sold(desk)
    opening.open_day(desk.house, desk.tamsin, {"galley": opening.Float(15000, why=FloatDifference.BANK)}, desk.key())
    assert desk.house.day().business_date == "2026-06-14"
    with refuses("open already"):
        opening.open_day(
            desk.house, desk.tamsin, {"galley": opening.Float(15000, why=FloatDifference.BANK)}, desk.key()
        )


@pytest.mark.parametrize(
    ("direction", "amount", "category", "where"),
    [
        ("out", 0, "ice", "amount"),
        ("out", 5, "  ", "category"),
        ("up", 5, "ice", "direction"),
        ("in", 5, "x" * 81, "category"),
    ],
)
def test_bad_entries_change_nothing(desk: Desk, direction: str, amount: int, category: str, where: str) -> None:
    with pytest.raises(Refused) as refusal:
        petty_cash.move_cash(desk.house, desk.tamsin, petty_cash.MovedCash(direction, amount, category), desk.key())
    assert refusal.value.where == where
    assert desk.balance("") == desk.balance("expenses") == 0
