"""People: found by any part among many, added once, changed."""

from __future__ import annotations

import sqlite3

import pytest

from abrazo.core.errors import Refused
from abrazo.desk.doors import bookings, tabs
from abrazo.desk.people import people
from abrazo.store import people as people_store
from tests.desk.conftest import Desk
from tests.desk.scenes import person, wren
from tests.refusals import refuses


def names(desk: Desk, question: str) -> list[str]:
    return [found.name for found in people.find_people(desk.house, question)]


def test_found_by_any_part_and_anew_after_a_change(desk: Desk) -> None:
    who = person(desk, "Élodie Ravn-Østby", "Ravn")
    for question in ("elodie", "ravn", "EL", "tby élo", "ST"):
        assert names(desk, question) == (["Élodie Ravn-Østby"] if question != "ST" else [])
    people.change_person(desk.house, wren(desk), who, {"name": "Elodie Tern", "email": "e@tern.example"})
    assert (names(desk, "ravn"), names(desk, "tern.ex"), names(desk, '"; DROP')) == ([], ["Elodie Tern"], [])


def test_added_once_whatever_is_sent_twice(desk: Desk) -> None:
    facts = {"name": "Ada Brekke", "phone": "020 910 0300"}
    made = {people.add_person(desk.house, wren(desk), facts, "the same key") for _ in range(3)}
    assert len(made) == people_store.count(desk.house.connection) == 1


@pytest.mark.parametrize(
    ("facts", "where"),
    [({"name": " "}, "name"), ({"name": "x" * 61}, "name"), ({"phone": "12"}, "phone"), ({"phone": "call me"}, "phone"), ({"email": "a@b"}, "email"),
     ({"birthday": "30.4.1987"}, "birthday"), ({"birthday": "2999-01-01"}, "birthday"), ({"notes": "x" * 401}, "notes")],
)  # fmt: skip
def test_bad_facts_are_named(desk: Desk, facts: dict[str, str], where: str) -> None:
    with pytest.raises(Refused) as refusal:
        people.add_person(desk.house, wren(desk), {"name": "Ada"} | facts, desk.key())
    assert (refusal.value.where, people_store.count(desk.house.connection)) == (where, 0)


def test_the_search_uses_its_index_at_a_hundred_thousand(desk: Desk) -> None:
    """No timing here (the benchmark has it): the plan reads no more than what fits."""
    plan = desk.house.connection.execute(f"EXPLAIN QUERY PLAN {people_store.FOUND}", ('"abc"', 8)).fetchall()
    said = " ".join(str(row["detail"]) for row in plan)
    assert "VIRTUAL TABLE INDEX" in said and "SEARCH person USING INTEGER PRIMARY KEY" in said
    with pytest.raises(sqlite3.IntegrityError):
        desk.house.connection.execute(
            "INSERT INTO person (name, household, since, search_words) VALUES ('a', 99, '', '')"
        )


def test_a_typed_name_or_number_means_somebody_known(desk: Desk) -> None:
    def made(name: str, phone: str, another: str = "") -> int:
        return people.add_person(desk.house, wren(desk), {"name": name, "phone": phone, "another": another}, desk.key())

    def meant(name: str, phone: str = "") -> int | None:
        one = people.recognised(desk.house, name, phone)
        return one.id if one else None

    petra, lena = made("Petra Moe", "020 910 0777"), made("Lena Abara", "")
    assert meant("petra  moe") == meant("Petra", "+353 20 910 0777") == meant("020 910 0777") == petra
    assert meant("Bo", "020 910 0777") is None is meant("Ada Moe", "020 910 0777")  # whoever calls from Petra's phone
    assert meant("Lena Abara") == meant("lena abara", "020 910 0999") == lena  # whose number is not known yet
    assert meant("Petra") is None is meant("Petra Moe", "020 910 0999")  # a part of a name, and another Petra Moe
    with refuses("Petra Moe has this phone already"):
        made("Ada Moe", "0209100777")
    ada = made("Ada Moe", "0209100777", "yes")
    assert (meant("Ada Moe", "020 910 0777"), meant("Petra Moe", "020 910 0777")) == (ada, petra)
    assert meant("020 910 0777") is None is meant("Moe", "020 910 0777")  # two have it
    made("Lena Abara", "020 910 0778")
    assert meant("Lena Abara") is None  # namesakes
    number = tabs.open_tab(desk.house, desk.jory, "ada moe", None, desk.key())
    assert (desk.whole(number).head.person, desk.whole(number).head.name) == (ada, "Ada Moe")


def test_a_walk_in_from_somebodys_phone_is_not_made_a_second_person(desk: Desk) -> None:
    petra = people.add_person(desk.house, wren(desk), {"name": "Petra Moe", "phone": "020 910 0777"}, desk.key())
    for name, phone, whose in (("petra moe", "020 910 0777", petra), ("Ada Moe", "020 910 0777", None)):
        number = bookings.serve(desk.house, wren(desk), bookings.Arrival(name, phone), desk.key())
        assert desk.whole(number).head.person == whose
    fresh = bookings.serve(desk.house, wren(desk), bookings.Arrival("Ada Moe", "020 910 0778"), desk.key())
    assert desk.whole(fresh).head.person not in (None, petra)
