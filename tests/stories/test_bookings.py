"""Bookings and walk-ins, in the order people work; acts are counted against what is wanted."""

from __future__ import annotations

import pytest

from tests.stories.desk import MakeClerk, in_balance, killed_in_between, wren
from tests.stories.house import Running


def test_a_finished_booking(clerk: MakeClerk, running: Running) -> None:
    """Another service and instructor in place, an add-on scanned, a relative's job added, tip by percent, next visit."""
    desk = wren(clerk)
    desk.touch("button", "Check out Elis Lindqvist-Amari, €48.00")
    desk.sees("Of the same household, open too:")
    desk.sees("left-handed paddle")
    desk.page.locator("a.line, summary.line", has_text="First paddle").click()
    desk.acts += 1
    desk.touch("button", "Pilar", exact=True)
    desk.touch("button", "Roll clinic €64.00")
    desk.page.locator("a.line, summary.line", has_text="Roll clinic").wait_for()
    desk.touch("button", "Add Photos")
    desk.touch("link", "Pay €79.00")
    desk.touch("button", "10 % €7.90")
    desk.touch("button", "Charge €86.90 on card machine 2", check=False)
    desk.sees("Elis Lindqvist-Amari is paid")
    assert desk.acts == 8  # and one to close it; the longer service is one more than the eight count
    desk.check()
    desk.sees("Nothing is booked yet: book it here")
    desk.page.get_by_label("Time").fill("12:15")
    desk.touch("button", "Book it")
    desk.sees("Booked. It will stand on the receipt.")
    desk.touch("link", "Receipt for A")
    desk.sees("Your next visit")
    desk.touch("link", "Back", exact=True)
    killed_in_between(desk, running)
    desk.touch("button", "Close the ticket")
    desk.page.get_by_role("link", name="Elis Lindqvist-Amari 12:15 First paddle paid").wait_for()
    in_balance(running)


def test_a_household_on_one_ticket(clerk: MakeClerk, running: Running) -> None:
    """A booking with a relative's ready job, its deposit taken off; each line still shows whose it is."""
    desk = wren(clerk)
    desk.touch("link", "Elis Lindqvist-Amari 12:15 First paddle ended, €48.00")
    desk.touch("button", "Check out only Elis")
    desk.touch("button", "Add S-1036, Ivo's drysuit, blue, size s, ready, €22.00")
    desk.sees("Wrist seals, Drysuit, blue, size S")
    desk.page.get_by_role("region", name="Ivo Lindqvist-Amari").wait_for()
    killed_in_between(desk, running)
    desk.sees("Paid €20.00")  # the deposit
    desk.touch("link", "Not now")
    assert desk.page.get_by_text("Of the same household").count() == 0
    desk.touch("link", "Pay €70.00")
    desk.touch("button", "€70.00 exact")
    desk.touch("link", "On to the receipt and the end")
    desk.touch("button", "Hand over S-1036, drysuit, blue, size s, and close")
    desk.sees("Handed over.")
    desk.touch("button", "Undo the hand-over")
    desk.sees("undone")
    desk.touch("button", "Hand over S-1036, all of it")
    in_balance(running)


def test_a_booking_without_a_price(clerk: MakeClerk, running: Running) -> None:
    """It says so, asks for one beside its cause, and is checked out then; who did not come can be put right."""
    desk = wren(clerk)
    desk.touch("link", "Rui Albers 15:00, no price yet Drysuit fitting")
    desk.expected = {422}
    desk.type("Price", "a lot")
    desk.touch("button", "Put this price")
    desk.sees("“a lot” is not an amount")
    assert desk.page.get_by_label("Price", exact=True).input_value() == "a lot"
    desk.expected = set()
    desk.type("Price", "25")
    desk.touch("button", "Put this price")
    desk.touch("button", "Did not come")
    desk.touch("button", "They came after all")
    desk.touch("button", "Check out Rui, €25.00")
    desk.sees("price by what has to be cut")
    desk.touch("link", "Pay €25.00")
    desk.touch("button", "€25.00 exact")
    desk.touch("link", "On to the receipt and the end")
    desk.touch("button", "Close the ticket")
    in_balance(running)


@pytest.mark.acts
def test_a_walk_in_in_one_line(clerk: MakeClerk, running: Running) -> None:
    desk = wren(clerk)
    desk.expected = {422}
    desk.type("Name", "Orla Quist")
    desk.type("Phone", "12")
    desk.touch("button", "Serve now")
    desk.sees("“12” is no phone number")
    assert desk.page.get_by_label("Name", exact=True).input_value() == "Orla Quist"
    desk.expected = set()
    desk.page.goto(running.url)
    desk.acts = 0
    desk.touch("link", "Walk-in")
    desk.type("Name", "Orla Quist")
    desk.type("Phone", "020 910 0199")
    desk.page.get_by_label("Service", exact=True).select_option("skiff-lesson")
    desk.page.get_by_label("With", exact=True).select_option("pilar")
    desk.acts += 2
    desk.touch("button", "Serve now")
    killed_in_between(desk, running)
    desk.touch("link", "Pay €52.00")
    desk.touch("button", "€60.00 €8.00 back")
    desk.counted("walk-in, new person, service, staff, cash", 9)
    desk.touch("link", "Change given, on to the receipt and the end")
    desk.sees("Orla Quist: the next visit")
    desk.touch("button", "Close the ticket")
    desk.type("Find or scan a table, ticket, job, name or phone", "020 910 0199", enter=True)
    desk.page.get_by_role("heading", name="Orla Quist").wait_for()
    in_balance(running)


def test_somebody_from_the_queue(clerk: MakeClerk, running: Running) -> None:
    desk = wren(clerk)
    desk.expected = {422}
    desk.touch("button", "Let them wait")
    desk.sees("A name, as it should show")
    desk.expected = set()
    desk.touch("link", "Yuki Bramwell 14:09 Skiff lesson")
    desk.touch("button", "Skiff lesson with Idris Vane")
    desk.page.get_by_role("link", name="Pay €52.00").wait_for()
    desk.touch("link", "Today")
    desk.sees("Walk-ins, 2 waiting")
    desk.touch("link", "see all")
    desk.sees("At the desk for 0 min")


BAD_CALENDAR = """BEGIN:VCALENDAR\r
VERSION:2.0\r
PRODID:-//test//EN\r
BEGIN:VEVENT\r
UID:a1\r
DTSTAMP:20260613T080000Z\r
DTSTART:20260620T100000\r
SUMMARY:Dive\r
CATEGORIES:Deep dive\r
RESOURCES:Idris Vane\r
CONTACT:Petra Moe\r
END:VEVENT\r
BEGIN:VEVENT\r
UID:a2\r
DTSTAMP:20260613T080000Z\r
DTSTART;VALUE=DATE:20260620\r
SUMMARY:All day\r
CATEGORIES:Roll clinic\r
RESOURCES:Idris Vane\r
CONTACT:Petra Moe\r
END:VEVENT\r
END:VCALENDAR\r
"""


def test_a_calendar_and_people_from_files(clerk: MakeClerk, running: Running) -> None:
    """Bad entries are named by line and nothing is imported; a good file is; the day's own file comes back unchanged."""
    desk = clerk()
    desk.sign_in("odile", "407118", "landing")
    desk.touch("link", "Day after")
    desk.page.get_by_text("Sun 14 Jun", exact=True).wait_for()
    desk.touch("link", "Day before")
    desk.touch("link", "Week")
    desk.touch("link", "Calendar file")
    desk.page.get_by_label("Calendar file").set_input_files(
        {"name": "bad.ics", "mimeType": "text/calendar", "buffer": BAD_CALENDAR.encode()}
    )
    desk.touch("button", "Read bookings from this file")
    desk.sees("Line 4, Dive: no service is called “Deep dive”")
    desk.sees("Line 13, All day: it does not say when it starts")
    desk.touch("link", "Choose the file again")
    with desk.page.expect_download() as download:
        desk.page.get_by_role("link", name="Save bookings.ics").click()
    saved = download.value.path().read_bytes()
    desk.page.get_by_label("Calendar file").set_input_files(
        {"name": "own.ics", "mimeType": "text/calendar", "buffer": saved}
    )
    desk.touch("button", "Read bookings from this file")
    desk.sees("Read: 0 new, 0 changed")
    desk.touch("link", "People", exact=True)
    rows = (
        b"name,phone,email\nAda Test,020 910 0300,ada@test.example\nBo Test,12,bo@test.example\n,,nobody@test.example\n"
    )
    desk.page.get_by_label("File with people").set_input_files(
        {"name": "people.csv", "mimeType": "text/csv", "buffer": rows}
    )
    desk.touch("button", "Read people from this file")
    desk.sees("Line 3, Bo Test: “12” is no phone number")
    desk.sees("Line 4, no name: A name, as it should show")
    desk.touch("link", "Choose the file again")
    card = b"BEGIN:VCARD\r\nVERSION:4.0\r\nFN:Ada Test\r\nTEL;VALUE=uri:tel:+353-20-910-0300\r\nEND:VCARD\r\n"
    desk.page.get_by_label("File with people").set_input_files(
        {"name": "ada.vcf", "mimeType": "text/vcard", "buffer": card}
    )
    desk.touch("button", "Read people from this file")
    desk.sees("1 people added, 0 were known already.")
