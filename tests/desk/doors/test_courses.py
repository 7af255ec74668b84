"""Courses: planned and changed, places booked, sold, moved, given up; never more than there are."""

from __future__ import annotations

import csv
import io
import random
from dataclasses import replace
from datetime import timedelta

import pytest

from abrazo.core.errors import Code, Refused
from abrazo.core.states import BookingState
from abrazo.desk.doors import booking_changes, bookings, calendars, courses
from abrazo.desk.doors.courses import CoursePlan, Joining
from abrazo.desk.doors.views.bookings import all_visits, bookings_day, read_visit
from abrazo.desk.doors.views.calendar import events_of
from abrazo.desk.doors.views.courses import course_list, course_sheet, dates_of
from abrazo.desk.output.course_papers import participants, print_participants
from abrazo.desk.payments import reopening
from abrazo.desk.tickets import customer, ticket_lines
from abrazo.desk.tickets.change import OnTicket
from abrazo.store import bookings as kept
from tests.desk.books import holds
from tests.desk.conftest import Desk
from tests.desk.doors.test_booking_changes import SERVICE, booked, day, left_a_deposit, refused, somebody, terms, wanted
from tests.desk.test_both_houses import in_balance, pay


def planned(desk: Desk, time: str = "10:00", days: int = 7, places: str = "2", **facts: str) -> list[int]:
    service, staff = SERVICE[desk.of.till]
    return courses.plan(desk.house, desk.tamsin, replace(CoursePlan(service, staff, day(desk, days), time, places), **facts),
                        desk.key())  # fmt: skip


def joined(desk: Desk, course: int, name: str = "Ada Aldous", party: str = "1") -> int:
    return courses.join(desk.house, desk.tamsin, course, Joining(0, name, party=party), desk.key())


def taken(desk: Desk, course: int) -> int:
    return course_sheet(desk.house, course).given.course.taken


def sold(desk: Desk, course: int, name: str = "") -> int:
    """A place on a sale of somebody known; gives the ticket."""
    number = customer.open_sale(desk.house, desk.tamsin, somebody(desk), desk.key())
    who = Joining(0 if name else somebody(desk), name)
    courses.sell(desk.house, desk.tamsin, OnTicket(number, None, desk.key()), course, who)
    return number


def test_weekly_and_all_or_none(both: Desk) -> None:
    booked(both, "10:00", days=14)
    with pytest.raises(Refused) as refusal:  # in its second week
        planned(both, "10:00", places="8", weeks="3")
    assert refusal.value.code == Code.STAFF_BUSY and not course_list(both.house)
    first = planned(both, "14:00", weeks="3", places="8")
    assert len(first) == 3 and len(course_list(both.house)) == 3
    with pytest.raises(Refused):  # who leads a course is not free
        booked(both, "14:30", days=14)
    refused(Code.STAFF_BUSY, planned, both, "13:30", 21)
    given = bookings_day(both.house, day(both)).courses
    assert [one.course.id for one in given] == first[:1]
    refused(Code.IN_THE_PAST, planned, both, "10:00", -1, where="time")
    refused(Code.NOT_BETWEEN, planned, both, "18:00", 7, "0", where="places")


def test_no_more_come_than_there_are_places(both: Desk) -> None:
    (one,) = planned(both)
    first = joined(both, one)
    refused(Code.COURSE_FULL, joined, both, one, "Bram Brekke", "2", where="party")
    ticket = sold(both, one, "Corin Callow")
    refused(Code.COURSE_FULL, sold, both, one)
    holds(both)
    assert taken(both, one) == 2
    booking_changes.cancel(both.house, both.tamsin, first, "ill", both.key())
    last = joined(both, one, "Bram Brekke")
    refused(Code.COURSE_FULL, booking_changes.bring_back, both.house, both.tamsin, first)
    more = wanted(both, party="2", person=0)
    refused(Code.COURSE_FULL, booking_changes.change, both.house, both.tamsin, last, more, where="party")
    ticket_lines.remove_line(both.house, both.tamsin, both.on(ticket), both.whole(ticket).standing[-1].id)
    assert taken(both, one) == 1  # what the ticket sold is free again
    booking_changes.change(both.house, both.tamsin, last, more)
    assert taken(both, one) == 2
    elsewhere = wanted(both, "16:00", party="2", person=0)
    refused(Code.PLACE_OF_COURSE, booking_changes.change, both.house, both.tamsin, last, elsewhere)


def test_whatever_happens_the_places_are_counted_right(desk: Desk) -> None:
    chance = random.Random(7)
    (one,) = planned(desk, places="6")
    made, tickets = list[int](), list[int]()
    for _ in range(60):
        act = chance.choice(["join", "join", "cancel", "back", "sell", "off", "absent"])
        try:
            if act == "join":
                made.append(joined(desk, one, party=str(chance.randint(1, 3))))
            elif act == "sell":
                tickets.append(sold(desk, one, "Dray Delphine"))
            elif act == "off" and tickets:
                number = tickets.pop()
                line = desk.whole(number).standing[-1].id
                ticket_lines.remove_line(desk.house, desk.tamsin, desk.on(number), line)
            elif made and act in ("cancel", "back", "absent"):
                booking = chance.choice(made)
                if act == "cancel":
                    booking_changes.cancel(desk.house, desk.tamsin, booking, "why", desk.key())
                elif act == "back":
                    booking_changes.bring_back(desk.house, desk.tamsin, booking)
                else:
                    bookings.set_state(desk.house, desk.tamsin, booking, "absent")
        except Refused as refusal:
            assert refusal.code in (Code.COURSE_FULL, Code.BOOKING_OVER)  # noqa: PT017 (either is right)
        standing = [b for b in kept.of_course(desk.house.connection, one) if b.state != BookingState.CANCELLED]
        assert taken(desk, one) == sum(b.party for b in standing) <= 6


def test_it_is_changed_with_its_places(both: Desk) -> None:
    (one,) = planned(both, places="3")
    booking = joined(both, one, party="2")
    service, staff = SERVICE[both.of.till]
    later = CoursePlan(service, staff, day(both, 8), "15:00", "2", "bring towels")
    refused(Code.FEWER_PLACES, courses.change, both.house, both.tamsin, one, replace(later, places="1"), where="places")
    courses.change(both.house, both.tamsin, one, later)
    moved = bookings.read_booking(both.house, booking)
    assert moved.starts_at == f"{day(both, 8)}T15:00:00" and taken(both, one) == 2
    booked(both, "10:00")  # its old time is free
    with pytest.raises(Refused):
        courses.change(both.house, both.tamsin, one, replace(later, date=day(both), time="10:30"))


def test_a_paid_place_goes_to_another_date_or_is_given_up(both: Desk) -> None:
    first, second = planned(both, places="1"), planned(both, "14:00", places="1")
    ticket = sold(both, first[0])
    line = both.whole(ticket).standing[-1]
    refused(Code.PLACE_OF_COURSE, ticket_lines.set_quantity, both.house, both.tamsin, both.on(ticket), line.id, "2")
    item = both.house.item(line.item)
    assert item and line.label.startswith(f"{item.name}, ") and line.label.endswith("10:00")  # which of its dates
    pay(both, ticket)
    booking = line.booking or 0
    assert read_visit(both.house, booking).state == "paid"
    courses.other_date(both.house, both.tamsin, booking, second[0])
    assert (taken(both, first[0]), taken(both, second[0])) == (0, 1)
    other = joined(both, first[0])
    refused(Code.COURSE_FULL, courses.other_date, both.house, both.tamsin, other, second[0], where="other")
    booking_changes.cancel(both.house, both.tamsin, booking, "moved away", both.key())
    assert taken(both, second[0]) == 0 and read_visit(both.house, booking).state == "cancelled"
    in_balance(both)


def test_a_void_frees_the_place_that_it_sold(both: Desk) -> None:
    (one,) = planned(both)
    ticket = sold(both, one)
    pay(both, ticket)
    reopening.void(both.house, both.boss, OnTicket(ticket, None, both.key()), "wrong guest")
    holds(both)
    assert taken(both, one) == 0


def test_called_off(both: Desk) -> None:
    terms(both)
    (one,) = planned(both, places="5")
    waits = joined(both, one)
    left_a_deposit(both, waits)
    ticket = sold(both, one, "Corin Callow")
    courses.join(both.house, both.tamsin, one, Joining(somebody(both)), both.key())
    key = both.key()
    for _ in range(2):
        courses.call_off(both.house, both.tamsin, one, "storm", key)
    sheet = course_sheet(both.house, one)
    assert sorted(visit.state for visit, _ in sheet.places) == ["cancelled", "cancelled", "on ticket"]
    told = [
        row["body"] for row in both.house.connection.execute("SELECT body FROM outbox WHERE about GLOB 'course off *'")
    ]
    assert len(told) == 1 and "does not take place: storm" in told[0]  # of the others no number is known
    assert sheet.given.course.reason == "storm" and not bookings_day(both.house, day(both)).courses
    assert bookings.read_booking(both.house, waits).deposit > 0  # it stays until it is given back
    refused(Code.COURSE_IS_OFF, joined, both, one)
    refused(Code.COURSE_IS_OFF, sold, both, one)
    refused(Code.COURSE_IS_OFF, booking_changes.bring_back, both.house, both.tamsin, waits)
    assert not dates_of(both.house, both.house.item(SERVICE[both.of.till][0])) and ticket
    booked(both, "10:00")


def test_who_comes_on_paper_and_as_a_file(both: Desk) -> None:
    (one,) = planned(both, places="5")
    joined(both, one, "=Ada", party="2")
    courses.join(both.house, both.tamsin, one, Joining(somebody(both)), both.key())
    gone = joined(both, one, "Bram Brekke")
    booking_changes.cancel(both.house, both.tamsin, gone, "ill", both.key())
    rows = list(csv.reader(io.StringIO(participants(both.house, both.tamsin, one))))
    assert [(row[0], row[2]) for row in rows[1:]] == [("'=Ada", "2"), ("Petra Moe", "1")] and rows[2][1]
    key = both.key()
    assert print_participants(both.house, both.tamsin, one, key) and print_participants(
        both.house, both.tamsin, one, key
    )
    found = both.house.connection.execute("SELECT body FROM outbox WHERE about = ?", (f"course {one}",)).fetchall()
    assert len(found) == 1 and "Petra Moe" in found[0][0] and "Bram" not in found[0][0]


def test_it_survives_the_process(both: Desk) -> None:
    (one,) = planned(both)
    key = both.key()
    first = courses.join(both.house, both.tamsin, one, Joining(0, "Ada"), key)
    both.die()
    assert courses.join(both.house, both.tamsin, one, Joining(0, "Ada"), key) == first
    assert taken(both, one) == 1


def test_a_calendar_does_not_move_a_place(both: Desk) -> None:
    (one,) = planned(both)
    booking = joined(both, one)
    events = list(events_of(both.house, all_visits(both.house)))
    calendars.import_calendar(both.house, both.boss, events, both.key())
    same = bookings.read_booking(both.house, booking)
    assert (same.course, taken(both, one)) == (one, 1)
    more = timedelta(hours=2)
    later = [replace(one, starts=one.starts + more, ends=one.ends and one.ends + more) for one in events]
    calendars.import_calendar(both.house, both.boss, later, both.key())
    assert bookings.read_booking(both.house, booking) == same
