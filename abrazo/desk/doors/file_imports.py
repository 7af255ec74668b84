"""Files with people or bookings: handed in at a page, read beside the pages, one after the other, all or nothing.

Rules here
- who hands a file in needs the right then; what it did stands in the journal in their name, on the day when it is done
- without an open day nothing is read: the file waits for the next
- people are written in small steps, unseen until the last, while the rest of them is read; when one is bad, what was
  written goes again; a file whose reading was cut off begins again
- bookings change what is there, so they are worked out first and written in one step
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from contextlib import closing
from dataclasses import dataclass
from itertools import islice
from typing import Protocol, TypeVar

from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Kind
from abrazo.core.states import FileKind, ImportState, OwnAbout
from abrazo.desk.act import acting, fresh, write_entry
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.doors.calendars import from_events, put_in
from abrazo.desk.people.own_fields import fields_of
from abrazo.desk.people.people import IN_PART, keep_new, parts_of
from abrazo.desk.permissions import Right
from abrazo.formats.calendar_ics import Event, count_events, read_calendar
from abrazo.formats.people_file import count_people
from abrazo.formats.refusal_json import read_refusal, write_refusal
from abrazo.store import file_imports as store
from abrazo.store.file_imports import FileImport

T = TypeVar("T")
MARKS_AT_ONCE = 500  # whose marks are taken off, likewise


class Elsewhere(Protocol):
    """Calls a function with what it is given, in another process for instance, and gives its answer or refusal.

    Of a generator function it gives what that yields, as it comes.
    """

    def __call__(self, work: Callable[..., T], /, *given: object) -> T:
        """What the function answers."""


@dataclass(frozen=True, slots=True)
class Standing:
    """How far a file has come: how many are read before it, whether it waits for a day, and why it was refused."""

    file: FileImport
    before: int
    needs_day: bool
    refusal: Refused | None


def hand_in(house: House, actor: Actor, kind: FileKind, file: tuple[bytes, str], key: str) -> int:
    """Keep a file (bytes and name) to be read; gives its id. Refused at once when it holds too many entries."""
    data, name = file
    (count_people if kind == FileKind.PEOPLE else count_events)(data)
    with acting(house, actor, "file in", key, kind, needs=Right.MOVE_FILES) as act:
        if act.done is not None:
            return int(act.done)
        new = FileImport(0, kind, name[:120], act.at, actor.staff.id, actor.till.id, act.by)
        made = store.add(act.connection, new, data)
        act.answer = str(made)
    return made


def standing(house: House, one: int) -> Standing:
    """How far a file has come."""
    file = store.read(house.connection, one) if 0 < one < 2**63 else None
    if file is None:
        raise NotFound(f"no file {one}")
    refusal = read_refusal(file.fault) if file.fault else None
    needs_day = file.ended_at is None and house.open_day() is None
    return Standing(file, store.before(house.connection, one), needs_day, refusal)


def read_next(house: House, elsewhere: Elsewhere, rest: Callable[[], None] = lambda: None) -> bool:
    """Read the file that came first, to its end; False when none waits. `rest` is called between two steps."""
    for ended in store.with_marks(house.connection):
        _clear(house, ended, rest)
    file = store.next_open(house.connection)
    if file is None or house.open_day() is None:
        return False
    if file.state != ImportState.WAITING:  # its reading was cut off
        _begin_again(house, file, rest)
    try:
        with fresh(house):
            store.set_state(house.connection, file.id, ImportState.READING)
        (_read_people if file.kind == FileKind.PEOPLE else _read_bookings)(house, file, elsewhere, rest)
    except Refused as refusal:
        if refusal.code == Code.NO_DAY:  # the day was closed meanwhile: it waits for the next
            _begin_again(house, file, rest)
            return False
        _discard(house, file.id, rest)
        _refuse(house, file, refusal)
    return True


def give_up(house: House) -> None:
    """The file that is being read brought down what reads it: refused, nothing of it stays."""
    file = store.next_open(house.connection)
    if file is not None and file.state != ImportState.WAITING:
        _discard(house, file.id, lambda: None)
        _refuse(house, file, Refused(Code.FILE_BROKE, "file"))


def _read_people(house: House, file: FileImport, elsewhere: Elsewhere, rest: Callable[[], None]) -> None:
    data, settings = store.data(house.connection, file.id), house.settings
    own = fields_of(house, OwnAbout.PERSON)
    with closing(elsewhere(parts_of, data, file.name, settings.region, house.now().date(), own)) as parts:
        for number, part in enumerate(parts):
            with fresh(house):
                if not number:
                    store.set_state(house.connection, file.id, ImportState.WRITING, part.of)
                store.count(house.connection, file.id, len(part.people), keep_new(house, part.people, file.id))
            rest()
    with fresh(house):
        read, at = store.read(house.connection, file.id), house.stamp()
        assert read is not None
        store.end(house.connection, file.id, ImportState.DONE, at)
        write_entry(house, _actor(house, file), at, Kind.PEOPLE_IMPORTED, added=read.added, known=read.known,
                    lender=file.lender)  # fmt: skip
    _clear(house, file.id, rest)


def _read_bookings(house: House, file: FileImport, elsewhere: Elsewhere, rest: Callable[[], None]) -> None:
    data = store.data(house.connection, file.id)
    events = elsewhere(read_calendar, data, house.settings.zone)
    with fresh(house):
        store.set_state(house.connection, file.id, ImportState.WRITING, len(events))

    def with_rests() -> Iterator[Event]:
        for some in _in_steps(events):
            yield from some
            rest()

    found = from_events(house, with_rests())
    with fresh(house):
        at = house.stamp()
        taken = put_in(house, found, at)
        store.count(house.connection, file.id, len(found), taken.new, taken.changed)
        store.end(house.connection, file.id, ImportState.DONE, at)
        write_entry(house, _actor(house, file), at, Kind.CALENDAR_READ, new=taken.new, changed=taken.changed,
                    lender=file.lender)  # fmt: skip


def _in_steps(many: Sequence[T]) -> Iterator[list[T]]:
    left = iter(many)
    while some := list(islice(left, IN_PART)):
        yield some


def _actor(house: House, file: FileImport) -> Actor:
    """Who handed a file in: what it brings is recorded in their name, at their till."""
    return Actor(house.staff()[file.staff], house.tills()[file.till], by_itself=True)


def _refuse(house: House, file: FileImport, refusal: Refused) -> None:
    with fresh(house):
        store.end(house.connection, file.id, ImportState.REFUSED, house.stamp(), write_refusal(refusal))


def _begin_again(house: House, file: FileImport, rest: Callable[[], None]) -> None:
    _discard(house, file.id, rest)
    with fresh(house):
        store.begin_again(house.connection, file.id)


def _discard(house: House, one: int, rest: Callable[[], None]) -> None:
    """Remove what a file brought, in small steps; nobody has seen it."""
    while _some(house, store.discard_some, one, IN_PART):
        rest()


def _clear(house: House, one: int, rest: Callable[[], None]) -> None:
    """People of a file that is done carry its mark no more."""
    while _some(house, store.publish_some, one, MARKS_AT_ONCE):
        rest()


def _some(house: House, step: Callable[..., int], one: int, most: int) -> int:
    with fresh(house):
        return step(house.connection, one, most)
