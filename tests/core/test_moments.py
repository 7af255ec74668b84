"""Moments: stamps are UTC whatever the zone, wall times stay, and typed dates keep a day on either side."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from zoneinfo import ZoneInfo

import pytest
from hypothesis import given
from hypothesis import strategies as st

from abrazo.core.errors import Refused
from abrazo.core.moments import (
    clock_of,
    plus,
    read_clock,
    read_day,
    read_wall,
    seconds_between,
    stamp_at,
    stamp_of,
    stamped,
    wall_of,
)

DUBLIN, CHICAGO = ZoneInfo("Europe/Dublin"), ZoneInfo("America/Chicago")
moments = st.datetimes(datetime(2000, 1, 2), datetime(2100, 1, 1), timezones=st.just(UTC)).map(
    lambda moment: moment.replace(microsecond=0)
)


@given(moments, moments)
def test_stamps_sort_as_they_come_and_show_the_same_moment(first: datetime, second: datetime) -> None:
    assert (stamp_of(first) < stamp_of(second)) == (first < second)
    assert seconds_between(stamp_of(first), stamp_of(second)) == (second - first).total_seconds()
    assert stamped(stamp_of(first)) == first
    for zone in (DUBLIN, CHICAGO):
        assert stamp_of(first.astimezone(zone)) == stamp_of(first)
        wall = wall_of(stamp_of(first), zone)
        assert abs(datetime.fromisoformat(stamp_at(wall, zone)) - first) in (timedelta(0), timedelta(hours=1))


def test_summer_time_and_the_hour_that_comes_twice() -> None:
    """In Dublin clocks went back at 01:00 UTC on 25 October 2026 (tz database, rule EU)."""
    assert clock_of("2026-06-13T13:20:00Z", DUBLIN) == "14:20"
    assert clock_of("2026-06-13T13:20:00Z", CHICAGO) == "08:20"
    assert clock_of("2026-06-13T13:20:00", CHICAGO) == "13:20"  # planned: wall time stays
    twice = ["2026-10-25T00:30:00Z", "2026-10-25T01:30:00Z"]
    assert [clock_of(one, DUBLIN) for one in twice] == ["01:30", "01:30"]
    assert seconds_between(*twice) == 3600
    assert stamp_at(datetime(2026, 10, 25, 1, 30), DUBLIN) == twice[0]
    assert plus(twice[0], timedelta(hours=1)) == twice[1]


@pytest.mark.parametrize("typed", ["9999-12-31", "0001-01-01", "1899-12-31", "2026-02-30", "20260613T", "", "x" * 99])
def test_a_date_far_from_any_visit_is_refused_beside_its_field(typed: str) -> None:
    with pytest.raises(Refused) as refusal:
        read_day(typed, "until")
    assert refusal.value.where == "until"
    with pytest.raises(Refused) as refusal:
        read_wall(typed, "14:00", "due")
    assert refusal.value.where == "due"


def test_dates_and_times_as_typed() -> None:
    assert read_day(" 2026-06-13 ", "date").isoformat() == "2026-06-13"
    assert [read_clock(one, "from") for one in ("17:00", " 9.30", "930")] == ["17:00", "09:30", "09:30"]
    for none in ("24:00", "17", "noon", "12:60"):
        with pytest.raises(Refused):
            read_clock(none, "from")
    assert read_wall("2026-06-13", "14:20", "due") == datetime(2026, 6, 13, 14, 20)
    for typed in ("9:30", "9.30", "930", "0930", "09:30"):
        assert read_wall("2026-06-13", typed, "due") == datetime(2026, 6, 13, 9, 30)
    for none in ("14:20+02:00", "24:00", "9:60", "9", "half nine"):
        with pytest.raises(Refused):
            read_wall("2026-06-13", none, "due")
    with pytest.raises(ValueError, match="zone"):
        stamp_of(datetime(2026, 6, 13))
