"""Courses as they are shown: those to come and lately, one with who comes, dates on which an item has places."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import timedelta

from abrazo.core.courses import places_left
from abrazo.core.moments import wall_text
from abrazo.desk.context import House
from abrazo.desk.doors.course_places import read_course
from abrazo.desk.doors.views.bookings import CourseOnDay, Visit, on_day, visits_of
from abrazo.formats.phone import shown
from abrazo.store import bookings, courses
from abrazo.store.catalogue import Item

LOOKS_BACK, LOOKS_AHEAD = timedelta(days=14), timedelta(days=366)


@dataclass(frozen=True, slots=True)
class CourseSheet:
    """A course with its places: who comes, and how many could still."""

    given: CourseOnDay
    places: list[tuple[Visit, str]]  # with the phone number of whose it is, as it is read; empty for none
    left: int
    over: bool


def course_sheet(house: House, course_id: int) -> CourseSheet:
    """A course by id, with who comes."""
    course = read_course(house, course_id)
    visits = visits_of(house, bookings.of_course(house.connection, course_id))
    left, over = places_left(course.places, course.taken), course.ends_at <= house.wall_now()
    return CourseSheet(on_day(house, course), [(visit, _phone(house, visit)) for visit in visits], left, over)


def _phone(house: House, visit: Visit) -> str:
    person = house.person(visit.booking.person) if visit.booking.person else None
    return shown(person.phone, house.settings.region) if person and person.phone else ""


def course_list(house: House) -> list[CourseOnDay]:
    """Courses of the last two weeks and to come, the earliest first."""
    now = house.now().replace(tzinfo=None)
    found = courses.between(house.connection, wall_text(now - LOOKS_BACK), wall_text(now + LOOKS_AHEAD))
    house.items([one.item for one in found])
    return [on_day(house, one) for one in found]


@dataclass(frozen=True, slots=True)
class DatedPlaces:
    """A date on which places of an item can be sold, and how many are left."""

    given: CourseOnDay
    left: int


def dated_items(house: House) -> set[str]:
    """Which items have courses to come, so that picking them asks for a date."""
    return courses.items_after(house.connection, house.wall_now())


def dates_of(house: House, item: Item | None) -> list[DatedPlaces]:
    """The coming courses of an item that is picked; empty for anything else."""
    if item is None or item.minutes is None:
        return []
    found = courses.of_item(house.connection, item.id, house.wall_now())
    return [DatedPlaces(on_day(house, one), places_left(one.places, one.taken)) for one in found]
