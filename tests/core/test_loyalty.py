"""Points: whole multiples only; 1 per full euro net and 100 points for 5 euro, as the demo's house sets them."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from abrazo.core.loyalty import points_earned, points_worth


@given(st.integers(0, 10**7), st.integers(1, 1000))
def test_only_whole_multiples(net: int, per: int) -> None:
    points = points_earned(net, per)
    assert points * per <= net < (points + 1) * per


def test_the_house_rule() -> None:
    assert (points_earned(1999, 100), points_worth(250, 100, 500)) == (19, 1000)
