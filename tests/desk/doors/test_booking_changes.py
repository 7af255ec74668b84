"""Bookings changed, moved, cancelled, repeated; inside hours; with deposits that are held, used, given back, kept."""

from __future__ import annotations

import shutil
from collections.abc import Callable
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

import pytest

from abrazo.core.errors import Code, Refused
from abrazo.core.states import BookingState, TicketState
from abrazo.desk import history
from abrazo.desk.doors import booking_changes, bookings, calendars, free_times
from abrazo.desk.doors.bookings import Appointment
from abrazo.desk.doors.views.bookings import all_visits, along_with, bookings_day, read_visit
from abrazo.desk.doors.views.calendar import events_of
from abrazo.desk.overview.owed import owed
from abrazo.desk.overview.today import today
from abrazo.desk.payments import closing, deposits, refunds, reopening, tenders
from abrazo.desk.people import people
from abrazo.desk.setup import booking_rules
from abrazo.desk.tickets import adjustments, sharing
from abrazo.desk.tickets.change import OnTicket
from abrazo.desk.tickets.deposits import of_booking
from abrazo.formats.calendar_ics import read_calendar, write_calendar
from abrazo.store import bookings as kept
from abrazo.store.bookings import Booking, ServiceTerms
from tests.desk.books import holds
from tests.desk.conftest import MACHINE, Desk
from tests.desk.test_both_houses import in_balance, pay, sale

SERVICE = {"galley": ("first-paddle", "idris"), "yard": ("sauna", "perrin")}
DEPOSIT = 2000


def day(desk: Desk, days: int = 7) -> str:
    return (desk.clock.time + timedelta(days=days)).date().isoformat()


def wanted(desk: Desk, time: str = "10:00", days: int = 7, **facts: Any) -> Appointment:
    service, staff = SERVICE[desk.of.till]
    return replace(Appointment(somebody(desk), service, staff, day(desk, days), time), **facts)


def somebody(desk: Desk) -> int:
    row = desk.house.connection.execute("SELECT id FROM person WHERE name = 'Petra Moe'").fetchone()
    phone = "+353 20 910 0199" if desk.of.till == "galley" else "+1 312 555 0199"
    return (
        row[0] if row else people.add_person(desk.house, desk.tamsin, {"name": "Petra Moe", "phone": phone}, desk.key())
    )


def booked(desk: Desk, *args: Any, **facts: Any) -> int:
    return bookings.book(desk.house, desk.tamsin, wanted(desk, *args, **facts), desk.key())


def read(desk: Desk, booking: int) -> Booking:
    return bookings.read_booking(desk.house, booking)


def terms(desk: Desk, deposit: int = DEPOSIT, fee: int = 1500) -> None:
    kept.put_terms(desk.house.connection, ServiceTerms(SERVICE[desk.of.till][0], deposit, fee))
    desk.house.forget()


def left_a_deposit(desk: Desk, booking: int, *, card: bool = False) -> int:
    """The deposit of a booking, paid and held; gives its ticket."""
    ticket = booking_changes.take_deposit(desk.house, desk.tamsin, [booking], desk.key())
    if card:
        payer, due = desk.whole(ticket).payers[0].id, desk.whole(ticket).bill.due
        tenders.ask_card(desk.house, desk.tamsin, desk.on(ticket), payer, MACHINE, tenders.Sum(due))
        desk.follow()
        closing.free_table(desk.house, desk.tamsin, OnTicket(ticket, None, desk.key()))
    else:
        pay(desk, ticket)
    return ticket


def refused(code: Code, act: Callable[..., object], *args: Any, where: str = "") -> None:
    with pytest.raises(Refused) as refusal:
        act(*args)
    assert refusal.value.code is code
    assert not where or refusal.value.where == where


def test_a_booking_is_moved_and_changed_where_it_is_free(both: Desk) -> None:
    one, other = booked(both), booked(both, "13:00")
    service, staff = SERVICE[both.of.till]
    for time in ("12:30", "13:30"):
        refused(
            Code.STAFF_BUSY, booking_changes.move, both.house, both.tamsin, one, staff, day(both), time, where="time"
        )
    refused(Code.IN_THE_PAST, booking_changes.move, both.house, both.tamsin, one, staff, day(both, -1), "10:00")
    refused(Code.NO_STAFF, booking_changes.move, both.house, both.tamsin, one, "nobody", day(both), "10:00")
    booking_changes.move(both.house, both.tamsin, one, staff, day(both), "10:15")  # over itself
    assert read(both, one).starts_at == f"{day(both)}T10:15:00"
    booking_changes.change(both.house, both.tamsin, other, wanted(both, "16:00", note=" left  handed ", party="3"))
    after = read(both, other)
    assert (after.starts_at[11:16], after.note, after.party, after.service) == ("16:00", "left handed", 3, service)
    for field, value in (("party", "0"), ("party", "many"), ("note", "x" * 201)):
        with pytest.raises(Refused) as refusal:
            booking_changes.change(both.house, both.tamsin, other, wanted(both, "16:00", 7, **{field: value}))
        assert refusal.value.where == field
    assert read(both, other) == after


def test_two_people_change_one_booking(both: Desk) -> None:
    one = booked(both)
    with pytest.raises(Refused):  # a page that saw nothing yet
        booking_changes.change(both.house, both.tamsin, one, wanted(both, "11:00"), 0)
    seen = history.last_about(both.house, "booking", one)
    booking_changes.change(both.house, both.tamsin, one, wanted(both, "11:00"), seen)
    with pytest.raises(Refused) as refusal:
        booking_changes.change(both.house, both.tamsin, one, wanted(both, "12:00"), seen)
    assert (refusal.value.code, read(both, one).starts_at[11:16]) == (Code.CHANGED_SINCE, "11:00")


def test_a_cancelled_booking_is_cancelled_once_by_a_double_click(desk: Desk) -> None:
    one, key = booked(desk), desk.key()
    for _ in range(2):
        booking_changes.cancel(desk.house, desk.tamsin, one, "ill", key)
    assert sum("cancelled" in line.what for line in history.of_booking(desk.house, one)) == 1


def test_so_many_who_come_pay_for_so_many(both: Desk) -> None:
    terms(both)
    one = booked(both, party="3")
    price = read(both, one).price or 0
    assert booking_changes.wanted_deposit(both.house, read(both, one)) == 3 * DEPOSIT
    left_a_deposit(both, one)
    asked = read_visit(both.house, one).owed
    ticket = bookings.check_out(both.house, both.tamsin, [one], both.key())
    assert both.whole(ticket).bill.net == 3 * price
    assert asked == both.whole(ticket).bill.due == both.whole(ticket).bill.total - 3 * DEPOSIT
    pay(both, ticket)
    in_balance(both)


def test_every_week_or_none(desk: Desk) -> None:
    blocked = booked(desk, days=21)
    before = desk.house.connection.execute("SELECT count(*) FROM booking").fetchone()[0]
    refused(Code.STAFF_BUSY, bookings.book, desk.house, desk.tamsin, wanted(desk, "10:30", weeks="4"), desk.key())
    assert desk.house.connection.execute("SELECT count(*) FROM booking").fetchone()[0] == before
    booking_changes.cancel(desk.house, desk.tamsin, blocked, "ill", desk.key())
    first = booked(desk, "10:30", weeks="4")
    days = [read(desk, first + week).starts_at[:10] for week in range(4)]
    assert days == [day(desk, 7 * week) for week in range(1, 5)]
    with pytest.raises(Refused) as refusal:
        booked(desk, "18:00", weeks="53")
    assert (refusal.value.code, refusal.value.where) == (Code.NOT_BETWEEN, "weeks")


def free(desk: Desk) -> str:
    """When Idris is free for 90 minutes, from ten o'clock in a week on."""
    found = free_times.next_free(desk.house, "idris", 90, (desk.clock.time + timedelta(days=7)).replace(hour=10))
    assert found is not None
    return f"{found:%d %H:%M}"


def test_hours_and_breaks(desk: Desk) -> None:
    on = desk.clock.time + timedelta(days=7)
    hours = [("10:00", "12:30"), ("13:30", "17:00")]
    typed = " ".join(f"{begins}-{ends}" for begins, ends in hours)
    booking_rules.set_hours(desk.house, desk.boss, "idris", {on.isoweekday(): typed})
    desk.open()
    for time in ("09:30", "11:30", "12:30", "16:00"):
        refused(Code.OUTSIDE_HOURS, booked, desk, time, where="time")
    refused(Code.NOT_IN_THAT_DAY, booked, desk, "11:00", 8, where="date")
    booked(desk, "10:00")
    assert free(desk) == "20 13:30"
    booked(desk, "13:30")
    assert free(desk) == "20 15:00"
    booked(desk, "15:00")
    assert free(desk) == "27 10:00"
    assert free_times.next_free(desk.house, "idris", 600, on) is None
    assert free_times.hours_words(desk.house, "idris", on.date()) == "10:00–12:30, 13:30–17:00"


@pytest.mark.parametrize("typed", ["9-12", "12:00-9:00", "9:00-12:00 11:00-13:00", "9:00-25:00", "always"])
def test_hours_that_cannot_be_read(desk: Desk, typed: str) -> None:
    with pytest.raises(Refused) as refusal:
        booking_rules.set_hours(desk.house, desk.boss, "idris", {1: "9:00-12:00", 2: typed})
    assert (refusal.value.code, refusal.value.where) == (Code.NOT_HOURS, "hours-idris-2")
    refused(Code.RIGHT_SET_UP, booking_rules.set_hours, desk.house, desk.tamsin, "idris", {1: "9:00-12:00"})
    assert desk.house.staff()["idris"].hours == ()


@pytest.mark.parametrize("by_series", [False, True])
def test_what_is_to_pay_for_bookings_is_what_their_ticket_asks(both: Desk, by_series: bool) -> None:
    """With the tax that is added, less series and deposit: on a sheet, in the queue, for the day, for two at once."""
    if by_series:
        item = {"galley": "five-paddles", "yard": "six-saunas"}[both.of.till]
        pay(both, sale(both, [item], somebody(both)))
    booking_rules.set_terms(both.house, both.boss, SERVICE[both.of.till][0], {"deposit": "20", "fee": "0"})
    one, other = booked(both, "15:00", 0, party="3"), booked(both, "17:00", 0)
    pay(both, booking_changes.take_deposit(both.house, both.tamsin, [one], both.key()))
    both.clock.time = both.clock.time.replace(hour=20)
    both.house.forget()
    first, second = read_visit(both.house, one), read_visit(both.house, other)
    assert (first.booking.deposit, second.booking.deposit) == (6000, 0)
    assert (first.added > 0, second.added > 0) == (both.of.till == "yard" and not by_series,) * 2
    assert (first.covered > 0, second.covered > 0) == (by_series,) * 2
    along = along_with(both.house, first, [second])
    assert along is not None
    waiting = {card.about: card.amount for card in today(both.house, both.tamsin, "bookings", "", None).queue}
    assert waiting == {one: first.owed, other: second.owed}
    assert bookings_day(both.house).owed == first.owed + second.owed
    number = bookings.check_out(both.house, both.tamsin, [one, other], both.key())
    both.house.forget()
    assert both.whole(number).bill.due == along[1] == bookings_day(both.house).owed
    if by_series:  # they keep it for another day: what is due now, their bookings say too
        used = next(one for one in both.whole(number).given if one.series)
        adjustments.take_off(both.house, both.tamsin, OnTicket(number, None, both.key()), used.id)
        both.house.forget()
        assert bookings_day(both.house).owed == both.whole(number).bill.due > 0
    pay(both, number, close=False)
    both.house.forget()
    assert bookings_day(both.house).owed == 0
    in_balance(both)


def test_terms_are_the_houses(desk: Desk) -> None:
    refused(Code.RIGHT_SET_UP, booking_rules.set_terms, desk.house, desk.tamsin, "first-paddle", {"deposit": "20"})
    refused(
        Code.NEGATIVE_DEPOSIT,
        booking_rules.set_terms,
        desk.house,
        desk.boss,
        "first-paddle",
        {"deposit": "-1"},
        where="deposit",
    )
    booking_rules.set_terms(desk.house, desk.boss, "first-paddle", {"deposit": "20", "fee": "7.50"})
    found = {item.id: asks for item, asks in booking_rules.terms(desk.house)}
    assert found["first-paddle"] == ServiceTerms("first-paddle", 2000, 750)


def test_cancelled_and_brought_back(both: Desk) -> None:
    one = booked(both)
    refused(Code.NO_REASON, booking_changes.cancel, both.house, both.tamsin, one, " ", both.key())
    booking_changes.cancel(both.house, both.tamsin, one, "ill", both.key())
    assert (read(both, one).state, read(both, one).reason) == (BookingState.CANCELLED, "ill")
    refused(Code.BOOKING_OVER, booking_changes.cancel, both.house, both.tamsin, one, "ill", both.key())
    refused(Code.BOOKING_OVER, bookings.set_state, both.house, both.tamsin, one, "here")
    other = booked(both)
    refused(Code.STAFF_BUSY, booking_changes.bring_back, both.house, both.tamsin, one)
    booking_changes.cancel(both.house, both.tamsin, other, "too early", both.key())
    booking_changes.bring_back(both.house, both.tamsin, one)
    assert (read(both, one).state, read(both, one).reason) == (BookingState.BOOKED, "")


def test_a_name_alone_and_a_new_person(desk: Desk) -> None:
    one = booked(desk, person=0, name="Maren Holt")
    assert (read(desk, one).person, read(desk, one).name) == (None, "Maren Holt")
    two = booked(desk, "14:00", person=0, name="Maren Holt", phone="020 910 0171")
    known = people.known(desk.house, read(desk, two).person or 0)
    three = booked(desk, "16:00", person=0, name="maren holt", phone="020 910 0171")
    assert (known.name, read(desk, three).person) == ("Maren Holt", known.id)
    with pytest.raises(Refused) as refusal:
        booked(desk, "18:00", person=0, name="Somebody Else", phone="020 910 0171")
    assert (refusal.value.code, refusal.value.where) == (Code.PHONE_KNOWN, "phone")


def test_a_deposit_is_asked_once_held_and_used(both: Desk) -> None:
    terms(both)
    one = booked(both)
    key = both.key()
    ticket = booking_changes.take_deposit(both.house, both.tamsin, [one], key)
    assert booking_changes.take_deposit(both.house, both.tamsin, [one], both.key()) == ticket
    assert (both.whole(ticket).bill.total, both.whole(ticket).bill.tax_total) == (DEPOSIT, 0)
    refused(Code.DEPOSIT_OPEN, bookings.check_out, both.house, both.tamsin, [one], both.key())
    refused(Code.DEPOSIT_OPEN, booking_changes.cancel, both.house, both.tamsin, one, "ill", both.key())
    pay(both, ticket)
    assert (read(both, one).deposit, both.balance("liabilities:deposits")) == (DEPOSIT, -DEPOSIT)
    (listed,) = [kind for kind in owed(both.house, both.boss) if kind.kind == "deposit"]
    assert listed.amount == listed.booked == DEPOSIT and "Petra Moe" in listed.rows[0].name
    settling = bookings.check_out(both.house, both.tamsin, [one], both.key())
    refused(
        Code.DEPOSIT_ELSEWHERE, reopening.reopen, both.house, both.boss, OnTicket(ticket, None, both.key()), "wrong"
    )
    whole = both.whole(settling)
    assert whole.bill.due == whole.bill.total - DEPOSIT
    pay(both, settling)
    assert both.balance("liabilities:deposits") == 0
    in_balance(both)


def test_a_deposit_larger_than_the_bill_goes_back(both: Desk) -> None:
    terms(both, deposit=20000)
    one = booked(both)
    left_a_deposit(both, one)
    ticket = bookings.check_out(both.house, both.tamsin, [one], both.key())
    total = both.whole(ticket).bill.total
    assert (both.whole(ticket).bill.due, read(both, one).deposit) == (0, 20000 - total)
    closing.free_table(both.house, both.tamsin, OnTicket(ticket, None, both.key()))
    thing, key = of_booking(both.house, read(both, one)), both.key()
    assert {deposits.give_back(both.house, both.tamsin, thing, key) for _ in range(2)} == {20000 - total}
    assert (read(both, one).deposit, both.balance("liabilities:deposits")) == (0, 0)
    in_balance(both)


def test_a_deposit_that_is_gone_keeps_its_ticket(both: Desk) -> None:
    terms(both)
    one = booked(both)
    ticket = left_a_deposit(both, one)
    bookings.set_state(both.house, both.tamsin, one, "absent")
    booking_changes.keep_fee(both.house, both.tamsin, one, both.key())
    on = OnTicket(ticket, None, both.key())
    refused(Code.DEPOSIT_GONE, reopening.reopen, both.house, both.boss, on, "wrong")
    refused(Code.DEPOSIT_GONE, reopening.void, both.house, both.boss, OnTicket(ticket, None, both.key()), "wrong")
    holds(both)


@pytest.mark.parametrize("card", [False, True])
def test_what_was_left_for_a_cancelled_booking_goes_back_its_way(both: Desk, card: bool) -> None:
    terms(both)
    one = booked(both)
    left_a_deposit(both, one, card=card)
    refused(
        Code.JOB_NOT_SETTLED, deposits.give_back, both.house, both.tamsin, of_booking(both.house, read(both, one)), "k"
    )
    booking_changes.cancel(both.house, both.tamsin, one, "ill", both.key())
    assert [each.id for each in kept.for_sheet(both.house.connection, somebody(both), "9999")] == [one]
    thing = of_booking(both.house, read(both, one))
    found = refunds.charged_deposit(both.house, thing)
    assert (found is not None) == card
    if card:
        refunds.give_back_to_card(both.house, both.tamsin, thing, both.key())
        both.follow()
        assert both.charged() == 0
    else:
        deposits.give_back(both.house, both.tamsin, thing, both.key())
    assert (read(both, one).deposit, both.balance("liabilities:deposits")) == (0, 0)
    refused(Code.NO_DEPOSIT_LEFT, deposits.give_back, both.house, both.tamsin, thing, both.key())
    in_balance(both)


@pytest.mark.parametrize(("fee", "stays", "charged"), [(1500, 1500, 0), (2000, 2000, 0), (2600, 2000, 600), (0, 0, 0)])
def test_who_does_not_come(both: Desk, fee: int, stays: int, charged: int) -> None:
    terms(both, fee=fee)
    one = booked(both)
    left_a_deposit(both, one)
    assert booking_changes.fee_of(both.house, read(both, one)) == (0, 0)
    bookings.set_state(both.house, both.tamsin, one, "absent")
    assert booking_changes.fee_of(both.house, read(both, one)) == (stays, charged)
    if not fee:
        refused(Code.NO_FEE, booking_changes.keep_fee, both.house, both.tamsin, one, both.key())
        return
    if charged:
        refused(Code.NO_FEE, booking_changes.charge_fee, both.house, both.tamsin, one, both.key())  # the deposit first
    key = both.key()
    assert {booking_changes.keep_fee(both.house, both.tamsin, one, key) for _ in range(2)} == {stays}
    refused(Code.FEE_TAKEN, bookings.set_state, both.house, both.tamsin, one, "booked")
    assert (-both.balance("income:deposits-kept"), read(both, one).deposit) == (stays, DEPOSIT - stays)
    holds(both)


def test_a_fee_without_a_deposit_is_charged_once(both: Desk) -> None:
    terms(both, deposit=0)
    one = booked(both)
    bookings.set_state(both.house, both.tamsin, one, "absent")
    assert booking_changes.fee_of(both.house, read(both, one)) == (0, 1500)
    key = both.key()
    tickets = {booking_changes.charge_fee(both.house, both.tamsin, one, key) for _ in range(2)}
    (ticket,) = tickets
    refused(Code.NO_FEE, booking_changes.charge_fee, both.house, both.tamsin, one, both.key())
    assert both.whole(ticket).bill.total == 1500 and "Did not come" in both.whole(ticket).standing[0].label
    pay(both, ticket)
    refused(Code.FEE_TAKEN, bookings.set_state, both.house, both.tamsin, one, "booked")
    in_balance(both)


def test_a_shared_bill_uses_the_deposit_for_whose_it_was(desk: Desk) -> None:
    terms(desk)
    one, other = booked(desk), booked(desk, "14:00", person=0, name="Maren Holt")
    left_a_deposit(desk, one)
    ticket = bookings.check_out(desk.house, desk.tamsin, [other, one], desk.key())
    sharing.by_seat(desk.house, desk.tamsin, desk.on(ticket))
    whole = desk.whole(ticket)
    names = {guest.payer: guest.name for guest in whole.guests}
    dues = {names[payer.id]: whole.payer_bill(payer.id).account.due for payer in whole.payers}
    assert dues == {"Petra Moe": 4800 - DEPOSIT, "Maren Holt": 4800}
    in_balance(desk)


def test_a_calendar_file_loses_nothing(desk: Desk, founded: Path, tmp_path: Path) -> None:
    """Out of one house, into another, and out again: the same; into the first again: nothing changed."""
    addons = tuple(item.id for item in bookings.addons(desk.house))[:2]
    booked(desk, party="3", addons=addons, note="left-handed")
    two, three = booked(desk, "14:00"), booked(desk, "17:00")
    terms(desk)
    left_a_deposit(desk, two)
    bookings.set_state(desk.house, desk.tamsin, two, "absent")
    booking_changes.cancel(desk.house, desk.tamsin, three, "ill", desk.key())
    stamp = datetime(2026, 6, 13, 12, 0, tzinfo=UTC)
    data = write_calendar("Marram", events_of(desk.house, all_visits(desk.house)), stamp)
    events = read_calendar(data, "Europe/Dublin")
    same = calendars.import_calendar(desk.house, desk.boss, events, desk.key())
    assert (same.new, same.changed) == (0, 0)
    shutil.copytree(founded, tmp_path / "other")
    other = Desk(tmp_path / "other")
    calendars.import_calendar(other.house, other.boss, events, other.key())
    assert write_calendar("Marram", events_of(other.house, all_visits(other.house)), stamp) == data
    other.house.connection.close()


def test_it_survives_the_process(both: Desk) -> None:
    terms(both)
    one = booked(both)
    ticket = left_a_deposit(both, one)
    both.die()
    assert read(both, one).deposit == DEPOSIT and both.whole(ticket).head.state == TicketState.CLOSED
    in_balance(both)
