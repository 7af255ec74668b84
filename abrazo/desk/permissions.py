"""Every right by name: who has it, whether it is lent for one act by PIN, and the sentence that refuses it.

Rules here
- nothing else asks for somebody's role
- whoever has a right that can be lent may lend it; the lender's name is kept with what was done
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from enum import StrEnum

from abrazo.core.errors import Code, Refused
from abrazo.core.states import StaffRole
from abrazo.desk.context import Actor
from abrazo.store.staff import Staff

LONGEST_REASON = 120
SUPERVISOR = StaffRole.SUPERVISOR


class Right(StrEnum):
    """What not everybody may do."""

    REFUND = "refund"
    REOPEN = "reopen"
    VOID = "void"
    TAKE_OFF_MADE = "take off what was made"
    COMP = "comp"
    FREE_DISCOUNT = "free discount"
    KEEP_DEPOSIT = "keep a deposit"
    SEE_REPORTS = "see reports"
    SEE_EXPECTED = "see expected cash before the count"
    COUNT_AGAIN = "count again"
    PAY_OUT_LARGE = "pay out above the limit"
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
    refusal: Code
    where: str = ""


def _lent(refusal: Code) -> Rule:
    return Rule(frozenset({SUPERVISOR}), True, refusal, "pin")


def _kept(refusal: Code, where: str = "") -> Rule:
    return Rule(frozenset({SUPERVISOR}), False, refusal, where)


RIGHTS = {
    Right.REFUND: _lent(Code.RIGHT_REFUND),
    Right.REOPEN: _lent(Code.RIGHT_REOPEN),
    Right.VOID: _lent(Code.RIGHT_VOID),
    Right.TAKE_OFF_MADE: _lent(Code.RIGHT_TAKE_OFF_MADE),
    Right.COMP: _lent(Code.RIGHT_COMP),
    Right.FREE_DISCOUNT: _lent(Code.RIGHT_FREE_DISCOUNT),
    Right.KEEP_DEPOSIT: _lent(Code.RIGHT_KEEP_DEPOSIT),
    Right.LEAVE_COUNTER_MODE: _lent(Code.RIGHT_LEAVE_COUNTER_MODE),
    Right.SEE_REPORTS: _kept(Code.RIGHT_SEE_REPORTS),
    Right.SEE_EXPECTED: _kept(Code.RIGHT_SEE_EXPECTED),
    Right.COUNT_AGAIN: _lent(Code.RIGHT_COUNT_AGAIN),
    Right.PAY_OUT_LARGE: _lent(Code.RIGHT_PAY_OUT_LARGE),
    Right.CLOSE_DAY: _lent(Code.RIGHT_CLOSE_DAY),
    Right.SKIP_FLOAT: _lent(Code.RIGHT_SKIP_FLOAT),
    Right.HOLD_TO_COUNTER_MODE: _kept(Code.RIGHT_HOLD_TO_COUNTER_MODE, "who"),
    Right.CHANGE_SENDING: _kept(Code.RIGHT_CHANGE_SENDING, "sending"),
    Right.SET_UP: _kept(Code.RIGHT_SET_UP),
}


def has(staff: Staff, right: Right) -> bool:
    """Whether somebody has a right of their own."""
    return staff.role in RIGHTS[right].roles


def need(actor: Actor, right: Right) -> str | None:
    """Whose right an act is done with: None for one's own, else the lender's id; refused without either."""
    lender = actor.lender
    if has(actor.staff, right):
        return None
    if lender is None or not RIGHTS[right].lent or not has(lender, right):
        raise Refused(RIGHTS[right].refusal, RIGHTS[right].where)
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
        raise Refused(Code.NO_REASON, "reason")
    if len(plain) > LONGEST_REASON:
        raise Refused(Code.TOO_LONG, "reason", most=LONGEST_REASON, count=len(plain))
    return plain
