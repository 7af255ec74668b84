"""An order by phone: a ticket with named guests, a promised time, and a fee for bringing it."""

from __future__ import annotations

from abrazo.desk.house import Actor, House
from abrazo.desk.ticket import Door, opening_at
from abrazo.store import ticket as kept
from abrazo.store.ticket import KeptCharge


def take_order(
    house: House, actor: Actor, name: str, guests: tuple[str, ...], promised_at: str, fee: int, key: str
) -> int:
    """Open an order for named guests; `fee` in minor units is shared evenly. Gives its ticket."""
    door = Door("phone", None, name, guests)
    with opening_at(house, actor, door, f"Order by phone for {name}", key, "ordered") as edit:
        if edit.done is None:
            kept.set_promised(house.connection, edit.id, promised_at)
            if fee:
                kept.add_charge(house.connection, edit.id, KeptCharge(0, "Delivery", "0", "std", "even", fee))
        return edit.id
