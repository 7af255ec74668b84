"""Surcharges on jobs, in both houses: what they come to, where they are read, and that nothing is left for them."""

from __future__ import annotations

from dataclasses import replace
from datetime import timedelta
from fractions import Fraction

import pytest

from abrazo.core.errors import Code, Refused
from abrazo.desk.context import NotFound
from abrazo.desk.doors import job_changes, job_surcharges, jobs
from abrazo.desk.doors.job_changes import JobChange, TaskChange
from abrazo.desk.doors.jobs import DropOff
from abrazo.desk.doors.views.jobs import job_paper
from abrazo.desk.payments import closing
from abrazo.desk.tickets.change import OnTicket
from abrazo.formats.job_text import claim_text, tag_text
from abrazo.store import set_up
from tests.desk.conftest import Desk
from tests.desk.test_both_houses import pay, sale, somebody


def test_it_comes_with_tasks_and_nothing_is_handed_over_for_it(both: Desk) -> None:
    """A percent of the tasks, taxed like them; on the receipt, not on the tag; the last piece takes it along."""
    house, (preset,) = both.house, job_surcharges.surcharges(both.house)
    day = (both.clock.time + timedelta(days=3)).date().isoformat()
    wanted = ((both.of.task, "1", ""), (both.of.work, "1", ""))
    drop = DropOff(somebody(both), "Raft", wanted, day, "12:00", surcharges=(preset.id,))
    with pytest.raises(NotFound):
        jobs.drop_off(house, both.tamsin, replace(drop, surcharges=("none",)), None, both.key())
    job, visit = jobs.drop_off(house, both.tamsin, drop, None, both.key())
    *tasks, added = jobs.read_job(house, job).tasks
    more = [task for task in (*tasks, added) if not task.pieces]
    tasks = [task for task in tasks if task.pieces]
    listed = sum(one.unit_price for one in tasks)
    assert sum(one.unit_price for one in more) == round(listed * Fraction(preset.percent or 0) / 100)
    assert [(one.tax, one.report_group) for one in more] == list(
        dict.fromkeys((one.tax, one.report_group) for one in tasks)
    )  # one for each way in which the tasks are taxed and counted
    estimate = jobs.estimate_of(house, [*tasks, *more])
    assert jobs.estimate_for(house, wanted, (preset.id,)) == estimate > jobs.estimate_for(house, wanted)
    paper = job_paper(house, job)
    assert preset.name in claim_text(paper)
    assert preset.name not in tag_text(paper)
    off = {one.id: TaskChange("0", "1", off=True) for one in tasks}
    with pytest.raises(Refused) as refusal:  # it does not stay alone
        job_changes.change(house, both.boss, job, JobChange("Raft", "", day, "12:00", "", "", off), both.key())
    assert refusal.value.code is Code.NO_TASKS
    twice = {added.id: TaskChange("9.00", "2")}
    job_changes.change(house, both.boss, job, JobChange("Raft", "", day, "12:00", "", "", twice), both.key())
    assert jobs.read_job(house, job).tasks[-1].pieces == 0
    closing.free_table(house, both.tamsin, OnTicket(visit, None, both.key()))
    jobs.mark(house, both.tamsin, job, "ready", both.key())
    sale = jobs.settle(house, both.tamsin, [job], both.key())
    assert both.whole(sale).bill.total == jobs.estimate_of(house, jobs.read_job(house, job).tasks)
    pay(both, sale)
    jobs.hand_out(house, both.tamsin, job, None, "", both.key())
    done = jobs.read_job(house, job)
    assert not any(done.here(one) for one in done.tasks)
    assert not house.connection.execute("SELECT 1 FROM hand_over WHERE task = ?", (added.id,)).fetchone()


def test_it_is_of_the_tasks_that_it_is_for(desk: Desk) -> None:
    put_preset(desk, "quick", "sails")
    day, sails = (desk.clock.time + timedelta(days=3)).date().isoformat(), "sail-seam-patch"
    drop = DropOff(somebody(desk), "Sail", ((desk.of.task, "1", ""),), day, "12:00", surcharges=("quick",))
    set_up.put(desk.house.connection, "item", sails, {"report_group": "sails"})
    with pytest.raises(Refused) as refusal:
        jobs.drop_off(desk.house, desk.tamsin, drop, None, desk.key())
    assert (refusal.value.code, refusal.value.where) == (Code.SURCHARGE_FOR_NONE, "surcharges")
    both = replace(drop, tasks=((desk.of.task, "1", ""), (sails, "1", "")))
    job, _ = jobs.drop_off(desk.house, desk.tamsin, both, None, desk.key())
    added = jobs.read_job(desk.house, job).tasks[-1]
    assert (added.unit_price, added.report_group) == (360, "sails")  # 15 % of 24.00


def put_preset(desk: Desk, ref: str, groups: str) -> None:
    set_up.put(desk.house.connection, "preset", ref, {"groups": groups})


def test_an_open_sale_takes_a_thing_in_and_is_paid_only_for_a_deposit(desk: Desk) -> None:
    """Goods on the visit alone do not lead to the pay pad: they are still being picked."""
    who = somebody(desk)
    number = sale(desk, [desk.of.goods], who)
    day = (desk.clock.time + timedelta(days=3)).date().isoformat()
    drop = DropOff(who, "Raft", ((desk.of.task, "1", ""),), day, "12:00")
    jobs.drop_off(desk.house, desk.tamsin, drop, number, desk.key())
    assert not jobs.deposit_due(desk.house, number)
    jobs.drop_off(desk.house, desk.tamsin, replace(drop, deposit=500), number, desk.key())
    jobs.drop_off(desk.house, desk.tamsin, drop, number, desk.key())
    assert jobs.deposit_due(desk.house, number)
    pay(desk, number, close=False)
    assert not jobs.deposit_due(desk.house, number)
