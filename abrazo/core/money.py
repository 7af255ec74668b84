"""Money is a whole count of a currency's minor unit; never a float.

Rules here
- digits of a currency are ISO 4217's, not CLDR's; an unknown code is refused
- money, rates, percents and quantities are read from decimal strings and nothing else
- `round_half_up` is the only rounding there is: away from zero on a tie, on exact rationals
- no amount reaches 10^12 minor units
"""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache
from typing import TypeVar

from iso4217 import Currency as Listed

from abrazo.core.errors import Code, Refused

LIMIT = 10**12
LONGEST = 4000  # characters of a decimal string; far beyond any honest figure
T = TypeVar("T")
_DECIMAL = re.compile(r"-?[0-9]+(\.[0-9]+)?")

# ISO 4217 list one, active codes that have a minor unit, by the package that carries it.
DIGITS: dict[str, int] = {one.code: one.exponent for one in Listed if one.exponent is not None}


def read_decimal(text: object, where: str = "") -> tuple[Fraction, int]:
    """The exact value of a decimal string, and how many decimals it was written with."""
    if not isinstance(text, str):
        raise Refused(Code.DECIMAL_IN_QUOTES, where)
    if len(text) > LONGEST:
        raise Refused(Code.DECIMAL_TOO_LONG, where, most=LONGEST)
    found = _decimal(text)
    if found is None:
        raise Refused(Code.NOT_DECIMAL, where)
    return found


@lru_cache(maxsize=4096)  # the same prices and rates are read again and again
def _decimal(text: str) -> tuple[Fraction, int] | None:
    return (Fraction(text), len(text.partition(".")[2])) if _DECIMAL.fullmatch(text) else None


def round_half_up(value: Fraction | int) -> int:
    """The nearest whole number; a tie goes away from zero."""
    return value.numerator if value.denominator == 1 else rounded(value.numerator, value.denominator)


def rounded(top: int, bottom: int) -> int:
    """The nearest whole number to `top / bottom`, `bottom` above 0; a tie goes away from zero."""
    size = (2 * abs(top) + bottom) // (2 * bottom)
    return -size if top < 0 else size


def total(amounts: Iterable[int]) -> int:
    """What amounts come to together, in minor units."""
    return sum(amounts)


def totals(found: Iterable[tuple[T, int]]) -> dict[T, int]:
    """What amounts come to under each key, in minor units; keys in the order in which they first came."""
    sums: dict[T, int] = {}
    for key, amount in found:
        sums[key] = sums.get(key, 0) + amount
    return sums


def rest_of(amount: int, taken: int) -> int:
    """What is left of an amount when something of it was taken, in minor units; negative when more was."""
    return amount - taken


def bounded(amount: int, where: str = "") -> int:
    """The amount itself, or a refusal when it reaches 10^12 minor units."""
    if abs(amount) >= LIMIT:
        raise Refused(Code.TOO_LARGE, where)
    return amount


@dataclass(frozen=True, slots=True)
class Currency:
    """A currency and its number of decimals."""

    code: str
    digits: int

    @classmethod
    def of(cls, code: str, where: str = "/currency") -> Currency:
        """The currency of an ISO 4217 code; refused when the code is unknown."""
        if code not in DIGITS:
            raise Refused(Code.NOT_CURRENCY, where, code=code)
        return cls(code, DIGITS[code])

    def read(self, text: object, where: str = "") -> int:
        """Minor units of a decimal string, for example "12.50" -> 1250 in EUR."""
        value, decimals = read_decimal(text, where)
        if decimals > self.digits:
            raise Refused(Code.TOO_MANY_DECIMALS, where, code=self.code, digits=self.digits, decimals=decimals)
        return bounded(value.numerator * 10**self.digits // value.denominator, where)

    def exact_text(self, value: Fraction) -> str:
        """The decimal string of an exact value in minor units, with two decimals more than the currency has."""
        return _written(round_half_up(value * 100), self.digits + 2)

    def text(self, amount: int) -> str:
        """The decimal string of an amount, with all of the currency's decimals."""
        return _written(amount, self.digits)


@lru_cache(maxsize=16384)  # a bill writes the same amounts many times
def _written(amount: int, digits: int) -> str:
    sign = "-" if amount < 0 else ""
    whole, part = divmod(abs(amount), 10**digits)
    return f"{sign}{whole}.{part:0{digits}d}" if digits else f"{sign}{whole}"
