"""Points: whole multiples only; 1 per full euro net and 100 points for 5 euro, as the demo's house sets them."""

from __future__ import annotations

from fractions import Fraction

from hypothesis import given
from hypothesis import strategies as st

from abrazo.core.loyalty import (
    Benefit,
    Reachable,
    best_benefits,
    booked_worth,
    merged_worth,
    points_earned,
    points_worth,
)


@given(st.integers(0, 10**7), st.integers(1, 1000))
def test_only_whole_multiples(net: int, per: int) -> None:
    points = points_earned(net, per)
    assert points * per <= net < (points + 1) * per


def test_the_house_rule() -> None:
    assert (points_earned(1999, 100), points_worth(250, 100, 500)) == (19, 1000)


@given(
    st.lists(
        st.tuples(st.sampled_from("ab"), st.sampled_from("xyz"), st.integers(0, 9000), st.integers(1, 4)), max_size=7
    ),
    st.lists(st.tuples(st.integers(1, 100), st.sampled_from("xyz"), st.sampled_from([None, 1, 2])), max_size=4),
)
def test_a_line_has_one_benefit_and_none_is_used_too_often(
    drawn: list[tuple[str, str, int, int]], held: list[tuple[int, str, int | None]]
) -> None:
    lines = [Reachable(f"l{i}", who, item, "g", one * many, one) for i, (who, item, one, many) in enumerate(drawn)]
    benefits = [Benefit(f"b{i}", Fraction(p), item=item, left=left) for i, (p, item, left) in enumerate(held)]
    found = best_benefits(lines, {"a": benefits})
    by_id = {benefit.id: benefit for benefit in benefits}
    for line in lines:
        if line.line not in found:
            always = [b for b in benefits if b.left is None and b.item == line.item]
            assert line.holder == "b" or all(line.gross * b.percent < 50 for b in always)
            continue
        id, off = found[line.line]
        assert (line.holder, by_id[id].item) == ("a", line.item)
        assert (off is None) == (by_id[id].left is None)
        assert off is None or 0 < off <= line.gross
    for benefit in benefits:
        assert benefit.left is None or sum(id == benefit.id for id, _ in found.values()) <= benefit.left


def test_the_free_one_of_the_year_goes_where_it_takes_most() -> None:
    check = Benefit("check", Fraction(100), item="check", left=1)
    off = Benefit("off", Fraction(12), group="sessions")
    lines = [
        Reachable("small", "m", "check", "sessions", 1400, 1400),
        Reachable("large", "m", "check", "sessions", 4200, 2100),
        Reachable("tea", "m", "tea", "food", 300, 300),
    ]
    assert best_benefits(lines, {"m": [check, off]}) == {"large": ("check", 2100), "small": ("off", None)}


@given(st.lists(st.integers(-500, 5000), max_size=4), st.integers(1, 200), st.integers(0, 1000))
def test_points_of_several_are_worth_as_one_what_the_books_then_say(several: list[int], lot: int, value: int) -> None:
    each = sum(booked_worth(points, lot, value) for points in several)
    assert each + merged_worth(several, lot, value) == booked_worth(sum(several), lot, value)
    assert 0 <= merged_worth(several, lot, value) <= len(several)
