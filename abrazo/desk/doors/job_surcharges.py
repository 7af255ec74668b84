"""Surcharges on a job, such as for being quick: the house's own for lines, chosen at drop-off.

Rules here
- offered are those for all lines, or for what tasks count under; none that has a code
- a surcharge is a task on no list of which nothing is handed over; it is of the tasks that it is for, and cut where
  these are taxed or counted in several ways; each part says what it is of then
"""

from __future__ import annotations

from collections.abc import Collection, Sequence
from fractions import Fraction

from abrazo.core.errors import Code, Refused
from abrazo.core.jobs import surcharge, task_price
from abrazo.core.money import total
from abrazo.core.states import AdjustmentKind, Scope
from abrazo.desk.context import House, NotFound
from abrazo.desk.tickets.ticket_lines import UNLISTED
from abrazo.store import adjustments, catalogue
from abrazo.store.adjustments import Preset
from abrazo.store.jobs import Task


def surcharges(house: House) -> list[Preset]:
    """What can be added to a job."""
    groups = {item.report_group for item in catalogue.list_tasks(house.connection)}
    return [
        one
        for one in adjustments.list_presets(house.connection)
        if one.kind == AdjustmentKind.SURCHARGE and one.scope != Scope.TICKET and not one.code
        if any(one.fits(group) for group in groups)
    ]


def surcharged(house: House, tasks: Sequence[Task], chosen: Collection[str]) -> list[Task]:
    """The surcharges that were chosen for a job with these tasks, as tasks of it. Refused for one that is for none."""
    if not tasks or not chosen:
        return []
    offered = {one.id: one for one in surcharges(house)}
    if strange := [one for one in chosen if one not in offered]:
        raise NotFound(f"no surcharge {strange[0]}")
    return [task for one in offered.values() if one.id in chosen for task in _added(one, tasks)]


def _added(preset: Preset, tasks: Sequence[Task]) -> list[Task]:
    """One surcharge, cut by how its tasks are taxed and counted."""
    sums: dict[tuple[str | None, str], int] = {}
    for task in tasks:
        if preset.fits(task.report_group):
            kind = task.tax, task.report_group
            sums[kind] = total((sums.get(kind, 0), task_price(task.unit_price, Fraction(task.quantity))))
    if not sums:
        raise Refused(Code.SURCHARGE_FOR_NONE, "surcharges", name=preset.name)
    cuts = surcharge(list(sums.values()), preset.percent, preset.amount)
    return [
        Task(0, 0, UNLISTED, preset.name if len(sums) == 1 else f"{preset.name}, {group}", cut, "1", "", 0, tax, group)
        for (tax, group), cut in zip(sums, cuts, strict=True)
        if cut
    ]
