"""Matching by route: what we hold as charged against what a machine or service says it moved.

Rules here
- a movement is matched by our own reference, and by nothing else; sums must agree to the minor unit
- what does not match is named with its likely cause and one remedy
- a payment recorded as taken on another machine is compared by its sum with what nobody claims
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum


@dataclass(frozen=True, slots=True)
class Held:
    """What we hold: signed minor units under a reference, and the ticket it belongs to."""

    reference: str
    amount: int
    ticket: int


@dataclass(frozen=True, slots=True)
class Moved:
    """What the other side says it moved: signed minor units under a reference."""

    reference: str
    amount: int


class Cause(StrEnum):
    """The likely cause of a mismatch."""

    NOTHING_THERE = "nothing there"  # we hold it as charged, the other side has nothing of it
    SUMS_DIFFER = "sums differ"
    ANSWER_LOST = "answer lost"  # it went through, but its answer never came
    NOT_OURS = "not ours"  # charged there by hand, or for a ticket that we do not have
    CHARGED_BY_HAND = "charged by hand"  # recorded; the same sum stands under `other`
    RECORDED_ONLY = "recorded only"  # perhaps it was never charged


class Remedy(StrEnum):
    """What is done about a mismatch."""

    ASK = "ask"
    CORRECT = "correct"
    FIND = "find"


@dataclass(frozen=True, slots=True)
class Mismatch:
    """One thing that does not match. `ours` and `theirs` are minor units, None where one side has nothing.

    `other` is the reference under which the same sum was charged by hand.
    """

    reference: str
    ours: int | None
    theirs: int | None
    cause: Cause
    remedy: Remedy
    ticket: int | None = None
    other: str = ""


def mismatches(
    ours: Sequence[Held], theirs: Sequence[Moved], known: Mapping[str, Held], unknown: Mapping[str, int]
) -> list[Mismatch]:
    """Compare our movements of a day with the other side's batch.

    `known` are our movements of any day among their references; `unknown` gives the ticket of every charge of ours
    whose outcome is still open.
    """
    said: dict[str, int] = {}
    found: list[Mismatch] = []
    for one in theirs:
        said[one.reference] = said.get(one.reference, 0) + one.amount
    for held in ours:
        moved = said.get(held.reference)
        if moved is None:
            said_none = (Cause.NOTHING_THERE, Remedy.CORRECT, held.ticket)
            found.append(Mismatch(held.reference, held.amount, None, *said_none))
        elif moved != held.amount:
            other_sum = (Cause.SUMS_DIFFER, Remedy.CORRECT, held.ticket)
            found.append(Mismatch(held.reference, held.amount, moved, *other_sum))
    for reference, moved in said.items():
        if reference in unknown:
            found.append(Mismatch(reference, None, moved, Cause.ANSWER_LOST, Remedy.ASK, unknown[reference]))
        elif reference not in known:
            found.append(Mismatch(reference, None, moved, Cause.NOT_OURS, Remedy.FIND))
    return found


def recorded_mismatches(recorded: Sequence[Held], unclaimed: Sequence[Mismatch]) -> list[Mismatch]:
    """Card payments that were only recorded: charged by hand when an unclaimed sum is the same, else perhaps never."""
    free = [one for one in unclaimed if one.remedy is Remedy.FIND]
    found = []
    for held in recorded:
        same = next((one for one in free if one.theirs == held.amount), None)
        if same is not None:
            free.remove(same)
            by_hand = (Cause.CHARGED_BY_HAND, Remedy.CORRECT, held.ticket, same.reference)
            found.append(Mismatch(held.reference, held.amount, same.theirs, *by_hand))
        else:
            never = (Cause.RECORDED_ONLY, Remedy.CORRECT, held.ticket)
            found.append(Mismatch(held.reference, held.amount, None, *never))
    return found


def older_than(waits: int, recent: int) -> int:
    """What of the money that waits for a payout is older than what was charged lately; minor units.

    Payouts are taken to be for the oldest charges first. Source: common practice.
    """
    return max(0, waits - max(0, recent))
