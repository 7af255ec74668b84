"""What has changed in the house, for the screens that stand open."""

from __future__ import annotations

from abrazo.desk.context import House
from abrazo.store import journal


def latest_change(house: House) -> int:
    """The number of the last thing that was done; it only grows."""
    return journal.latest(house.connection)


def changed_tickets(house: House, after: int) -> list[int]:
    """The tickets that something was done to after a change."""
    return journal.tickets_after(house.connection, after)
