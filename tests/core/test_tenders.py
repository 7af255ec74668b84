"""Tenders: rounding, likely cash, change from a real drawer."""

from __future__ import annotations

from itertools import product

from hypothesis import given
from hypothesis import strategies as st

from abrazo.core.states import Extra
from abrazo.core.tenders import Account, Parts, Payment, allocate, cash_due, change_pieces, likely_cash, pay

EURO = [(v, True) for v in (500, 1000, 2000, 5000, 10000)] + [(v, False) for v in (5, 10, 20, 50, 100, 200)]


@given(st.integers(0, 10_000), st.sampled_from([1, 5, 10, 25]))
def test_cash_due_is_the_nearest_multiple(due: int, step: int) -> None:
    rounded = cash_due(due, step)
    assert rounded % step == 0 and -step < 2 * (rounded - due) <= step


def test_likely_cash_for_a_bill() -> None:
    """Notes where notes are likely, coins below the smallest of them (common practice)."""
    assert likely_cash(3592, EURO, 100, 5) == [3590, 4000, 5000, 10000]
    assert likely_cash(2070, EURO, 100, 5) == [2070, 2500, 3000, 5000]
    assert likely_cash(1000, EURO, 100, 5) == [1000, 2000, 5000, 10000]
    assert likely_cash(240, EURO, 100, 5) == [240, 300, 400, 500]
    assert likely_cash(0, EURO, 100) == []


@given(st.integers(1, 60_000))
def test_likely_cash_ascends_and_covers(due: int) -> None:
    offers = likely_cash(due, EURO, 100, 5)
    assert offers == sorted(set(offers)) and len(offers) <= 4
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


@given(
    st.integers(1, 5000),
    st.integers(0, 900),
    st.integers(0, 4000),
    st.integers(1, 9000),
    st.sampled_from([None, *Extra]),
)
def test_what_is_given_is_cut_whole_and_pays(
    total: int, tip: int, before: int, given: int, extra: Extra | None
) -> None:
    """Bill and tip are what was given, and taking them in settles as much of the account."""
    account = Account(total, tip, tip=tip)
    before = min(before, account.due - 1)
    if before and (first := allocate(account, before)):
        account = pay(account, Payment("p", "card", first.amount, first.tip), 1)
    parts = allocate(account, given, extra)
    if parts is None:
        assert given > account.due and extra is None
        return
    assert parts.given == given and parts.amount >= 0 and parts.tip >= 0
    after = pay(account, Payment("p", "card", parts.amount, parts.tip, extra=Extra.CREDIT if parts.credit else None), 1)
    assert after.due == max(0, account.due - given)
    assert (parts.credit, parts.over) == {
        Extra.CREDIT: (max(0, given - account.due), 0), Extra.TIP: (0, max(0, given - account.due)), None: (0, 0)}[extra]  # fmt: skip


def test_what_is_given_by_hand() -> None:
    """1000 and a tip of 200 that was said: the bill first, then the tip; cash pays what is rounded."""
    account = Account(1000, 200, tip=200)
    assert allocate(account, 600) == Parts(600, 0)
    assert allocate(account, 1100) == Parts(1000, 100)
    assert allocate(account, 1200) == Parts(1000, 200)
    assert allocate(account, 1500, Extra.TIP) == Parts(1000, 500, over=300)
    assert allocate(account, 1500, Extra.CREDIT) == Parts(1300, 200, 300)
    assert allocate(account, 1201) is None
    odd = Account(1002, 0)
    assert allocate(odd, 1000, step=5) == Parts(1000, 0)
    assert allocate(odd, 1000) == Parts(1000, 0) and allocate(odd, 1005, step=5) is None
