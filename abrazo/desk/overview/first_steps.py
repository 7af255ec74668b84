"""What is still missing until the first sale of a new house; nothing once a ticket was closed."""

from __future__ import annotations

from enum import StrEnum

from abrazo.core.states import Does
from abrazo.desk.context import House
from abrazo.store import catalogue
from abrazo.store import ticket as ticket_store


class FirstStep(StrEnum):
    """What is to be done, in this order."""

    ITEMS = "items"
    TABLES = "tables"
    PEOPLE = "people"
    DAY = "day"
    SALE = "sale"


def first_steps(house: House) -> list[tuple[FirstStep, bool]]:
    """The steps to the first sale, each with whether it is done; empty once something was sold."""
    if ticket_store.any_closed(house.connection):
        return []
    tables = [(FirstStep.TABLES, bool(house.spots()))] if Does.TABLES in house.settings.does.split() else []
    return [
        (FirstStep.ITEMS, bool(catalogue.list_items(house.connection))),
        *tables,
        (FirstStep.PEOPLE, len(house.workers()) > 1),
        (FirstStep.DAY, house.open_day() is not None),
        (FirstStep.SALE, False),
    ]
