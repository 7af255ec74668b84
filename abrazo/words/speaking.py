"""Sentences with placeholders, filled in for a reader: amounts, times and names as house and language write them.

A placeholder names a fact, and after a colon how it is written:
money   minor units, with the currency's sign              {amount:money}
clock   a stamp or wall time as hours and minutes          {of_at:clock}
date    a date, stamp or wall time as a date               {starts:date}
moment  a stamp or wall time as date, hours and minutes    {due:moment}
staff   somebody's id as their name                        {before:staff}
till    a till's id as its name                            {of_till:till}
word    a code as the word that people use for it          {state:word}
state   a state as pages show it                           {state:state}
"""

from __future__ import annotations

import functools
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, datetime
from string import Formatter
from typing import Any
from zoneinfo import ZoneInfo

from babel.dates import format_date, format_time, get_day_names

from abrazo.core.moments import clock_of, wall_of
from abrazo.core.money import Currency
from abrazo.core.states import Right, StaffRole
from abrazo.words import set_up
from abrazo.words.amounts import money_words
from abrazo.words.catalogue import Catalogue, catalogue
from abrazo.words.states import state_word

UTC = ZoneInfo("UTC")


def sentence(words: str) -> str:
    """Words with a capital at the start and the rest as it is."""
    return words[:1].upper() + words[1:]


@dataclass(frozen=True, slots=True)
class Reader:
    """For whom something is written: their language, and what of the house sentences need."""

    currency: Currency | None = None
    zone: ZoneInfo = UTC
    staff: Mapping[str, str] = field(default_factory=dict)
    tills: Mapping[str, str] = field(default_factory=dict)
    language: str = "en"
    year: int | None = None  # this one: dates of it are written without

    @property
    def texts(self) -> Catalogue:
        """The texts of their language."""
        return catalogue(self.language)

    def say(self, sentence: str | Plural, **facts: object) -> str:
        """A sentence of the catalogue in their language, with its facts."""
        return fill(self, sentence, facts)


MISSING = "…"


@functools.lru_cache(maxsize=8192)  # what stands between the facts of a sentence, and how each fact is written
def _pieces(text: str) -> tuple[tuple[str, str | None, str, str | None], ...]:
    return tuple((literal, name, spec or "", how) for literal, name, spec, how in Formatter().parse(text))


def _filled(reader: Reader, text: str, facts: Mapping[str, Any]) -> str:
    said = []
    for literal, name, spec, how in _pieces(text):
        said.append(literal)
        if name is not None:
            value = facts.get(name, MISSING)  # a fact that was erased, or that an older entry has not
            said.append(value if value is MISSING else _written(reader, value, spec, how))
    return "".join(said)


def _written(reader: Reader, value: Any, spec: str, how: str | None) -> str:
    write = _WRITERS.get(spec)
    if write is not None:
        return write(reader, value)
    return format(repr(value) if how == "r" else value, spec)


def _money(reader: Reader, value: Any) -> str:
    return money_words(int(value), reader.currency, reader.language) if reader.currency else str(value)


def _clock(reader: Reader, value: Any) -> str:
    return clock_of(str(value), reader.zone)


def date_words(reader: Reader, value: date | str) -> str:
    """A date, or the date of a stamp or wall time: Sat 13 Jun, the year only when it is not this one."""
    day = value if isinstance(value, date) else wall_of(str(value), reader.zone).date()
    return format_date(day, "EEE d MMM" if day.year == reader.year else "EEE d MMM y", locale=reader.language)


def moment_words(reader: Reader, value: datetime | str) -> str:
    """A moment in the house's zone: Sat 13 Jun, 13:13."""
    wall = value if isinstance(value, datetime) else wall_of(value, reader.zone)
    return f"{date_words(reader, wall.date())}, {format_time(wall, 'HH:mm', locale=reader.language)}"


def short_date(reader: Reader, value: date | str) -> str:
    """A date without its weekday: 30 Apr 2027."""
    day = value if isinstance(value, date) else wall_of(value, reader.zone).date()
    return format_date(day, "d MMM" if day.year == reader.year else "d MMM y", locale=reader.language)


def weekday_words(reader: Reader, weekday: int) -> str:
    """A day of the week, Monday is 1: Mon."""
    return str(get_day_names("abbreviated", locale=reader.language)[weekday - 1])


def _staff(reader: Reader, value: Any) -> str:
    return reader.staff.get(str(value), str(value))


def _till(reader: Reader, value: Any) -> str:
    return reader.tills.get(str(value), str(value))


def code_word(reader: Reader, value: Any) -> str:
    """The word that people use for a code."""
    return reader.texts.gettext(CODES.get(str(value), str(value)))


def _state(reader: Reader, value: Any) -> str:
    return state_word(reader.texts, str(value))


_WRITERS = {
    "money": _money,
    "clock": _clock,
    "date": date_words,
    "moment": moment_words,
    "staff": _staff,
    "till": _till,
    "word": code_word,
    "state": _state,
}

# Codes that stand in facts, as people say them.
CODES = {
    "booked": "is expected",
    "here": "is here",
    "absent": "did not come",
    "cancelled": "cancelled",
    "waiting": "waiting",
    "in work": "in work",
    "ready": "ready",
    "even": "evenly",
    "proportional": "in proportion",
    "as the others": "as the others",
    "charge": "charge",
    "refund": "refund",
    "hold": "hold",
    "release": "release",
    "capture": "charge the held card with",
    "tip": "add a tip of",
    "approved": "approved",
    "declined": "declined",
    "not sent": "never sent",
    "make": "make",
    "stop": "stop",
    "discount": "Discount",
    "comp": "Comp",
    "surcharge": "Surcharge",
    "tag": "Tag",
    "receipt": "Receipt",
    "hour": "the hour's own prices",
    "usual": "the usual prices",
    "recount": "recount",
    "delivery": "delivery",
    "breakage": "breakage",
    "loss": "loss",
    "first stock": "first stock",
    "first": "the first float",
    "bank": "bank or safe",
    "unknown": "nobody knows",
    "yes": "yes",
    "no": "no",
}
CODES |= set_up.WHATS | {id: words[0] for id, words in set_up.THINGS.items()}
CODES |= {str(one): str(one) for one in (*Right, *StaffRole) if str(one) not in CODES}


def placeholders(sentence: str) -> set[str]:
    """The names of the facts that a sentence needs."""
    return {name for _, name, _, _ in Formatter().parse(sentence) if name}


@dataclass(frozen=True, slots=True)
class Plural:
    """A sentence for one and a sentence for many, by the number in a fact."""

    one: str
    many: str
    fact: str


def fill(reader: Reader, sentence: str | Plural, facts: Mapping[str, object]) -> str:
    """A sentence of the catalogue in the reader's language, with its facts; a missing one is shown as an ellipsis."""
    if isinstance(sentence, Plural):
        text = reader.texts.ngettext(sentence.one, sentence.many, int(str(facts[sentence.fact])))
    else:
        text = reader.texts.gettext(sentence)
    if "{" not in text:
        return text
    return _filled(reader, text, facts)


def first_that_fits(sentences: Sequence[str], facts: Mapping[str, object]) -> str:
    """The first sentence of which every fact is there; the last one when none is."""
    known = {name for name, fact in facts.items() if fact is not None and fact != ""}
    return next((one for one in sentences if placeholders(one) <= known), sentences[-1])
