"""Facts of the house's own: asked of people and jobs, refused beside their field, kept, shown, exported and erased."""

from __future__ import annotations

from datetime import timedelta

import pytest

from abrazo.core.errors import Code, Refused
from abrazo.core.states import FileKind, OwnAbout
from abrazo.desk.doors import file_imports, job_changes, jobs
from abrazo.desk.doors.job_changes import JobChange
from abrazo.desk.doors.jobs import DropOff
from abrazo.desk.doors.views.jobs import job_paper
from abrazo.desk.overview import held
from abrazo.desk.people import own_fields, people
from abrazo.formats.job_text import tag_text
from abrazo.store import own_fields as kept
from tests.desk.conftest import Desk
from tests.desk.scenes import person
from tests.refusals import bad_entries


def decided(desk: Desk, setting: str, typed: str) -> list[int]:
    own_fields.decide_fields(desk.house, desk.boss, setting, typed)
    desk.house.forget()
    return [one.id for one in own_fields.fields_of(desk.house, own_fields.DECIDED[setting])]


def said(desk: Desk, about: OwnAbout, ref: int) -> dict[str, str]:
    desk.house.forget()
    return {one.field.name: one.value for one in own_fields.said_of(desk.house, about, ref)}


def test_of_people(desk: Desk) -> None:
    size, swims = decided(desk, "person_fields", " Boot size;Swims: yes, no , with help; ")
    assert own_fields.in_words(own_fields.fields_of(desk.house, OwnAbout.PERSON)) == (
        "Boot size; Swims: yes, no, with help"
    )
    facts = {"name": "Petra Moe", f"own-{size}": " 41 ", f"own-{swims}": "maybe"}
    with pytest.raises(Refused) as refusal:
        people.add_person(desk.house, desk.tamsin, facts, desk.key())
    assert (refusal.value.code, refusal.value.where) == (Code.OWN_CHOICE, f"own-{swims}")
    who = people.add_person(desk.house, desk.tamsin, {**facts, f"own-{swims}": "with help"}, desk.key())
    assert said(desk, OwnAbout.PERSON, who) == {"Boot size": "41", "Swims": "with help"}
    people.change_person(desk.house, desk.tamsin, who, {"name": "Petra Moe", f"own-{size}": ""})
    assert said(desk, OwnAbout.PERSON, who) == {"Boot size": "", "Swims": "with help"}  # what was not sent stays
    decided(desk, "person_fields", "Boot size")
    assert said(desk, OwnAbout.PERSON, who) == {"Boot size": ""}
    assert decided(desk, "person_fields", "Swims; Boot size") == [swims, size]
    assert said(desk, OwnAbout.PERSON, who) == {"Swims": "with help", "Boot size": ""}  # as it was said
    decided(desk, "person_fields", "Swims: yes, no; Boot size")  # a choice that is none any more stays with who has it
    people.change_person(desk.house, desk.tamsin, who, {"name": "Petra Moe", f"own-{swims}": "with help"})
    with pytest.raises(Refused):
        people.change_person(desk.house, desk.tamsin, who, {"name": "Petra Moe", f"own-{swims}": "maybe"})
    assert b"with help" in held.write_out(desk.house, desk.boss, who)
    held.erase(desk.house, desk.boss, who, desk.key())
    assert not any(value for _, value in kept.said(desk.house.connection, OwnAbout.PERSON, who))


def test_of_jobs(desk: Desk) -> None:
    (kind,) = decided(desk, "job_fields", "Kind: boat, drysuit")
    who, day = person(desk), (desk.clock.time + timedelta(days=3)).date().isoformat()
    wanted = DropOff(
        who, "Red one", (("wrist-seals", "1", ""),), day, "12:00", note="careful", own={f"own-{kind}": "x"}
    )
    with pytest.raises(Refused) as refusal:
        jobs.drop_off(desk.house, desk.tamsin, wanted, None, desk.key())
    assert refusal.value.where == f"own-{kind}"
    own = {f"own-{kind}": "drysuit"}
    wanted = DropOff(who, "Red one", (("wrist-seals", "1", ""),), day, "12:00", note="careful", own=own)
    job, _ = jobs.drop_off(desk.house, desk.tamsin, wanted, None, desk.key())
    assert said(desk, OwnAbout.JOB, job) == {"Kind": "drysuit"}
    paper = job_paper(desk.house, job)
    assert paper.note == "Kind: drysuit; careful" and "Kind: drysuit" in tag_text(paper)
    change = JobChange("Red one", "careful", day, "12:00", "", "", {}, own={f"own-{kind}": "boat"})
    job_changes.change(desk.house, desk.tamsin, job, change, desk.key())
    assert said(desk, OwnAbout.JOB, job) == {"Kind": "boat"}
    with pytest.raises(Refused):
        job_changes.change(
            desk.house, desk.tamsin, job, JobChange("", "", day, "12:00", "", "", {}, own=own), desk.key()
        )
    assert said(desk, OwnAbout.JOB, job) == {"Kind": "boat"}


@pytest.mark.parametrize(
    "typed", ["a; a", "x" * 31, "; ".join(map(str, range(13))), "Kind: " + ", ".join(map(str, range(21)))]
)
def test_refused(desk: Desk, typed: str) -> None:
    with pytest.raises(Refused) as refusal:
        own_fields.decide_fields(desk.house, desk.boss, "job_fields", typed)
    assert (refusal.value.code, refusal.value.where) == (Code.OWN_FIELDS, "job_fields")
    with pytest.raises(Refused) as other:
        own_fields.decide_fields(desk.house, desk.tamsin, "job_fields", "Kind")
    assert other.value.code == Code.RIGHT_SET_UP and not own_fields.fields_of(desk.house, OwnAbout.JOB)


def test_a_file_says_them_too(desk: Desk) -> None:
    decided(desk, "person_fields", "Swims: yes, no; Boat size")
    heads = "name,phone,language,Boat Size,swims\n"

    def taken_in(rows: str) -> None:
        data = (heads + rows).encode()
        file = file_imports.hand_in(desk.house, desk.boss, FileKind.PEOPLE, (data, "a.csv"), desk.key())
        file_imports.read_next(desk.house, lambda work, *given: work(*given))
        refusal = file_imports.standing(desk.house, file).refusal
        if refusal:
            raise refusal

    for row in ("Nia Roe,,es,,perhaps\n", "Nia Roe,,xx,,\n", f"Nia Roe,,,{'9' * 81},\n"):
        with pytest.raises(Refused) as refusal:
            taken_in(f"Una Roe,,,tall,no\n{row}")
        (words,) = bad_entries(refusal.value)
        assert "3" in words
        assert "Nia Roe" in words
    assert not people.find_people(desk.house, "Roe")
    taken_in("Una Roe,,,tall,no\nNia Roe,,es,,yes\n")
    una, nia = (people.find_people(desk.house, name)[0] for name in ("Una Roe", "Nia Roe"))
    assert said(desk, OwnAbout.PERSON, una.id) == {"Swims": "no", "Boat size": "tall"}
    assert said(desk, OwnAbout.PERSON, nia.id) == {"Swims": "yes", "Boat size": ""}
    assert (una.language, nia.language) == ("", "es")


def test_what_a_broken_off_file_said_is_gone_with_it(desk: Desk) -> None:
    decided(desk, "person_fields", "Boat size")
    rows = "".join(f"Roe {n},tall\n" for n in range(120))
    data = f"name,boat size\n{rows}".encode()
    file_imports.hand_in(desk.house, desk.boss, FileKind.PEOPLE, (data, "a.csv"), desk.key())

    def killed() -> None:
        raise RuntimeError

    with pytest.raises(RuntimeError):
        file_imports.read_next(desk.house, lambda work, *given: work(*given), killed)
    file_imports.read_next(desk.house, lambda work, *given: work(*given))
    count = "SELECT (SELECT count(*) FROM own_value), count(*) FROM own_value v JOIN person p ON p.id = v.ref"
    assert tuple(desk.house.connection.execute(count).fetchone()) == (120, 120)
