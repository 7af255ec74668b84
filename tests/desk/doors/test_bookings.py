"""Bookings and walk-ins: on one ticket only, swapped in place, booked anew without overlap, read from calendars."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime, timedelta

import pytest

from abrazo.core.errors import Code, Refused
from abrazo.desk.doors import bookings, calendars
from abrazo.desk.doors.jobs import mark
from abrazo.desk.doors.views.bookings import bookings_day, likely_next, read_visit
from abrazo.desk.output.views.receipt import receipt_of
from abrazo.desk.overview.person import household_open
from abrazo.desk.payments import closing
from abrazo.desk.tickets import ticket_lines
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.ticket_lines import Picked
from abrazo.formats.calendar_ics import Event
from abrazo.formats.receipt_text import receipt_text
from abrazo.store import bookings as bookings_store
from tests.desk.conftest import Desk
from tests.desk.scenes import booked, dropped, pay, person, wren
from tests.refusals import bad_entries, refuses


def check_out(desk: Desk, *ids: int) -> int:
    return bookings.check_out(desk.house, wren(desk), list(ids), desk.key())


def test_two_desks_check_out_one_booking(desk: Desk) -> None:
    one, other = booked(desk, "Petra Moe"), booked(desk, "Teun Abara")
    first = check_out(desk, one)
    assert check_out(desk, one) == first
    with refuses("on ticket"):
        check_out(desk, other, one)
    assert _free(desk, other)
    assert len(desk.whole(first).standing) == 1


def test_a_household_on_one_ticket_shows_whose_is_whose(desk: Desk) -> None:
    ids = [
        booked(desk, name, service)
        for name, service in (("Elis", "First paddle"), ("Signe", "Roll clinic"), ("Elis", "Skiff lesson"))
    ]
    whole = desk.whole(check_out(desk, *ids))
    names = {guest.id: guest.name for guest in whole.guests}
    assert {line.label: names[line.shares[0][0]] for line in whole.standing} == {
        "First paddle": "Elis",
        "Roll clinic": "Signe",
        "Skiff lesson": "Elis",
    }
    assert (len(whole.payers), len(whole.guests), whole.head.name) == (1, 2, "Elis")


def test_swapped_in_place_note_and_guest_stay(desk: Desk) -> None:
    first = person(desk, "Elis")
    number = check_out(desk, booked(desk, "Elis"), booked(desk, "Signe", "Roll clinic"))
    line = desk.whole(number).standing[0]
    ticket_lines.swap_line(desk.house, wren(desk), desk.on(number), line.id, "guided-creek-tour", "pilar")
    after = desk.whole(number).line(line.id)
    expected = replace(line, item="guided-creek-tour", label="Guided creek tour", unit_price=5800, staff="pilar")
    assert (after, desk.whole(number).bill.total, first) == (expected, 5800 + 4800, first)
    with refuses("needs a choice"):
        ticket_lines.swap_line(desk.house, wren(desk), desk.on(number), line.id, "crab-toastie", "pilar")
    pay(desk, number, close=False)
    with refuses("already paid for"):
        ticket_lines.swap_line(desk.house, wren(desk), desk.on(number), line.id, "drysuit-fitting", "noor")


def test_taking_the_service_off_frees_the_booking_and_what_hangs_on_it(desk: Desk) -> None:
    one = booked(desk, "Petra Moe")
    desk.house.connection.execute("INSERT INTO booking_addon VALUES (?, 0, 'wetsuit')", (one,))
    number = check_out(desk, one)
    ticket_lines.add_line(desk.house, wren(desk), OnTicket(number, None, desk.key()), Picked("kelp-soap"))
    assert [line.label for line in desk.whole(number).standing] == ["First paddle", "Wetsuit", "Kelp soap"]
    ticket_lines.remove_line(desk.house, wren(desk), desk.on(number), desk.whole(number).standing[0].id)
    assert [line.label for line in desk.whole(number).standing] == ["Kelp soap"]
    again = check_out(desk, one)
    assert (again != number, desk.whole(again).bill.total) == (True, 6000)
    for line in desk.whole(again).standing[::-1]:
        ticket_lines.remove_line(desk.house, wren(desk), desk.on(again), line.id)
    closing.free_table(desk.house, wren(desk), OnTicket(again, None, desk.key()))
    assert _free(desk, one)


def test_states_by_the_clock(desk: Desk) -> None:
    ended, now, later = (booked(desk, name, minutes=minutes) for name, minutes in (("A", -100), ("B", -10), ("C", 60)))
    assert [read_visit(desk.house, one).state for one in (ended, now, later)] == ["ended", "now", "booked"]
    bookings.set_state(desk.house, wren(desk), ended, "absent")
    number = check_out(desk, now)
    assert [read_visit(desk.house, one).state for one in (ended, now, later)] == ["did not come", "on ticket", "booked"]
    with refuses("take it off there"):
        bookings.set_state(desk.house, wren(desk), now, "absent")
    pay(desk, number)
    day = bookings_day(desk.house)
    assert (read_visit(desk.house, now).state, day.number, day.owed) == ("paid", 3, 4800)
    assert bookings_day(desk.house, "nonsense").day == bookings_day(desk.house).day


def test_the_next_visit_is_likely_the_same_a_week_on_and_never_double(desk: Desk) -> None:
    who = person(desk)
    number = check_out(desk, booked(desk, "Petra Moe"))
    (likely,) = likely_next(desk.house, desk.whole(number))
    assert (likely.person, likely.service, likely.staff, likely.date, likely.time) == (
        who,
        "first-paddle",
        "idris",
        "2026-06-20",
        "12:45",
    )
    book = (likely.service, likely.staff, likely.date, likely.time)
    made = {bookings.book(desk.house, wren(desk), bookings.Appointment(who, *book), "the same key") for _ in range(3)}
    assert len(made) == 1
    with refuses("booked already"):
        bookings.book(desk.house, wren(desk), bookings.Appointment(who, *book[:3], "13:30"), desk.key())
    (after,) = likely_next(desk.house, desk.whole(number))
    assert after.time == "14:15"  # the first half hour at which Idris is free again
    pay(desk, number, close=False)
    whole = desk.whole(number)
    assert "Sat 20 Jun 2026, 12:45" in receipt_text(receipt_of(desk.house, whole, whole.payers[0].id))


def test_what_a_household_has_open(desk: Desk) -> None:
    first, other = person(desk, "Elis", "Lindqvist"), person(desk, "Ivo", "Lindqvist")
    stranger = person(desk, "Teun")
    job, _ = dropped(desk, other, 0)
    visit = booked(desk, "Elis")
    booked(desk, "Elis", "Roll clinic", minutes=60)
    visits, jobs = household_open(desk.house, other)
    assert ([v.booking.id for v in visits], jobs) == ([visit], [])
    mark(desk.house, wren(desk), job, "ready", desk.key())
    assert [card.job.id for card in household_open(desk.house, first)[1]] == [job]
    assert household_open(desk.house, stranger) == ([], []) == household_open(desk.house, None)


# ---- walk-ins


def test_a_walk_in_is_served_once(desk: Desk) -> None:
    one = bookings.queue_up(desk.house, wren(desk), "Orla Quist", "020 910 0199", "Skiff lesson", desk.key())
    facts = ("Orla Quist", "020 910 0199", "skiff-lesson", "pilar", one)
    number = bookings.serve(desk.house, wren(desk), bookings.Arrival(*facts), "the same key")
    assert bookings.serve(desk.house, wren(desk), bookings.Arrival(*facts), "the same key") == number
    with refuses("already"):
        bookings.serve(desk.house, wren(desk), bookings.Arrival(*facts), desk.key())
    whole = desk.whole(number)
    assert (whole.bill.total, whole.standing[0].staff, whole.head.person is not None) == (5200, "pilar", True)
    again = bookings.serve(desk.house, wren(desk), bookings.Arrival(*facts[:4]), desk.key())
    assert desk.whole(again).head.person == whole.head.person  # known by name and number now


def test_without_a_number_nobody_is_added(desk: Desk) -> None:
    number = bookings.serve(desk.house, wren(desk), bookings.Arrival("Orla Quist", "", "", "", None), desk.key())
    assert (desk.whole(number).head.person, desk.whole(number).head.name) == (None, "Orla Quist")
    assert desk.house.connection.execute("SELECT count(*) FROM person").fetchone()[0] == 0


def test_who_was_nobody_is_written_down_with_the_next_visit(desk: Desk) -> None:
    """A walk-in without a number books again: name and phone make a person, and the ticket is theirs."""
    served = bookings.Arrival("Orla Quist", "", "skiff-lesson", "pilar", None)
    number = bookings.serve(desk.house, wren(desk), served, desk.key())
    (likely,) = likely_next(desk.house, desk.whole(number))
    assert (likely.person, likely.name, likely.service, likely.staff) == (0, "Orla Quist", "skiff-lesson", "pilar")
    wanted = bookings.Appointment(0, likely.service, likely.staff, likely.date, likely.time)
    typed = {"name": "Orla Quist", "phone": "020 910 0199"}
    on, count = desk.on(number, "the same key"), "SELECT count(*) FROM person"
    bad = bookings.Appointment(0, likely.service, likely.staff, "2020-01-01", "10:00")
    with refuses("to come|past"):
        bookings.book_for_new(desk.house, wren(desk), on, typed, bad)
    assert desk.house.connection.execute(count).fetchone()[0] == 0
    made = {bookings.book_for_new(desk.house, wren(desk), on, typed, wanted) for _ in range(2)}
    person = desk.whole(number).head.person
    another = bookings.Appointment(0, likely.service, likely.staff, likely.date, "20:00")
    bookings.book_for_new(desk.house, wren(desk), desk.on(number), {"name": "Petra Moe", "phone": ""}, another)
    assert desk.whole(number).head.person == person  # it is theirs already, whoever is typed
    assert len(made) == 1
    assert (bookings.read_booking(desk.house, made.pop()).person, person is not None) == (person, True)
    assert desk.house.connection.execute(count).fetchone()[0] == 1


# ---- calendars


def test_a_calendar_changes_what_is_not_on_a_ticket(desk: Desk) -> None:
    starts = desk.clock.time + timedelta(days=1)
    first = Event(1, "a@b", "Roll clinic, Petra", "roll clinic", "IDRIS VANE", "Petra Moe", starts, None, "64.00")

    def read(*events: Event) -> tuple[int, int]:
        taken = calendars.import_calendar(desk.house, desk.boss, events, desk.key())
        return taken.new, taken.changed

    assert read(first) == (1, 0)
    assert read(first) == (0, 0)
    made = bookings_store.by_uid(desk.house.connection, "a@b")
    assert made and (made.ends_at, made.price) == (
        (starts + timedelta(minutes=120)).isoformat(timespec="seconds"),
        6400,
    )
    assert read(replace(first, starts=starts + timedelta(hours=1), price="")) == (0, 1)
    number = check_out_priced(desk, made.id)
    assert read(replace(first, cancelled=True)) == (0, 0)
    assert desk.whole(number).bill.total == 7000
    assert read(replace(first, uid="c@d", cancelled=True)) == (1, 0)
    assert all(
        visit.booking.uid != "c@d"
        for _, visits in bookings_day(desk.house, f"{starts:%Y-%m-%d}").columns
        for visit in visits
    )


def check_out_priced(desk: Desk, booking: int) -> int:
    with refuses("no price yet") as refusal:
        check_out(desk, booking)
    assert refusal.value.where == f"price-{booking}"
    bookings.set_price(desk.house, desk.boss, booking, 7000)
    return check_out(desk, booking)


@pytest.mark.parametrize(
    ("changes", "says"),
    [({"service": "Deep dive"}, "no service"), ({"staff": "Nobody"}, "nobody here"), ({"name": ""}, "for whom"), ({"ends": datetime(2020, 1, 1)}, "ends before"), ({"price": "1,5"}, ""), ({"fault": Refused(Code.EVENT_UID)}, "no UID")],
)  # fmt: skip
def test_one_bad_event_and_nothing_is_read(desk: Desk, changes: dict[str, object], says: str) -> None:
    good = Event(1, "a@b", "Good", "Roll clinic", "Idris Vane", "Petra Moe", desk.clock.time, None, "64.00")
    bad = replace(good, line=9, uid="x@y", summary="Bad", **changes)  # type: ignore[arg-type]  # facts by field name
    with pytest.raises(Refused) as refusal:
        calendars.import_calendar(desk.house, desk.boss, [good, bad], desk.key())
    (fault,) = bad_entries(refusal.value)
    assert fault.startswith("Line 9, Bad: ") and says in fault
    assert bookings_store.all_bookings(desk.house.connection) == []


def _free(desk: Desk, booking: int) -> bool:
    """Whether a booking is on no ticket."""
    found = bookings_store.read(desk.house.connection, booking)
    return found is not None and found.ticket is None
