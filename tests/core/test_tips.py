"""Tips: one rounding each, and every cent goes to somebody."""

from __future__ import annotations

from fractions import Fraction

from hypothesis import given
from hypothesis import strategies as st

from abrazo.core.tips import Tip, staff_tips, tip_amount

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
