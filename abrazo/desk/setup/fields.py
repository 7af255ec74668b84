"""The fields of what a house is set up with: how each is read from what is typed, and written so that it can be.

Rules here
- a field is described once: by that it is shown, checked, exported, imported and undone
- what is read is as it is kept: text, whole numbers (also of minor units), yes or no, lists; None stands for nothing
- a percent and a rate are decimal text, a rate a part of one
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from enum import StrEnum
from typing import NamedTuple

from abrazo.core.errors import Code, Refused
from abrazo.core.moments import read_clock, read_day
from abrazo.core.money import Currency, read_decimal
from abrazo.core.states import Does
from abrazo.core.tax import percent_of_rate, rate_of_percent
from abrazo.desk.context import House
from abrazo.formats.typed_amount import read_amount
from abrazo.store.set_up import Value

Typed = Mapping[str, list[str]]
ROW_SIGNS = ";="  # part rows and cells where they go out as text
LONGEST, MOST_ROWS, MOST_DECIMALS = 80, 40, 4


class Option(NamedTuple):
    """Something to choose: what is kept, how it is called; what is retired is known, and not offered anew."""

    id: str
    words: str
    retired: bool = False


Options = Callable[[House], list[Option]]


class FieldKind(StrEnum):
    """How a field is typed and kept."""

    TEXT = "text"
    LINES = "lines"
    YES = "yes"
    WHOLE = "whole"
    MONEY = "money"
    PERCENT = "percent"
    RATE = "rate"
    CHOICE = "choice"
    CHOICES = "choices"
    ROWS = "rows"
    NAMES = "names"
    NUMBERS = "numbers"
    DATE = "date"
    CLOCK = "clock"
    SPAN = "span"
    WEEK_CLOCK = "week clock"


@dataclass(frozen=True, slots=True)
class Field:
    """A field. `empty`: it may be, and is then kept as `nothing`. `options` are what is chosen from.

    `least` and `most` are of numbers and percents; `columns` the fields of a row of rows, of which there are `rows`;
    `section` where it stands; `needs` what the house must do for it to be asked; `of` the kind of things that the
    options are, where there may be none yet.
    """

    id: str
    kind: FieldKind = FieldKind.TEXT
    empty: bool = False
    nothing: Value = ""
    longest: int = LONGEST
    least: int = 0
    most: int = 1_000_000_000
    options: Options | None = None
    columns: tuple[Field, ...] = ()
    section: str = ""
    rows: int = MOST_ROWS
    needs: Does | None = None
    stays: bool = False  # left empty it stays as it is
    of: str = ""


POSITION = Field("position", FieldKind.WHOLE, empty=True, nothing=None, most=9999, stays=True)  # the lowest is first


def asked(house: House, fields: Iterable[Field]) -> list[Field]:
    """The fields that are asked in a house: not those of what it does not do."""
    does = house.settings.does.split()
    return [one for one in fields if one.needs is None or one.needs in does]


def read(house: House, field: Field, typed: list[str]) -> Value:
    """What was typed into a field, as it is kept. Refused beside the field."""
    if field.kind is FieldKind.YES:
        return bool(typed) and typed[-1] == "yes"
    if field.kind is FieldKind.CHOICES:
        return _choices(house, field, [one for one in typed if one])
    text = (typed[-1] if typed else "").strip()
    if not text:
        if not field.empty:
            raise Refused(Code.FIELD_MISSING, field.id)
        return field.nothing
    return READ[field.kind](house, field, text)


def _text(_: House, field: Field, text: str) -> Value:
    plain = " ".join(text.split()) if field.kind is FieldKind.TEXT else "\n".join(map(str.rstrip, text.splitlines()))
    if len(plain) > field.longest:
        raise Refused(Code.TOO_LONG, field.id, most=field.longest, count=len(plain))
    return plain


def _whole(_: House, field: Field, text: str) -> Value:
    if not (text.isascii() and text.isdigit() and len(text) < 10 and field.least <= int(text) <= field.most):
        raise Refused(Code.FIELD_RANGE, field.id, least=field.least, most=field.most)
    return int(text)


def _money(house: House, field: Field, text: str) -> Value:
    amount = read_amount(house.settings.currency, text, field.id)
    if amount < field.least:
        raise Refused(Code.FIELD_LEAST, field.id, least=field.least)
    return amount


def _names(_: House, field: Field, text: str) -> Value:
    """Names with ; between, or numbers with blanks between, no two the same."""
    parts = re.split("[;, ]+" if field.kind is FieldKind.NUMBERS else ";", text)
    wanted = [" ".join(name.split()) for name in parts if name.strip()]
    if field.kind is FieldKind.NUMBERS:  # what numbers they may be is said where they are meant
        return [*wanted]
    if len(wanted) > field.most or len(set(wanted)) < len(wanted) or any(len(one) > field.longest for one in wanted):
        raise Refused(Code.FIELD_NAMES, field.id, most=field.most, longest=field.longest)
    return [*wanted]


def _percent(_: House, field: Field, text: str) -> Value:
    plain = text.removesuffix("%").strip().replace(",", ".")
    percent, decimals = read_decimal(plain, field.id)
    if decimals > MOST_DECIMALS or not field.least <= percent <= field.most:
        raise Refused(Code.FIELD_RANGE, field.id, least=field.least, most=field.most)
    return rate_of_percent(plain) if field.kind is FieldKind.RATE else plain


def _date(_: House, field: Field, text: str) -> Value:
    return read_day(text, field.id).isoformat()


def _clock(_: House, field: Field, text: str) -> Value:
    return read_clock(text, field.id)


SPANS = {"min": 1, "h": 60, "d": 24 * 60}


def _span(_: House, field: Field, text: str) -> Value:
    """A length of time: 90 min, 2 h, 1 d; a number alone is minutes."""
    typed = re.fullmatch(r"([0-9]{1,5}) ?(min|h|d)?", text.lower())
    minutes = int(typed[1]) * SPANS[typed[2] or "min"] if typed else 0
    if not field.least < minutes <= field.most:
        raise Refused(Code.FIELD_SPAN, field.id, typed=text[:30])
    return minutes


def _span_text(minutes: int) -> str:
    unit = next(unit for unit, size in reversed(SPANS.items()) if minutes % size == 0)
    return f"{minutes // SPANS[unit]} {unit}"


def _week_clock(_: House, field: Field, text: str) -> Value:
    """A moment of the week: its weekday, Monday is 1, and a time of day."""
    day, clock = text[:1], text[1:]
    if day not in tuple("1234567"):
        raise Refused(Code.FIELD_WEEK_CLOCK, field.id, typed=text[:30])
    return f"{day} {read_clock(clock, field.id)}"


def _choice(house: House, field: Field, text: str) -> Value:
    assert field.options is not None
    known = sorted(field.options(house), key=lambda one: one.retired)  # of two of one name the one that is offered
    for one in known:
        if text == one.id or text.casefold() == one.words.casefold():
            return one.id
    offered = [one.words for one in known if not one.retired]
    raise Refused(Code.FIELD_CHOICE, field.id, typed=text, known=", ".join(offered[:12]))


def _choices(house: House, field: Field, typed: list[str]) -> Value:
    found = [str(_choice(house, field, one.strip())) for one in typed]
    return list(dict.fromkeys(found))


def read_rows(house: House, field: Field, typed: Typed) -> Value:
    """The rows that were typed, each field of them a list of its own; rows with nothing in them are left out."""
    columns = [typed.get(f"{field.id}-{one.id}", []) for one in field.columns]
    found = list[list[str]]()
    for place in range(max(map(len, columns), default=0)):
        cells = [column[place].strip() if place < len(column) else "" for column in columns]
        if not any(cells):
            continue
        pairs = zip(field.columns, cells, strict=True)
        found.append([_cell(house, field, one, cell, len(found)) for one, cell in pairs])
    if len(found) > field.rows:
        raise Refused(Code.FIELD_ROWS, field.id, most=field.rows)
    return found


def _cell(house: House, field: Field, column: Field, typed: str, place: int) -> str:
    try:
        if column.kind is FieldKind.TEXT and any(sign in typed for sign in ROW_SIGNS):
            raise Refused(Code.ROW_SIGNS, column.id)
        return kept_text(read(house, column, [typed]))
    except Refused as refusal:
        raise Refused(Code.FIELD_ROW, field.id, number=place + 1, why=refusal) from None


def kept_text(value: Value) -> str:
    """A value as text, from which it can be read again."""
    return "" if value is None else str(value)


READ: Mapping[FieldKind, Callable[[House, Field, str], Value]] = {
    FieldKind.TEXT: _text,
    FieldKind.LINES: _text,
    FieldKind.WHOLE: _whole,
    FieldKind.MONEY: _money,
    FieldKind.NAMES: _names,
    FieldKind.NUMBERS: _names,
    FieldKind.PERCENT: _percent,
    FieldKind.RATE: _percent,
    FieldKind.CHOICE: _choice,
    FieldKind.DATE: _date,
    FieldKind.CLOCK: _clock,
    FieldKind.SPAN: _span,
    FieldKind.WEEK_CLOCK: _week_clock,
}


def shown(currency: Currency, field: Field, value: Value) -> str:
    """A value as it is typed; of a list, its parts with blanks between."""
    if value is None or value == "":
        return ""
    if field.kind is FieldKind.YES:
        return "yes" if value else "no"
    if field.kind is FieldKind.MONEY:
        return currency.text(int(str(value)))
    if field.kind is FieldKind.RATE:
        return percent_of_rate(str(value))
    if field.kind is FieldKind.SPAN:
        return _span_text(int(str(value)))
    if isinstance(value, list):
        return "; ".join(one if isinstance(one, str) else " ".join(one) for one in value)
    return str(value)


def in_words(house: House, field: Field, value: Value) -> str:
    """A value as people say it: the words of what was chosen."""
    if field.kind is FieldKind.ROWS and isinstance(value, list):
        cells = (zip(field.columns, row, strict=True) for row in value if isinstance(row, list))
        return "; ".join(" ".join(filter(None, (in_words(house, *cell) for cell in row))) for row in cells)
    if field.options is None:
        return shown(house.settings.currency, field, value)
    words = {one.id: one.words for one in field.options(house)}
    several = value if isinstance(value, list) else [value]
    return ", ".join(words.get(str(one), str(one)) for one in several if one is not None and one != "")
