"""Drawers that were handed over within a day."""

from __future__ import annotations

import json
from dataclasses import asdict, dataclass

from abrazo.core.till import Drawer, over_short
from abrazo.store.db import Connection, record


@dataclass(frozen=True, slots=True)
class Section:
    """A drawer until it was handed over: the count that ended it, and what moved on the day until then.

    `petty`: the last row of petty cash before it. Minor units; `pieces` by denomination as JSON, empty when only a
    total was typed.
    """

    till: str
    staff: str
    handed_to: str
    at: str
    pieces: str
    total: int
    expected: int
    moved: Drawer
    petty: int

    @property
    def over(self) -> int:
        """Counted less expected; negative is short."""
        return over_short(self.total, self.expected)


ADD = """
INSERT INTO drawer_section (count, day, till, handed_to, moved, petty)
SELECT max(id), day, till, ?, ?, (SELECT coalesce(max(id), 0) FROM petty_cash) FROM drawer_count
WHERE day = ? AND till = ?
"""
OF_DAY = """
SELECT s.till, c.staff, s.handed_to, c.at, c.pieces, c.total, c.expected, s.moved, s.petty
FROM drawer_section s JOIN drawer_count c ON c.id = s.count WHERE s.day = ? ORDER BY s.count
"""


def add(connection: Connection, day: int, till: str, handed_to: str, moved: Drawer) -> None:
    """A drawer is handed over with its last count."""
    connection.execute(ADD, (handed_to, json.dumps(asdict(moved)), day, till))


def of_day(connection: Connection, day: int) -> list[Section]:
    """The drawers that were handed over on a day, in their order."""
    return [
        record(Section, row, moved=Drawer(**json.loads(row["moved"]))) for row in connection.execute(OF_DAY, (day,))
    ]
