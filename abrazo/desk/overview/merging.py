"""Two records of one person as one, and as two again.

Rules here
- everything of the second hangs on the first; what the first does not say of itself, the second says
- nobody is merged who sits at an open ticket, or whose account is not even: the books keep accounts apart
- undone, each has what they had, and what came since stays with the first
"""

from __future__ import annotations

import json
from dataclasses import asdict, replace

from abrazo.core.errors import Code, Refused
from abrazo.core.figures import Booked, Figure, FigureKind
from abrazo.core.journal import Kind, Personal
from abrazo.core.ledger import points_postings
from abrazo.core.loyalty import merged_worth
from abrazo.desk.act import Act, acting
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.payments.accounts import owed_by
from abrazo.desk.people.people import find_people, known, words_of
from abrazo.store import merging, people, stored_value
from abrazo.store import ticket as ticket_store
from abrazo.store.merging import Merge
from abrazo.store.people import Person

MOST_ALIKE = 6


def merged(house: House, person_id: int) -> list[tuple[Merge, Person]]:
    """Who became the same as somebody, as they are still kept."""
    return [(one, known(house, one.person)) for one in merging.standing(house.connection, person_id)]


def alike(house: House, person: Person) -> list[Person]:
    """Who may be the same: who is found by a part of the name, the phone or the e-mail."""
    asked = [*person.name.split(), person.phone or "", person.email or ""]
    found = {one.id: one for part in asked if part for one in find_people(house, part, MOST_ALIKE)}
    return [one for one in found.values() if one.id != person.id and one.company == person.company][:MOST_ALIKE]


def merge(house: House, actor: Actor, person_id: int, into_id: int, key: str) -> None:
    """The first becomes the same as the second. Refused for themselves, at an open ticket, with money open."""
    with acting(house, actor, "people merged", key, f"person {person_id} {into_id}") as act:
        if act.done is not None:
            return
        gone, stays = known(house, person_id), known(house, into_id)
        _may(house, gone, stays)
        worth = _points(house, gone.id, stays.id)
        facts = json.dumps({"gone": asdict(gone), "stays": asdict(stays)})
        merging.add(act.connection, gone.id, stays.id, act.at, actor.staff.id, facts)
        people.change(act.connection, gone, "")
        after = _filled(stays, gone)
        people.change(act.connection, after, words_of(after))
        name, other = Personal(gone.name), Personal(stays.name)
        act.record(Kind.PEOPLE_MERGED, None, _booked(worth), customer=stays.id, person=gone.id, name=name, other=other)


def _may(house: House, gone: Person, stays: Person) -> None:
    if gone.id == stays.id or gone.merged_into is not None or stays.merged_into is not None or gone.erased_at:
        raise Refused(Code.NOT_MERGED, "merge", name=gone.name)
    if gone.company != stays.company:
        raise Refused(Code.MERGE_COMPANY, "merge")
    for one in (gone, stays):
        number = next(iter(ticket_store.open_of_person(house.connection, one.id)), None)
        head = house.head(number) if number else None
        if head is not None:
            raise Refused(Code.MERGE_OPEN, "merge", name=one.name, number=head.number)
    if owed_by(house, gone):
        raise Refused(Code.MERGE_ACCOUNT, "merge", name=gone.name)
    credits = [stored_value.credit_of(house.connection, one.id) for one in (gone, stays)]
    if all(credits):
        raise Refused(Code.MERGE_CREDIT, "merge")


def _filled(stays: Person, gone: Person) -> Person:
    """Who stays, with what only the other record said."""
    notes = "; ".join(dict.fromkeys(one for one in (stays.notes, gone.notes) if one))
    return replace(
        stays,
        phone=stays.phone or gone.phone,
        email=stays.email or gone.email,
        birthday=stays.birthday or gone.birthday,
        language=stays.language or gone.language,
        household=stays.household or gone.household,
        account=stays.account or gone.account,
        notes=notes,
    )


def _points(house: House, *several: int) -> int:
    """What two balances of points are worth more in the books as one; minor units, mostly 0."""
    lot, value = house.settings.points_lot, house.settings.points_value
    return merged_worth([stored_value.points_of(house.connection, one) for one in several], lot, value)


def _booked(worth: int) -> Booked:
    if not worth:
        return Booked((), ())
    return Booked(points_postings(worth), (Figure(FigureKind.POINTS, "earned", "", 0, worth),))


def part(house: House, actor: Actor, merge_id: int, key: str) -> int:
    """They are two after all; gives who is there again. Refused when who stayed sits at an open ticket."""
    with acting(house, actor, "people parted", key, f"merge {merge_id}") as act:
        if act.done is not None:
            return int(act.done)
        one = merging.read(act.connection, merge_id)
        if one is None:
            raise NotFound(f"no merge {merge_id}")
        stays = known(house, one.into_person)
        number = next(iter(ticket_store.open_of_person(house.connection, stays.id)), None)
        head = house.head(number) if number else None
        if head is not None:
            raise Refused(Code.MERGE_OPEN, "merge", name=stays.name, number=head.number)
        merging.undo(act.connection, one, act.at)
        _as_before(act, one)
        worth = _points(house, one.person, one.into_person)
        back = known(house, one.person)
        name, other = Personal(back.name), Personal(stays.name)
        act.record(Kind.PEOPLE_PARTED, None, _booked(-worth), customer=stays.id, person=back.id, name=name, other=other)
        act.answer = str(back.id)
    return back.id


def _as_before(act: Act, one: Merge) -> None:
    """Both say of themselves what they said; what was changed of who stayed since then stays changed."""
    kept = {name: Person(**facts) for name, facts in json.loads(one.facts).items()}
    people.change(act.connection, kept["gone"], words_of(kept["gone"]))
    filled, now = _filled(kept["stays"], kept["gone"]), known(act.house, one.into_person)
    changed = {name: value for name, value in asdict(now).items() if value != asdict(filled)[name]}
    after = replace(kept["stays"], **changed)
    people.change(act.connection, after, words_of(after))
