"""Every right by name: who has it, whether it is lent for one act by PIN, and the sentence that refuses it.

Rules here
- nothing else asks for somebody's role
- whoever has a right that can be lent may lend it; the lender's name is kept with what was done
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from abrazo.core.errors import Code, Refused
from abrazo.core.states import Right as Right
from abrazo.core.states import StaffRole
from abrazo.desk.context import Actor
from abrazo.store.staff import Staff

LONGEST_REASON = 120
LENDERS_DIGITS = 6  # of the PIN of whoever lends rights
SUPERVISOR = StaffRole.SUPERVISOR


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


def _of(roles: Iterable[StaffRole], refusal: Code) -> Rule:
    return Rule(frozenset(roles), False, refusal)


RIGHTS = {
    Right.SELL: _of((StaffRole.SERVER, StaffRole.CLERK, SUPERVISOR), Code.RIGHT_SELL),
    Right.WORK_ON_JOBS: _of(StaffRole, Code.RIGHT_WORK_ON_JOBS),
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
    Right.SET_PRICE: _lent(Code.RIGHT_SET_PRICE),
    Right.GIVE_MEMBERSHIPS: _lent(Code.RIGHT_GIVE_MEMBERSHIPS),
    Right.COUNT_GOODS: _lent(Code.RIGHT_COUNT_GOODS),
    Right.MOVE_FILES: _lent(Code.RIGHT_MOVE_FILES),
    Right.PAY_TIPS: _lent(Code.RIGHT_PAY_TIPS),
    Right.SEE_TIPS: _kept(Code.RIGHT_SEE_TIPS),
    Right.REPRINT: _lent(Code.RIGHT_REPRINT),
    Right.FREE_PAYERS: _lent(Code.RIGHT_FREE_PAYERS),
    Right.ABOVE_LIMIT: _lent(Code.RIGHT_ABOVE_LIMIT),
    Right.WRITE_OFF: _lent(Code.RIGHT_WRITE_OFF),
    Right.STAND_INS: _kept(Code.RIGHT_STAND_INS),
    Right.SET_UP: _kept(Code.RIGHT_SET_UP),
}


REFUSED_BY = {rule.refusal: right for right, rule in RIGHTS.items()}


def has(staff: Staff, right: Right) -> bool:
    """Whether somebody has a right of their own: by what the house decided for their role, else by the default."""
    return role_has(staff.role, dict(staff.rights), right)


def is_one_of(staff: Staff, roles: Iterable[str]) -> bool:
    """Whether somebody has one of some roles."""
    return staff.role in roles


def role_has(role: StaffRole, decided: Mapping[str, bool], right: Right) -> bool:
    """Whether a role has a right, when the house decided so much about it."""
    return decided.get(right, role in RIGHTS[right].roles)


def need(actor: Actor, right: Right) -> str | None:
    """Whose right an act is done with: None for one's own, else the lender's id; refused without either."""
    lender = actor.lender
    if has(actor.staff, right):
        return None
    if lender is None or not RIGHTS[right].lent or not has(lender, right):
        raise Refused(RIGHTS[right].refusal, RIGHTS[right].where)
    return lender.id


def may_lend(staff: Staff) -> bool:
    """Whether somebody lends rights: any that can be lent is theirs, and their PIN is one of six digits.

    Supervisors lend whatever theirs is: in a house of an earlier version it may have four. Nobody in training does.
    """
    if staff.in_training:
        return False
    if staff.role != SUPERVISOR and staff.pin_digits < LENDERS_DIGITS:
        return False
    return any(rule.lent and has(staff, right) for right, rule in RIGHTS.items())


def needs_no_lender(staff: Staff) -> bool:
    """Whether somebody has every right that can be lent: nobody is asked to lend them one."""
    return all(has(staff, right) for right, rule in RIGHTS.items() if rule.lent)


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
