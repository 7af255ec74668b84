"""The tag of goods that are set aside, as plain text at 42 columns."""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.formats.receipt_text import WIDTH, row, wrap
from abrazo.words import phrases as w
from abrazo.words.speaking import Reader


@dataclass(frozen=True, slots=True)
class SetAsideTag:
    """What the tag says; amounts and dates as text."""

    number: str
    person: str
    goods: tuple[str, ...]
    until: str
    due: str
    language: str = "en"


def set_aside_text(tag: SetAsideTag) -> str:
    """The tag."""
    say = Reader(language=tag.language).say
    lines = [
        *row(tag.number, say(w.TAG_UNTIL, until=tag.until)),
        *wrap(say(w.TAG_FOR_WHOM, person=tag.person), WIDTH),
        "-" * WIDTH,
        *(line for one in tag.goods for line in wrap(one, WIDTH)),
        "-" * WIDTH,
        *row(say(w.TAG_DUE), tag.due),
    ]
    return "\n".join(line.rstrip() for line in lines)
