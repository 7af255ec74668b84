"""Calendars: what we write is read by another program, and what others write is read or named."""

from __future__ import annotations

from datetime import UTC, datetime

import pytest
import vobject
from hypothesis import given
from hypothesis import strategies as st

from abrazo.core.errors import Refused
from abrazo.formats.calendar_ics import Event, read_calendar, write_calendar
from tests.refusals import sentence

STAMP = datetime(2026, 6, 13, 8, 0, tzinfo=UTC)
words = (
    st.text(st.characters(codec="utf-8", exclude_categories=["Cc", "Cs", "Zl", "Zp"]), min_size=1, max_size=90)
    .map(str.strip)
    .filter(bool)
)


def event(uid: str = "a@b", name: str = "Petra Moe", note: str = "", cancelled: bool = False) -> Event:
    starts, ends = datetime(2026, 6, 20, 10, 0), datetime(2026, 6, 20, 11, 30)
    return Event(
        0, uid, f"First paddle, {name}", "First paddle", "Idris Vane", name, starts, ends, "48.00", note, cancelled
    )


@given(st.lists(st.tuples(words, st.booleans()), min_size=1, max_size=4))
def test_another_reader_finds_the_same(notes: list[tuple[str, bool]]) -> None:
    """Outside: the vobject library as an independent reader of RFC 5545 (folding, escapes, line ends)."""
    events = [event(f"uid-{n}", note=note, cancelled=cancelled) for n, (note, cancelled) in enumerate(notes)]
    data = write_calendar("Marram Boathouse", events, STAMP)
    assert all(len(line) <= 75 for line in data.split(b"\r\n"))  # RFC 5545, 3.1
    (calendar,) = vobject.readComponents(data.decode())
    for ours, theirs in zip(events, calendar.vevent_list, strict=True):
        assert (theirs.uid.value, theirs.summary.value) == (ours.uid, ours.summary)
        assert (theirs.dtstart.value, theirs.dtend.value) == (ours.starts, ours.ends)
        assert theirs.description.value == ours.note
        assert theirs.status.value == ("CANCELLED" if ours.cancelled else "CONFIRMED")
        assert theirs.contact.value == "Petra Moe" and theirs.resources.value == ["Idris Vane"]


@given(st.lists(words, min_size=1, max_size=3))
def test_what_we_write_we_read(notes: list[str]) -> None:
    events = [event(f"uid-{n}", note=note) for n, note in enumerate(notes)]
    read = read_calendar(write_calendar("Marram Boathouse", events, STAMP), "Europe/Dublin")
    assert [(e.uid, e.service, e.staff, e.name, e.starts, e.ends, e.price, e.note) for e in read] == [
        (e.uid, e.service, e.staff, e.name, e.starts, e.ends, e.price, e.note) for e in events
    ]


def file(*lines: str) -> bytes:
    head = ["BEGIN:VCALENDAR", "VERSION:2.0", "PRODID:-//x//EN", "BEGIN:VEVENT", "UID:1", "DTSTAMP:20260613T080000Z"]
    return "\r\n".join([*head, *lines, "END:VEVENT", "END:VCALENDAR", ""]).encode()


def test_times_of_other_zones_become_the_houses() -> None:
    """RFC 5545 3.3.5: form 2 (UTC) and form 3 (with a zone); DURATION instead of DTEND."""
    utc = read_calendar(
        file("DTSTART:20260620T090000Z", "DURATION:PT1H30M", "ATTENDEE;CN=Petra Moe:mailto:p@moe.example"),
        "Europe/Dublin",
    )[0]
    assert (utc.starts, utc.ends, utc.name) == (
        datetime(2026, 6, 20, 10, 0),
        datetime(2026, 6, 20, 11, 30),
        "Petra Moe",
    )
    zoned = read_calendar(file("DTSTART;TZID=Europe/Berlin:20260620T110000"), "Europe/Dublin")[0]
    assert zoned.starts == datetime(2026, 6, 20, 10, 0)


@pytest.mark.parametrize(
    ("lines", "fault"),
    [(("DTSTART;VALUE=DATE:20260620",), "does not say when"), ((), "does not say when"), (("DTSTART:20260620T090000", "RRULE:FREQ=DAILY"), "repeats")],
)  # fmt: skip
def test_what_is_no_booking_says_why(lines: tuple[str, ...], fault: str) -> None:
    (found,) = read_calendar(file(*lines), "Europe/Dublin")
    assert found.fault and fault in sentence(found.fault) and found.line == 4


@pytest.mark.parametrize(
    "data", [b"", b"hello", b"\xff\xfe", b"BEGIN:VCALENDAR\r\nEND:VCALENDAR\r\n", b"BEGIN:VEVENT\r\n"]
)
def test_what_is_no_calendar_is_refused(data: bytes) -> None:
    with pytest.raises(Refused):
        read_calendar(data, "Europe/Dublin")


FRAME = "BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nUID:1\r\n{}\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n"


@pytest.mark.parametrize(
    ("lines", "said"),
    [
        ("DTSTART:20260620T100000\r\nDURATION:PT99999999999H", "DURATION"),
        ("DTSTART:20260620T100000\r\nDURATION:P9999999D", "DURATION"),
        ("DTSTART:00010101T000000", "DTSTART"),
        ("DTSTART;TZID=Asia/Tokyo:00010101T000000", "DTSTART"),
        ("DTSTART:99991231T235959Z", "DTSTART"),
    ],
)
def test_times_that_no_visit_has_are_named(lines: str, said: str) -> None:
    (found,) = read_calendar(FRAME.format(lines).encode(), "America/Chicago")
    assert found.fault and said in sentence(found.fault)
