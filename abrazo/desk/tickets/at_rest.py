"""Tickets that have not changed since they were reckoned last: they are kept in memory, and not reckoned again.

Rules here
- every confirmed change of a ticket has a new version or a new entry in the journal; what is asked of machines changes
  by itself and is compared, and so are the taxes and the house's way of rounding
- only pages read from here: inside an act a ticket is always read anew, and its bill is taken from here only when the
  whole ticket that was read is the one that was reckoned
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import TYPE_CHECKING

from abrazo.core.tax import Tax
from abrazo.desk.context import House
from abrazo.store import snapshots
from abrazo.store.db import file_of
from abrazo.store.tenders import CardRequest
from abrazo.store.ticket import TicketRow

if TYPE_CHECKING:
    from abrazo.desk.tickets.snapshot import TicketSnapshot

Rules = tuple[tuple[Tax, ...], str, int]  # taxes, whether they are contained, cash rounding
State = tuple[TicketRow, int, list[CardRequest], Rules]
# By house and ticket: what it stood at, and the ticket.
_seen: dict[tuple[str, int], tuple[State, TicketSnapshot]] = {}
MOST_SEEN = 2000


def states_of(house: House, tickets: Iterable[int]) -> dict[int, State]:
    """What tickets stand at, by id; those that are not there are left out."""
    connection, ids = house.connection, list(tickets)
    rules = (house.taxes(), house.settings.tax_mode, house.settings.cash_rounding)
    last, asked = snapshots.last_entries(connection, ids), snapshots.requests(connection, ids)
    heads = snapshots.heads(connection, ids)
    return {id: (head, last.get(id, 0), asked.get(id, []), rules) for id, head in heads.items()}


def recalled(house: House, states: Mapping[int, State]) -> dict[int, TicketSnapshot]:
    """Those of the tickets that stand as they were reckoned last."""
    file = file_of(house.connection)
    return {id: seen[1] for id in states if (seen := _seen.get((file, id))) is not None and seen[0] == states[id]}


def last(house: House, ticket: int) -> TicketSnapshot | None:
    """A ticket as this process reckoned it last, whatever became of it since; None when it did not."""
    seen = _seen.get((file_of(house.connection), ticket))
    return seen[1] if seen else None


def remember(house: House, states: Mapping[int, State], tickets: Mapping[int, TicketSnapshot]) -> None:
    """Keep tickets as reckoned from these states, or later ones."""
    file = file_of(house.connection)
    if len(_seen) + len(tickets) > MOST_SEEN:
        _seen.clear()
    _seen.update({(file, id): (states[id], whole) for id, whole in tickets.items()})
