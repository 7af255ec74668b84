"""The slip of a refund as plain text at 42 columns: what went back of which ticket, how, and a line to sign."""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.formats.receipt_text import WIDTH, row, rows, wrap
from abrazo.words import phrases as w
from abrazo.words.speaking import Reader

Pairs = tuple[tuple[str, str], ...]


@dataclass(frozen=True, slots=True)
class RefundSlip:
    """What a refund's slip says, in a language (BCP 47); every amount is text already, rows are (words, amount)."""

    house: str
    address: str
    ticket: int
    of_date: str
    date: str
    at: str
    by: str
    rows: Pairs
    total: str
    route: str
    taxes: Pairs
    reason: str
    language: str = "en"


def refund_slip_text(slip: RefundSlip) -> str:
    """The slip as it prints."""
    say, rule = Reader(language=slip.language).say, "-" * WIDTH
    lines = [
        *(line.center(WIDTH) for words in (slip.house, slip.address) for line in wrap(words, WIDTH)),
        "",
        *row(say(w.REFUND_SLIP), f"{slip.date} {slip.at}"),
        *row(say(w.PAPER_TICKET, number=slip.ticket), slip.of_date),
        *wrap(say(w.GIVEN_BACK_BY, name=slip.by), WIDTH),
        rule,
        *rows(slip.rows),
        rule,
        *row(say(w.WENT_BACK, route=slip.route), slip.total),
        *rows(slip.taxes),
        *wrap(say(w.VOID_WHY, reason=slip.reason), WIDTH),
        "",
        *row(say(w.SIGNATURE), "_" * 16),
    ]
    return "\n".join(line.rstrip() for line in lines)
