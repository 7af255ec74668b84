"""Matching by route: every kind of mismatch is named once, and what agrees is not named."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from abrazo.core.errors import Refused
from abrazo.core.matching import Cause, Held, Mismatch, Moved, Remedy, mismatches, recorded_mismatches
from abrazo.formats.batch_csv import read_batch


@given(
    st.dictionaries(st.text("abcdef", min_size=1, max_size=4), st.integers(-5000, 5000), max_size=12),
    st.dictionaries(st.text("abcdef", min_size=1, max_size=4), st.integers(-5000, 5000), max_size=12),
    st.sets(st.text("abcdef", min_size=1, max_size=4), max_size=4),
)
def test_exactly_what_differs_is_named(ours: dict[str, int], theirs: dict[str, int], silent: set[str]) -> None:
    held = {reference: Held(reference, amount, 1) for reference, amount in ours.items()}
    unknown = dict.fromkeys(silent - set(ours), 7)
    found = mismatches(list(held.values()), [Moved(*pair) for pair in theirs.items()], held, unknown)
    assert len({one.reference for one in found}) == len(found)
    assert {one.reference for one in found} == {
        reference for reference in {*ours, *theirs} if ours.get(reference) != theirs.get(reference)
    }
    for one in found:
        assert (one.ours, one.theirs) == (ours.get(one.reference), theirs.get(one.reference))
        wanted = "correct" if one.reference in ours else "ask" if one.reference in unknown else "find"
        assert one.remedy == wanted


def test_a_charge_of_another_day_is_known() -> None:
    assert mismatches([], [Moved("old", 500)], {"old": Held("old", 500, 3)}, {}) == []


def test_what_was_recorded_is_paired_with_what_nobody_claims() -> None:
    by_hand = Mismatch("m-1", None, 6400, Cause.NOT_OURS, Remedy.FIND)
    recorded = [Held("slip 0417", 6400, 9), Held("slip 0418", 6400, 10)]
    first, second = recorded_mismatches(recorded, [by_hand])
    assert (first.theirs, first.ticket) == (6400, 9)
    assert (first.cause, first.other) == (Cause.CHARGED_BY_HAND, "m-1")
    assert (second.theirs, second.remedy) == (None, "correct")
    assert second.cause is Cause.RECORDED_ONLY


@pytest.mark.parametrize(
    "text", ["", "reference,amount,tip\n", "reference,kind,amount,tip\nr1,charge,1.00,0\n", "reference,kind,amount,tip\n,charge,1,0\n"]
)  # fmt: skip
def test_a_batch_file_that_is_none_is_refused(text: str) -> None:
    with pytest.raises(Refused):
        read_batch(text)
