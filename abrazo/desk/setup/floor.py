"""The floor plan: moving, sizing, turning, naming, adding and removing tables. A supervisor's right.

Rules here
- a table lies inside the plan, on a grid of 2 units, and over no other table
- names are unique; a table at which somebody sits is not removed
"""

from __future__ import annotations

import re
from dataclasses import dataclass, replace

from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Kind
from abrazo.core.states import Shape
from abrazo.desk.act import Act, acting
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.permissions import Right
from abrazo.store import room
from abrazo.store.room import Spot

WIDTH, HEIGHT = 820, 664  # of the plan, in its units
LEAST, MOST = 60, 300  # a table's width and height
GRID = 2
MOST_SEATS, LONGEST_NAME = 20, 4
NEW = (100, 76)  # width and height of a new table


@dataclass(frozen=True, slots=True)
class Typed:
    """What was typed about a table, as text; an empty field stays as it is."""

    name: str = ""
    x: str = ""
    y: str = ""
    width: str = ""
    height: str = ""
    seats: str = ""
    shape: str = ""


def spots(house: House) -> list[Spot]:
    """Every table on the plan."""
    return house.spots()


def areas(house: House) -> list[str]:
    """The plan's areas, in the order of their tables."""
    return list(dict.fromkeys(spot.area for spot in spots(house)))


def change(house: House, actor: Actor, spot_id: str, typed: Typed) -> None:
    """Move, size, name or seat a table anew."""
    with acting(house, actor, "set-up", needs=Right.SET_UP) as act:
        spot = _read(house, spot_id)
        now = replace(
            spot,
            name=_name(house, spot, typed.name),
            x=_figure(typed.x, spot.x, -WIDTH, 2 * WIDTH, "x"),
            y=_figure(typed.y, spot.y, -HEIGHT, 2 * HEIGHT, "y"),
            width=_figure(typed.width, spot.width, LEAST, MOST, "width"),
            height=_figure(typed.height, spot.height, LEAST, MOST, "height"),
            seats=_figure(typed.seats, spot.seats, 1, MOST_SEATS, "seats", grid=1),
            shape=Shape(typed.shape) if typed.shape in set(Shape) else spot.shape,
        )
        _keep(act, _fitted(now), Kind.TABLE_CHANGED)


def turn(house: House, actor: Actor, spot_id: str) -> None:
    """Turn a table by a quarter about its middle."""
    with acting(house, actor, "set-up", needs=Right.SET_UP) as act:
        spot = _read(house, spot_id)
        x, y = spot.x + (spot.width - spot.height) // 2, spot.y + (spot.height - spot.width) // 2
        turned = _fitted(replace(spot, x=x, y=y, width=spot.height, height=spot.width))
        _keep(act, turned, Kind.TABLE_TURNED)


def add(house: House, actor: Actor, area: str, key: str) -> str:
    """A new table in an area, where there is room; gives its id."""
    with acting(house, actor, "floor", key, needs=Right.SET_UP) as act:
        if act.done is not None:
            return act.done
        here = [spot for spot in spots(house) if spot.area == area]
        if not here:
            raise NotFound(f"no area {area}")
        letter = re.sub(r"[^A-Z]", "", here[0].name.upper())[:1] or "T"
        taken = {spot.name for spot in spots(house)} | room.all_names(act.connection)
        name = next(f"{letter}{n}" for n in range(1, 1000) if f"{letter}{n}" not in taken)
        spot = _free_place(house, Spot(name, name, area, Shape.SQUARE, here[0].x, here[0].y, *NEW, 4))
        room.add(act.connection, spot)
        act.record(Kind.TABLE_ADDED, table=name)
        act.answer = name
        return name


def _free_place(house: House, spot: Spot) -> Spot:
    """The free place nearest to where it should be."""
    places = [(x, y) for y in range(0, HEIGHT - spot.height, 16) for x in range(0, WIDTH - spot.width, 16)]
    for x, y in sorted(places, key=lambda place: abs(place[0] - spot.x) + abs(place[1] - spot.y)):
        if _in_the_way(house, replace(spot, x=x, y=y)) is None:
            return replace(spot, x=x, y=y)
    raise Refused(Code.NO_ROOM, "area")


def remove(house: House, actor: Actor, spot_id: str) -> None:
    """Take a table off the plan; its past tickets keep its name."""
    with acting(house, actor, "set-up", needs=Right.SET_UP) as act:
        spot = _read(house, spot_id)
        if spot_id in room.seated(act.connection):
            raise Refused(Code.TABLE_SEATED, "remove", table=spot.name)
        room.end(act.connection, spot_id, act.at)
        act.record(Kind.TABLE_REMOVED, table=spot.name)


def _read(house: House, spot_id: str) -> Spot:
    spot = next((one for one in spots(house) if one.id == spot_id), None)
    if spot is None:
        raise NotFound(f"no table {spot_id}")
    return spot


def _name(house: House, spot: Spot, typed: str) -> str:
    name = typed.strip() or spot.name
    if len(name) > LONGEST_NAME or not re.fullmatch(r"[A-Za-z0-9]+", name):
        raise Refused(Code.TABLE_NAME, "name", most=LONGEST_NAME)
    if any(one.name.upper() == name.upper() and one.id != spot.id for one in spots(house)):
        raise Refused(Code.TABLE_NAME_TAKEN, "name", name=name)
    return name


def _figure(typed: str, kept: int, least: int, most: int, where: str, *, grid: int = GRID) -> int:
    if not typed.strip():
        return kept
    if not re.fullmatch(r"-?[0-9]{1,4}(\.[0-9]+)?", typed.strip()) or not least <= float(typed) <= most:
        raise Refused(Code.NOT_IN_RANGE, where, least=least, most=most)
    return int(float(typed)) // grid * grid


def _fitted(spot: Spot) -> Spot:
    """Moved back inside the plan where it stuck out."""
    x, y = min(max(spot.x, 0), WIDTH - spot.width), min(max(spot.y, 0), HEIGHT - spot.height)
    return replace(spot, x=x // GRID * GRID, y=y // GRID * GRID)


def _in_the_way(house: House, spot: Spot) -> Spot | None:
    """A table that lies where this one would."""
    for one in spots(house):
        apart = (spot.x + spot.width <= one.x or one.x + one.width <= spot.x
                 or spot.y + spot.height <= one.y or one.y + one.height <= spot.y)  # fmt: skip
        if one.id != spot.id and not apart:
            return one
    return None


def _keep(act: Act, spot: Spot, kind: Kind) -> None:
    other = _in_the_way(act.house, spot)
    if other is not None:
        raise Refused(Code.TABLE_IN_THE_WAY, "x", table=other.name)
    room.change(act.connection, spot)
    act.record(kind, table=spot.name)
