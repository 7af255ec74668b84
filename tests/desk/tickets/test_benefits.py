"""Benefits apply by themselves, say why, follow whose a line is, and can be kept for another day."""

from __future__ import annotations

from datetime import timedelta

import pytest

from abrazo.core.errors import Refused
from abrazo.core.journal import Kind
from abrazo.core.states import Source
from abrazo.desk.context import Actor, NotFound
from abrazo.desk.doors import bookings, jobs
from abrazo.desk.output.views.receipt import receipt_of
from abrazo.desk.payments import closing, reopening
from abrazo.desk.people import people
from abrazo.desk.tickets import adjustments, benefits, customer, memberships, starting, ticket_lines
from abrazo.desk.tickets.benefits import applying
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.starting import TicketOrigin
from abrazo.desk.tickets.ticket_lines import Picked
from abrazo.formats.receipt_text import receipt_text
from abrazo.store import journal
from tests.desk.conftest import Desk
from tests.desk.scenes import booked, dropped, pay, person, wren
from tests.refusals import refuses


def member(desk: Desk, name: str = "Marguerite Oyelaran", household: str = "") -> int:
    who = person(desk, name, household)
    memberships.give_membership(desk.house, desk.boss, who, "tidekeeper", "2027-04-30", desk.key())
    return who


def sale_for(desk: Desk, who: int) -> int:
    """A counter sale for somebody."""
    beginning = starting.Beginning(Kind.COUNTER_SALE)
    return starting.open_ticket(desk.house, wren(desk), TicketOrigin(Source.COUNTER, who, "M"), beginning, desk.key())


def nets(desk: Desk, number: int) -> dict[str, int]:
    whole = desk.whole(number)
    by_id = {bill.id: bill.net for bill in whole.bill.lines}
    return {line.label: by_id[str(line.id)] for line in whole.standing}


def test_a_session_is_cheaper_by_itself_and_the_household_pays_in_full(desk: Desk) -> None:
    member(desk, "Marguerite Oyelaran", "Oyelaran")
    person(desk, "Tunde Oyelaran", "Oyelaran")
    first = booked(desk, "Marguerite Oyelaran", "Skiff lesson", "52.00")
    other = booked(desk, "Tunde Oyelaran", "First paddle", "48.00", minutes=-200)
    number = bookings.check_out(desk.house, wren(desk), [first, other], desk.key())
    assert nets(desk, number) == {"Skiff lesson": 4576, "First paddle": 4800}
    ticket_lines.add_line(desk.house, wren(desk), OnTicket(number, None, desk.key()), Picked("sun-hat"))
    assert nets(desk, number)["Sun hat"] == 2200
    shown = applying(desk.house, desk.whole(number))
    assert [(one.name, one.whose, one.off) for one in shown] == [
        ("Tidekeeper: 12 % off sessions", "Marguerite Oyelaran", 624)
    ]
    pay(desk, number)
    books = journal.balances(desk.house.connection)
    assert books["income:benefits:tidekeeper-12-off-sessions"] == 624


def test_the_free_check_of_the_year_is_used_once_and_can_be_kept(desk: Desk) -> None:
    who = member(desk)

    def settled(keep: bool = False) -> int:
        job, _ = dropped(desk, who, tasks="pressure-test:1")
        jobs.mark(desk.house, wren(desk), job, "ready", desk.key())
        number = jobs.settle(desk.house, wren(desk), [job], desk.key())
        if keep:
            act = (desk.house, wren(desk))
            adjustments.keep_benefit(*act, desk.on(number), "tidekeeper-check", another_day=True)
            assert [one.kept for one in applying(desk.house, desk.whole(number))] == [True]
        total = desk.whole(number).bill.total
        pay(desk, number)
        return total

    assert settled(keep=True) == 1400  # kept for another day
    assert settled() == 0  # used
    assert settled() == 1400  # once a year
    desk.clock.on(int(timedelta(days=366).total_seconds()))
    assert settled() == 1400  # and the membership has ended


def test_a_void_gives_the_benefit_of_the_year_back(desk: Desk) -> None:
    who = member(desk)
    number = sale_for(desk, who)
    ticket_lines.add_line(desk.house, wren(desk), OnTicket(number, None, desk.key()), Picked("pressure-test", "2"))
    assert nets(desk, number) == {"Pressure test": 1400}  # one of two is free
    pay(desk, number)
    odile = Actor(desk.house.staff()["odile"], desk.house.tills()["landing"])
    reopening.void(desk.house, odile, OnTicket(number, None, desk.key()), "by mistake")
    again = sale_for(desk, who)
    ticket_lines.add_line(desk.house, wren(desk), OnTicket(again, None, desk.key()), Picked("pressure-test"))
    assert nets(desk, again) == {"Pressure test": 0}


def test_what_is_paid_is_not_changed_by_a_benefit(desk: Desk) -> None:
    who = member(desk)
    number = sale_for(desk, who)
    ticket_lines.add_line(desk.house, wren(desk), OnTicket(number, None, desk.key()), Picked("first-paddle"))
    assert nets(desk, number) == {"First paddle": 4224}
    whole = desk.whole(number)
    adjustments.take_off(desk.house, wren(desk), OnTicket(number, whole.head.version), whole.given[0].id)
    assert nets(desk, number) == {"First paddle": 4800}  # taking it off keeps it for another day
    act = (desk.house, wren(desk))
    adjustments.keep_benefit(*act, desk.on(number), "tidekeeper-sessions", another_day=False)
    assert nets(desk, number) == {"First paddle": 4224}
    pay(desk, number, close=False)
    with refuses("paid already"):
        adjustments.keep_benefit(*act, desk.on(number), "tidekeeper-sessions", another_day=True)
    memberships.end_membership(desk.house, desk.boss, who, 1)
    closing.free_table(*act, desk.on(number))
    assert nets(desk, number) == {"First paddle": 4224}


@pytest.mark.parametrize("until", ["", "soon", "2026-06-12", "2027-02-30", "9999-01-01"])
def test_a_membership_needs_a_day(desk: Desk, until: str) -> None:
    who = people.add_person(desk.house, desk.tamsin, {"name": "Ro"}, desk.key())
    with pytest.raises(Refused) as refused:
        memberships.give_membership(desk.house, desk.boss, who, "tidekeeper", until, desk.key())
    assert refused.value.where == "until"
    assert benefits.memberships(desk.house, who) == []


def test_what_is_for_the_member_of_the_household_is_less(desk: Desk) -> None:
    """The ticket is one's, the line another's: whose the line is decides, until the customer is somebody else."""
    house, act = desk.house, (desk.house, wren(desk))
    who = member(desk, "Marguerite Oyelaran", "Oyelaran")
    payer = person(desk, "Tunde Oyelaran", "Oyelaran")
    stranger = person(desk, "Petra Moe")
    number = sale_for(desk, payer)
    for _ in range(2):
        ticket_lines.add_line(*act, OnTicket(number, None, desk.key()), Picked("skiff-lesson"))
    first, second = (line.id for line in desk.whole(number).standing)
    with pytest.raises(NotFound):
        customer.give_to_member(*act, OnTicket(number, None), first, stranger)
    customer.give_to_member(*act, OnTicket(number, None), first, who)
    owns = {line.id: line.net for line in desk.whole(number).bill.lines}
    assert owns == {str(first): 4576, str(second): 5200}
    whole = desk.whole(number)
    assert "for Marguerite Oyelaran" in receipt_text(receipt_of(house, whole, whole.payers[0].id)).replace("\n", " ")
    customer.give_to_member(*act, OnTicket(number, None), first, 0)
    assert desk.whole(number).bill.due == 10400
    customer.give_to_member(*act, OnTicket(number, None), first, who)
    customer.set_person(*act, OnTicket(number, None), stranger)
    assert ([line.member for line in desk.whole(number).lines], desk.whole(number).bill.due) == ([None, None], 10400)
