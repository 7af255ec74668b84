"""The drawer."""

from __future__ import annotations

from collections.abc import Mapping

from hypothesis import given
from hypothesis import strategies as st

from abrazo.core.ledger import float_postings
from abrazo.core.states import FloatDifference as Why
from abrazo.core.till import Drawer, expected_cash, float_difference, left_after, moved_pieces, since


def test_expected_cash() -> None:
    drawer = Drawer(
        float_=15000,
        cash_in=90000,
        change_and_refunds=20000,
        paid_out=1800,
        paid_in=500,
        tips_paid_out=2400,
        banked=30000,
    )
    assert expected_cash(drawer) == 15000 + 90000 - 20000 - 1800 + 500 - 2400 - 30000


def test_what_stays_is_the_next_float_and_a_difference_posts_by_its_reason() -> None:
    stays = left_after(51300, 36300)
    assert (stays, float_difference(15000, stays), float_difference(14800, stays)) == (15000, 0, -200)
    for why, account in (
        (Why.FIRST, "assets:safe"),
        (Why.BANK, "assets:bank"),
        (Why.UNKNOWN, "expenses:over-and-short"),
    ):
        assert {one.account: one.amount for one in float_postings("galley", why, -200)} == {
            "assets:cash:galley": -200,
            account: 200,
        }


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


def test_what_moved_since_a_drawer_was_handed_over() -> None:
    before, now = Drawer(100, 10, 2, 3, 4, 5, 6), Drawer(100, 110, 22, 33, 44, 55, 66)
    assert since(now, before) == Drawer(100, 100, 20, 30, 40, 50, 60)
    assert since(now, Drawer(7)) == now
