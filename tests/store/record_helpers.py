"""Records with a distinct value in every column, and a ticket to hang them on."""

from __future__ import annotations

import dataclasses
from itertools import count
from typing import Any, get_args, get_type_hints

from abrazo.core.states import (
    Source,
)
from abrazo.store import (
    db,
    snapshots,
    ticket,
)

NUMBERS = count(1000)


def distinct(kind: type[Any], /, **fixed: object) -> Any:
    """A record with another value in every field; those that have a meaning are fixed."""
    hints = get_type_hints(kind)
    return kind(**{f.name: fixed.get(f.name, _value(f.name, hints[f.name])) for f in dataclasses.fields(kind)})


def _value(name: str, hint: Any) -> object:
    kinds = [one for one in (get_args(hint) or (hint,)) if one is not type(None)]
    if kinds[0] is bool:
        return True
    return (
        next(NUMBERS) if kinds[0] is int else float(next(NUMBERS)) if kinds[0] is float else f"{name} {next(NUMBERS)}"
    )


def a_ticket(c: db.Connection) -> int:
    return ticket.add(c, ticket.NewTicket("tamsin", "galley", 1, "then", "G1", Source.TAB, 4, "Ada", 77))


def rows(c: db.Connection, number: int) -> snapshots.TicketRows:
    return snapshots.read_rows(c, [number])[number]


def same(written: Any, found: Any, **anew: object) -> None:
    """What was read is what was written, but for what was given anew."""
    assert found is not None
    assert dataclasses.replace(written, **{name: getattr(found, name) for name in anew}) == found
    for name, value in anew.items():
        assert value is ... or getattr(found, name) == value
