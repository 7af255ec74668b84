"""The pieces that a drawer should hold: kept from the counted float on, so that change can be made of what is there."""

from __future__ import annotations

import json
from collections.abc import Mapping

from abrazo.core.errors import Code, Refused
from abrazo.core.till import moved_pieces
from abrazo.desk.context import House
from abrazo.store import catalogue, till


def as_kept(pieces: Mapping[int, int]) -> str:
    """Pieces by value as they are kept: JSON, largest first; empty when none was named, as with a total alone."""
    named = {str(value): pieces[value] for value in sorted(pieces, reverse=True) if pieces[value]}
    return json.dumps(named) if named else ""


def as_read(kept: str) -> dict[int, int]:
    """Kept pieces by value, largest first."""
    return {int(value): number for value, number in json.loads(kept or "{}").items()}


def knows_pieces(house: House, till_id: str) -> bool:
    """Whether a till's float was counted by piece."""
    return bool(till.read_pieces(house.connection, house.day().id, till_id))


def moved(house: House, till_id: str, into: int, out: int) -> str:
    """Cash came in and went out at a till, in minor units; gives the pieces that go out, as kept.

    Empty when nothing goes out, when the float's pieces are not known, or when the drawer cannot make the sum.
    Refused when something goes out of a drawer that was not opened today.
    """
    if out and till_id not in house.day().floats:
        raise Refused(Code.TILL_NOT_OPENED, till=house.tills()[till_id].name)
    day = house.day().id
    kept = till.read_pieces(house.connection, day, till_id)
    if not kept:
        return ""
    values = [value for value, _ in catalogue.list_denominations(house.connection)]
    left, gone = moved_pieces(as_read(kept), into, out, values)
    till.set_pieces(house.connection, day, till_id, as_kept(left))
    return as_kept(gone) if gone else ""
