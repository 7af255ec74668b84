"""Tenders: rounding, likely cash, change from a real drawer."""

from __future__ import annotations

from itertools import product

from hypothesis import given
from hypothesis import strategies as st

from abrazo.core.tenders import cash_due, change_pieces, likely_cash

EURO = [(v, True) for v in (500, 1000, 2000, 5000, 10000)] + [(v, False) for v in (5, 10, 20, 50, 100, 200)]


@given(st.integers(0, 10_000), st.sampled_from([1, 5, 10, 25]))
def test_cash_due_is_the_nearest_multiple(due: int, step: int) -> None:
    rounded = cash_due(due, step)
    assert rounded % step == 0 and -step < 2 * (rounded - due) <= step


def test_likely_cash_for_a_bill() -> None:
    assert likely_cash(3592, EURO, 100, 5) == [3590, 3600, 4000, 5000, 10000]
    assert likely_cash(0, EURO, 100) == []


@given(st.integers(1, 60_000))
def test_likely_cash_ascends_and_covers(due: int) -> None:
    offers = likely_cash(due, EURO, 100, 5)
    assert offers == sorted(set(offers)) and len(offers) <= 5
    assert offers[:1] in ([cash_due(due, 5)], []) and all(offer >= cash_due(due, 5) for offer in offers)


@given(st.integers(0, 60), st.dictionaries(st.sampled_from([1, 2, 5, 10, 20]), st.integers(0, 3)))
def test_change_is_the_fewest_pieces(change: int, drawer: dict[int, int]) -> None:
    """Against every way there is to take pieces out of a small drawer."""
    ways = [
        sum(numbers)
        for numbers in product(*(range(held + 1) for held in drawer.values()))
        if sum(n * value for n, value in zip(numbers, drawer, strict=True)) == change
    ]
    found = change_pieces(change, drawer)
    assert (found is None) == (not ways)
    if found is not None:
        assert sum(found.values()) == min(ways)
        assert sum(value * number for value, number in found.items()) == change
        assert all(number <= drawer[value] for value, number in found.items())


def test_greedy_change_would_fail() -> None:
    assert change_pieces(60, {50: 1, 20: 3}) == {20: 3}
