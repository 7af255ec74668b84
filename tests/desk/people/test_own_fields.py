"""Facts of the house's own: asked of people and jobs, refused beside their field, kept, shown, exported and erased."""

from __future__ import annotations

from collections.abc import Iterable
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
from abrazo.desk.setup.things import Change, add, change, retire
from abrazo.desk.setup.workers import OWN_FIELDS
from abrazo.formats.job_text import tag_text
from abrazo.store import own_fields as kept
from tests.desk.conftest import Desk
from tests.desk.scenes import person
from tests.refusals import bad_entries


def asked(desk: Desk, about: OwnAbout, **wanted: str) -> list[int]:
    """Ask just this, in this order: names with _ for blanks, each with its choices."""
    before = {str(one["name"]): ref for ref, one in OWN_FIELDS.load(desk.house).items() if one["about"] == about}
    for ref in before.values():
        retire(desk.house, desk.boss, OWN_FIELDS, ref)
    for place, (name, choices) in enumerate(wanted.items(), start=50):
        name = name.replace("_", " ")
        facts = {"name": name, "about": about, "choices": choices, "prints": "yes", "position": str(place)}
        typed = {id: [str(one)] for id, one in facts.items()}
        if name in before:
            retire(desk.house, desk.boss, OWN_FIELDS, before[name], back=True)
            change(desk.house, desk.boss, OWN_FIELDS, Change(before[name], typed))
        else:
            add(desk.house, desk.boss, OWN_FIELDS, typed, desk.key())
    desk.house.forget()
    return [one.id for one in own_fields.fields_of(desk.house, about)]


def said(desk: Desk, about: OwnAbout, ref: int) -> dict[str, str]:
    desk.house.forget()
    return {one.field.name: one.value for one in own_fields.said_of(desk.house, about, ref)}


def test_of_people(desk: Desk) -> None:
    size, swims = asked(desk, OwnAbout.PERSON, Boot_size="", Swims="yes; no ; with help")
    facts = {"name": "Petra Moe", f"own-{size}": " 41 ", f"own-{swims}": "maybe"}
    with pytest.raises(Refused) as refusal:
        people.add_person(desk.house, desk.tamsin, facts, desk.key())
    assert (refusal.value.code, refusal.value.where) == (Code.OWN_CHOICE, f"own-{swims}")
    who = people.add_person(desk.house, desk.tamsin, {**facts, f"own-{swims}": "with help"}, desk.key())
    assert said(desk, OwnAbout.PERSON, who) == {"Boot size": "41", "Swims": "with help"}
    people.change_person(desk.house, desk.tamsin, who, {"name": "Petra Moe", f"own-{size}": ""})
    assert said(desk, OwnAbout.PERSON, who) == {"Boot size": "", "Swims": "with help"}  # what was not sent stays
    asked(desk, OwnAbout.PERSON, Boot_size="")
    assert said(desk, OwnAbout.PERSON, who) == {"Boot size": ""}
    assert asked(desk, OwnAbout.PERSON, Swims="", Boot_size="") == [swims, size]
    assert said(desk, OwnAbout.PERSON, who) == {"Swims": "with help", "Boot size": ""}  # as it was said
    asked(desk, OwnAbout.PERSON, Swims="yes; no", Boot_size="")  # a choice that is none any more stays with who has it
    people.change_person(desk.house, desk.tamsin, who, {"name": "Petra Moe", f"own-{swims}": "with help"})
    with pytest.raises(Refused):
        people.change_person(desk.house, desk.tamsin, who, {"name": "Petra Moe", f"own-{swims}": "maybe"})
    assert b"with help" in held.write_out(desk.house, desk.boss, who)
    held.erase(desk.house, desk.boss, who, desk.key())
    assert not any(value for _, value in kept.said(desk.house.connection, OwnAbout.PERSON, who))


def test_of_jobs(desk: Desk) -> None:
    (kind,) = asked(desk, OwnAbout.JOB, Kind="boat; drysuit")
    asked(desk, OwnAbout.PERSON, Boot_size="", Swims="")
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
    size, swims = (one.id for one in own_fields.fields_of(desk.house, OwnAbout.PERSON))
    kept.put_values(desk.house.connection, who, {size: "41", swims: "yes"})
    change(desk.house, desk.boss, OWN_FIELDS, Change(str(swims), {"prints": ["no"]}))
    paper = job_paper(desk.house, job)
    assert paper.note == "Kind: drysuit; Boot size: 41; careful" and "Kind: drysuit" in tag_text(paper)
    wish = JobChange("Red one", "careful", day, "12:00", "", "", {}, own={f"own-{kind}": "boat"})
    job_changes.change(desk.house, desk.tamsin, job, wish, desk.key())
    assert said(desk, OwnAbout.JOB, job) == {"Kind": "boat"}
    with pytest.raises(Refused):
        job_changes.change(
            desk.house, desk.tamsin, job, JobChange("", "", day, "12:00", "", "", {}, own=own), desk.key()
        )
    assert said(desk, OwnAbout.JOB, job) == {"Kind": "boat"}


@pytest.mark.parametrize(
    ("names", "choices", "where"),
    [("ab", "", "name"), (["x" * 31], "", "name"), (map(str, range(13)), "", "name"),
     ("c", "; ".join(map(str, range(21))), "choices"), ("d", "a; a", "choices")],
)  # fmt: skip
def test_refused(desk: Desk, names: Iterable[str], choices: str, where: str) -> None:
    asked(desk, OwnAbout.JOB, B="")
    with pytest.raises(Refused) as refusal:
        asked(desk, OwnAbout.JOB, B="", **dict.fromkeys(names, choices))
    assert refusal.value.where == where
    typed = {"name": ["Kind"], "about": ["job"]}
    with pytest.raises(Refused) as other:
        add(desk.house, desk.tamsin, OWN_FIELDS, typed, desk.key())
    assert other.value.code == Code.RIGHT_SET_UP


def test_a_file_says_them_too(desk: Desk) -> None:
    asked(desk, OwnAbout.PERSON, Swims="yes; no", Boat_size="")
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
    asked(desk, OwnAbout.PERSON, Boat_size="")
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
