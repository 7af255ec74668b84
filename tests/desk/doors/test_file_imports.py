"""Files with people or bookings: one after the other, all or nothing, seen when all of it is there."""

from __future__ import annotations

import threading
from collections.abc import Callable
from datetime import date, timedelta
from typing import TypeVar

import pytest

from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Kind
from abrazo.core.states import FileKind, ImportState
from abrazo.desk.doors import file_imports
from abrazo.desk.people import people
from abrazo.desk.people.people import find_people
from abrazo.desk.setup.founding import close_house, open_house
from abrazo.formats.calendar_ics import Event, write_calendar
from abrazo.store import bookings as bookings_store
from abrazo.store import journal
from abrazo.store import people as people_store
from abrazo.worker import apart
from abrazo.worker.apart import Stopped, do_apart
from tests.desk.conftest import Desk
from tests.desk.scenes import wren
from tests.refusals import bad_entries, refuses

T = TypeVar("T")
HEADS = "name,phone,household\n"


class Killed(Exception):
    """The process is gone."""


def here(work: Callable[..., T], *given: object) -> T:
    return work(*given)


def csv(number: int, start: int = 0) -> bytes:
    rows = (f"Guest {n:06},+4420910{n:05},Home {n // 4}" for n in range(start, start + number))
    return (HEADS + "\n".join(rows)).encode()


def hand_in(desk: Desk, data: bytes, kind: FileKind = FileKind.PEOPLE, key: str = "") -> int:
    return file_imports.hand_in(desk.house, desk.boss, kind, (data, "some.csv"), key or desk.key())


def read(desk: Desk, rest: Callable[[], None] = lambda: None) -> bool:
    return file_imports.read_next(desk.house, here, rest)


def count(desk: Desk) -> int:
    return people_store.count(desk.house.connection)


def test_read_once_in_the_order_in_which_they_came(desk: Desk) -> None:
    facts = {"name": "Guest 000001", "phone": "+4420910" + "00001"}
    people.add_person(desk.house, wren(desk), facts, desk.key())
    first = [hand_in(desk, csv(3), key="the same key of a page") for _ in range(2)]
    second = hand_in(desk, csv(3))
    assert (first[0], file_imports.standing(desk.house, second).before) == (first[1], 1)
    assert (read(desk), read(desk), read(desk), count(desk)) == (True, True, False, 3)
    ended = [file_imports.standing(desk.house, file).file for file in (first[0], second)]
    assert [(file.state, file.added, file.known) for file in ended] == [("done", 2, 1), ("done", 0, 3)]
    entries = journal.of_days(desk.house.connection, [desk.house.day().id])
    said = [one for one in entries if one.kind == Kind.PEOPLE_IMPORTED]
    assert {one.staff for one in said} == {desk.boss.staff.id} and len(said) == 2


def test_a_file_with_faults_brings_nothing_and_names_them(desk: Desk) -> None:
    rows = "Ada,020 910 0300,\nBo,12,\n,,somewhere\n" + "Cy,1,\n" * 60
    file = hand_in(desk, (HEADS + rows).encode())
    assert (read(desk), count(desk)) == (True, 0)
    refusal = file_imports.standing(desk.house, file).refusal
    assert refusal and refusal.facts["more"] == 12
    said = bad_entries(refusal)
    assert [fault.split(":")[0] for fault in said[:2]] == ["Line 3, Bo", "Line 4, no name"] and len(said) == 50


@pytest.mark.parametrize(("data", "code"), [
    (b"GIF89a\x00\x01", Code.PEOPLE_FILE_KIND), (b"\xff\xfe\x00", Code.NOT_UTF8_FILE), (b"name\n", Code.PEOPLE_FILE_EMPTY),
    (b"name,shoe\nAda,42", Code.PEOPLE_FILE_COLUMNS),
])  # fmt: skip
def test_what_is_no_such_file_is_said(desk: Desk, data: bytes, code: Code) -> None:
    file = hand_in(desk, data)
    read(desk)
    how = file_imports.standing(desk.house, file)
    assert (how.file.state, how.refusal and how.refusal.code) == (ImportState.REFUSED, code)


def test_too_many_are_refused_before_any_is_read(desk: Desk) -> None:
    for data, kind in ((b"name\n" + b"a\n" * 100_002, FileKind.PEOPLE), (b"BEGIN:VEVENT\n" * 5001, FileKind.BOOKINGS)):
        with refuses("this file has"):
            hand_in(desk, data, kind)
    with pytest.raises(Refused) as refusal:
        file_imports.hand_in(desk.house, wren(desk), FileKind.PEOPLE, (csv(1), "a"), desk.key())
    assert (refusal.value.code, read(desk)) == (Code.RIGHT_MOVE_FILES, False)


def test_nobody_is_seen_before_all_are_there_and_a_killed_import_begins_again(desk: Desk) -> None:
    file, seen, left = hand_in(desk, csv(550)), set[int](), 2

    def look() -> None:
        nonlocal left
        seen.add(count(desk) + len(find_people(desk.house, "Guest")) + len(find_people(desk.house, "gu")))
        left -= 1
        if not left:
            raise Killed

    with pytest.raises(Killed):
        read(desk, look)
    state = file_imports.standing(desk.house, file).file
    assert (seen, state.state, state.written) == ({0}, ImportState.WRITING, 2 * people.IN_PART)
    again = open_house(desk.folder / "house.db", desk.house.devices, desk.clock)
    assert file_imports.read_next(again, here)
    close_house(again)
    assert (count(desk), len(find_people(desk.house, "Guest 000549"))) == (550, 1)
    marked = desk.house.connection.execute("SELECT count(*) FROM person WHERE file_import IS NOT NULL").fetchone()[0]
    assert marked == 0


def test_without_a_day_a_file_waits_for_the_next(desk: Desk) -> None:
    """Handed in while none is open, or closed while it was read: nothing of it is seen, nothing is lost."""
    days = desk.house.connection.execute("SELECT closed_at FROM day").fetchall()
    assert [day["closed_at"] for day in days] == [None]

    def set_closed(closed: str | None) -> None:
        desk.house.connection.execute("UPDATE day SET closed_at = ?", (closed,))
        desk.house.forget()

    file = hand_in(desk, csv(120))
    assert not read(desk, lambda: set_closed("2026-06-13T20:00:00Z"))
    how = file_imports.standing(desk.house, file)
    assert (how.file.state, how.needs_day, count(desk)) == (ImportState.WAITING, True, 0)
    second = hand_in(desk, csv(5))
    assert not read(desk)
    set_closed(None)
    assert (read(desk), read(desk), count(desk)) == (True, True, 120)
    assert file_imports.standing(desk.house, second).file.known == 5


def test_what_brings_its_reader_down_is_given_up(desk: Desk) -> None:
    file = hand_in(desk, csv(5))

    def breaks(work: Callable[..., T], *given: object) -> T:
        raise MemoryError

    with pytest.raises(MemoryError):
        file_imports.read_next(desk.house, breaks)
    file_imports.give_up(desk.house)
    how = file_imports.standing(desk.house, file)
    assert how.refusal and (how.refusal.code, count(desk), read(desk)) == (Code.FILE_BROKE, 0, False)


def test_bookings_of_a_file_are_read_by_it_alone(desk: Desk) -> None:
    starts = desk.clock.time.replace(tzinfo=None) + timedelta(days=1)
    events = [
        Event(0, f"{n}@x", "Roll clinic", "Roll clinic", "Idris Vane", f"Guest {n}", starts, None) for n in range(150)
    ]
    data = write_calendar("Some house", events, desk.clock.time)
    for added in (150, 0):
        file = hand_in(desk, data, FileKind.BOOKINGS)
        read(desk)
        state = file_imports.standing(desk.house, file).file
        assert (state.state, state.added, state.changed, state.written) == (ImportState.DONE, added, 0, 150)
    assert len(bookings_store.all_bookings(desk.house.connection)) == 150


def test_a_bad_entry_at_the_end_takes_back_what_was_written_before_it(desk: Desk) -> None:
    file, seen = hand_in(desk, csv(450) + b"\nToo late,no phone,"), list[int]()

    def look() -> None:
        seen.append(file_imports.standing(desk.house, file).file.written)
        assert (count(desk), find_people(desk.house, "Guest")) == (0, [])

    assert read(desk, look)
    how = file_imports.standing(desk.house, file)
    assert how.refusal and bad_entries(how.refusal)[0].startswith("Line 452, Too late")
    assert (seen[:2], count(desk)) == ([people.IN_PART, 2 * people.IN_PART], 0)
    assert desk.house.connection.execute("SELECT count(*) FROM person WHERE name LIKE 'Guest %'").fetchone()[0] == 0


def test_a_process_apart_says_part_after_part_and_ends_as_its_work_does(monkeypatch: pytest.MonkeyPatch) -> None:
    today, going, ended = date(2026, 6, 13), threading.Event(), threading.Event()
    parts = list(do_apart(going, people.parts_of, csv(450), "some.csv", "AT", today))
    assert [(part.of, len(part.people)) for part in parts] == [(450, 200), (450, 200), (450, 50)]
    assert do_apart(going, people.people_in, csv(450), "some.csv", "AT", today) == [
        p for part in parts for p in part.people
    ]
    told = do_apart(going, people.parts_of, csv(250) + b"\nToo late,no phone,", "some.csv", "AT", today)
    assert len(next(told).people) == people.IN_PART
    with pytest.raises(Refused) as refused:
        next(told)
    assert bad_entries(refused.value)[0].startswith("Line 252, Too late")
    told = do_apart(ended, people.parts_of, csv(450), "some.csv", "AT", today)
    next(told)
    ended.set()
    with pytest.raises(Stopped):
        next(told)
    monkeypatch.setattr(apart, "PATIENCE", 0.0)
    with pytest.raises(Refused, match=Code.FILE_BROKE):
        list(do_apart(going, people.parts_of, csv(20_000), "some.csv", "AT", today))


FEW = {("write_off", "account"), ("person_merge", "into_person"), ("person_merge", "person"),
       ("statement_run_row", "person"), ("debit_back", "person")}  # fmt: skip  # that a house has of these


def test_nothing_is_looked_through_whole_for_somebody_who_is_taken_out(desk: Desk) -> None:
    """A row that goes is looked for in every column that may name it: each of those has an index."""
    c = desk.house.connection
    tables = [row["name"] for row in c.execute("SELECT name FROM sqlite_schema WHERE type = 'table'")]
    named = {
        (t, fk["from"]) for t in tables for fk in c.execute(f"PRAGMA foreign_key_list({t})") if fk["table"] == "person"
    }
    indexes = {(t, i["name"]) for t in tables for i in c.execute(f"PRAGMA index_list({t})")}
    first = {(t, c.execute(f"PRAGMA index_info({i})").fetchone()["name"]) for t, i in indexes}
    keys = {(t, one["name"]) for t in tables for one in c.execute(f"PRAGMA table_info({t})") if one["pk"] == 1}
    assert named - first - keys == FEW
