"""Copies to practise on: one for each sign-in, without a way out, cleared away in the end, also after a kill."""

from __future__ import annotations

import os
import time
from pathlib import Path

import pytest

from abrazo.core.errors import Code, Refused
from abrazo.desk.context import Actor, Clock, Devices, House, NotFound, practice_folder
from abrazo.desk.output import device_tests, outbox
from abrazo.desk.output.carriers import mail_of, network_printer, texts_of
from abrazo.desk.setup import house_settings, practice
from abrazo.desk.setup.equipment import PRINTERS, at_till
from abrazo.desk.setup.founding import close_house, open_house
from abrazo.desk.setup.things import Change, change
from abrazo.desk.setup.workers import STAFF
from abrazo.desk.sign_in import begin, lend, signed_in, stand_at
from abrazo.worker.practices import Practices
from tests.desk.conftest import Desk
from tests.desk.setup.test_more_kinds import added
from tests.desk.test_both_houses import pay, sale

NOWHERE = "127.0.0.1:9"


def practised(desk: Desk, name: str) -> House:
    file = practice.copy_of(desk.folder / "house.db", name)
    assert file is not None
    return open_house(file, Devices.beside(file), desk.clock)


def test_a_copy_reaches_nothing_and_every_paper_says_what_it_is(both: Desk) -> None:
    house, till = both.house, at_till(both.tamsin.till.id)
    printer = added(both, PRINTERS, {"name": ["Counter"], "address": [NOWHERE], "prints": [till]})
    house_settings.decide(house, both.boss, "text_address", f"http://{NOWHERE}/texts")
    number = sale(both, [both.of.food])
    pay(both, number, close=False)
    paid = both.whole(number).bill
    copy = practised(both, practice.begin(house, both.boss)[0])
    assert network_printer(house, till) and network_printer(copy, till) is None
    assert mail_of(copy) is copy.devices.post and texts_of(copy) is copy.devices.post
    boss = Actor(copy.staff()[both.of.boss], both.boss.till)
    with pytest.raises(Refused) as refusal:
        device_tests.send_test(copy, boss, "printer", printer)
    assert refusal.value.code is Code.PRACTICE_REACHES_NOTHING
    pins = {person.id: pin for person, pin in both.of.plan.staff}
    theirs = practised(both, practice.begin(house, both.tamsin)[0])
    clerk = Actor(theirs.staff()[both.of.clerk], both.tamsin.till)
    assert lend(theirs, clerk, both.of.boss, pins[both.of.clerk]).id == both.of.boss  # everybody's is their own there
    with pytest.raises(Refused):
        lend(theirs, clerk, both.of.boss, pins[both.of.boss])
    close_house(theirs)
    outbox.print_receipt(copy, boss, number, both.whole(number).payers[0].id, "printed")
    paper = copy.devices.printer.shown()
    assert paper.count("PRACTICE: DOES NOT COUNT") == 2 and f"PRACTICE: {house.settings.name}" in paper
    assert both.whole(number).bill == paid and house.settings.practice is False
    close_house(copy)


def test_a_copy_is_one_sign_ins_and_ends_with_it(desk: Desk) -> None:
    database, boss = desk.folder / "house.db", desk.boss

    def still(file: Path) -> Still:
        return Still(file, desk.clock)

    first, token = practice.begin(desk.house, boss)
    copy = practised(desk, first)
    assert signed_in(copy, token, reads_slips=False) is not None
    stand_at(copy, token, desk.of.second_till)
    moved = signed_in(copy, token, reads_slips=False)
    assert moved is not None and moved.till == desk.of.second_till
    with pytest.raises(NotFound):
        stand_at(copy, token, "nowhere")
    with pytest.raises(NotFound):  # in the house itself everybody signs in where they are
        stand_at(desk.house, begin(desk.house, boss), desk.of.second_till)
    assert signed_in(desk.house, token, reads_slips=False) is None  # it is worth nothing in the house
    assert not practice.is_over(copy)
    second, _ = practice.begin(desk.house, boss)  # whoever begins anew has ended what they began before
    assert practice.is_over(copy)
    close_house(copy)
    left = Practices(database, still)
    left.look()
    assert practice.copies(database) == [second]
    unfinished = practice_folder(database) / "0123456789abcdef01234567"
    unfinished.mkdir()
    (unfinished / practice.MAKING).touch()
    Practices(database, still)
    assert unfinished.exists()  # somebody may be making it
    long_ago = time.time() - 2 * practice.UNFINISHED
    os.utime(unfinished, (long_ago, long_ago))
    left.stop()
    Practices(database, still)
    assert not unfinished.exists()
    copy = practised(desk, second)
    desk.clock.on(int(practice.FORGOTTEN.total_seconds()) + 60)
    assert practice.is_over(copy)
    close_house(copy)
    assert [practice.copy_of(database, name) for name in ("", "..", "../house", first)] == [None] * 4


def test_so_many_practise_and_one_supervisor_works_in_earnest(desk: Desk, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(practice, "MOST", 2)
    practice.begin(desk.house, desk.boss)
    practice.begin(desk.house, desk.tamsin)
    with pytest.raises(Refused) as refusal:
        practice.begin(desk.house, desk.jory)
    assert (refusal.value.code, refusal.value.where) == (Code.PRACTICE_FULL, "pin")
    assert len(practice.copies(desk.folder / "house.db")) == 2
    with pytest.raises(Refused) as refusal:
        change(desk.house, desk.boss, STAFF, Change(desk.of.boss, {"in_training": ["yes"]}), desk.key())
    assert (refusal.value.code, refusal.value.where) == (Code.SUPERVISORS_IN_TRAINING, "in_training")
    change(desk.house, desk.boss, STAFF, Change(desk.of.clerk, {"in_training": ["yes"]}), desk.key())
    other = added(
        desk, STAFF, {"name": ["Cleo Vane"], "role": ["supervisor"], "pin": ["604815"], "in_training": ["yes"]}
    )
    desk.house.forget()
    assert desk.house.staff()[desk.of.clerk].in_training
    with pytest.raises(Refused) as refusal:  # who only practises lends nothing either
        lend(desk.house, desk.jory, other, "604815")
    assert refusal.value.code is Code.NOT_A_LENDER
    monkeypatch.setattr(practice, "MOST", 3)
    copy = practised(desk, practice.begin(desk.house, desk.actor(other))[0])
    assert lend(copy, desk.jory, other, "604815").id == other
    close_house(copy)


class Still:
    """What works beside a copy, without working."""

    def __init__(self, file: Path, clock: Clock) -> None:
        self.house = open_house(file, Devices.beside(file), clock, known=True)

    def start(self) -> None:
        """Nothing goes on."""

    def stop(self) -> None:
        close_house(self.house)
