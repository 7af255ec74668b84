"""Check digits, by the standards' own sums and examples."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from abrazo.core.codes import gs1_check_digit, holds_card_number, is_card_number, is_gs1


@given(st.sampled_from([7, 11, 12, 13]).flatmap(lambda n: st.text("0123456789", min_size=n, max_size=n)))
def test_only_the_right_check_digit_fits(payload: str) -> None:
    code = payload + str(gs1_check_digit(payload))
    assert is_gs1(code)
    assert sum(int(digit) * (1, 3)[place % 2] for place, digit in enumerate(reversed(code))) % 10 == 0
    wrong = str((gs1_check_digit(payload) + 1) % 10)
    assert not is_gs1(payload + wrong)


def test_published_examples() -> None:
    """GS1's calculation example 629104150021 -> 3, and ISO/IEC 7812's 7992739871 -> 3; both from memory."""
    assert gs1_check_digit("629104150021") == 3
    assert is_card_number("79927398713000000") and not is_card_number("79927398713000001")


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
        ("12/29 4000 0012 3456 7899", True),
        ("４０００\u00a0００１２ ３４５６ ７８９９", True),
        ("4000 0012 3456 7899 123", True),
        ("4000 --- 0012 3456 7899", False),  # three characters between
        ("9000001234567896", False),  # no payment card begins so
        ("2221000000000009", True),
        ("2720990000000007", True),
        ("2721000000000004", False),
        ("reference 2118-A-1-967790d2", False),
    ],
)
def test_a_card_number_in_a_text_is_seen(words: str, held: bool) -> None:
    assert holds_card_number(words) is held


@given(st.integers(0, 10**12 - 1))
def test_a_product_code_is_no_card_number(payload: int) -> None:
    code = f"{payload:012}"
    assert not holds_card_number(code + str(gs1_check_digit(code)))
