"""Tabs: a ticket in a name, with a card held on the machine or without."""

from __future__ import annotations

from abrazo.desk.house import Actor, House
from abrazo.desk.ticket import Door, open_ticket, read_name


def open_tab(house: House, actor: Actor, name: str, person: int | None, key: str) -> int:
    """Open a tab in a name; gives its ticket. A card is held in an act of its own."""
    plain = read_name(name)
    return open_ticket(house, actor, Door("tab", person, plain, (plain,)), f"Tab opened for {plain}", key)
