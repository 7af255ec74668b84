"""Numbers of tickets, jobs, hires and goods set aside: by kind or in one series, of the house or of each till."""

from __future__ import annotations

from abrazo.desk.context import Actor
from abrazo.desk.doors import jobs
from abrazo.desk.doors.jobs import DropOff
from abrazo.desk.overview import finder
from abrazo.desk.setup import house_settings
from abrazo.desk.tickets import starting
from abrazo.store.jobs import Job
from abrazo.store.numbers import Series, next_number
from tests.desk.conftest import Desk
from tests.desk.test_both_houses import somebody


def ticket_at(desk: Desk, till: str) -> int:
    actor = desk.actor(desk.of.clerk, till)
    return desk.whole(starting.open_counter(desk.house, actor, desk.key())).head.number


def job_at(desk: Desk, actor: Actor, who: int) -> Job:
    drop = DropOff(who, "Oars", ((desk.of.task, "1", ""),), desk.clock.time.date().isoformat(), "23:30")
    return jobs.read_job(desk.house, jobs.drop_off(desk.house, actor, drop, None, desk.key())[0])


def decide(desk: Desk, **settings: str) -> None:
    for id, value in settings.items():
        house_settings.decide(desk.house, desk.boss, id, value)


def test_each_kind_counts_by_itself_or_all_in_one_series(both: Desk) -> None:
    desk, who = both, somebody(both)
    first, job = ticket_at(desk, desk.of.till), job_at(desk, desk.tamsin, who)
    assert (first, job.number) == (2101, 1031)
    assert ticket_at(desk, desk.of.second_till) == 2103  # the job's own visit has the one between
    letters = desk.house.settings.job_prefix
    decide(desk, one_series="yes", job_prefix="RP-")
    in_one = job_at(desk, desk.tamsin, who)
    assert in_one.number > 2103
    assert ticket_at(desk, desk.of.till) > in_one.number
    numbers = [next_number(desk.house.connection, one, desk.of.till) for one in Series]
    assert len(set(numbers)) == 1
    assert (job.name, in_one.name) == (f"{letters}1031", f"RP-{in_one.number}")
    for typed, found in ((job.name, job), (in_one.code, in_one), (f"rp {in_one.number}", in_one)):
        assert finder.find(desk.house, typed).goes_to == ("job", str(found.id))


def test_each_till_counts_by_itself(both: Desk) -> None:
    desk = both
    before = ticket_at(desk, desk.of.till)
    decide(desk, numbers_by_till="yes")
    one, other = ticket_at(desk, desk.of.till), ticket_at(desk, desk.of.second_till)
    assert (one, other) == (1_000_001, 2_000_001)
    assert [ticket_at(desk, desk.of.till), ticket_at(desk, desk.of.second_till)] == [1_000_002, 2_000_002]
    assert finder.find(desk.house, str(other)).goes_to is not None
    decide(desk, numbers_by_till="no")
    assert ticket_at(desk, desk.of.till) == before + 1
    decide(desk, numbers_by_till="yes", one_series="yes")
    assert next_number(desk.house.connection, Series.JOB, desk.of.till) == 1_000_003
