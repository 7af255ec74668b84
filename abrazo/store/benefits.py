"""What memberships give by themselves, and what is kept for another day."""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.store.db import Connection, record


@dataclass(frozen=True, slots=True)
class BenefitRow:
    """What a kind of membership gives: `percent` off an item or a report group; `times` a year, or always."""

    id: str
    kind: str
    name: str
    percent: str
    item: str | None = None
    report_group: str | None = None
    times: int | None = None


GIVES = """
SELECT id, kind, name, percent, item, report_group, times FROM benefit WHERE kind = ? AND ended_at IS NULL ORDER BY id
"""
ONE = "SELECT id, kind, name, percent, item, report_group, times FROM benefit WHERE id = ?"
USED = """
SELECT count(*) FROM adjustment a JOIN line l ON l.id = a.line JOIN ticket t ON t.id = a.ticket
WHERE a.person = ? AND a.benefit = ? AND a.ended_at IS NULL AND a.at > ? AND a.ticket <> ?
  AND l.removed_at IS NULL AND t.voided_at IS NULL
"""
KEPT = "SELECT benefit FROM benefit_saved WHERE ticket = ?"
KEEP = "INSERT OR IGNORE INTO benefit_saved (ticket, benefit) VALUES (?, ?)"
USE = "DELETE FROM benefit_saved WHERE ticket = ? AND benefit = ?"
ADD_BENEFIT = "INSERT INTO benefit (id, kind, name, percent, item, report_group, times) VALUES (?, ?, ?, ?, ?, ?, ?)"


def gives(connection: Connection, kind: str) -> list[BenefitRow]:
    """What a kind of membership gives."""
    return [record(BenefitRow, row) for row in connection.execute(GIVES, (kind,))]


def read_benefit(connection: Connection, benefit: str) -> BenefitRow | None:
    """A benefit, None when there is no such."""
    row = connection.execute(ONE, (benefit,)).fetchone()
    return record(BenefitRow, row) if row else None


def times_used(connection: Connection, person: int, benefit: str, since: str, without: int) -> int:
    """How often somebody had a benefit since then, on other tickets than `without`."""
    return int(connection.execute(USED, (person, benefit, since, without)).fetchone()[0])


def kept_on(connection: Connection, ticket: int) -> set[str]:
    """Benefits that are kept for another day on a ticket."""
    return {row["benefit"] for row in connection.execute(KEPT, (ticket,))}


def keep(connection: Connection, ticket: int, benefit: str) -> None:
    """A benefit is not used on a ticket, but kept for another day."""
    connection.execute(KEEP, (ticket, benefit))


def use(connection: Connection, ticket: int, benefit: str) -> None:
    """A benefit is used on a ticket after all."""
    connection.execute(USE, (ticket, benefit))


def add_benefit(connection: Connection, benefit: BenefitRow) -> None:
    """Keep what a kind of membership gives."""
    b = benefit
    connection.execute(ADD_BENEFIT, (b.id, b.kind, b.name, b.percent, b.item, b.report_group, b.times))
