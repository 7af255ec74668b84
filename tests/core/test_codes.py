"""Check digits, against python-stdnum and the standards' own examples."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st
from stdnum import ean, luhn

from abrazo.core.codes import gs1_check_digit, holds_card_number, is_gs1, luhn_check_digit

digits = st.text("0123456789", min_size=1, max_size=18)


@given(digits)
def test_luhn_against_a_general_library(payload: str) -> None:
    """Outside: python-stdnum's Luhn (ISO/IEC 7812-1 annex B)."""
    assert str(luhn_check_digit(payload)) == luhn.calc_check_digit(payload)
    assert luhn.is_valid(payload + str(luhn_check_digit(payload)))


@given(st.sampled_from([7, 11, 12, 13]).flatmap(lambda n: st.text("0123456789", min_size=n, max_size=n)))
def test_gs1_against_a_general_library(payload: str) -> None:
    """Outside: python-stdnum's EAN."""
    code = payload + str(gs1_check_digit(payload))
    assert is_gs1(code)
    assert str(gs1_check_digit(payload)) == ean.calc_check_digit(payload)
    wrong = str((gs1_check_digit(payload) + 1) % 10)
    assert not is_gs1(payload + wrong)


def test_published_examples() -> None:
    """GS1's calculation example 629104150021 -> 3, and ISO/IEC 7812's 7992739871 -> 3; both from memory."""
    assert gs1_check_digit("629104150021") == 3
    assert luhn_check_digit("7992739871") == 3


@pytest.mark.parametrize("text", ["", "12a", "١٢", "-1"])
def test_only_digits(text: str) -> None:
    assert not is_gs1(text)
    with pytest.raises(ValueError, match="digits"):
        gs1_check_digit(text)


@pytest.mark.parametrize(
    ("words", "held"),
    [
        ("card 4000 0012 3456 7899 until 09/29", True),  # invented, with its check digit (ISO/IEC 7812-1, annex B)
        ("4000-0012-3456-7899", True),
        ("4000001234567890", False),  # the check digit is wrong
        ("ring 020 910 0123 or 020 910 0456", False),
        ("5901234123457", False),  # a product's code
        ("reference 2118-A-1-967790d2", False),
    ],
)
def test_a_card_number_in_a_text_is_seen(words: str, held: bool) -> None:
    assert holds_card_number(words) is held
