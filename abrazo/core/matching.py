"""Matching by route: what we hold as charged against what a machine or service says it moved.

Rules here
- a movement is matched by our own reference, and by nothing else; sums must agree to the minor unit
- what does not match is named with its likely cause and one remedy
- a payment recorded as taken on another machine is compared by its sum with what nobody claims
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass


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


@dataclass(frozen=True, slots=True)
class Mismatch:
    """One thing that does not match. `ours` and `theirs` are minor units, None where one side has nothing.

    `remedy` is ask, correct or find.
    """

    reference: str
    ours: int | None
    theirs: int | None
    cause: str
    remedy: str
    ticket: int | None = None


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
            cause = "We hold it as charged, the other side has nothing of it"
            found.append(Mismatch(held.reference, held.amount, None, cause, "correct", held.ticket))
        elif moved != held.amount:
            cause = "The sums differ: the other side moved another one"
            found.append(Mismatch(held.reference, held.amount, moved, cause, "correct", held.ticket))
    for reference, moved in said.items():
        if reference in unknown:
            cause = "It went through, but its answer never came"
            found.append(Mismatch(reference, None, moved, cause, "ask", unknown[reference]))
        elif reference not in known:
            cause = "It was charged there by hand, or for a ticket that we do not have"
            found.append(Mismatch(reference, None, moved, cause, "find"))
    return found


def recorded_mismatches(recorded: Sequence[Held], unclaimed: Sequence[Mismatch]) -> list[Mismatch]:
    """Card payments that were only recorded: charged by hand when an unclaimed sum is the same, else perhaps never."""
    free = [one for one in unclaimed if one.remedy == "find"]
    found = []
    for held in recorded:
        same = next((one for one in free if one.theirs == held.amount), None)
        if same is not None:
            free.remove(same)
            cause = f"Recorded; the same sum was charged by hand under {same.reference}"
            found.append(Mismatch(held.reference, held.amount, same.theirs, cause, "correct", held.ticket))
        else:
            cause = "Recorded as taken on another machine; perhaps it was never charged. Is there a slip?"
            found.append(Mismatch(held.reference, held.amount, None, cause, "correct", held.ticket))
    return found
