"""Hires on tickets: for whom they are, and what closing and opening again does with them.

Rules here
- a hire is for whom its line is; it stands with its line, and is gone when that is taken off or its ticket made void
- closing its ticket posts what its owner has of it, and tells the owner; opening that again turns both round, and a
  refund takes the owner's part of what went back
"""

from __future__ import annotations

from collections.abc import Mapping
from fractions import Fraction
from typing import TYPE_CHECKING

from abrazo.core import hire as core
from abrazo.core.errors import Code, Refused
from abrazo.core.figures import WentBack, together
from abrazo.core.journal import Kind, Personal
from abrazo.core.ledger import sale_names
from abrazo.core.sale_books import Ref, SaleBooks, all_of
from abrazo.core.states import HireEvent, RowKind
from abrazo.desk.context import House
from abrazo.desk.tickets.benefits import holder_of
from abrazo.formats.hire_event import HireEventFile, hire_event_text
from abrazo.store import hires
from abrazo.store.hires import Hire, HireKind, Told

if TYPE_CHECKING:
    from abrazo.desk.tickets.change import TicketChange


def kind_of(house: House, item: str) -> HireKind | None:
    """What is hired out under an item; None when it is sold."""
    return next((one for one in kinds(house) if one.item == item), None)


def kinds(house: House) -> list[HireKind]:
    """What the house hires out."""
    return house.once("hire kinds", lambda: hires.list_kinds(house.connection))


def fit_hires(edit: TicketChange) -> None:
    """A hire is for whom its line is; called after every change. Refused when that is nobody any more."""
    for one in hires.on_ticket(edit.house.connection, edit.id):
        line = edit.reread().line(one.line)
        holder = holder_of(edit.house, edit.whole, line)
        if holder is None:
            raise Refused(Code.SOLD_TO_SOMEBODY, "q", item=line.label)
        if holder != one.person:
            raise Refused(Code.HIRE_SECURED, "q", item=line.label)


def close_hires(edit: TicketChange, nets: Mapping[Ref, int]) -> None:
    """A closing ticket has hired out; `nets` are its rows without tax, in minor units."""
    for one in hires.on_ticket(edit.house.connection, edit.id):
        kind = kind_of(edit.house, one.item)
        assert kind is not None
        if kind.owner:
            part = core.owners_part(nets[RowKind.LINE, str(one.line)], Fraction(kind.share))
            booked = core.owners_booked(kind.owner, part)
            hires.set_part(edit.house.connection, one.id, part)
            edit.wrote(Kind.HIRE_SHARE, booked, hire=one.id, name=one.name, owner=Personal(kind.owner), amount=part)
            tell_owner(edit.house, one, HireEvent.HIRED, edit.at, {"part": part})


def reopen_hires(edit: TicketChange) -> None:
    """A ticket that is opened again has hired nothing out yet. Refused when a thing came back already."""
    for one in hires.on_ticket(edit.house.connection, edit.id):
        kind = kind_of(edit.house, one.item)
        assert kind is not None
        if one.returned_at is not None:
            raise Refused(Code.HIRE_RETURNED, hire=one.name)
        if kind.owner:
            part = one.part or 0
            hires.set_part(edit.house.connection, one.id, None)
            booked = core.owners_booked(kind.owner, part).turned()
            edit.wrote(
                Kind.HIRE_SHARE_BACK, booked, hire=one.id, name=one.name, owner=Personal(kind.owner), amount=part
            )
            tell_owner(edit.house, one, HireEvent.NOT_HIRED, edit.at, {"part": part})


def hires_refunded(edit: TicketChange, went: WentBack) -> None:
    """What went back of a closed ticket so far: the owners' parts of its hires go along."""
    several = hires.on_ticket(edit.house.connection, edit.id)
    if not several:
        return
    books = SaleBooks(edit.whole.ticket, edit.whole.bill, sale_names(edit.whole.uses))
    nets = books.without_tax(all_of(edit.whole.ticket, edit.whole.bill))
    back = books.completed(went.amounts, went.taxes).rows
    for one in several:
        kind, before = kind_of(edit.house, one.item), one.part
        assert kind is not None
        if not kind.owner or before is None:
            continue
        ref = (RowKind.LINE, str(one.line))
        part = core.owners_part(nets[ref], Fraction(kind.share), back[ref])
        if part == before:
            continue
        hires.set_part(edit.house.connection, one.id, part)
        booked = together(core.owners_booked(kind.owner, part), core.owners_booked(kind.owner, before).turned())
        edit.wrote(
            Kind.HIRE_SHARE_LESS,
            booked,
            hire=one.id,
            name=one.name,
            owner=Personal(kind.owner),
            amount=part,
            before=before,
        )
        tell_owner(edit.house, one, HireEvent.REFUNDED, edit.at, {"part": part})


def tell_owner(house: House, one: Hire, event: HireEvent, at: str, amounts: Mapping[str, int]) -> None:
    """Keep a file for the owner of a unit, sent once, in which no customer is named. Amounts in minor units."""
    reference = f"{one.name}-{hires.told_of(house.connection, one.id) + 1}"
    currency, item = house.settings.currency, house.item(one.item)
    what = (one.name, one.unit, item.name if item else one.item, one.starts_at, one.due_at, currency.code, one.note)
    texts = {name: currency.text(amount) for name, amount in amounts.items()}
    body = hire_event_text(HireEventFile(house.settings.name, reference, event, at, *what, texts))
    hires.tell(house.connection, Told(0, one.id, event, reference, at, body))
