"""Places of courses, and weekly dates over a change of the clock."""

from __future__ import annotations

from datetime import datetime

from hypothesis import given
from hypothesis import strategies as st

from abrazo.core.courses import fits, places_left, weekly


@given(st.integers(1, 30), st.lists(st.integers(1, 9), max_size=20))
def test_no_more_come_than_there_are_places(places: int, parties: list[int]) -> None:
    """Whoever fits is let in, in turn: it is never more than there are, and who was left out did not fit."""
    taken = 0
    for party in parties:
        if fits(places, taken, party):
            taken += party
        else:
            assert taken + party > places
    assert taken <= places and places_left(places, taken) == places - taken


def test_weekly_dates_keep_their_wall_time() -> None:
    """Over the end of summer time (25 October 2026 in the EU, Directive 2000/84/EC)."""
    assert [f"{one:%d.%m. %H:%M}" for one in weekly(datetime(2026, 10, 18, 10), 3)] == [
        "18.10. 10:00",
        "25.10. 10:00",
        "01.11. 10:00",
    ]
