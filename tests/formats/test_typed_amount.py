"""Amounts as people type them, with the sign and the code of their currency (ISO 4217; signs by CLDR)."""

from __future__ import annotations

import pytest

from abrazo.core.errors import Code, Refused
from abrazo.core.money import Currency
from abrazo.formats.typed_amount import read_amount
from tests.refusals import sentence


@pytest.mark.parametrize(
    ("code", "typed", "amount"),
    [
        ("EUR", "12,50", 1250), ("EUR", " €12.50 ", 1250), ("EUR", "12.50 €", 1250), ("EUR", "EUR 3", 300),
        ("USD", "$0.05", 5), ("USD", "7 USD", 700), ("JPY", "¥900", 900), ("KWD", "1.250", 1250), ("EUR", "-2", -200),
    ],
)  # fmt: skip
def test_what_people_type(code: str, typed: str, amount: int) -> None:
    assert read_amount(Currency.of(code), typed, "take") == amount


@pytest.mark.parametrize(("typed", "code"), [("", Code.NO_TYPED_AMOUNT), ("€", Code.NO_TYPED_AMOUNT), ("$5", Code.NOT_AMOUNT), ("1.234,50", Code.NOT_AMOUNT)])  # fmt: skip
def test_what_is_none_is_named_beside_its_field(typed: str, code: Code) -> None:
    with pytest.raises(Refused) as refusal:
        read_amount(Currency.of("EUR"), typed, "take")
    assert (refusal.value.code, refusal.value.where) == (code, "take")
    assert code is Code.NO_TYPED_AMOUNT or typed in sentence(refusal.value)
