"""Tips: one rounding each, and every cent goes to somebody."""

from __future__ import annotations

from fractions import Fraction

from hypothesis import given
from hypothesis import strategies as st

from abrazo.core.tips import Tip, divide_pool, staff_tips, tip_amount

served = st.lists(st.tuples(st.sampled_from([None, "tamsin", "jory"]), st.integers(0, 5000)), max_size=6)


def test_percent_of_its_basis() -> None:
    bases = {"net": 3592, "gross": 4000, "total": 3700}
    assert tip_amount(Tip("p", percent=Fraction(10)), bases) == 359
    assert tip_amount(Tip("p", percent=Fraction("12.5"), basis="total"), bases) == 463
    assert tip_amount(Tip("p", amount=200), bases) == 200


@given(st.integers(0, 10_000), served, st.sampled_from([None, "wren"]))
def test_every_cent_goes_to_somebody(total: int, lines: list[tuple[str | None, int]], own: str | None) -> None:
    parts = staff_tips(total, lines, own)
    assert sum(amount for _, amount in parts) == total
    assert all(amount > 0 for _, amount in parts)
    if total and not any(gross for staff, gross in lines if staff or own):
        assert parts == [(own or "unassigned", total)]


def test_a_pool_by_hours() -> None:
    """100.00 among 6.5, 4 and 4 hours: 44.827, 27.586 twice; the cent left goes to the largest fraction."""
    hours = {"tamsin": Fraction("6.5"), "jory": Fraction(4), "odile": Fraction(4)}
    assert divide_pool(10_000, hours) == {"tamsin": 4483, "jory": 2759, "odile": 2758}


@given(st.integers(0, 100_000), st.dictionaries(st.sampled_from("abcdef"), st.fractions(0, 999, max_denominator=100)))
def test_the_parts_of_a_pool_are_the_whole(total: int, weights: dict[str, Fraction]) -> None:
    weights["z"] = Fraction(1)
    parts = divide_pool(total, weights)
    exact = {one: total * weight / sum(weights.values()) for one, weight in weights.items()}
    assert sum(parts.values()) == total and all(abs(parts[one] - exact[one]) < 1 for one in weights)
    assert not any(parts[one] for one, weight in weights.items() if not weight)
