"""The floor plan: moving, sizing, turning, naming, adding and removing tables. A supervisor's right.

Rules here
- a table lies inside the plan, on a grid of 2 units, and over no other table
- names are unique; a table at which somebody sits is not removed
- a new table stands where it is said, else where there is room
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, replace
from itertools import product
from typing import Any

from abrazo.core.errors import Code, Refused
from abrazo.core.floor import BELOW, MARGIN
from abrazo.core.states import SetUpAct, Shape
from abrazo.desk.act import Act, acting
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.permissions import Right
from abrazo.desk.setup.fields import Field, FieldKind
from abrazo.desk.setup.options import named
from abrazo.desk.setup.things import Change, Thing, add_now, change_now, check_seen
from abrazo.store import room
from abrazo.store.room import Spot
from abrazo.store.set_up import Values
from abrazo.words import phrases as w

WIDTH, HEIGHT = 820, 664  # of the plan, in its units
LEAST, MOST = 60, 300  # a table's width and height
GRID = 2
MOST_SEATS, LONGEST_NAME, LONGEST_AREA = 20, 4, 20
FIRST, FINE = (40, 40), 16  # where tables stand that nobody placed: from here on in rows
GAPS = (48, 16, 0)  # between them: the widest for which there is room; the smallest tables begin with the second
SIDES = ("x", "y", "width", "height")
NEW = (100, 76)  # width and height of a new table
LAYOUTS = ((NEW, 48), (NEW, 16), ((80, 60), 16), ((LEAST, LEAST), 16), ((LEAST, LEAST), 0))  # of many: size, gap
USUAL_SEATS = 4


@dataclass(frozen=True, slots=True)
class Typed:
    """What was typed about a table, as text; an empty field stays as it is."""

    name: str = ""
    area: str = ""
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


def change(house: House, actor: Actor, spot_id: str, typed: Typed, seen: int | None = None) -> None:
    """Move, size, name or seat a table anew. `seen` is the last change that the page showed."""
    with acting(house, actor, "set-up", needs=Right.SET_UP) as act:
        _not_changed_since(house, spot_id, seen, "x" if typed.x else "name")
        spot = _read(house, spot_id)
        now = replace(
            spot,
            name=typed.name.strip() or spot.name,
            area=" ".join(typed.area.split()) or spot.area,
            x=_figure(typed.x, spot.x, -WIDTH, 2 * WIDTH, "x"),
            y=_figure(typed.y, spot.y, -HEIGHT, 2 * HEIGHT, "y"),
            width=_figure(typed.width, spot.width, LEAST, MOST, "width"),
            height=_figure(typed.height, spot.height, LEAST, MOST, "height"),
            seats=_figure(typed.seats, spot.seats, 1, MOST_SEATS, "seats", grid=1),
            shape=Shape(typed.shape) if typed.shape in set(Shape) else spot.shape,
        )
        change_now(act, TABLES, spot_id, _values(_fitted(now)))


def turn(house: House, actor: Actor, spot_id: str, seen: int | None = None) -> None:
    """Turn a table by a quarter about its middle."""
    with acting(house, actor, "set-up", needs=Right.SET_UP) as act:
        _not_changed_since(house, spot_id, seen, "x")
        spot = _read(house, spot_id)
        x, y = spot.x + (spot.width - spot.height) // 2, spot.y + (spot.height - spot.width) // 2
        turned = _fitted(replace(spot, x=x, y=y, width=spot.height, height=spot.width))
        change_now(act, TABLES, spot_id, _values(turned))


def add(house: House, actor: Actor, area: str, key: str) -> str:
    """A new table in an area, near its others where there is room; gives its id."""
    with acting(house, actor, "floor", key, needs=Right.SET_UP) as act:
        if act.done is not None:
            return act.done
        area = " ".join(area.split()) or house.say(w.ROOM)
        here = [spot for spot in spots(house) if spot.area == area]
        letter = re.sub(r"[^A-Z]", "", (here[0].name if here else area).upper())[:1] or "T"
        taken = {spot.name for spot in spots(house)} | room.all_names(act.connection)
        name = next(f"{letter}{n}" for n in range(1, 1000) if f"{letter}{n}" not in taken)
        new = Spot(name, name, area, Shape.SQUARE, *_beside(here), *NEW, USUAL_SEATS)
        act.answer = add_now(act, TABLES, _values(_free_place(spots(house), new, near=True)), name)
        return act.answer


def _beside(here: list[Spot]) -> tuple[int, int]:
    return (here[0].x, here[0].y) if here else FIRST


def remove(house: House, actor: Actor, spot_id: str, seen: int | None = None) -> None:
    """Take a table off the plan; its past tickets keep its name."""
    with acting(house, actor, "set-up", needs=Right.SET_UP) as act:
        _not_changed_since(house, spot_id, seen, "remove")
        _read(house, spot_id)
        try:
            change_now(act, TABLES, spot_id, {"ended_at": act.at}, SetUpAct.RETIRED)
        except Refused as refusal:
            raise refusal.at("remove") from None


def _not_changed_since(house: House, spot_id: str, seen: int | None, where: str) -> None:
    try:
        check_seen(house, TABLES, Change(spot_id, {}, seen))
    except Refused as refusal:
        raise refusal.at(where) from None


def _read(house: House, spot_id: str) -> Spot:
    spot = next((one for one in spots(house) if one.id == spot_id), None)
    if spot is None:
        raise NotFound(f"no table {spot_id}")
    return spot


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


def _in_the_way(others: Iterable[Spot], spot: Spot, gap: int = 0) -> Spot | None:
    """Of other tables one that lies where this one would, or nearer than `gap`."""
    for one in others:
        apart = (spot.x + spot.width + gap <= one.x or one.x + one.width + gap <= spot.x
                 or spot.y + spot.height + gap <= one.y or one.y + one.height + gap <= spot.y)  # fmt: skip
        if one.id != spot.id and not apart:
            return one
    return None


def _free_place(others: list[Spot], spot: Spot, *, near: bool = False) -> Spot:
    """Where there is room: `near` where it should be, else in rows; with a gap if it can, smaller if it must.

    Refused when there is no room even for the smallest.
    """
    for size in ((spot.width, spot.height), (LEAST, LEAST)):
        one = replace(spot, width=size[0], height=size[1])
        for gap in GAPS[size == (LEAST, LEAST) :]:
            found = (_nearest if near else _in_rows)(others, one, gap)
            if found is not None:
                return found
    raise Refused(Code.NO_ROOM, "area")


def _nearest(others: list[Spot], spot: Spot, gap: int) -> Spot | None:
    places = [(x, y) for y in range(0, HEIGHT - spot.height, FINE) for x in range(0, WIDTH - spot.width, FINE)]
    for x, y in sorted(places, key=lambda place: abs(place[0] - spot.x) + abs(place[1] - spot.y)):
        if _in_the_way(others, replace(spot, x=x, y=y), gap) is None:
            return replace(spot, x=x, y=y)
    return None


def _in_rows(others: list[Spot], spot: Spot, gap: int, top: int = 0) -> Spot | None:
    """From the top left on, or from there down, beside whatever is in the way."""
    for y in range(max(top, FIRST[1] if gap else 0), HEIGHT - spot.height + 1, FINE):
        x = FIRST[0] if gap else 0
        while x + spot.width <= WIDTH:
            one = replace(spot, x=x, y=y)
            other = _in_the_way(others, one, gap)
            if other is None:
                return one
            x = other.x + other.width + max(gap, GRID)
    return None


def _lay_out(house: House, rows: list[Values]) -> None:
    """Say where the new tables of one file stand that do not say it: so large and so far apart that all have room."""
    said = [{id: row[id] for id in SIDES if row.get(id) not in (None, "")} for row in rows]
    if any(not isinstance(one, int) for sides in said for one in sides.values()):
        return  # that is told of its row
    every = list(zip(rows, said, strict=True))
    standing = [_laid(row, sides, NEW) for row, sides in every if {"x", "y"} <= set(sides)]
    free = [(row, sides) for row, sides in every if not {"x", "y"} <= set(sides)]
    areas = list(dict.fromkeys(str(row.get("area") or "") for row, _ in free))
    free.sort(key=lambda one: areas.index(str(one[0].get("area") or "")))
    for apart, (size, gap) in product((BELOW + MARGIN, 0), LAYOUTS):
        wanted = [_laid(row, sides, size) for row, sides in free]
        placed = _rows_of_areas([*spots(house), *standing], wanted, gap, apart or gap)
        if placed is not None:
            for (row, _), spot in zip(free, placed, strict=True):
                row |= {id: getattr(spot, id) for id in SIDES}
            return


def _laid(row: Values, said: Mapping[str, Any], size: tuple[int, int]) -> Spot:
    """A table of a file, known by its row; of this size where it says none."""
    name, area = f"row {id(row)}", str(row.get("area") or "")  # no table is called so
    sides: dict[str, Any] = {"x": 0, "y": 0, "width": size[0], "height": size[1], **said}
    return Spot(name, name, area, Shape.SQUARE, **sides, seats=USUAL_SEATS)


def _rows_of_areas(standing: list[Spot], wanted: list[Spot], gap: int, apart: int) -> list[Spot] | None:
    """Tables in rows beside those that stand, each area so far below the one before; None where there is no room."""
    found, top, area = list(standing), 0, wanted[0].area if wanted else ""
    for one in wanted:
        if one.area != area:
            top, area = max(spot.y + spot.height for spot in found) + apart, one.area
        placed = _in_rows(found, one, gap, top)
        if placed is None:
            return None
        found.append(placed)
    return found[len(standing) :]


# ---- as set-up describes them


def _values(spot: Spot) -> Values:
    return {one.id: getattr(spot, one.id) for one in TABLES.fields}


def _load(house: House) -> dict[str, Values]:
    every = room.all_spots(house.connection).items()
    return {ref: {**_values(spot), "ended_at": spot.ended_at} for ref, spot in every}


def _spot(house: House, ref: str, values: Mapping[str, Any], others: list[Spot]) -> Spot:
    """A table as it is to be among others: what is not said is as it was, or as new ones are.

    Refused where it cannot stand.
    """
    before = room.all_spots(house.connection).get(ref)
    said = {id: one for id, one in values.items() if one not in (None, "") or id == "ended_at"}
    if before is not None:
        spot = replace(before, **said)
    else:
        size = {"x": FIRST[0], "y": FIRST[1], "width": NEW[0], "height": NEW[1]}
        spot = Spot(**{"id": ref, "name": "", **size, **_usual(house), **said})
        if not {"x", "y"} <= set(said):
            spot = _free_place(others, spot)
    spot = _fitted(replace(spot, width=spot.width // GRID * GRID, height=spot.height // GRID * GRID))
    if spot.ended_at is None:
        _can_stand(others, spot)
    return spot


def _can_stand(others: list[Spot], spot: Spot) -> None:
    if len(spot.area) > LONGEST_AREA:
        raise Refused(Code.TOO_LONG, "area", most=LONGEST_AREA, count=len(spot.area))
    if len(spot.name) > LONGEST_NAME or not re.fullmatch(r"[A-Za-z0-9]+", spot.name):
        raise Refused(Code.TABLE_NAME, "name", most=LONGEST_NAME)
    if any(one.name.upper() == spot.name.upper() and one.id != spot.id for one in others):
        raise Refused(Code.TABLE_NAME_TAKEN, "name", name=spot.name)
    other = _in_the_way(others, spot)
    if other is not None:
        raise Refused(Code.TABLE_IN_THE_WAY, "x", table=other.name)


def _save(act: Act, ref: str, values: Values) -> None:
    known = room.all_spots(act.connection)
    spot = _spot(act.house, ref, values, spots(act.house))
    if ref not in known:
        room.add(act.connection, spot)
        values |= _values(spot)
        return
    room.change(act.connection, spot)
    room.end(act.connection, ref, spot.ended_at)
    values |= {id: one for id, one in _values(spot).items() if id in values}


def _check(house: House, ref: str, values: Values) -> None:
    if values.get("ended_at") and ref in room.seated(house.connection):
        raise Refused(Code.TABLE_SEATED, "name", table=str(values["name"]))
    _spot(house, ref, values, spots(house))


def _together(house: House, rows: Iterable[tuple[str, Values]]) -> Iterator[tuple[str, Refused]]:
    """Those of a file that cannot stand where those above them in it will."""
    others = spots(house)
    for ref, values in rows:
        try:
            spot = _spot(house, ref, values, others)
        except Refused as refusal:
            yield ref, refusal
            continue
        others = [one for one in others if one.id != ref] + [spot] * (spot.ended_at is None)


def _standing(house: House) -> dict[str, Values]:
    """The tables on the plan: the name of one that was taken off is free again."""
    return {ref: one for ref, one in _load(house).items() if one["ended_at"] is None}


def _new_id(house: House, values: Values) -> str:
    """A table's name, which stays its id when it is called otherwise; the next free one where it was used before."""
    name, taken = str(values["name"]), room.all_names(house.connection)
    return next(one for n in range(1, 1000) if (one := f"{name}-{n}" if n > 1 else name) not in taken)


def _side(id: str) -> Field:
    return Field(id, FieldKind.WHOLE, empty=True, nothing=None, least=LEAST, most=MOST, stays=True)


def _usual(house: House) -> Values:
    """What a new one begins with."""
    return {"area": (areas(house) or [house.say(w.ROOM)])[0], "shape": Shape.SQUARE, "seats": USUAL_SEATS}


TABLES = Thing(
    "tables",
    (
        Field("name", longest=LONGEST_NAME),
        Field("area", empty=True, longest=LONGEST_AREA, stays=True),
        Field("seats", FieldKind.WHOLE, empty=True, nothing=None, least=1, most=MOST_SEATS, stays=True),
        Field("shape", FieldKind.CHOICE, empty=True, nothing=None, options=lambda _: named(Shape), stays=True),
        Field("x", FieldKind.WHOLE, empty=True, nothing=None, most=WIDTH, stays=True),
        Field("y", FieldKind.WHOLE, empty=True, nothing=None, most=HEIGHT, stays=True),
        _side("width"),
        _side("height"),
    ),
    _load,
    _save,
    _check,
    unique={"name": Code.TABLE_NAME_TAKEN},
    defaults=_usual,
    kin=_standing,
    ref_of=_new_id,
    together=_together,
    prepare=_lay_out,
)
