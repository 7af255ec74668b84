"""Which role has which right: what the house decided, over what comes with the program.

Rule here: a supervisor keeps the right to set up; otherwise nobody could change anything again
"""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.core.errors import Code, Refused, chosen
from abrazo.core.states import Does, StaffRole
from abrazo.desk.act import Act, acting
from abrazo.desk.context import Actor, House
from abrazo.desk.permissions import RIGHTS, SUPERVISOR, Right, role_has
from abrazo.desk.setup.fields import Field, FieldKind
from abrazo.desk.setup.things import Thing, change_now
from abrazo.store import staff
from abrazo.store.set_up import Values


@dataclass(frozen=True, slots=True)
class RightRow:
    """A right, whether it can be lent by PIN, and for each role whether it has it, and whether that is as it came."""

    right: Right
    lent: bool
    roles: tuple[tuple[StaffRole, bool, bool], ...]


NEEDS = {Right.WORK_ON_JOBS: Does.JOBS}  # what a house must do for a right to be asked


def all_rights(house: House) -> list[RightRow]:
    """Every right with the roles that have it."""
    decided = _decided(house)
    return [
        RightRow(
            right,
            rule.lent,
            tuple((role, decided[role][right], decided[role][right] == (role in rule.roles)) for role in StaffRole),
        )
        for right, rule in RIGHTS.items()
        if NEEDS.get(right) is None or NEEDS[right] in house.settings.does.split()
    ]


def set_right(house: House, actor: Actor, role: str, right: str, *, allowed: bool) -> None:
    """A role has a right from now on, or not. Refused where there is no such one, and for what a supervisor keeps."""
    role_ = chosen(StaffRole, role, Code.NO_SUCH_RIGHT)
    right_ = chosen(Right, right, Code.NO_SUCH_RIGHT)
    with acting(house, actor, "set-up", needs=Right.SET_UP) as act:
        change_now(act, ROLE_RIGHTS, role_, {field_of(right_): allowed})


def field_of(right: Right) -> str:
    """The name of its field."""
    return right.name.lower()


def _decided(house: House) -> dict[StaffRole, dict[Right, bool]]:
    kept = staff.role_rights(house.connection)
    return {
        role: {right: role_has(role, {name: one for (of, name), one in kept.items() if of == role}, right)
               for right in RIGHTS}
        for role in StaffRole
    }  # fmt: skip


def _load(house: House) -> dict[str, Values]:
    return {
        str(role): {"name": str(role), **{field_of(right): allowed for right, allowed in rights.items()}}
        for role, rights in _decided(house).items()
    }


def _save(act: Act, ref: str, values: Values) -> None:
    for right in RIGHTS:
        if field_of(right) in values:
            staff.set_role_right(act.connection, ref, right, allowed=bool(values[field_of(right)]))


def _check(_: House, ref: str, values: Values) -> None:
    if ref == SUPERVISOR and not values[field_of(Right.SET_UP)]:
        raise Refused(Code.RIGHT_STAYS, field_of(Right.SET_UP))


ROLE_RIGHTS = Thing(
    "rights",
    tuple(Field(field_of(right), FieldKind.YES, needs=NEEDS.get(right)) for right in RIGHTS),
    _load,
    _save,
    _check,
    adds=False,
    retires=False,
)
