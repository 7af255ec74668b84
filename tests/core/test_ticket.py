"""Lines, adjustments and ticket discounts."""

from __future__ import annotations

from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from abrazo.core.errors import Refused
from abrazo.core.states import AdjustmentKind
from abrazo.core.ticket import Adjustment, Choice, Discount, Line, adjusted, discounted, line_gross, part_of


def test_choices_count_before_quantity() -> None:
    assert line_gross(Line("l", 950, Fraction(2), choices=(Choice(200, 1), Choice(-30, 2)))) == 2180
    assert line_gross(Line("l", 450, Fraction("1.375"))) == 619  # 6.1875 rounds up
    with pytest.raises(Refused):
        line_gross(Line("l", 100, choices=(Choice(-200),)))


def test_adjustments_in_their_order() -> None:
    tenth = Adjustment(AdjustmentKind.DISCOUNT, percent=Fraction(10))
    assert adjusted(1000, [tenth, Adjustment(AdjustmentKind.SURCHARGE, amount=100), tenth]) == 900
    assert (
        adjusted(
            1000, [Adjustment(AdjustmentKind.BENEFIT, amount=5000), Adjustment(AdjustmentKind.SURCHARGE, amount=30)]
        )
        == 30
    )
    assert part_of(333, Fraction("0.15"), None) == 0


def test_who_is_reached_by_a_ticket_discount() -> None:
    own = (Adjustment(AdjustmentKind.DISCOUNT, percent=Fraction(8)),)
    benefit = (Adjustment(AdjustmentKind.BENEFIT, percent=Fraction(8)),)
    lines = [
        Line("plain", 1000),
        Line("own", 1000, adjustments=own),
        Line("benefit", 1000, adjustments=benefit),
        Line("never", 1000, discountable=False),
    ]
    owns = [1000, 920, 920, 1000]
    assert discounted(lines, owns, [Discount(percent=Fraction(50))]) == [500, 920, 460, 1000]
    assert discounted(lines, owns, [Discount(percent=Fraction(50), stack="all")]) == [500, 460, 460, 1000]
    assert discounted(lines, owns, [Discount(amount=99_999, lines=("plain", "never"))]) == [0, 920, 920, 1000]


@given(st.lists(st.integers(0, 5000), min_size=1, max_size=8), st.lists(st.integers(0, 100), max_size=3))
def test_discounts_never_lose_a_cent_nor_go_below_zero(owns: list[int], percents: list[int]) -> None:
    lines = [Line(str(i), own) for i, own in enumerate(owns)]
    nets = discounted(lines, owns, [Discount(percent=Fraction(p)) for p in percents])
    left = sum(owns)
    for percent in percents:
        left -= part_of(left, Fraction(percent), None)
    assert sum(nets) == left
    assert all(0 <= net <= own for net, own in zip(nets, owns, strict=True))
