"""What is held of a person is written out whole, and erased so that nothing of them is left but figures and invoices."""

from __future__ import annotations

import json
from datetime import timedelta

import pytest

from abrazo.core.errors import Code, Refused
from abrazo.desk.doors import booking_changes, bookings, jobs
from abrazo.desk.output import invoices as papers
from abrazo.desk.overview import held, merging
from abrazo.desk.overview.soundness import soundness
from abrazo.desk.payments import accounts, closing, deposits, invoices
from abrazo.desk.payments.accounts import Leave
from abrazo.desk.people import people
from abrazo.desk.tickets import customer, ticket_lines
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.deposits import of_booking
from abrazo.desk.tickets.ticket_lines import Picked
from abrazo.store import journal
from tests.desk.books import holds
from tests.desk.conftest import Desk
from tests.desk.doors.test_booking_changes import booked, left_a_deposit, terms
from tests.desk.test_both_houses import pay, sale

NAME, MAIL, PHONE, NOTE = "Zephyrine Quillfeather", "zephyrine@quill.example", "020 910 0166", "likes window seats"


def lived(desk: Desk) -> int:
    """Somebody who bought, booked, left a job, put a sum on their account and paid it, and got mail."""
    facts = {"name": NAME, "email": MAIL, "phone": PHONE, "notes": NOTE, "account": "yes", "birthday": "1987-04-30"}
    who = people.add_person(desk.house, desk.tamsin, facts, desk.key())
    number = sale(desk, [desk.of.food])
    customer.set_person(desk.house, desk.tamsin, desk.on(number), who)
    noted = Picked(desk.of.goods, note=f"for {NAME}")
    ticket_lines.add_line(desk.house, desk.tamsin, OnTicket(number, None, desk.key()), noted)
    payer, due = desk.whole(number).payers[0].id, desk.whole(number).bill.due
    accounts.put_on_account(desk.house, desk.tamsin, desk.on(number), payer, Leave(due))
    closing.free_table(desk.house, desk.tamsin, OnTicket(number, None, desk.key()))
    papers.mail_invoice(desk.house, desk.tamsin, invoices.of_ticket(desk.house, number)[0], MAIL, desk.key())
    pay(desk, accounts.receive(desk.house, desk.tamsin, who, due, desk.key()))
    return who


def rows_that_name(desk: Desk, *texts: str) -> set[str]:
    """The tables in which one of these texts stands anywhere."""
    tables = [row[0] for row in desk.house.connection.execute("SELECT name FROM sqlite_schema WHERE type = 'table'")]
    found = set()
    for table in tables:
        for row in desk.house.connection.execute(f'SELECT * FROM "{table}"'):
            said = " ".join(str(one) for one in row).lower()
            if any(text.lower() in said for text in texts):
                found.add(table)
    return found


def test_all_that_is_held_is_written_out(desk: Desk) -> None:
    who = lived(desk)
    with pytest.raises(Refused) as refusal:
        held.write_out(desk.house, desk.tamsin, who)
    assert refusal.value.code is Code.RIGHT_MOVE_FILES
    found = json.loads(held.write_out(desk.house, desk.boss, who))
    assert found["person"][0]["name"] == NAME and found["currency"] == "EUR"
    assert [row["tender"] for row in found["payments"]] == ["account", "cash"]
    assert found["lines"][1]["note"] == f"for {NAME}"
    assert found["messages"][0]["recipient"] == MAIL
    assert found["invoices"][0]["document"]["buyer"]["name"] == NAME
    assert {row["text"] for row in found["journal"]} >= {NAME, MAIL}


def test_nothing_of_them_is_left_but_figures_and_invoices(desk: Desk) -> None:
    who = lived(desk)
    before = {account: amount for account, amount in journal.balances(desk.house.connection).items() if amount}
    with pytest.raises(Refused) as refusal:
        held.erase(desk.house, desk.tamsin, who, desk.key())
    assert refusal.value.code is Code.RIGHT_SET_UP
    key = desk.key()
    for _ in range(2):
        held.erase(desk.house, desk.boss, who, key)
    assert rows_that_name(desk, NAME, "quillfeather", MAIL, "0209100166", "209100166", NOTE, "1987-04-30") == {
        "invoice"
    }
    after = {account: amount for account, amount in journal.balances(desk.house.connection).items() if amount}
    assert after == before and soundness(desk.house) == []
    assert people.find_people(desk.house, "quillfeather") == []
    assert people.known(desk.house, who).name == f"Erased {who}"
    holds(desk)


def test_what_was_merged_goes_along(desk: Desk) -> None:
    who = lived(desk)
    twin = people.add_person(desk.house, desk.tamsin, {"name": "Zef Quillfeather", "phone": "020 910 0167"}, desk.key())
    merging.merge(desk.house, desk.tamsin, twin, who, desk.key())
    assert json.loads(held.write_out(desk.house, desk.boss, who))["merged"][0]["name"] == "Zef Quillfeather"
    held.erase(desk.house, desk.boss, who, desk.key())
    assert rows_that_name(desk, "quillfeather", "9100166", "9100167") == {"invoice"}
    assert merging.merged(desk.house, who) == []


def test_who_still_has_something_with_the_house_stays(desk: Desk) -> None:
    who = lived(desk)
    terms(desk)

    def why() -> str:
        with pytest.raises(Refused) as refusal:
            held.erase(desk.house, desk.boss, who, desk.key())
        assert refusal.value.code is Code.NOT_ERASED
        return str(refusal.value.facts["reasons"])

    one = booked(desk, person=who)
    left_a_deposit(desk, one)
    said = why()
    assert "A visit is booked for" in said and "deposit of €20.00" in said
    booking_changes.cancel(desk.house, desk.tamsin, one, "ill", desk.key())
    assert why() == "A deposit of €20.00 is held."
    deposits.give_back(
        desk.house, desk.tamsin, of_booking(desk.house, bookings.read_booking(desk.house, one)), desk.key()
    )
    day = (desk.clock.time + timedelta(days=2)).date().isoformat()
    drop = jobs.DropOff(who, "Red boat", ((desk.of.task, "1", ""),), day, "17:00")
    job, visit = jobs.drop_off(desk.house, desk.tamsin, drop, None, desk.key())
    closing.free_table(desk.house, desk.tamsin, desk.on(visit))
    assert why() == f"Job {jobs.read_job(desk.house, job).name} is here."
    pay(desk, jobs.settle(desk.house, desk.tamsin, [job], desk.key()))
    jobs.hand_out(desk.house, desk.tamsin, job, None, "", desk.key())
    number = sale(desk, [desk.of.food])
    customer.set_person(desk.house, desk.tamsin, desk.on(number), who)
    assert why() == f"Ticket {desk.whole(number).head.number} is open."
    payer, due = desk.whole(number).payers[0].id, desk.whole(number).bill.due
    accounts.put_on_account(desk.house, desk.tamsin, desk.on(number), payer, Leave(due))
    closing.free_table(desk.house, desk.tamsin, OnTicket(number, None, desk.key()))
    assert why() == "The account is not even."
    pay(desk, accounts.receive(desk.house, desk.tamsin, who, due, desk.key()))
    held.erase(desk.house, desk.boss, who, desk.key())
    assert bookings.read_booking(desk.house, one).name == f"Erased {who}"
    assert rows_that_name(desk, "quillfeather") == {"invoice"}
