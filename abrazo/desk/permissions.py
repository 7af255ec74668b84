"""Every right by name: who has it, whether it is lent for one act by PIN, and the sentence that refuses it.

Rules here
- nothing else asks for somebody's role
- whoever has a right that can be lent may lend it; the lender's name is kept with what was done
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from enum import StrEnum

from abrazo.core.errors import Refused
from abrazo.desk.context import Actor
from abrazo.store.staff import Staff

LONGEST_REASON = 120
SUPERVISOR = "supervisor"


class Right(StrEnum):
    """What not everybody may do."""

    REFUND = "refund"
    REOPEN = "reopen"
    VOID = "void"
    TAKE_OFF_MADE = "take off what was made"
    COMP = "comp"
    FREE_DISCOUNT = "free discount"
    KEEP_DEPOSIT = "keep a deposit"
    CLOSE_DAY = "close the day"
    SKIP_FLOAT = "skip counting the float"
    LEAVE_COUNTER_MODE = "leave counter mode"
    HOLD_TO_COUNTER_MODE = "hold somebody to counter mode"
    CHANGE_SENDING = "change how lines are sent"
    SET_UP = "set up"


@dataclass(frozen=True, slots=True)
class Rule:
    """Who has a right; `refusal` is said to others, beside the field `where`."""

    roles: frozenset[str]
    lent: bool
    refusal: str
    where: str = ""


def _lent(what: str) -> Rule:
    refusal = f"{what} is a supervisor's right. One lends it with a PIN, or hand it on."
    return Rule(frozenset({SUPERVISOR}), True, refusal, "pin")


def _kept(refusal: str, where: str = "") -> Rule:
    return Rule(frozenset({SUPERVISOR}), False, refusal, where)


RIGHTS = {
    Right.REFUND: _lent("A refund"),
    Right.REOPEN: _lent("Opening a closed ticket again"),
    Right.VOID: _lent("Making a ticket void"),
    Right.TAKE_OFF_MADE: _lent("Taking off what was sent or billed"),
    Right.COMP: _lent("A comp"),
    Right.FREE_DISCOUNT: _lent("A discount"),
    Right.KEEP_DEPOSIT: _lent("Keeping a deposit"),
    Right.LEAVE_COUNTER_MODE: _lent("Leaving counter mode"),
    Right.CLOSE_DAY: Rule(
        frozenset({SUPERVISOR}), True, "A supervisor closes the day, or lends the right with a PIN.", "pin"
    ),
    Right.SKIP_FLOAT: Rule(
        frozenset({SUPERVISOR}), True, "Counting the float is skipped by a supervisor, or by one who lends the right.",
        "pin",
    ),
    Right.HOLD_TO_COUNTER_MODE: _kept("A supervisor decides who works in counter mode only.", "who"),
    Right.CHANGE_SENDING: _kept("A supervisor changes this.", "sending"),
    Right.SET_UP: _kept("A supervisor changes what the house has set up."),
}  # fmt: skip


def has(staff: Staff, right: Right) -> bool:
    """Whether somebody has a right of their own."""
    return staff.role in RIGHTS[right].roles


def need(actor: Actor, right: Right) -> None:
    """Refused when the actor has not the right; for rights that are not lent."""
    if not has(actor.staff, right):
        raise Refused("right", RIGHTS[right].refusal, RIGHTS[right].where)


def own_or_lent(actor: Actor, lender: Staff | None, right: Right) -> str | None:
    """Whose right an act is done with: None for one's own, else the lender's id; refused without."""
    if has(actor.staff, right):
        return None
    if lender is None or not RIGHTS[right].lent or not has(lender, right):
        raise Refused("right", RIGHTS[right].refusal, RIGHTS[right].where)
    return lender.id


def may_lend(staff: Staff) -> bool:
    """Whether somebody has any right that can be lent."""
    return any(rule.lent and staff.role in rule.roles for rule in RIGHTS.values())


def needs_no_lender(staff: Staff) -> bool:
    """Whether somebody has every right that can be lent: nobody is asked to lend them one."""
    return all(staff.role in rule.roles for rule in RIGHTS.values() if rule.lent)


def lenders(people: Iterable[Staff]) -> list[Staff]:
    """Who can lend a right."""
    return [person for person in people if may_lend(person)]


def read_reason(reason: str) -> str:
    """Why something is corrected, as it is kept."""
    plain = " ".join(reason.split())
    if not plain:
        raise Refused("reason", "Why? A few words for whoever looks at this later.", "reason")
    if len(plain) > LONGEST_REASON:
        raise Refused("reason", f"At most {LONGEST_REASON} characters; this has {len(plain)}.", "reason")
    return plain
