"""Whether a course has room: asked by whatever books, changes or brings back one of its places."""

from __future__ import annotations

from abrazo.core.courses import fits, places_left
from abrazo.core.errors import Code, Refused
from abrazo.desk.context import House, NotFound
from abrazo.store import courses
from abrazo.store.courses import Course


def read_course(house: House, course_id: int) -> Course:
    """A course by id."""
    course = courses.read(house.connection, course_id) if 0 < course_id < 2**63 else None
    if course is None:
        raise NotFound(f"no course {course_id}")
    return course


def check_room(house: House, course: Course, party: int, where: str = "party") -> None:
    """Refused beside the field when not so many more can come to a course."""
    if not fits(course.places, course.taken, party):
        left = places_left(course.places, course.taken)
        item = house.item(course.item)
        name = item.name if item else course.item
        raise Refused(Code.COURSE_FULL, where, course=name, starts=course.starts_at, left=left)
