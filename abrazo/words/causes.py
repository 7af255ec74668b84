"""Codes that pages explain in a sentence: what does not match, and what happened to a gift card or voucher."""

from __future__ import annotations

from abrazo.core.matching import Cause, Mismatch
from abrazo.words.speaking import Reader, fill

CAUSES = {
    Cause.NOTHING_THERE: "We hold it as charged, the other side has nothing of it",
    Cause.SUMS_DIFFER: "The sums differ: the other side moved another one",
    Cause.ANSWER_LOST: "It went through, but its answer never came",
    Cause.NOT_OURS: "It was charged there by hand, or for a ticket that we do not have",
    Cause.CHARGED_BY_HAND: "Recorded; the same sum was charged by hand under {other}",
    Cause.RECORDED_ONLY: "Recorded as taken on another machine; perhaps it was never charged. Is there a slip?",
}
MOVES = {
    "brought in": "brought in from before",
    "sold": "sold on ticket {number}",
    "left over": "left over on ticket {number}",
    "spent": "spent on ticket {number}",
    "refunded": "refunded from ticket {number}",
}


def cause_text(reader: Reader, one: Mismatch) -> str:
    """Why something does not match, in words."""
    return fill(reader, CAUSES[one.cause], {"other": one.other})


def move_text(reader: Reader, kind: str, number: int | None) -> str:
    """What happened to stored value, in words; `kind` is one of MOVES."""
    return fill(reader, MOVES[kind], {"number": number or ""})
