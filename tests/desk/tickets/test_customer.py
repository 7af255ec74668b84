"""Whose a ticket is, who is here too, what is sold to nobody in particular, and deposits that stay with the house."""

from __future__ import annotations

import pytest

from abrazo.core.errors import Refused
from abrazo.desk.context import Actor
from abrazo.desk.doors import jobs
from abrazo.desk.output.views.report import day_report
from abrazo.desk.overview.person import facts_with, here_too
from abrazo.desk.payments import accounts, deposits
from abrazo.desk.people import people
from abrazo.desk.setup import house_settings
from abrazo.desk.tickets import anonymous_accounts, customer, starting
from abrazo.desk.tickets.naming import place_of
from abrazo.formats.day_report import day_report_text
from tests.desk.conftest import Desk
from tests.desk.scenes import dropped, lent, pay, person, thing, wren
from tests.desk.tickets.test_change import add
from tests.refusals import refuses


def odile(desk: Desk) -> Actor:
    return Actor(desk.house.staff()["odile"], desk.house.tills()["galley"])


def test_a_person_comes_onto_a_ticket_and_stays_while_their_account_pays(desk: Desk) -> None:
    who = people.add_person(desk.house, wren(desk), {"name": "Theo Brandvold", "account": "yes"}, desk.key())
    other = person(desk, "Petra Moe")
    number = starting.open_counter(desk.house, desk.tamsin, desk.key())
    add(desk, number, "lemon-posset")
    act = (desk.house, desk.tamsin)
    assert place_of(desk.house, desk.whole(number)) == "Counter sale"
    customer.set_person(*act, desk.on(number), who)
    assert place_of(desk.house, desk.whole(number)) == "Theo Brandvold"
    whole = desk.whole(number)
    accounts.put_on_account(*act, desk.on(number), whole.payers[0].id, accounts.Leave(620))
    for somebody in (other, 0):
        with refuses("has paid by account"):
            customer.set_person(*act, desk.on(number), somebody)
    facts = facts_with(desk.house, who)
    assert facts is not None
    assert (facts.owes, facts.last, facts.birthday) == (620, "", False)


def test_somebody_new_is_written_down_with_the_ticket_in_one_act(desk: Desk) -> None:
    number = starting.seat(desk.house, desk.tamsin, "G2", 2, desk.key())
    act, before = (desk.house, desk.tamsin), len(people.find_people(desk.house, "Ebele"))
    with pytest.raises(Refused) as refused:
        customer.set_new_person(*act, desk.on(number), {"name": "Ebele", "phone": "12"})
    assert (refused.value.where, len(people.find_people(desk.house, "Ebele"))) == ("phone", before)
    key = desk.key()
    for _ in range(2):
        customer.set_new_person(*act, desk.on(number, key), {"name": "Ebele", "phone": "020 910 0777"})
    found = people.find_people(desk.house, "Ebele")
    assert [one.id for one in found] == [desk.whole(number).head.person]


def test_the_household_that_is_here_is_told_and_nobody_else(desk: Desk) -> None:
    signe, ivo = person(desk, "Signe Amari", "Amari"), person(desk, "Ivo Amari", "Amari")
    person(desk, "Petra Moe")
    table = starting.seat(desk.house, desk.tamsin, "G2", 2, desk.key())
    customer.set_person(desk.house, desk.tamsin, desk.on(table), ivo)
    visit = customer.open_sale(desk.house, wren(desk), signe, desk.key())
    assert [one.head.id for one in here_too(desk.house, signe, visit)] == [table]
    assert here_too(desk.house, None, visit) == []


def test_sales_without_a_customer_are_reported_apart(desk: Desk) -> None:
    with refuses("supervisor"):
        house_settings.decide(desk.house, desk.tamsin, "sold_from", "Counter")
    for bad in ("a;a", ";".join("abcdefghi"), "x" * 31):
        with pytest.raises(Refused) as refused:
            house_settings.decide(desk.house, odile(desk), "sold_from", bad)
        assert refused.value.where == "sold_from"
    house_settings.decide(desk.house, odile(desk), "sold_from", "Counter; Hatch window")
    with refuses("sold from a place of this name"):
        anonymous_accounts.sell_on(desk.house, desk.tamsin, "Elsewhere")
    for account, item in (("", "lemon-posset"), ("Hatch window", "apple-juice")):
        number = starting.open_counter(desk.house, desk.tamsin, desk.key())
        if account:  # chosen after the sale was begun: it goes along, as nothing is paid
            anonymous_accounts.sell_on(desk.house, desk.tamsin, account)
        add(desk, number, item)
        assert desk.whole(number).head.anonymous_account == (account or "Counter")
        pay(desk, number)
    report = day_report_text(day_report(desk.house, desk.house.day().id))
    assert "Counter sales apart" in report
    assert "1 x Counter" in report and "1 x Hatch window" in report
    booked = customer.open_sale(desk.house, desk.tamsin, person(desk), desk.key())
    assert desk.whole(booked).head.anonymous_account == ""


def test_a_deposit_stays_with_the_house_by_its_terms(desk: Desk) -> None:
    job, _ = dropped(desk, person(desk), 2000)
    borrowed = lent(desk, wren(desk))
    for reason, actor, where in (("", borrowed, "reason"), ("never came", wren(desk), "pin")):
        with pytest.raises(Refused) as refused:
            deposits.keep(desk.house, actor, thing(desk, job), reason, desk.key())
        assert refused.value.where == where
    key = desk.key()
    for _ in range(2):
        assert deposits.keep(desk.house, borrowed, thing(desk, job), "ordered to measure, called off", key) == 2000
    assert (desk.balance("liabilities:deposits"), desk.balance("")) == (0, 0)
    assert desk.balance("income:deposits-kept") == -2000
    with refuses("Nothing is left"):
        deposits.keep(desk.house, borrowed, thing(desk, job), "again", desk.key())
    number = jobs.settle(desk.house, wren(desk), [job], desk.key())
    assert desk.whole(number).bill.due == 4200  # what was kept is on no bill
