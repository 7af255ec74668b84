"""`abrazo import` of people, bookings and what people held before: looked at first, all or nothing, beside a house."""

from __future__ import annotations

import json
import threading
from pathlib import Path

from typer.testing import CliRunner, Result

from abrazo.cli import incoming, main
from abrazo.desk.context import Devices
from abrazo.desk.doors import file_imports
from abrazo.desk.setup.founding import close_house, open_house
from abrazo.store.lock import exclusive

PEOPLE = "name,phone\nCleo Vane,+353 20 910 0301\nPetra Moe,+353 20 910 0302\n"
CARDS = "kind,number,person,balance\ngift card,28 7,,40.00\nstore credit,,Petra Moe,5.00\n"
VISIT = """BEGIN:VCALENDAR
VERSION:2.0
PRODID:-//here//EN
BEGIN:VEVENT
UID:one@here
DTSTAMP:20260601T080000Z
DTSTART:20260614T100000
DTEND:20260614T110000
SUMMARY:First paddle
CATEGORIES:First paddle
RESOURCES:Idris Vane
CONTACT:Petra Moe
END:VEVENT
END:VCALENDAR
"""


def bring(db: Path, kind: str, text: str, *more: str) -> Result:
    file = db.parent / f"{kind}.{'ics' if kind == 'bookings' else 'csv'}"
    file.write_text(text, "utf-8", newline="\r\n" if kind == "bookings" else None)
    return CliRunner().invoke(main.app, ["import", kind, str(file), "--db", str(db), *more])


def test_people_and_then_what_they_held(db: Path) -> None:
    assert bring(db, "people", PEOPLE, "--check").output == "2 new, 0 changed, 0 unchanged\n"
    for new, same in ((2, 0), (0, 2)):
        answer = bring(db, "people", PEOPLE, "--json")
        assert json.loads(answer.output) == {"new": new, "changed": 0, "unchanged": same, "faults": []}
    assert bring(db, "stored-value", CARDS, "--check").output == "2 new, 0 changed, 0 unchanged\n"
    for new, same in ((2, 0), (0, 2)):
        answer = bring(db, "stored-value", CARDS)
        assert (answer.exit_code, answer.output) == (0, f"{new} new, 0 changed, {same} unchanged\n")
    out = CliRunner().invoke(main.app, ["export", "stored-value", "--db", str(db)]).output
    assert bring(db, "stored-value", out).output == "0 new, 0 changed, 2 unchanged\n"
    sound = CliRunner().invoke(main.app, ["check", "--db", str(db)])
    assert sound.exit_code == 0, sound.output
    assert bring(db, "bookings", VISIT).output == "1 new, 0 changed, 0 unchanged\n"
    wrong = bring(db, "bookings", VISIT.replace("CATEGORIES:First", "CATEGORIES:Last"))
    assert (wrong.exit_code, "row 4, " in wrong.output) == (2, True), wrong.output


def test_what_is_wrong_is_named_and_nothing_comes_in(db: Path) -> None:
    answer = bring(db, "people", "name,phone\nCleo Vane,12\n,1\n", "--json")
    assert answer.exit_code == 2
    assert [(one["row"], one["column"]) for one in json.loads(answer.output)["faults"]] == [(2, "Cleo Vane"), (3, "")]
    answer = bring(db, "stored-value", CARDS)  # before the people
    assert (answer.exit_code, "row 3, person: Petra Moe is nobody who is known" in answer.output) == (2, True)
    assert bring(db, "points", "a,b\n1,2\n").exit_code == 2
    assert bring(db, "people", PEOPLE, "--from", "2026-06-14").exit_code == 2
    assert bring(db, "bookings", "no calendar").exit_code == 2
    exported = CliRunner().invoke(main.app, ["export", "people", "--db", str(db)])
    assert "Cleo Vane" not in exported.output


def test_a_house_that_serves_reads_it_itself(db: Path) -> None:
    incoming_ended = threading.Event()

    def serve() -> None:
        house = open_house(db, Devices.beside(db))
        while not file_imports.read_next(house, incoming._here) and not incoming_ended.wait(0.05):
            house.forget()
        close_house(house)

    with exclusive(db, "http://here"):
        beside = threading.Thread(target=serve)
        beside.start()
        answer = bring(db, "people", PEOPLE)
        incoming_ended.set()
        beside.join()
    assert (answer.exit_code, answer.output) == (0, "2 new, 0 changed, 0 unchanged\n")
