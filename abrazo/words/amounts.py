"""Money for the eye, by CLDR's patterns, with ISO 4217's digits."""

from __future__ import annotations

import functools
from decimal import Decimal

from babel import Locale
from babel.numbers import format_currency

from abrazo.core.money import Currency


@functools.lru_cache(maxsize=8192)
def money_words(amount: int, currency: Currency, locale: str = "en") -> str:
    """An amount of minor units as people of a locale write it; a true minus sign where the pattern has a hyphen.

    CLDR gives some currencies fewer digits than ISO 4217; the pattern is CLDR's, the digits are ISO's.
    """
    value = Decimal(amount).scaleb(-currency.digits)
    pattern = Locale.parse(locale).currency_formats["standard"].pattern
    digits = "." + "0" * currency.digits if currency.digits else ""
    exact = pattern.replace(".00", digits)
    return format_currency(value, currency.code, exact, locale, currency_digits=False).replace("-", "−")
