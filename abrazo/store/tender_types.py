"""The house's ways to pay: which are on, and in which order."""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.core.states import TenderKind
from abrazo.store.db import Connection, record


@dataclass(frozen=True, slots=True)
class TenderType:
    """A way to pay. `kind` is what the application does; `reference` what is asked for when money is recorded."""

    id: str
    name: str
    kind: TenderKind
    reference: str
    is_on: bool
    position: int


LIST = "SELECT id, name, kind, reference, is_on, position FROM tender ORDER BY position, id"
ADD = "INSERT INTO tender (id, name, kind, reference, is_on, position) VALUES (?, ?, ?, ?, ?, ?)"
SET = "UPDATE tender SET reference = ?, is_on = ?, position = ? WHERE id = ?"


def list_tenders(connection: Connection) -> list[TenderType]:
    """All of them, in the house's order, also those that are off."""
    return [record(TenderType, row) for row in connection.execute(LIST)]


def add(connection: Connection, tender: TenderType) -> None:
    """Keep a way to pay."""
    t = tender
    connection.execute(ADD, (t.id, t.name, t.kind, t.reference, int(t.is_on), t.position))


def put(connection: Connection, tender: TenderType) -> None:
    """What it asks for, whether it is offered, and where it stands; its name and kind stay."""
    t = tender
    connection.execute(SET, (t.reference, int(t.is_on), t.position, t.id))
