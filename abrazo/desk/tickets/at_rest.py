"""Tickets that have not changed since they were reckoned last: they are kept, and not reckoned again."""

from __future__ import annotations

from collections.abc import Iterable

from abrazo.desk.context import House
from abrazo.desk.tickets.snapshot import TicketSnapshot, load_tickets
from abrazo.store import snapshots
from abrazo.store.db import file_of

# By house and ticket: what it was read at, and the ticket.
_seen: dict[tuple[str, int], tuple[object, TicketSnapshot]] = {}
MOST_SEEN = 2000


def tickets_at_rest(house: House, tickets: Iterable[int]) -> dict[int, TicketSnapshot]:
    """Tickets by id, in the order of `tickets`; one that has not changed since is not reckoned again.

    Only for reading: inside a change a ticket is always read anew. Every confirmed change of a ticket has a new version
    or a new entry in the journal; what is asked of machines changes by itself and is compared.
    """
    connection, file, ids = house.connection, file_of(house.connection), list(dict.fromkeys(tickets))
    if not ids:
        return {}
    if (known := house.read_already("ticket", ids)) is not None:
        return known
    heads, last = snapshots.heads(connection, ids), snapshots.last_entries(connection, ids)
    asked = snapshots.requests(connection, ids)
    now = {id: (heads[id], last.get(id, 0), asked.get(id, [])) for id in ids if id in heads}
    at_rest = {id: seen[1] for id in now if (seen := _seen.get((file, id))) is not None and seen[0] == now[id]}
    fresh = load_tickets(house, [id for id in now if id not in at_rest])
    if len(_seen) + len(fresh) > MOST_SEEN:
        _seen.clear()
    _seen.update({(file, id): (now[id], whole) for id, whole in fresh.items()})
    found = {id: at_rest.get(id) or fresh[id] for id in now}
    house.keep("ticket", found)
    house.keep("head", {id: whole.head for id, whole in found.items()})
    return found
