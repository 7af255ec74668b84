"""Two records of one person: as one they have everything of both, as two again each what they had."""

from __future__ import annotations

import pytest

from abrazo.core.errors import Code, Refused
from abrazo.desk.doors import bookings
from abrazo.desk.overview import merging
from abrazo.desk.overview.person import PastVisit, person_sheet
from abrazo.desk.payments import accounts, closing
from abrazo.desk.payments.accounts import Leave
from abrazo.desk.people import people
from abrazo.desk.people.people import find_people, known
from abrazo.desk.tickets import customer, ticket_lines
from abrazo.desk.tickets.change import OnTicket
from abrazo.store import stored_value
from abrazo.store import ticket as ticket_store
from tests.desk.books import holds
from tests.desk.conftest import Desk
from tests.desk.doors.test_booking_changes import booked
from tests.desk.doors.test_job_changes import dropped
from tests.desk.test_both_houses import pay, sale


def two(desk: Desk) -> tuple[int, int]:
    one = people.add_person(desk.house, desk.tamsin, {"name": "Zephyrine Quill", "notes": "left-handed"}, desk.key())
    facts = {"name": "Zef Quill", "phone": "020 910 0166", "email": "zef@quill.example", "notes": "boots 36"}
    return one, people.add_person(desk.house, desk.tamsin, facts, desk.key())


def bought(desk: Desk, who: int, items: int = 1) -> int:
    number = sale(desk, [desk.of.goods] * items)
    customer.set_person(desk.house, desk.tamsin, desk.on(number), who)
    pay(desk, number)
    return number


def _booked(desk: Desk, who: int) -> int:
    return booked(desk, person=who)


def _dropped(desk: Desk, who: int) -> int:
    return dropped(desk, person=who)


def points(desk: Desk, *several: int) -> list[int]:
    return [stored_value.points_of(desk.house.connection, one) for one in several]


def refused(code: Code, desk: Desk, gone: int, stays: int) -> None:
    with pytest.raises(Refused) as refusal:
        merging.merge(desk.house, desk.tamsin, gone, stays, desk.key())
    assert (refusal.value.code, refusal.value.where) == (code, "merge")


def test_as_one_and_as_two_again(desk: Desk) -> None:
    stays, gone = two(desk)
    bought(desk, stays)
    bought(desk, gone, 3)
    one, job = booked(desk, person=gone), dropped(desk, person=gone)
    before = [person_sheet(desk.house, who) for who in (stays, gone)]
    had = points(desk, stays, gone)
    key = desk.key()
    for _ in range(2):
        merging.merge(desk.house, desk.tamsin, gone, stays, key)
    whole = person_sheet(desk.house, stays)
    assert points(desk, stays, gone) == [sum(had), 0]
    assert (len(whole.history), len(whole.coming), len(whole.jobs)) == (3, 1, 1)
    assert (whole.person.phone, whole.person.email) == (known(desk.house, gone).phone, "zef@quill.example")
    assert whole.person.notes == "left-handed; boots 36"
    assert [found.id for found in find_people(desk.house, "quill")] == [stays]
    assert people.recognised(desk.house, "", "020 910 0166") == known(desk.house, stays)
    assert (bookings.read_booking(desk.house, one).person, job > 0) == (stays, True)
    holds(desk)
    for begin in (bought, _booked, _dropped):
        with pytest.raises(Refused) as refusal:
            begin(desk, gone)
        assert refusal.value.code is Code.NOT_THEMSELVES
    for number in ticket_store.list_open(desk.house.connection):
        ticket_lines.remove_line(desk.house, desk.tamsin, desk.on(number), desk.whole(number).standing[0].id)
        closing.free_table(desk.house, desk.tamsin, OnTicket(number, None, desk.key()))
    later = bought(desk, stays)
    people.change_person(desk.house, desk.tamsin, stays, {"name": "Zephyrine Quill-Moe", "notes": whole.person.notes,
                         "phone": "020 910 0166", "email": "zef@quill.example"})  # fmt: skip
    (merge,) = merging.merged(desk.house, stays)
    key = desk.key()
    assert {merging.part(desk.house, desk.tamsin, merge[0].id, key) for _ in range(2)} == {gone}
    after = [person_sheet(desk.house, who) for who in (stays, gone)]
    assert after[1] == before[1]
    assert (after[0].person.name, after[0].person.phone, after[0].person.notes) == (
        "Zephyrine Quill-Moe", None, "left-handed",
    )  # fmt: skip
    assert later in {one.ticket for one in after[0].history if isinstance(one, PastVisit)}
    assert len(after[0].history) == len(before[0].history) + 1
    assert {found.id for found in find_people(desk.house, "quill")} == {stays, gone}
    holds(desk)


def test_who_cannot_be_merged(desk: Desk) -> None:
    stays, gone = two(desk)
    refused(Code.NOT_MERGED, desk, stays, stays)
    company = people.add_person(desk.house, desk.tamsin, {"name": "Quill & Co", "company": "yes"}, desk.key())
    refused(Code.MERGE_COMPANY, desk, company, stays)
    number = sale(desk, [desk.of.food])
    customer.set_person(desk.house, desk.tamsin, desk.on(number), gone)
    refused(Code.MERGE_OPEN, desk, gone, stays)
    refused(Code.MERGE_OPEN, desk, stays, gone)
    facts = {"name": "Zef Quill", "phone": "020 910 0166", "account": "yes"}
    people.change_person(desk.house, desk.tamsin, gone, facts)
    payer, due = desk.whole(number).payers[0].id, desk.whole(number).bill.due
    accounts.put_on_account(desk.house, desk.tamsin, desk.on(number), payer, Leave(due))
    closing.free_table(desk.house, desk.tamsin, OnTicket(number, None, desk.key()))
    refused(Code.MERGE_ACCOUNT, desk, gone, stays)
    merging.merge(desk.house, desk.tamsin, stays, gone, desk.key())  # the one that owes may stay
    refused(Code.NOT_MERGED, desk, stays, company)
    assert accounts.owed_by(desk.house, known(desk.house, gone)) == due
    holds(desk)
