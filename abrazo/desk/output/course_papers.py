"""Who comes to a course, for whoever leads it: on paper and as a file."""

from __future__ import annotations

from abrazo.core.journal import Kind, Personal
from abrazo.core.states import BookingState
from abrazo.desk.act import acting, noting
from abrazo.desk.context import Actor, House
from abrazo.desk.doors.views.courses import CourseSheet, course_sheet
from abrazo.desk.output.outbox import on_paper, send_waiting
from abrazo.desk.output.views.receipt import paper_date
from abrazo.formats.statement import table_csv
from abrazo.store import outbox
from abrazo.words import phrases as w
from abrazo.words.speaking import sentence
from abrazo.words.states import state_word


def _coming(house: House, told: CourseSheet) -> list[tuple[str, ...]]:
    """Name, phone, how many, note and where it stands, of everybody who is expected."""
    texts = house.reader.texts
    return [
        (
            visit.booking.name,
            phone,
            str(visit.booking.party),
            visit.booking.note,
            state_word(texts, visit.state),
        )
        for visit, phone in told.places
        if visit.booking.state != BookingState.CANCELLED
    ]


def participants(house: House, actor: Actor, course_id: int) -> str:
    """Who comes as CSV (RFC 4180); that it went out stands in the journal."""
    told, say = course_sheet(house, course_id), house.say
    heads = (say(w.ACCOUNT_NAME), say(w.COURSE_PHONE), say(w.COURSE_MANY), say(w.COURSE_NOTE), say(w.COURSE_STATE))
    with noting(house) as note:
        note(actor, Kind.FILE_WRITTEN, what="course")
    return table_csv((heads, *_coming(house, told)))


def print_participants(house: House, actor: Actor, course_id: int, key: str) -> bool:
    """Print who comes; False when it waits for paper."""
    with acting(house, actor, "printed", key, f"course {course_id}") as act:
        if act.done is None:
            told = course_sheet(house, course_id)
            course, service = told.given.course, told.given.service
            day, leads = paper_date(house, course.starts_at[:10]), house.staff()[course.staff].name
            title = house.say(w.COURSE_LIST_TITLE, service=service.name, date=day, time=course.starts_at[11:16])
            rows = [title, house.say(w.COURSE_LED_BY, name=leads), course.note, ""]
            for name, phone, many, note, state in _coming(house, told):
                rows += [f"[ ] {name}" + (f" × {many}" if many != "1" else ""), f"    {phone} {note} {sentence(state)}"]
            body = "\n".join(row.rstrip() for row in rows if row is not None) + "\n"
            outbox.add(act.connection, on_paper(act, title, body, f"course {course_id}"))
            called, starts = Personal(service.name), course.starts_at
            act.record(Kind.COURSE_LIST_PRINTED, course=course.id, service=called, starts=starts)
    return not send_waiting(house, actor.till.id)
