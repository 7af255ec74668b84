"""Discounts, comps and surcharges: what the house offers, and what was given."""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.core.states import AdjustmentKind, Scope
from abrazo.store.catalogue import for_group
from abrazo.store.db import Connection, record


@dataclass(frozen=True, slots=True)
class Preset:
    """One that the house offers; exactly one of `percent` (text) and `amount` (minor units).

    `scope` is line, ticket or both. With a `code` it is given only to who knows the code.
    """

    id: str
    name: str
    kind: AdjustmentKind
    percent: str | None = None
    amount: int | None = None
    code: str | None = None
    scope: Scope = Scope.BOTH
    groups: str = ""  # the report groups of lines that it is for, divided by semicolons; empty for all

    def fits(self, report_group: str | None) -> bool:
        """Whether it is for a line of this report group; None stands for the whole ticket."""
        return report_group is None or for_group(self.groups, report_group)


@dataclass(frozen=True, slots=True)
class AppliedAdjustment:
    """One that was given, on a line or (line None) on the ticket.

    A benefit or the use of a series came by itself: `benefit` or `series` says which, `person` whose.
    """

    id: int
    line: int | None
    kind: AdjustmentKind
    percent: str | None
    amount: int | None
    reason: str
    code: str
    at: str
    staff: str
    lender: str | None = None
    benefit: str | None = None
    person: int | None = None
    free: bool = False  # its reason was typed
    series: int | None = None  # whose use it is
    off: tuple[int, ...] = ()  # lines that it does not reach


PRESETS = """
SELECT id, name, kind, percent, amount, code, scope, groups FROM preset WHERE ended_at IS NULL ORDER BY position
"""
ADD_PRESET = (
    "INSERT INTO preset (id, name, kind, percent, amount, code, scope, groups, position) "
    "VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)"
)
ADD = """
INSERT INTO adjustment (ticket, line, kind, percent, amount, reason, code, at, staff, lender, benefit, person, free)
VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
"""
END = "UPDATE adjustment SET ended_at = ?, ended_by = ? WHERE id = ? AND ended_at IS NULL"
TAKE_OFF = "INSERT OR IGNORE INTO adjustment_exception (adjustment, line) VALUES (?, ?)"


def list_presets(connection: Connection) -> list[Preset]:
    """What the house offers, in its order."""
    return [record(Preset, row) for row in connection.execute(PRESETS)]


def add_preset(connection: Connection, preset: Preset, position: int) -> None:
    """Keep a preset at its place."""
    p = preset
    connection.execute(ADD_PRESET, (p.id, p.name, p.kind, p.percent, p.amount, p.code, p.scope, p.groups, position))


def add(connection: Connection, ticket: int, given: AppliedAdjustment) -> int:
    """Keep what is given; gives its id. Whose use of a series it is, is kept with the series."""
    g = given
    kind = AdjustmentKind.DISCOUNT if g.kind in (AdjustmentKind.BENEFIT, AdjustmentKind.SERIES) else g.kind
    facts = (kind, g.percent, g.amount, g.reason, g.code, g.at, g.staff, g.lender, g.benefit, g.person, g.free)
    row = connection.execute(ADD, (ticket, g.line, *facts)).lastrowid
    assert row is not None
    return row


def end(connection: Connection, adjustment: int, at: str, by: str) -> None:
    """It does not count any more; it stays as a record."""
    connection.execute(END, (at, by, adjustment))


def take_off(connection: Connection, adjustment: int, line: int) -> None:
    """A ticket discount does not reach a line."""
    connection.execute(TAKE_OFF, (adjustment, line))
