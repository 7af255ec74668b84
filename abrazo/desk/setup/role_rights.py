"""Which role has which right: what the house decided, over what comes with the program.

Rule here: a supervisor keeps the right to set up; otherwise nobody could change anything again
"""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.core.errors import Code, Refused, chosen
from abrazo.core.journal import Kind
from abrazo.core.states import Does, StaffRole
from abrazo.desk.act import acting
from abrazo.desk.context import Actor, House
from abrazo.desk.permissions import RIGHTS, SUPERVISOR, Right, role_has
from abrazo.store import staff


@dataclass(frozen=True, slots=True)
class RightRow:
    """A right, whether it can be lent by PIN, and for each role whether it has it, and whether that is as it came."""

    right: Right
    lent: bool
    roles: tuple[tuple[StaffRole, bool, bool], ...]


NEEDS = {Right.WORK_ON_JOBS: Does.JOBS}  # what a house must do for a right to be asked


def all_rights(house: House) -> list[RightRow]:
    """Every right with the roles that have it."""
    decided = staff.role_rights(house.connection)
    return [
        RightRow(
            right,
            rule.lent,
            tuple(
                (role, decided.get((role, right), role in rule.roles), (role, right) not in decided)
                for role in StaffRole
            ),
        )
        for right, rule in RIGHTS.items()
        if NEEDS.get(right) is None or NEEDS[right] in house.settings.does.split()
    ]


def set_right(house: House, actor: Actor, role: str, right: str, *, allowed: bool) -> None:
    """A role has a right from now on, or not. Refused where there is no such one, and for what a supervisor keeps."""
    role_ = chosen(StaffRole, role, Code.NO_SUCH_RIGHT)
    right_ = chosen(Right, right, Code.NO_SUCH_RIGHT)
    with acting(house, actor, "set-up", needs=Right.SET_UP) as act:
        if (role_, right_, allowed) == (SUPERVISOR, Right.SET_UP, False):
            raise Refused(Code.RIGHT_STAYS)
        before = {name: one for (of, name), one in staff.role_rights(act.connection).items() if of == role_}
        if role_has(role_, before, right_) == allowed:
            return
        staff.set_role_right(act.connection, role_, right_, allowed=allowed)
        act.record(Kind.RIGHT_CHANGED, role=role_, right=right_, allowed="yes" if allowed else "no")
