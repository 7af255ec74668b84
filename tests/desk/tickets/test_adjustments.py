"""Discounts, comps and surcharges: with a reason and a right, undone at will, and the same money in the books."""

from __future__ import annotations

import random
from dataclasses import replace
from typing import Any

import pytest

from abrazo.core.errors import Refused
from abrazo.desk.context import Actor, NotFound
from abrazo.desk.output.views.report import day_report
from abrazo.desk.payments import tenders
from abrazo.desk.tickets import adjustments, moving, sharing, starting, ticket_lines
from abrazo.desk.tickets.adjustments import Wanted
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.ticket_lines import Picked
from abrazo.desk.tickets.views.catalogue import Sought, pick_page
from abrazo.formats.day_report import day_report_text
from abrazo.store import settings
from abrazo.store.journal import balances
from tests.desk.conftest import Desk
from tests.desk.payments.test_corrections import in_balance, odile
from tests.desk.scenes import pay
from tests.refusals import refuses


def party(desk: Desk, *items: str) -> int:
    number = starting.seat(desk.house, desk.tamsin, "G2", 2, desk.key())
    for item in items or ("clam-and-leek-pot", "lemon-posset"):
        ticket_lines.add_line(desk.house, desk.tamsin, OnTicket(number, None, desk.key()), Picked(item))
    return number


def give(desk: Desk, number: int, line: int | None, *, actor: Actor | None = None, **typed: str) -> None:
    by = actor or odile(desk)
    adjustments.give(desk.house, by, desk.on(number), line, Wanted(**typed))


def test_a_preset_a_code_and_a_comp_on_lines(desk: Desk) -> None:
    number = party(desk)
    pot, posset = (line.id for line in desk.whole(number).standing)
    price = desk.whole(number).bill.total
    give(desk, number, pot, actor=desk.tamsin, preset="regular")
    assert desk.whole(number).bill.total == price - 158
    give(desk, number, pot, actor=desk.tamsin, code="saltpan8")
    assert desk.whole(number).bill.total == price - 158 - 114  # 8 % of what the first left
    give(desk, number, pot, actor=desk.tamsin, code="SALTPAN8")
    assert desk.whole(number).bill.total == price - 158 - 114  # a line carries one coded discount
    with refuses("supervisor"):
        give(desk, number, posset, actor=desk.tamsin, preset="waited")
    give(desk, number, posset, preset="waited")
    assert desk.whole(number).bill.total == 1580 - 158 - 114
    pay(desk, number)
    report = day_report_text(day_report(desk.house, desk.house.day().id))
    assert "comps, waited too long" in report.lower() and "discounts, regular 10 %" in report.lower()
    in_balance(desk)


def test_a_ticket_discount_reaches_every_line_but_one_taken_off(desk: Desk) -> None:
    number = party(desk)
    pot, posset = desk.whole(number).standing
    give(desk, number, None, kind="discount", percent="25", reason="power was out")
    total = desk.whole(number).ticket
    assert desk.whole(number).bill.total == 1580 + posset.unit_price - round((1580 + posset.unit_price) / 4)
    given_id = desk.whole(number).given[0].id
    adjustments.take_off(desk.house, desk.tamsin, desk.on(number), given_id, posset.id)
    assert desk.whole(number).bill.total == 1580 - 395 + posset.unit_price
    adjustments.take_off(desk.house, desk.tamsin, desk.on(number), given_id, pot.id)
    assert desk.whole(number).bill.total == 1580 + posset.unit_price  # it reaches nothing more
    other = starting.seat(desk.house, desk.tamsin, "G4", 2, desk.key())
    with refuses("discount on all of it"):
        moving.merge(desk.house, desk.tamsin, desk.on(number), other)
    adjustments.take_off(desk.house, desk.tamsin, desk.on(number), given_id)
    assert desk.whole(number).given == [] and total.discounts


def test_a_surcharge_on_the_ticket_is_a_charge_and_on_a_line_stands_under_it(desk: Desk) -> None:
    number = party(desk)
    before = desk.whole(number).bill.total
    give(desk, number, None, actor=desk.tamsin, preset="corkage")
    give(desk, number, desk.whole(number).standing[0].id, actor=desk.tamsin, preset="gluten-free")
    whole = desk.whole(number)
    assert (whole.bill.total, [charge.label for charge in whole.charges]) == (before + 600 + 80, ["Corkage"])


@pytest.mark.parametrize(
    ("typed", "where"),
    [
        ({"percent": "10"}, "reason"),
        ({"percent": "10", "amount": "2", "reason": "x"}, "percent"),
        ({"reason": "x"}, "percent"),
        ({"percent": "101", "reason": "x"}, "percent"),
        ({"percent": "0", "reason": "x"}, "percent"),
        ({"percent": "ten", "reason": "x"}, "percent"),
        ({"amount": "-1", "reason": "x"}, "amount"),
        ({"kind": "gift", "amount": "1", "reason": "x"}, "kind"),
        ({"code": "NOSUCH"}, "code"),
        ({"percent": "5", "reason": "y" * 61}, "reason"),
    ],
)
def test_what_is_wrong_is_named_and_nothing_is_given(desk: Desk, typed: dict[str, Any], where: str) -> None:
    number = party(desk)
    with pytest.raises(Refused) as refused:
        give(desk, number, None, **typed)
    assert (refused.value.where, desk.whole(number).given) == (where, [])


def test_what_somebody_has_paid_stays_whatever_is_given_later(desk: Desk) -> None:
    number = party(desk)
    for line, guest in zip(desk.whole(number).standing, "AB", strict=True):
        ticket_lines.give_line(desk.house, desk.tamsin, desk.on(number), line.id, (guest,))
    sharing.by_seat(desk.house, desk.tamsin, desk.on(number))
    first, second = desk.whole(number).payers
    tenders.take_cash(desk.house, desk.tamsin, desk.on(number), first.id, tenders.Sum(1580), 1580)
    with pytest.raises(Refused):
        give(desk, number, desk.whole(number).standing[0].id, preset="regular")
    give(desk, number, desk.whole(number).standing[1].id, preset="waited")
    assert desk.whole(number).payer_bill(second.id).account.due == 0
    assert desk.whole(number).payer_bill(first.id).account.paid == 1580


def test_a_price_is_overtyped_only_where_it_may_be(desk: Desk) -> None:
    number = party(desk, "lemon-posset")
    line = desk.whole(number).standing[0]
    with refuses("fixed price, or a price of nothing"):
        adjustments.set_price(desk.house, desk.tamsin, desk.on(number), line.id, 100)
    adjustments.set_price(desk.house, replace(desk.tamsin, lender=desk.boss.staff), desk.on(number), line.id, 100)
    adjustments.set_price(desk.house, desk.boss, desk.on(number), line.id, line.unit_price)
    ticket_lines.add_line(desk.house, desk.tamsin, OnTicket(number, None, desk.key()), Picked("drysuit-fitting"))
    fitting = desk.whole(number).standing[1]
    with refuses("fixed price, or a price of nothing"):
        adjustments.set_price(desk.house, desk.tamsin, desk.on(number), fitting.id, 0)
    adjustments.set_price(desk.house, desk.tamsin, desk.on(number), fitting.id, 2350)
    assert desk.whole(number).bill.total == line.unit_price + 2350


def test_a_ticket_goes_to_another_server(desk: Desk) -> None:
    number = party(desk)
    moving.hand_to(desk.house, desk.tamsin, desk.on(number), "jory")
    whole = desk.whole(number)
    assert (whole.head.staff, {line.staff for line in whole.standing}) == ("jory", {"tamsin"})


@pytest.mark.parametrize("seed", range(10))
def test_whatever_is_given_the_books_agree(desk: Desk, seed: int) -> None:
    """Random discounts, comps and surcharges, some taken off again; what is paid is what the books say."""
    chance = random.Random(seed)
    number = party(desk, "clam-and-leek-pot", "lemon-posset", "bottle-of-cider", "still-water-bottle")
    for _ in range(chance.randint(1, 6)):
        line = chance.choice([None, *(line.id for line in desk.whole(number).standing)])
        figures: list[dict[str, Any]] = [
            {"percent": str(chance.randint(1, 100))},
            {"amount": f"{chance.randint(1, 9)}.35"},
        ]
        kind = chance.choice(["discount", "discount", "surcharge", "comp"])
        give(desk, number, line, kind=kind, reason=chance.choice(["late", "spilt"]), **chance.choice(figures))
        if desk.whole(number).given and chance.random() < 0.3:
            one = chance.choice(desk.whole(number).given)
            adjustments.take_off(desk.house, desk.tamsin, desk.on(number), one.id)
    bill = desk.whole(number).bill
    assert bill.net == sum(line.net for line in bill.lines) and all(line.net >= 0 for line in bill.lines)
    assert bill.total == bill.net + sum(amount for _, amount in bill.charges)
    pay(desk, number)
    in_balance(desk)


def test_everybody_gives_a_discount_up_to_the_percent_of_the_house(desk: Desk) -> None:
    number = party(desk)
    pot, posset = (line.id for line in desk.whole(number).standing)
    settings.put(desk.house.connection, free_discount="10")
    desk.house.forget()

    def tamsin_gives(line: int, percent: str = "", amount: str = "") -> None:
        give(desk, number, line, actor=desk.tamsin, reason="he waited", percent=percent, amount=amount)

    for percent, amount in (("10.01", ""), ("", "0.01"), ("100", "")):  # an amount would stay when pieces come off
        with refuses("supervisor"):
            tamsin_gives(pot, percent, amount)
    tamsin_gives(pot, "10")
    with refuses("supervisor"):
        tamsin_gives(pot, "1")
    tamsin_gives(posset, "2.5")
    give(desk, number, pot, actor=desk.tamsin, preset="regular")
    pay(desk, number)
    accounts = {account for account in balances(desk.house.connection) if "discounts" in account}
    assert accounts == {"income:discounts:other", "income:discounts:regular-10"}, "what is typed names no account"
    in_balance(desk)


def test_presets_and_notes_stand_where_they_fit(desk: Desk) -> None:
    number = party(desk, "lemon-posset", "tide-tables")
    food, print_ = desk.whole(number).standing
    named = [{preset.id for preset in adjustments.offers(desk.house, one)} for one in (food, print_, None)]
    assert ["gluten-free" in ids for ids in named] == [True, False, False]
    with pytest.raises(NotFound):  # nor by its form
        give(desk, number, print_.id, preset="gluten-free")
    notes = [pick_page(desk.house, desk.tamsin, Sought("", "", item)).notes for item in ("lemon-posset", "tide-tables")]
    assert ["well done" in found for found in notes] == [True, False]
