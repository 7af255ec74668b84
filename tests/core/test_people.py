"""What somebody is found by."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from abrazo.core.people import folded, search_parts, search_words


def test_blind_to_case_and_accents() -> None:
    assert folded("  Élodie  ØSTERGÅRD ß ") == "elodie østergard ss"


@pytest.mark.parametrize(
    "question",
    [
        "020 910",
        "+353 20 910 0101",
        "0101",
        "(020) 910-01",
        "elis",
        "AMARI",
        "lindqvist el",
        "@lindqvist.ex",
        "353209100101",
    ],
)
def test_any_part_finds(question: str) -> None:
    words = search_words("Elis Lindqvist-Amari", "+353209100101", "elis@lindqvist.example", "(020) 910 0101")
    assert all(part in words for part in search_parts(question))


@pytest.mark.parametrize("question", ["idris", "0102", "elis idris"])
def test_what_does_not_fit_does_not_find(question: str) -> None:
    words = search_words("Elis Lindqvist-Amari", "+353209100101", None, "(020) 910 0101")
    assert not all(part in words for part in search_parts(question))


@given(st.text(max_size=30))
def test_folding_twice_changes_nothing(text: str) -> None:
    assert folded(folded(text)) == folded(text)
