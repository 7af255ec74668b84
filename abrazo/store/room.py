"""The tables of the floor plan, each with the open ticket that sits there."""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.core.states import Shape
from abrazo.store.db import Connection, record


@dataclass(frozen=True, slots=True)
class Spot:
    """A table or bar stool; place and size in plan units."""

    id: str
    name: str
    area: str
    shape: Shape
    x: int
    y: int
    width: int
    height: int
    seats: int
    ended_at: str | None = None  # when it was taken off the floor plan


ALL = "SELECT id, name, area, shape, x, y, width, height, seats, ended_at FROM spot ORDER BY rowid"
ADD = "INSERT INTO spot (id, name, area, shape, x, y, width, height, seats) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)"
CHANGE = "UPDATE spot SET name = ?, area = ?, shape = ?, x = ?, y = ?, width = ?, height = ?, seats = ? WHERE id = ?"
END = "UPDATE spot SET ended_at = ? WHERE id = ?"
NAMES = "SELECT id FROM spot"
SEATED = "SELECT spot, id FROM ticket WHERE state = 'open' AND spot IS NOT NULL AND reopened_at IS NULL"


def all_spots(connection: Connection) -> dict[str, Spot]:
    """Every table that ever was, by id."""
    return {row["id"]: record(Spot, row) for row in connection.execute(ALL)}


def add(connection: Connection, spot: Spot) -> None:
    """Keep a table on the floor plan."""
    row = (spot.id, spot.name, spot.area, spot.shape, spot.x, spot.y, spot.width, spot.height, spot.seats)
    connection.execute(ADD, row)


def change(connection: Connection, spot: Spot) -> None:
    """Keep a table's name, place, size, shape and seats."""
    s = spot
    connection.execute(CHANGE, (s.name, s.area, s.shape, s.x, s.y, s.width, s.height, s.seats, s.id))


def end(connection: Connection, spot: str, at: str | None) -> None:
    """A table is no longer on the plan, since a moment; None: it is again."""
    connection.execute(END, (at, spot))


def all_names(connection: Connection) -> set[str]:
    """The ids of all tables that ever were."""
    return {row["id"] for row in connection.execute(NAMES)}


def seated(connection: Connection) -> dict[str, int]:
    """The open ticket of every busy table."""
    return {row["spot"]: row["id"] for row in connection.execute(SEATED)}
