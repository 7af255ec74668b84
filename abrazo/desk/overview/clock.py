"""Whether the clock can be right: it went back behind what was done, or the open day is long over by it."""

from __future__ import annotations

from datetime import timedelta

from abrazo.core.errors import Code, Refused
from abrazo.desk.context import House

SLACK = timedelta(minutes=2)  # clocks of computers are set right by seconds
LONGEST_DAY = timedelta(hours=20)


def clock_notices(house: House) -> list[Refused]:
    """What to say about the clock, if anything; nothing is stopped by it."""
    day = house.open_day()
    if day is None:
        return []
    if day.latest_at and house.since(day.latest_at) < -SLACK.total_seconds():
        return [Refused(Code.CLOCK_BACK, now=house.stamp(), last=day.latest_at)]
    over = house.now().date().isoformat() > day.business_date
    if over and house.since(day.opened_at) > LONGEST_DAY.total_seconds():
        return [Refused(Code.CLOCK_AHEAD, now=house.stamp(), day=day.business_date)]
    return []
