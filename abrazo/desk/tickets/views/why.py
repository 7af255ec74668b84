"""Why this much, for a ticket of the house: the core's derivation with the names that people know."""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.core.states import RowKind
from abrazo.core.why import Why, why
from abrazo.desk.context import House
from abrazo.desk.tickets.naming import payer_name, place_of
from abrazo.desk.tickets.snapshot import TicketSnapshot, load_ticket


@dataclass(frozen=True, slots=True)
class WhyPage:
    """The derivation, and what lines, charges and taxes are called, by (kind, id)."""

    whole: TicketSnapshot
    place: str
    why: Why
    names: dict[tuple[RowKind, str], str]
    payers: dict[str, str]


def why_page(house: House, ticket: int) -> WhyPage:
    """Derive every amount of a ticket."""
    whole = load_ticket(house, ticket)
    names = {(RowKind.LINE, str(line.id)): line.label for line in whole.standing}
    names |= {(RowKind.CHARGE, str(charge.id)): charge.label for charge in whole.charges}
    names |= {(RowKind.TAX, tax.id): tax.label or tax.id for tax in whole.ticket.taxes}
    payers = {str(payer.id): payer_name(house, whole, payer.id) for payer in whole.payers}
    return WhyPage(whole, place_of(house, whole), why(whole.ticket, whole.bill), names, payers)
