"""The list of a pool of tips as plain text at 42 columns: who has what, by what, and a line for each to sign."""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.formats.receipt_text import WIDTH, row, wrap
from abrazo.words import phrases as w
from abrazo.words.speaking import Reader


@dataclass(frozen=True, slots=True)
class PoolList:
    """What the list says, in a language (BCP 47); amounts are texts, rows are (name, hours or points, amount)."""

    house: str
    date: str
    at: str
    by: str
    measure: str
    rows: tuple[tuple[str, str, str], ...]
    total: str
    language: str = "en"


def pool_list_text(told: PoolList) -> str:
    """The list as it prints."""
    say, rule = Reader(language=told.language).say, "-" * WIDTH
    lines = [
        *(line.center(WIDTH) for line in wrap(told.house, WIDTH)),
        "",
        *row(say(w.POOL_LIST), f"{told.date} {told.at}"),
        *wrap(say(w.POOL_DIVIDED_BY, name=told.by, measure=told.measure), WIDTH),
        rule,
    ]
    for name, weight, amount in told.rows:
        lines += [*row(f"{name}, {weight}", amount), "", *row(say(w.SIGNATURE), "_" * 16), ""]
    lines += [rule, *row(say(w.POOL_LIST_TOTAL), told.total)]
    return "\n".join(line.rstrip() for line in lines)
