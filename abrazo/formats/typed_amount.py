"""Amounts as people type them."""

from __future__ import annotations

from babel.numbers import get_currency_symbol

from abrazo.core.errors import Code, Refused
from abrazo.core.money import Currency


def read_amount(currency: Currency, typed: str, where: str) -> int:
    """Minor units of a typed amount: a comma for a point, the currency's sign and its code are taken.

    Refused beside its field when it is empty or no amount.
    """
    plain = typed.strip()
    for sign in (get_currency_symbol(currency.code, "en"), currency.code):
        plain = plain.removeprefix(sign).removesuffix(sign).strip()
    if not plain:
        raise Refused(Code.NO_TYPED_AMOUNT, where)
    try:
        return currency.read(plain.replace(",", "."), where)
    except Refused as refusal:
        raise Refused(Code.NOT_AMOUNT, where, typed=typed, why=refusal) from None
