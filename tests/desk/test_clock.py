"""A clock that is moved by a day, and the hour that comes twice: business goes on, the books hold, and it is said."""

from __future__ import annotations

import random
from dataclasses import dataclass, replace
from datetime import UTC, datetime, timedelta

import pytest

from abrazo.core.errors import Refused
from abrazo.core.journal import chain_faults
from abrazo.desk import sign_in
from abrazo.desk.output.views.report import report_of
from abrazo.desk.overview.clock import clock_notices
from abrazo.desk.payments import card_poller
from abrazo.desk.till import business_day, counting, opening
from abrazo.desk.till.views.till import till_page
from abrazo.store import journal
from tests.desk.books import holds
from tests.desk.conftest import Desk
from tests.desk.scenes import person
from tests.desk.test_week import a_day

DAY = 24 * 3600


def a_night(desk: Desk, again: bool, later: int = 60) -> None:
    """Count, close, open the next day; `again` when its date was there before."""
    for one in desk.house.tills().values():
        actor = replace(desk.boss, till=one)
        expected = till_page(desk.house, one).expected
        counting.count_drawer(desk.house, actor, counting.Counted({}, expected), desk.key())
    business_day.close_day(desk.house, desk.boss, desk.key(), {})
    holds(desk)
    desk.clock.on(later)
    left = {one: opening.skipped_float(desk.house, replace(desk.boss, till=till))
            for one, till in desk.house.tills().items()}  # fmt: skip
    if again:
        with pytest.raises(Refused, match=r"date_before|same_date"):
            opening.open_day(desk.house, desk.boss, left, desk.key())
    opening.open_day(desk.house, desk.boss, left, desk.key(), again=again)
    holds(desk)


@pytest.mark.parametrize("moved", [-2 * DAY, -DAY, DAY])
def test_a_clock_that_is_moved_while_the_house_is_open(desk: Desk, moved: int) -> None:
    chance, people = random.Random(moved), [person(desk, "Petra Moe"), person(desk, "Saltpan Rowers", company="yes")]
    left: list[int] = []
    a_day(desk, chance, people, left)
    assert clock_notices(desk.house) == []
    desk.clock.on(moved)
    (said,) = clock_notices(desk.house)
    assert said.code == ("clock_back" if moved < 0 else "clock_ahead")
    a_day(desk, chance, people, left)
    holds(desk)
    a_night(desk, again=moved < 0)
    a_day(desk, chance, people, left)
    a_night(desk, again=True)
    assert chain_faults(journal.chain(desk.house.connection)) == []


def test_nobody_waits_for_a_day_because_the_clock_went_back(desk: Desk) -> None:
    token = sign_in.begin(desk.house, desk.tamsin)
    for _ in range(sign_in.FREE_TRIES):
        with pytest.raises(Refused):
            sign_in.sign_in(desk.house, "jory", "galley", "0000")
    with pytest.raises(Refused, match="pin_locked"):
        sign_in.sign_in(desk.house, "jory", "galley", "3395")
    desk.clock.on(-DAY)
    assert sign_in.sign_in(desk.house, "jory", "galley", "3395").staff.id == "jory"
    row = sign_in.signed_in(desk.house, token, reads_slips=False)
    assert row and sign_in.is_to_be_noted(desk.house, row)
    sign_in.still_here(desk.house, row)
    desk.clock.on(desk.house.settings.idle_minutes * 60 + 60)
    assert sign_in.signed_in(desk.house, token, reads_slips=False) is None


@dataclass
class Running:
    """A clock that runs through the hour that comes twice."""

    moment: datetime

    def now(self) -> datetime:
        return self.moment

    def on(self, seconds: int) -> None:
        self.moment += timedelta(seconds=seconds)

    @property
    def time(self) -> datetime:
        return self.moment.replace(tzinfo=None)


def test_the_hour_that_comes_twice(desk: Desk) -> None:
    """Dublin, 25 October 2026: 02:00 summer time is 01:00 again (tz database)."""
    clock = Running(datetime(2026, 10, 25, 0, 40, tzinfo=UTC))
    desk.clock, desk.house = clock, replace(desk.house, clock=clock)  # type: ignore[assignment]  # runs in UTC
    chance, people = random.Random(3), [person(desk, "Petra Moe"), person(desk, "Saltpan Rowers", company="yes")]
    left: list[int] = []
    for _ in range(2):  # 01:40 in summer time, 01:40 in winter time
        assert f"{desk.house.now():%H:%M}" == "01:40"
        before = clock.moment
        a_day(desk, chance, people, left)
        card_poller.follow(desk.house)
        clock.moment = before + timedelta(hours=1)
    found = report_of(desk.house, [desk.house.day().id])
    assert sum(one.amount for one in found.hours) and "01" in {str(one.name)[:2] for one in found.hours}
    a_night(desk, again=False)
