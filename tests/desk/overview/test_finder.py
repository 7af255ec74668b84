"""The finder, and the queue: one thing meant leads there, names are listed, a till's own work comes first."""

from __future__ import annotations

import pytest

from abrazo.demo.house import code_of
from abrazo.desk.context import Actor
from abrazo.desk.doors import jobs
from abrazo.desk.doors.views.jobs import rack
from abrazo.desk.overview.finder import find, is_code
from abrazo.desk.overview.queue import queue
from abrazo.desk.overview.room import open_tickets
from abrazo.desk.payments import tenders
from abrazo.desk.tickets import holding, starting
from tests.desk.conftest import Desk
from tests.desk.scenes import booked, dropped, person, tab, wren
from tests.desk.tickets.test_change import add


def test_one_thing_meant_leads_there(desk: Desk) -> None:
    who = person(desk, "Elis Lindqvist-Amari")
    job, _ = dropped(desk, who, 2000)
    number = starting.seat(desk.house, desk.tamsin, "G2", 2, desk.key())
    past, seated = "2101", str(desk.whole(number).head.number)
    for question, kind, id in (
        ("g2", "table", "G2"),
        ("Table G2", "table", "G2"),
        (seated, "ticket", str(number)),
        (f"T{seated}", "ticket", str(number)),
        (past, "past", "1"),
        ("S-1031", "job", str(job)),
        ("s1031", "job", str(job)),
        (code_of(181), "item", "sun-hat"),
    ):
        assert find(desk.house, question).goes_to == (kind, id), question
    assert find(desk.house, "020 910").goes_to == ("person", str(who))


def test_names_are_listed_with_what_tells_them_apart(desk: Desk) -> None:
    person(desk, "Elis Lindqvist"), person(desk, "Signe Lindqvist")
    booked(desk, "Elis Lindqvist"), tab(desk, "Lindqvist", 0)
    found = find(desk.house, "LINDQ")
    assert (found.goes_to, len(found.people), len(found.visits), [one.name for one in found.tickets]) == (
        None,
        2,
        1,
        ["Tab Lindqvist"],
    )
    assert [item.name for item in find(desk.house, "dry bag m").items] == ["Dry bag M, red", "Dry bag M, teal"]


@pytest.mark.parametrize("question", ["S-9999", "T9999", "2199999999999", "nobody at all", "%", '"', "∗", "x" * 80])
def test_nothing_fits(desk: Desk, question: str) -> None:
    assert find(desk.house, question).nothing


def test_what_looks_like_a_code() -> None:
    assert [is_code(text) for text in (code_of(181), "S1043", "T-2117", "12345678", "D4", "Ada", "1234567")] == [
        True,
        True,
        True,
        True,
        False,
        False,
        False,
    ]


def test_a_tills_own_work_comes_first_but_the_unknown_before_all(desk: Desk) -> None:
    who = person(desk, "Petra Moe")
    job, _ = dropped(desk, who, 0)
    jobs.mark(desk.house, wren(desk), job, "ready", desk.key())
    booked(desk, "Petra Moe")
    number = starting.seat(desk.house, desk.tamsin, "G2", 1, desk.key())
    add(desk, number, "apple-juice")
    holding.ask_bill(desk.house, desk.tamsin, desk.on(number), True)
    lost = starting.seat(desk.house, desk.tamsin, "G4", 1, desk.key())
    add(desk, lost, "apple-juice")
    desk.tell("silent, charged")
    tenders.ask_card(
        desk.house, desk.tamsin, desk.on(lost), desk.whole(lost).payers[0].id, "card machine 1", tenders.Sum(360)
    )
    desk.follow()
    tickets = open_tickets(desk.house)
    room, landing = (
        queue(desk.house, Actor(desk.tamsin.staff, till), tickets, rack(desk.house))[0]
        for till in desk.house.tills().values()
    )
    assert [card.name for card in room] == ["Table G4", "Table G2", "Petra Moe", "Petra Moe"]
    assert [(card.kind, card.act) for card in landing] == [
        ("table", "ask"),
        ("booking", "check out"),
        ("job", "settle"),
        ("table", "pay"),
    ]
    assert "Petra: Drysuit, red (S-1031)" in landing[1].reason
