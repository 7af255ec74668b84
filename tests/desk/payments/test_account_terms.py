"""Accounts of companies: members, limits, references; reminders in steps; what is written off with its tax."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, timedelta

import pytest

from abrazo.core.errors import Code, Refused
from abrazo.desk.output import reminders
from abrazo.desk.overview.soundness import soundness
from abrazo.desk.payments import account_terms, accounts, closing, statements
from abrazo.desk.payments.account_terms import GivenUp
from abrazo.desk.payments.accounts import Leave
from abrazo.desk.people import people
from abrazo.desk.people.people import known
from abrazo.desk.setup import house_settings
from abrazo.desk.tickets import customer
from tests.desk.books import holds
from tests.desk.conftest import Desk
from tests.desk.scenes import lent, person, wren
from tests.desk.test_both_houses import sale
from tests.desk.tickets.test_benefits import sale_for
from tests.desk.tickets.test_series import close_all, pick
from tests.refusals import refuses


def company(desk: Desk) -> int:
    return person(desk, "Saltpan Rowers", company="yes")


def left(desk: Desk, who: int, leave: Leave, item: str = "roll-clinic") -> int:
    """A sale of 64.00 that is left unpaid; gives its payment."""
    number = sale_for(desk, who)
    pick(desk, number, item)
    payer = desk.whole(number).payers[0].id
    made = accounts.put_on_account(desk.house, wren(desk), desk.on(number), payer, leave)
    closing.free_table(desk.house, wren(desk), desk.on(number))
    return made


def owes(desk: Desk, who: int) -> int:
    return accounts.owed_by(desk.house, known(desk.house, who))


def test_a_member_puts_it_on_the_companys_account(desk: Desk) -> None:
    rowers, ada, eve = company(desk), person(desk, "Ada Moe"), person(desk, "Eve Moe")
    with refuses("Ada Moe"):
        left(desk, ada, Leave(6400))
    with refuses("set"):
        account_terms.set_member(desk.house, wren(desk), rowers, ada, None)
    for who, limit in ((ada, 10000), (eve, None)):
        account_terms.set_member(desk.house, desk.boss, rowers, who, limit)
    account_terms.set_terms(desk.house, desk.boss, rowers, 30000, reference=True)
    with refuses("Saltpan Rowers wants a purchase reference for this."):
        left(desk, ada, Leave(6400))
    left(desk, ada, Leave(6400, rowers, "PO 17"))
    assert (owes(desk, rowers), owes(desk, ada)) == (6400, 0)
    assert [(one.person.name, one.owes) for one in account_terms.members(desk.house, known(desk.house, rowers))] == [
        ("Ada Moe", 6400), ("Eve Moe", 0),
    ]  # fmt: skip
    (invoice,) = accounts.open_invoices(desk.house, known(desk.house, rowers))
    assert (invoice.person, invoice.left) == (rowers, 6400)
    with refuses("That is €28.00 above what may be owed on the account of Saltpan Rowers"):
        left(desk, ada, Leave(6400, reference="PO 18"))  # her own part
    for _ in range(3):
        left(desk, eve, Leave(6400, reference="PO 19"))
    with refuses("That is €20.00 above"):  # the company's whole
        left(desk, eve, Leave(6400, reference="PO 20"))
    number = sale_for(desk, eve)
    pick(desk, number, "roll-clinic")
    payer = desk.whole(number).payers[0].id
    leave = Leave(6400, rowers, "PO 21")
    accounts.put_on_account(desk.house, lent(desk, wren(desk)), desk.on(number), payer, leave)
    assert owes(desk, rowers) == 32000
    account_terms.end_member(desk.house, desk.boss, rowers, ada)
    with refuses("Ada Moe"):
        left(desk, ada, Leave(6400, reference="PO 22"))
    closing.free_table(desk.house, wren(desk), desk.on(number))
    holds(desk)
    assert soundness(desk.house) == []


def test_what_is_written_off_takes_its_tax_along(desk: Desk) -> None:
    who = company(desk)
    made = left(desk, who, Leave(6400))
    for part, code in ((0, Code.NO_AMOUNT), (6401, Code.ABOVE_INVOICE)):
        with pytest.raises(Refused) as refusal:
            account_terms.write_off(desk.house, desk.boss, who, made, GivenUp(part, "bankrupt"), desk.key())
        assert refusal.value.code is code
    with refuses("A supervisor writes off"):
        account_terms.write_off(desk.house, wren(desk), who, made, GivenUp(None, "bankrupt"), desk.key())
    before = -desk.balance("liabilities:tax:")
    key = desk.key()
    for _ in range(2):  # pressed twice
        account_terms.write_off(desk.house, desk.boss, who, made, GivenUp(1000, "bankrupt"), key)
    assert owes(desk, who) == 5400
    assert before + desk.balance("liabilities:tax:") == 167  # a part of 10.67
    account_terms.write_off(desk.house, lent(desk, wren(desk)), who, made, GivenUp(None, "bankrupt"), desk.key())
    assert owes(desk, who) == 0 == desk.balance("liabilities:tax:")
    assert desk.balance("expenses:bad-debts") == 6400 - 1067
    told = statements.statement_of(desk.house, who, date(2026, 6, 13), date(2026, 6, 13))
    assert (told.opening, told.closing) == (0, 0)
    assert accounts.open_invoices(desk.house, known(desk.house, who)) == []
    holds(desk)
    close_all(desk)
    holds(desk)
    assert soundness(desk.house) == []


def test_taxes_that_are_added_go_too(both: Desk) -> None:
    """In both houses the report agrees after a part was written off."""
    number = sale(both, [both.of.goods, both.of.food])
    whole = both.whole(number)
    who = people.add_person(both.house, both.tamsin, {"name": "Works", "phone": "", "company": "yes"}, both.key())
    customer.set_person(both.house, both.tamsin, both.on(number), who)
    due = both.whole(number).bill.due
    made = accounts.put_on_account(both.house, both.tamsin, both.on(number), whole.payers[0].id, Leave(due))
    closing.free_table(both.house, both.tamsin, both.on(number))
    account_terms.write_off(both.house, both.boss, who, made, GivenUp(due // 3, "never came"), both.key())
    account_terms.write_off(both.house, both.boss, who, made, GivenUp(None, "never came"), both.key())
    assert both.balance("liabilities:tax:") == 0 == owes(both, who)
    holds(both)


def test_a_reminder_goes_out_by_mail(desk: Desk) -> None:
    who = company(desk)
    left(desk, who, Leave(6400))
    with refuses("No reminder is due for Saltpan Rowers today."):
        reminders.remind(desk.house, wren(desk), who, desk.key())
    desk.clock.time += timedelta(days=14)
    with refuses("Saltpan Rowers has no e-mail address"):
        reminders.remind(desk.house, wren(desk), who, desk.key())
    people.keep_email(desk.house, known(desk.house, who), "boats@saltpan.example")
    for step, days in ((1, 14), (2, 14), (3, 0)):
        key = desk.key()
        for _ in range(2):
            reminders.remind(desk.house, wren(desk), who, key)
        mail = desk.house.devices.post.mails()[-1]
        assert f"Reminder {step}, Marram Boathouse" in mail and "64.00" in mail
        desk.clock.time += timedelta(days=days)
    with refuses("No reminder is due"):
        reminders.remind(desk.house, wren(desk), who, desk.key())
    for wrong in ("7 7", "soon", "9 3", "1 2 3 4 5 6"):
        with refuses("Whole days with blanks between"):
            house_settings.decide(desk.house, desk.boss, "reminder_days", wrong)
    house_settings.decide(desk.house, desk.boss, "reminder_days", " 3; 10 ")
    assert replace(desk.house, memo=None).settings.reminder_days == "3 10"
