"""The drawer."""

from __future__ import annotations

from collections.abc import Mapping

from hypothesis import given
from hypothesis import strategies as st

from abrazo.core.till import Drawer, expected_cash, moved_pieces


def test_expected_cash() -> None:
    drawer = Drawer(
        float_=15000, cash_in=90000, change_and_refunds=20000, paid_out=1800, paid_in=500, tips_paid_out=2400
    )
    assert expected_cash(drawer) == 15000 + 90000 - 20000 - 1800 + 500 - 2400


PIECES = [2000, 1000, 500, 200, 100, 50, 20, 10, 5]
drawers = st.dictionaries(st.sampled_from(PIECES), st.integers(0, 12))


def worth(pieces: Mapping[int, int]) -> int:
    return sum(value * number for value, number in pieces.items())


@given(drawers, st.integers(0, 2000).map(lambda n: n * 5), st.integers(0, 2000).map(lambda n: n * 5))
def test_a_drawer_gains_what_comes_in_and_loses_what_goes_out(held: dict[int, int], into: int, out: int) -> None:
    left, gone = moved_pieces(held, into, out, PIECES)
    assert all(number > 0 for number in left.values())
    assert worth(left) == max(0, worth(held) + into - out)
    assert gone is None or worth(gone) == out


def test_change_comes_out_of_what_is_there() -> None:
    left, gone = moved_pieces({500: 1, 200: 3}, 5000, 4000 + 600, [5000, 2000, 1000, 500, 200])
    assert (left, gone) == ({500: 1, 200: 5}, None)  # 46.00 cannot be made of a fifty, a five and three twos
    assert moved_pieces({500: 1, 200: 3}, 1000, 600, PIECES) == ({1000: 1, 500: 1}, {200: 3})
