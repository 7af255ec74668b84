"""Jobs changed after they were taken in, agreed upon anew, called off, worked on, promised on open days, reminded of."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from datetime import timedelta
from typing import Any

import pytest

from abrazo.core.errors import Code, Refused
from abrazo.core.states import JobStanding, RackPlace
from abrazo.desk import history
from abrazo.desk.doors import job_changes, jobs
from abrazo.desk.doors.job_changes import JobChange, TaskChange
from abrazo.desk.doors.jobs import DropOff, PricedTask
from abrazo.desk.doors.views.jobs import card_of, minutes_on
from abrazo.desk.payments import closing, deposits
from abrazo.desk.people import people
from abrazo.desk.setup import house_settings, things
from abrazo.desk.setup.goods import ITEMS
from abrazo.desk.tickets.deposits import of_job
from abrazo.store.jobs import Job
from tests.desk.books import holds
from tests.desk.conftest import Desk
from tests.desk.test_both_houses import in_balance, pay


def whose(desk: Desk) -> int:
    phone = "+353 20 910 0188" if desk.of.till == "galley" else "+1 312 555 0188"
    row = desk.house.connection.execute("SELECT id FROM person WHERE name = 'Petra Moe'").fetchone()
    return (
        row[0] if row else people.add_person(desk.house, desk.tamsin, {"name": "Petra Moe", "phone": phone}, desk.key())
    )


def dropped(desk: Desk, *, deposit: int = 0, tasks: tuple[str, ...] = (), **facts: Any) -> int:
    wanted = tuple((item, "1", "") for item in tasks or (desk.of.task, desk.of.work))
    day = (desk.clock.time + timedelta(days=3)).date().isoformat()
    drop = DropOff(whose(desk), "Red boat", wanted, day, "17:00", deposit=deposit, sure=True)
    job, visit = jobs.drop_off(desk.house, desk.tamsin, replace(drop, **facts), None, desk.key())
    if desk.whole(visit).bill.due:
        pay(desk, visit)
    else:
        closing.free_table(desk.house, desk.tamsin, desk.on(visit))
    return job


def read(desk: Desk, job: int) -> Job:
    return jobs.read_job(desk.house, job)


def as_it_is(desk: Desk, job: int, **changed: Any) -> JobChange:
    """A job's form filled in as the page has it, some of it changed."""
    one, text = read(desk, job), desk.house.settings.currency.text
    tasks = {task.id: TaskChange(text(task.unit_price), task.quantity) for task in one.tasks}
    same = JobChange(one.thing, one.note, one.due_at[:10], one.due_at[11:16], one.place, one.staff or "", tasks)
    return replace(same, **changed)


def change(desk: Desk, job: int, **changed: Any) -> None:
    job_changes.change(desk.house, desk.tamsin, job, as_it_is(desk, job, **changed), desk.key())


def refused(code: Code, act: Callable[..., object], *args: Any, where: str = "", **facts: Any) -> None:
    with pytest.raises(Refused) as refusal:
        act(*args, **facts)
    assert refusal.value.code is code
    assert not where or refusal.value.where == where


def test_nothing_changed_says_nothing(both: Desk) -> None:
    job = dropped(both)
    before = (read(both, job), history.of_job(both.house, job))
    change(both, job)
    assert (read(both, job), history.of_job(both.house, job)) == before


def test_everything_of_it_is_changed_with_its_history(both: Desk) -> None:
    job = dropped(both)
    day = (both.clock.time + timedelta(days=9)).date().isoformat()
    change(
        both, job, thing=" Blue  boat ", date=day, time="12:15", place="shelf 4", staff=both.of.other, note="call first"
    )
    after = read(both, job)
    assert (after.thing, after.due_at, after.place, after.staff, after.note) == (
        "Blue boat", f"{day}T12:15:00", "shelf 4", both.of.other, "call first",
    )  # fmt: skip
    assert "Blue boat" in history.of_job(both.house, job)[-1].what
    refused(Code.NO_THING, change, both, job, thing=" ", where="thing")
    refused(Code.IN_THE_PAST, change, both, job, date="2020-01-01", where="due")
    refused(Code.NOT_MOMENT, change, both, job, time="late", where="due")
    refused(Code.TOO_LONG, change, both, job, note="x" * 201, where="note")
    assert read(both, job) == after


def test_tasks_cost_what_is_said_and_are_agreed_upon(both: Desk) -> None:
    job = dropped(both)
    first, second = read(both, job).tasks
    agreed = card_of(both.house, read(both, job)).estimate
    assert read(both, job).agreed == agreed
    tasks = as_it_is(both, job).tasks
    more = (PricedTask("", "Rush", "10.00", ""), PricedTask(both.of.task, "", "2.50", "2"))
    dearer = TaskChange("500.00", "2")
    refused(Code.RIGHT_SET_PRICE, change, both, job, tasks={**tasks, first.id: dearer}, more=more)  # below the list
    more = (more[0], PricedTask(both.of.task, "", "99.50", "2"))
    change(both, job, tasks={**tasks, first.id: dearer}, more=more)
    card = card_of(both.house, read(both, job))
    assert [(task.label, task.unit_price, task.quantity) for task in card.job.tasks] == [
        (first.label, 50000, "2"), (second.label, second.unit_price, "1"), ("Rush", 1000, "1"),
        (both.house.item(both.of.task).name, 9950, "2"),  # type: ignore[union-attr]  # an item of the house
    ]  # fmt: skip
    assert card.beyond == card.estimate - agreed > 0
    key = both.key()
    for _ in range(2):
        job_changes.agree(both.house, both.tamsin, job, "by phone", key)
    after = read(both, job)
    assert (after.agreed, after.agreed_how, card_of(both.house, after).beyond) == (card.estimate, "by phone", 0)
    ticket = jobs.settle(both.house, both.tamsin, [job], both.key())
    assert both.whole(ticket).bill.total == card.estimate
    refused(Code.JOB_TAKEN, change, both, job, more=more, where="job")
    change(both, job, place="shelf 9")  # the rest of it can still be said
    pay(both, ticket)
    in_balance(both)


def test_less_than_the_list_says_is_a_right_on_every_way_in(both: Desk) -> None:
    cheap, nothing = PricedTask(both.of.task, "", "0.10", ""), PricedTask("", "Look at it", "0", "")
    for more in (cheap, nothing):
        refused(Code.RIGHT_SET_PRICE, dropped, both, more=(more,))
    job = dropped(both)
    first = read(both, job).tasks[0]
    for typed in ("0.10", "0"):
        refused(Code.RIGHT_SET_PRICE, change, both, job, tasks={first.id: TaskChange(typed, "1")})
    lower = as_it_is(both, job, tasks={first.id: TaskChange("0.10", "1")}, more=(cheap, nothing))
    lent = replace(both.tamsin, lender=both.house.staff()[both.of.boss])
    job_changes.change(both.house, lent, job, lower, both.key())
    assert [task.unit_price for task in read(both, job).tasks if task.unit_price < 100] == [10, 10, 0]


def test_two_people_change_one_job(both: Desk) -> None:
    job = dropped(both)
    seen = history.last_about(both.house, "job", job)
    change(both, job, place="shelf 4", seen=seen)
    refused(Code.CHANGED_SINCE, change, both, job, note="call first", seen=seen)
    assert (read(both, job).place, read(both, job).note) == ("shelf 4", "")
    change(both, job, note="call first", seen=history.last_about(both.house, "job", job))
    assert read(both, job).note == "call first"


def test_what_is_taken_off_is_not_done(both: Desk) -> None:
    job = dropped(both)
    first, second = read(both, job).tasks
    off = {first.id: TaskChange("1", "1", off=True)}
    change(both, job, tasks=off)
    assert [task.id for task in read(both, job).tasks] == [second.id]
    refused(Code.NO_TASKS, change, both, job, tasks={second.id: TaskChange("1", "1", off=True)}, where="tasks")
    for typed, where in (
        (TaskChange("much", "1"), "price"),
        (TaskChange("-1", "1"), "price"),
        (TaskChange("999", "0"), "quantity"),
    ):
        with pytest.raises(Refused) as refusal:
            change(both, job, tasks={second.id: typed})
        assert refusal.value.where == f"{where}-{second.id}"


def test_pieces_that_have_left_keep_their_task(desk: Desk) -> None:
    job = dropped(desk, tasks=("oar-varnish",))
    change(desk, job, tasks={read(desk, job).tasks[0].id: TaskChange("16", "3")})
    (task,) = read(desk, job).tasks
    assert task.pieces == 3
    jobs.hand_out(desk.house, desk.tamsin, job, {task.id: 2}, "", desk.key())
    refused(Code.TASK_HANDED_OVER, change, desk, job, tasks={task.id: TaskChange("16", "3", off=True)})
    refused(Code.TASK_HANDED_OVER, change, desk, job, tasks={task.id: TaskChange("16", "1")})
    change(desk, job, tasks={task.id: TaskChange("16", "2")})
    assert read(desk, job).left == 0


def test_what_is_called_off_is_handed_over_for_nothing(both: Desk) -> None:
    job = dropped(both, deposit=2000)
    refused(Code.NO_REASON, job_changes.cancel, both.house, both.tamsin, job, "", both.key())
    key = both.key()
    for _ in range(2):
        job_changes.cancel(both.house, both.tamsin, job, "bought a new one", key)
    card = card_of(both.house, read(both, job))
    assert (card.state, card.owed, card.where) == (JobStanding.CANCELLED, 0, RackPlace.READY)
    refused(Code.JOB_CANCELLED, jobs.settle, both.house, both.tamsin, [job], both.key())
    refused(Code.JOB_CANCELLED, jobs.mark, both.house, both.tamsin, job, "ready", both.key())
    refused(Code.JOB_CANCELLED, change, both, job, thing="Other")
    assert deposits.give_back(both.house, both.tamsin, of_job(read(both, job)), both.key()) == 2000
    jobs.hand_out(both.house, both.tamsin, job, None, "", both.key())
    assert card_of(both.house, read(both, job)).state == JobStanding.HANDED_OVER
    assert both.balance("liabilities:deposits") == 0
    in_balance(both)


def test_minutes_are_kept_while_it_is_worked_on(desk: Desk) -> None:
    job = dropped(desk)
    for state, minutes in (("in work", 20), ("waiting", 60), ("in work", 25), ("ready", 500)):
        jobs.mark(desk.house, desk.tamsin, job, state, desk.key())
        desk.clock.on(minutes * 60)
    assert minutes_on(desk.house, read(desk, job)) == [("Tamsin Rook", 45)]


def test_jobs_are_promised_on_open_days(desk: Desk) -> None:
    house_settings.decide(desk.house, desk.boss, "open_days", list("23456"))
    house_settings.decide(desk.house, desk.boss, "job_days", "4")
    desk.open()
    assert jobs.promised_on(desk.house).isoformat() == "2026-06-19"  # Saturday, then Tuesday to Friday
    things.change(desk.house, desk.boss, ITEMS, things.Change("wrist-seals", {"job_days": ["1"]}))
    things.change(desk.house, desk.boss, ITEMS, things.Change("neck-seal", {"job_days": ["6"]}))
    dates = [jobs.promised_on(desk.house, one).isoformat() for one in (["wrist-seals"], ["wrist-seals", "neck-seal"])]
    assert dates == ["2026-06-16", "2026-06-23"]
    with pytest.raises(Refused) as refusal:
        dropped(desk, date="2026-06-15")
    assert (refusal.value.code, refusal.value.where) == (Code.CLOSED_THEN, "due")
    refused(Code.JOB_DAYS, house_settings.decide, desk.house, desk.boss, "open_days", [""], where="open_days")


def test_what_nobody_collects_stands_apart_and_may_go(desk: Desk) -> None:
    for setting, days in (("uncollected_days", "7"), ("disposal_days", "30")):
        house_settings.decide(desk.house, desk.boss, setting, days)
    desk.open()
    job = dropped(desk)
    refused(Code.JOB_NOT_READY, job_changes.remind, desk.house, desk.tamsin, job, desk.key())
    jobs.mark(desk.house, desk.tamsin, job, "ready", desk.key())
    found = []
    for _ in range(3):
        card = card_of(desk.house, read(desk, job))
        found.append((card.where, card.disposable))
        desk.clock.time += timedelta(days=15, hours=1)
    assert found == [(RackPlace.READY, False), (RackPlace.UNCOLLECTED, False), (RackPlace.UNCOLLECTED, True)]
    before = desk.house.connection.execute("SELECT count(*) FROM outbox").fetchone()[0]
    key = desk.key()
    for _ in range(2):
        job_changes.remind(desk.house, desk.tamsin, job, key)
    assert desk.house.connection.execute("SELECT count(*) FROM outbox").fetchone()[0] == before + 1
    assert read(desk, job).reminded_at is not None


def test_a_task_that_is_on_no_list_is_taxed_like_the_others(both: Desk) -> None:
    job = dropped(both, more=(PricedTask("", "Sew a patch", "12.00", "2"),))
    patch = read(both, job).tasks[-1]
    assert (patch.label, patch.unit_price, patch.quantity, patch.pieces) == ("Sew a patch", 1200, "2", 2)
    refused(Code.NO_TASK_NAME, dropped, both, more=(PricedTask("", "", "12.00", ""),), where="more-label")
    refused(Code.NEGATIVE_PRICE, dropped, both, more=(PricedTask("", "Odd", "-1", ""),), where="more-price")
    ticket = jobs.settle(both.house, both.tamsin, [job], both.key())
    line = both.whole(ticket).standing[-1]
    assert (line.label, line.tax) == ("Sew a patch, Red boat", patch.tax)
    pay(both, ticket)
    holds(both)
