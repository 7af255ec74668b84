"""Facts of people and jobs that the house defines itself."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass

from abrazo.core.states import OwnAbout
from abrazo.store.db import Connection, Row


@dataclass(frozen=True, slots=True)
class OwnField:
    """A fact of people or jobs: what it is called, and what it can be; anything where there are no choices.

    `prints`: it stands on papers.
    """

    id: int
    about: OwnAbout
    name: str
    choices: tuple[str, ...] = ()
    prints: bool = False


FIELDS = "SELECT id, about, name, choices, prints FROM own_field WHERE ended_at IS NULL ORDER BY about, position, id"
SAID = """
SELECT f.id, f.about, f.name, f.choices, f.prints, coalesce(v.value, '') AS value
FROM own_field f LEFT JOIN own_value v ON v.field = f.id AND v.ref = ?
WHERE f.about = ? AND f.ended_at IS NULL ORDER BY f.position, f.id
"""
PRINTED = """
SELECT f.name, v.value FROM own_field f
JOIN own_value v ON v.field = f.id AND v.ref = CASE f.about WHEN 'job' THEN :job ELSE :person END
WHERE f.prints AND f.ended_at IS NULL ORDER BY f.about, f.position, f.id
"""
PUT_VALUE = """
INSERT INTO own_value (field, ref, value) VALUES (?, ?, ?) ON CONFLICT (field, ref) DO UPDATE SET value = excluded.value
"""
CLEAR_VALUE = "DELETE FROM own_value WHERE field = ? AND ref = ?"


def fields(connection: Connection) -> list[OwnField]:
    """All facts that are asked for, in the order of their forms."""
    return [_field(row) for row in connection.execute(FIELDS)]


def _field(row: Row) -> OwnField:
    return OwnField(
        row["id"], OwnAbout(row["about"]), row["name"], tuple(json.loads(row["choices"])), bool(row["prints"])
    )


def said(connection: Connection, about: OwnAbout, ref: int) -> list[tuple[OwnField, str]]:
    """What is asked for, with what is said of a person or job; empty for nothing."""
    return [(_field(row), row["value"]) for row in connection.execute(SAID, (ref, about))]


def printed(connection: Connection, job: int, person: int) -> list[tuple[str, str]]:
    """What is said of a job and its person and stands on papers, the job's first: (what it is called, what is said)."""
    return [(row["name"], row["value"]) for row in connection.execute(PRINTED, {"job": job, "person": person})]


def put_values(connection: Connection, ref: int, said: Mapping[int, str]) -> None:
    """Say something of a person or job; an empty text takes it back."""
    for field, value in said.items():
        connection.execute(*((PUT_VALUE, (field, ref, value)) if value else (CLEAR_VALUE, (field, ref))))
