"""Changes of set-up that hold from a business date to come, and taxes that came in the place of others."""

from __future__ import annotations

import json
from dataclasses import dataclass

from abrazo.core.states import PlanOutcome
from abrazo.store.db import Connection, record
from abrazo.store.set_up import Values


@dataclass(frozen=True, slots=True)
class PlannedChange:
    """Which fields of what are to be other from a business date on (ISO), by whom it was planned, what became of it."""

    id: int
    thing: str
    ref: str
    name: str
    fields: Values
    first_on: str
    staff: str
    till: str
    at: str
    outcome: PlanOutcome = PlanOutcome.WAITS


COLUMNS = "SELECT id, thing, ref, name, fields, first_on, staff, till, at, outcome FROM set_up_plan "
ONE = COLUMNS + "WHERE id = ?"
WAITING = COLUMNS + "WHERE ended_at IS NULL AND first_on <= ? ORDER BY first_on, id"
OF_REF = COLUMNS + "WHERE thing = ? AND ref = ? AND (ended_at IS NULL OR outcome = 'refused') ORDER BY first_on, id"
SHOWN = COLUMNS + "WHERE ended_at IS NULL OR outcome = 'refused' ORDER BY first_on, id LIMIT 200"
ADD = "INSERT INTO set_up_plan (thing, ref, name, fields, first_on, staff, till, at) VALUES (?, ?, ?, ?, ?, ?, ?, ?)"
END = "UPDATE set_up_plan SET ended_at = ?, outcome = ? WHERE id = ? AND ended_at IS NULL"


def _read(connection: Connection, statement: str, *given: object) -> list[PlannedChange]:
    found = connection.execute(statement, given)
    return [
        record(PlannedChange, row, fields=json.loads(row["fields"]), outcome=PlanOutcome(row["outcome"]))
        for row in found
    ]


def add(connection: Connection, plan: PlannedChange) -> int:
    """Keep what is planned; gives its id."""
    p = plan
    facts = (p.thing, p.ref, p.name, json.dumps(p.fields), p.first_on, p.staff, p.till, p.at)
    row = connection.execute(ADD, facts).lastrowid
    assert row is not None
    return row


def read(connection: Connection, plan: int) -> PlannedChange | None:
    """One of them, None when there is no such."""
    return next(iter(_read(connection, ONE, plan)), None)


def due(connection: Connection, business_date: str) -> list[PlannedChange]:
    """What waits and holds from this date or one before, in order."""
    return _read(connection, WAITING, business_date)


def of_one(connection: Connection, thing: str, ref: str) -> list[PlannedChange]:
    """What waits of one thing, and what could not be made."""
    return _read(connection, OF_REF, thing, ref)


def shown(connection: Connection) -> list[PlannedChange]:
    """What waits of everything, and what could not be made."""
    return _read(connection, SHOWN)


def end(connection: Connection, plan: int, at: str, outcome: PlanOutcome) -> bool:
    """It was made, could not be made, or was taken back; whether it still waited."""
    return connection.execute(END, (at, outcome, plan)).rowcount == 1


def seen(connection: Connection, plan: int) -> None:
    """Somebody saw that one could not be made."""
    connection.execute("UPDATE set_up_plan SET outcome = 'taken back' WHERE id = ? AND outcome = 'refused'", (plan,))


# ---- a tax in the place of another

SETTING_TAXES = ("service_tax", "surcharge_tax", "delivery_tax", "layaway_tax")
FOLLOW = "UPDATE tax SET followed_by = ?, ended_at = ? WHERE id = ?"
OPEN_TICKETS = """
SELECT t.id FROM ticket t WHERE t.state = 'open'
AND (EXISTS (SELECT 1 FROM line l JOIN tax x ON x.id = l.tax
             WHERE l.ticket = t.id AND l.removed_at IS NULL AND x.followed_by IS NOT NULL)
  OR EXISTS (SELECT 1 FROM charge c JOIN tax x ON x.id = c.tax
             WHERE c.ticket = t.id AND c.ended_at IS NULL AND x.followed_by IS NOT NULL))
ORDER BY t.id
"""
ON_TICKET = """
SELECT DISTINCT x.label AS before, y.label AS now FROM tax x JOIN tax y ON y.id = x.followed_by
WHERE x.id IN (SELECT tax FROM line WHERE ticket = :ticket AND removed_at IS NULL
               UNION SELECT tax FROM charge WHERE ticket = :ticket AND ended_at IS NULL)
ORDER BY x.label
"""
NEXT = "(SELECT followed_by FROM tax WHERE id = {table}.tax)"


def follow(connection: Connection, before: str, now: str, at: str) -> None:
    """From now on one tax stands in another's place: on items, in settings, on tasks of jobs that are not settled."""
    connection.execute(FOLLOW, (now, at, before))
    connection.execute("UPDATE item SET tax = ? WHERE tax = ?", (now, before))
    connection.execute(
        "UPDATE task SET tax = ? WHERE tax = ? AND job IN (SELECT id FROM job WHERE settled_on IS NULL)", (now, before)
    )
    for setting in SETTING_TAXES:
        connection.execute(f"UPDATE settings SET {setting} = ? WHERE {setting} = ?", (now, before))


def taxes_of_settings(connection: Connection) -> set[str]:
    """The taxes that settings name."""
    row = connection.execute(f"SELECT {', '.join(SETTING_TAXES)} FROM settings").fetchone()
    return {str(tax) for tax in tuple(row) if tax}


def tickets_to_follow(connection: Connection) -> list[int]:
    """Open tickets with lines or charges whose tax another one came in place of."""
    return [row["id"] for row in connection.execute(OPEN_TICKETS)]


def follow_on(connection: Connection, ticket: int) -> list[tuple[str, str]]:
    """The lines and charges of a ticket bear what came in the place of their taxes; gives (before, now) by name."""
    named = [(row["before"], row["now"]) for row in connection.execute(ON_TICKET, {"ticket": ticket})]
    for table, stands in (("line", "removed_at IS NULL"), ("charge", "ended_at IS NULL")):
        connection.execute(
            f"UPDATE {table} SET tax = {NEXT.format(table=table)} WHERE ticket = ? AND {stands}"
            " AND tax IN (SELECT id FROM tax WHERE followed_by IS NOT NULL)",
            (ticket,),
        )
    return named
