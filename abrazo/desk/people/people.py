"""People: adding and changing them, finding them, reading them from a file."""

from __future__ import annotations

from collections.abc import Generator, Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date
from typing import NamedTuple

from abrazo.core.codes import holds_card_number
from abrazo.core.errors import BadEntry, Code, Refused
from abrazo.core.journal import Kind, Personal
from abrazo.core.moments import read_day
from abrazo.core.people import SHORTEST, folded, search_parts, search_words
from abrazo.core.states import OwnAbout
from abrazo.desk.act import acting
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.people.own_fields import checked, keep_said, read_said
from abrazo.formats.email_address import read_email
from abrazo.formats.people_file import Entry, read_people
from abrazo.formats.phone import national, read_phone
from abrazo.store import people
from abrazo.store.own_fields import OwnField
from abrazo.store.people import Person
from abrazo.words.catalogue import paper_languages

LONGEST_NAME, LONGEST_NOTES = 60, 400
MOST_FAULTS = 50  # of a file that are named
IN_PART = 200  # entries of a file that are read, and written, at once: half a tenth of a second
FACTS = ("name", "phone", "email", "birthday", "household", "company", "account", "notes", "language")


def read_person(house: House, typed: Mapping[str, str]) -> tuple[Person, str]:
    """A person from typed facts, and the name of the household (empty for none). Refused beside the field."""
    return person_of(typed, house.settings.region, house.now().date())


def person_of(typed: Mapping[str, str], region: str, today: date) -> tuple[Person, str]:
    """The same for a house in a region (CLDR, for its phone numbers), on a date."""
    name = " ".join(typed.get("name", "").split())
    if not name:
        raise Refused(Code.NO_PERSON_NAME, "name")
    if len(name) > LONGEST_NAME:
        raise Refused(Code.NAME_TOO_LONG, "name", most=LONGEST_NAME, count=len(name))
    phone, email = typed.get("phone", "").strip(), typed.get("email", "").strip()
    notes = typed.get("notes", "").strip()
    if len(notes) > LONGEST_NOTES:
        raise Refused(Code.NOTES_TOO_LONG, "notes", most=LONGEST_NOTES, count=len(notes))
    language = typed.get("language", "").strip()
    if language and language not in paper_languages():
        raise Refused(Code.FIELD_CHOICE, "language", typed=language, known=", ".join(paper_languages()))
    person = Person(
        id=0,
        name=name,
        phone=read_phone(phone, region) if phone else None,
        email=read_email(email) if email else None,
        birthday=_birthday(typed.get("birthday", "").strip(), today),
        company=typed.get("company", "") == "yes",
        account=typed.get("account", "") == "yes",
        notes=notes,
        since=today.isoformat(),
        language=language,
    )
    return person, " ".join(typed.get("household", "").split())


def _birthday(text: str, today: date) -> str | None:
    if not text:
        return None
    day = read_day(text, "birthday", "1987-04-30")
    if day > today:
        raise Refused(Code.BIRTHDAY_TO_COME, "birthday")
    return day.isoformat()


def words_of(person: Person) -> str:
    """What a person is found by."""
    return search_words(person.name, person.phone, person.email, national(person.phone) if person.phone else "")


def check_phone(house: House, person: Person, typed: Mapping[str, str], but: int = 0) -> None:
    """Ask about a second person with one phone. Refused beside it, until `another` is typed as yes."""
    others = [one for one in with_phone(house, person.phone or "") if one.id != but]
    if others and typed.get("another") != "yes":
        raise Refused(Code.PHONE_KNOWN, "phone", name=others[0].name)


def with_phone(house: House, phone: str) -> list[Person]:
    """Who has a phone number (E.164)."""
    return [one for one in find_people(house, phone) if one.phone == phone] if phone else []


def keep_person(house: House, person: Person, household: str) -> int:
    """Add a person inside a transaction that is under way; gives the id."""
    home = people.household_called(house.connection, household) if household else None
    return people.add(house.connection, replace(person, household=home), words_of(person))


def add_person(house: House, actor: Actor, typed: Mapping[str, str], key: str) -> int:
    """Add a person from typed facts; gives the id."""
    with acting(house, actor, "person", key) as act:
        if act.done is not None:
            return int(act.done)
        person, household = read_person(house, typed)
        said = read_said(house, OwnAbout.PERSON, typed)
        check_phone(house, person, typed)
        made = keep_person(house, person, household)
        keep_said(house, made, said)
        act.record(Kind.PERSON_ADDED, customer=made, name=Personal(person.name))
        act.answer = str(made)
    return made


def change_person(house: House, actor: Actor, person_id: int, typed: Mapping[str, str]) -> None:
    """Write a person's facts anew."""
    with acting(house, actor, "person changed") as act:
        before = known(house, person_id)
        person, household = read_person(house, typed)
        said = read_said(house, OwnAbout.PERSON, typed, person_id)
        if person.phone != before.phone:
            check_phone(house, person, typed, person_id)
        home = people.household_called(act.connection, household) if household else None
        after = replace(person, id=before.id, household=home, since=before.since)
        people.change(act.connection, after, words_of(after))
        keep_said(house, person_id, said)
        act.record(Kind.PERSON_CHANGED, customer=person_id, name=Personal(before.name))


def keep_email(house: House, person: Person, email: str) -> None:
    """How somebody is written to, inside an act under way."""
    after = replace(person, email=email)
    people.change(house.connection, after, words_of(after))


def known(house: House, person_id: int) -> Person:
    """A person by id."""
    person = house.person(person_id) if 0 < person_id < 2**63 else None
    if person is None:
        raise NotFound(f"no person {person_id}")
    return person


def themselves(house: House, person_id: int, where: str = "q") -> Person:
    """A person with whom something new may begin. Refused for a record that was merged into another, or erased."""
    person = known(house, person_id)
    if person.merged_into is not None or person.erased_at is not None:
        raise Refused(Code.NOT_THEMSELVES, where, name=person.name)
    return person


def find_people(house: House, question: str, most: int = 12) -> list[Person]:
    """People by any part of name, phone or e-mail; one or two letters find names that begin with them."""
    parts = search_parts(question)
    long = [part for part in parts if len(part) >= SHORTEST]
    if long:
        found = people.find(house.connection, long, most * 4)
        short = [part for part in parts if len(part) < SHORTEST]
        return [p for p in found if all(part in words_of(p) for part in short)][:most]
    start = folded(question)[:2]
    return people.beginning(house.connection, start, most) if start else []


def recognised(house: House, name: str, phone: str = "") -> Person | None:
    """The one person whom a typed name or number means: with this phone and so called, else with all of this name.

    With a phone a part of the name is enough, and none where only a number was typed. Namesakes are not guessed.
    """
    said, digits = folded(name), _phone(house, phone) or _phone(house, name)
    parts = set(said.split()) if any(map(str.isalpha, said)) else set()
    called = [one for one in with_phone(house, digits) if parts <= set(folded(one.name).split())]
    if not called:
        called = [one for one in find_people(house, name) if folded(one.name) == said and not (digits and one.phone)]
    exactly = [one for one in called if folded(one.name) == said]
    return (exactly or called)[0] if len(exactly or called) == 1 else None


def _phone(house: House, typed: str) -> str:
    """A phone number as it is kept; empty when it is none."""
    try:
        return read_phone(typed, house.settings.region) if any(map(str.isdigit, typed)) else ""
    except Refused:
        return ""


# ---- from a file


@dataclass(frozen=True, slots=True)
class FromFile:
    """Somebody of a file: who, the name of their household (empty for none), the words that they are found by."""

    person: Person
    household: str
    words: str
    said: Mapping[int, str] = field(default_factory=dict)  # of the house's own fields, by their ids


class Part(NamedTuple):
    """Some of the people of a file, and how many there are in all."""

    of: int
    people: list[FromFile]


def people_in(data: bytes, name: str, region: str, today: date, own: Sequence[OwnField] = ()) -> list[FromFile]:
    """The people of a file, with what it says of the house's own fields. It needs no house: another process can do it.

    Refused with every bad entry by line and reason.
    """
    return [one for part in parts_of(data, name, region, today, own) for one in part.people]


def parts_of(
    data: bytes, name: str, region: str, today: date, own: Sequence[OwnField] = ()
) -> Generator[Part, None, None]:
    """The same part by part, so that the first can be written while the rest is read.

    Refused at the end when an entry was bad; after the first bad one come no more parts.
    """
    entries, faults = read_people(data, name, [one.name for one in own]), list[BadEntry]()
    for first in range(0, len(entries), IN_PART):
        found = list[FromFile]()
        for entry in entries[first : first + IN_PART]:
            try:
                found.append(_from_file(entry, region, today, own))
            except Refused as refusal:
                faults.append(BadEntry(entry.line, entry.facts.get("name", ""), refusal))
        if not faults:
            yield Part(len(entries), found)
    refuse_entries(faults)


def _from_file(entry: Entry, region: str, today: date, own: Sequence[OwnField]) -> FromFile:
    _holds_no_card(entry.facts)
    person, household = person_of(entry.facts, region, today)
    said = {one.id: checked(one, entry.facts[one.name], "file") for one in own if entry.facts.get(one.name)}
    return FromFile(person, household, words_of(person), said)


def refuse_entries(faults: Sequence[BadEntry]) -> None:
    """Refused with the first of the bad entries of a file, and how many more there are; nothing when there is none."""
    if faults:
        first = tuple(faults[:MOST_FAULTS])
        raise Refused(Code.NOT_IMPORTED, "file", faults=first, more=len(faults) - len(first))


def _holds_no_card(facts: Mapping[str, str]) -> None:
    """Refused for a cell that holds a card's number; what is a phone's number is none."""
    for name, value in facts.items():
        if name != "phone" and holds_card_number(value):
            raise Refused(Code.HOLDS_CARD_NUMBER, "file")


def new_among(house: House, found: Iterable[FromFile]) -> list[FromFile]:
    """Those of a file's people who are not known by phone and name."""
    return [one for one in found if not _is_known(house, one.person)]


def keep_new(house: House, found: Iterable[FromFile], file: int) -> int:
    """Keep those of a file's people who are not known by phone and name, unseen until the file is done; how many."""
    new = new_among(house, found)
    for one in new:
        home = people.household_called(house.connection, one.household) if one.household else None
        made = people.add(house.connection, replace(one.person, household=home), one.words, file)
        keep_said(house, made, one.said)
    return len(new)


def _is_known(house: House, person: Person) -> bool:
    same = people.by_phone(house.connection, person.phone) if person.phone else []
    return any(other.name == person.name for other in same)
