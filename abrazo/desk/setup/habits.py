"""What the house has decided about paid tables and receipts."""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.desk.context import House
from abrazo.store import till


@dataclass(frozen=True, slots=True)
class Habits:
    """`free_after`: minutes until a paid table is freed by itself, None by hand. `show_removed`: on receipts."""

    free_after: int | None = None
    show_removed: bool = False


def habits(house: House) -> Habits:
    """What the house has decided."""
    return Habits(house.settings.free_after, house.settings.show_removed)


def petty_categories(house: House) -> list[str]:
    """What money is paid out of drawers for."""
    return till.petty_categories(house.connection)
