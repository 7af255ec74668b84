"""Facts of the house's own: asked of people and jobs, refused beside their field, kept, shown, exported and erased."""

from __future__ import annotations

from datetime import timedelta

import pytest

from abrazo.core.errors import Code, Refused
from abrazo.core.states import OwnAbout
from abrazo.desk.doors import job_changes, jobs
from abrazo.desk.doors.job_changes import JobChange
from abrazo.desk.doors.jobs import DropOff
from abrazo.desk.doors.views.jobs import job_paper
from abrazo.desk.overview import held
from abrazo.desk.people import own_fields, people
from abrazo.formats.job_text import tag_text
from abrazo.store import own_fields as kept
from tests.desk.conftest import Desk
from tests.desk.scenes import person


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
