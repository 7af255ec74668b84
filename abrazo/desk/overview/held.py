"""What is held of a person, written out for them; and its erasure.

Rules here
- somebody with whom something is still open is not erased: a ticket, a booking, a job, a hire, money either way
- names, contacts and free texts go, also in the journal, whose chain holds over their hashes; figures stay
- invoices stay as they were made, because the law on invoices asks for it, and so do signatures on payments
- Regulation (EU) 2016/679, articles 15, 17 and 20; 17 (3) (b) for what the law asks to be kept
"""

from __future__ import annotations

import json

from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Kind, Personal
from abrazo.desk.act import acting, noting
from abrazo.desk.context import Actor, House
from abrazo.desk.doors.views.jobs import cards_of
from abrazo.desk.overview.person import person_sheet
from abrazo.desk.payments.accounts import owed_by
from abrazo.desk.people.people import known
from abrazo.desk.permissions import Right, need
from abrazo.store import held, jobs, stored_value
from abrazo.words import phrases as w


def write_out(house: House, actor: Actor, person_id: int) -> bytes:
    """Everything that is held of somebody, as JSON; the journal says who asked. Refused without the right."""
    person, lender = known(house, person_id), need(actor, Right.MOVE_FILES)
    found = {"currency": house.settings.currency.code, **held.held_of(house.connection, person_id)}
    with noting(house) as note:
        note(actor, Kind.HELD_WRITTEN, customer=person_id, name=Personal(person.name), lender=lender)
    return json.dumps(found, ensure_ascii=False, indent=1).encode()


def in_the_way(house: House, person_id: int) -> list[str]:
    """What keeps somebody from being erased, in words; empty when nothing does."""
    connection, say = house.connection, house.say
    known(house, person_id)
    found = held.in_the_way(connection, person_id, house.wall_now())
    words = [say(w.HELD_BY[kind], what=what) for kind, what in found.items()]
    sheet = person_sheet(house, person_id)
    here = [card for card in cards_of(house, jobs.of_person(connection, person_id)) if card.job.left]
    words += [say(w.HELD_JOB, what=card.job.name) for card in here[:1]]
    words += [say(w.HELD_DEPOSIT, amount=v.booking.deposit) for v in sheet.coming if v.booking.deposit][:1]
    words += [say(w.HELD_SERIES, what=one.series.name) for one in sheet.series if one.left and not one.over][:1]
    words += [say(w.HELD_ASIDE, what=one.name) for one in sheet.aside][:1]
    credit = stored_value.credit_of(connection, person_id)
    left = stored_value.balance(connection, credit.id) if credit else 0
    if left:
        words.append(say(w.HELD_CREDIT, amount=left))
    if owed_by(house, known(house, person_id)):
        words.append(say(w.HELD_ACCOUNT))
    return words


def erase(house: House, actor: Actor, person_id: int, key: str) -> None:
    """Erase what is personal of somebody. Refused with what is still open; a supervisor's right."""
    with acting(house, actor, "erased", key, f"person {person_id}", Right.SET_UP) as act:
        if act.done is not None:
            return
        reasons = in_the_way(house, person_id)
        if reasons:
            raise Refused(Code.NOT_ERASED, "erase", reasons=" ".join(reasons))
        held.erase(act.connection, person_id, house.say(w.ERASED, number=person_id), act.at)
        act.record(Kind.ERASED, customer=person_id)
