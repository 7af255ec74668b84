"""A payer's receipt, from the ticket as it stands."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime

from abrazo.desk.house import House
from abrazo.desk.whole import Whole
from abrazo.formats.receipt_text import Receipt
from abrazo.store import outbox, room, till
from abrazo.store.tenders import KeptPayment


def place_of(house: House, whole: Whole) -> str:
    """Where the ticket sits, in words."""
    spot = room.read_spot(house.connection, whole.head.spot) if whole.head.spot else None
    return f"Table {spot.name}" if spot else "Counter"


def about(whole: Whole, payer: int) -> str:
    """What sheets of paper about this receipt are known by."""
    return f"receipt {whole.head.number} {payer}"


def receipt_of(house: House, whole: Whole, payer_id: int) -> Receipt:
    """The receipt of one payer."""
    text, payer, bill = house.settings.currency.text, whole.payer(payer_id), whole.payer_bill(payer_id)
    account = bill.account
    taken = [payment for payment in whole.taken if payment.payer == payer_id]
    at = taken[-1].at if taken else house.stamp()
    return Receipt(
        house=house.settings.name,
        address=house.settings.address,
        ticket=whole.head.number,
        place=place_of(house, whole),
        payer=payer_name(whole, payer_id),
        currency=house.settings.currency.code,
        business_date=house_date(till.business_date(house.connection, taken[-1].day if taken else whole.head.day)),
        at=datetime.fromisoformat(at).strftime("%H:%M"),
        server=house.staff()[whole.head.staff].name,
        till=house.tills()[whole.head.till].name,
        rows=_rows(whole, payer_id),
        total=text(account.total),
        tip=text(account.tip) if account.tip else None,
        rounding=text(account.rounding) if account.rounding else None,
        paid=tuple(pair for payment in taken for pair in _paid(payment, text)),
        due=text(account.due) if account.due else None,
        taxes=_taxes(whole, payer_id),
        message=house.settings.message,
        copy=outbox.copies(house.connection, about(whole, payer.id)) + 1,
    )


def payer_name(whole: Whole, payer_id: int) -> str:
    """A payer in words, with the guests they stand for."""
    payer = whole.payer(payer_id)
    guests = whole.guests_of(payer_id)
    if payer.letter == "∗":
        return "whole table"
    names = [guest.name or f"seat {guest.letter}" for guest in guests]
    return " and ".join(names) if names else f"part {payer.letter}"


def house_date(iso: str) -> str:
    """A business date in words, for example Sat 13 June 2026."""
    date = datetime.fromisoformat(iso)
    return f"{date:%a} {date.day} {date:%B %Y}"


def _rows(whole: Whole, payer_id: int) -> tuple[tuple[str, str], ...]:
    lines = {str(line.id): line for line in whole.standing}
    charges = {str(charge.id): charge for charge in whole.charges}
    nets = {line.id: line.net for line in whole.bill.lines}
    taxes = {tax.id: tax.label or tax.id for tax in whole.ticket.taxes}
    text, found = whole.ticket.currency.text, []
    for row in whole.payer_bill(payer_id).rows:
        if row.kind == "line":
            line = lines[row.ref]
            count = "" if line.quantity == "1" else f"{line.quantity} x "
            choices = ", ".join(label for label, _ in line.choices)
            part = "" if row.amount == nets[row.ref] else f", part of {text(nets[row.ref])}"
            found.append((f"{count}{line.label}{' (' + choices + ')' if choices else ''}{part}", text(row.amount)))
        else:
            label = charges[row.ref].label if row.kind == "charge" else taxes[row.ref]
            found.append((label, text(row.amount)))
    return tuple(found)


def _paid(payment: KeptPayment, text: Callable[[int], str]) -> list[tuple[str, str]]:
    if payment.machine:
        where = f"{payment.brand} card ending {payment.last_four}, {payment.machine}, ref {payment.reference}"
        return [(f"Charged: {where}", text(payment.given))]
    if payment.change:
        return [("Cash handed over", text(payment.given + payment.change)), ("Change", text(payment.change))]
    return [("Cash", text(payment.given))]


def _taxes(whole: Whole, payer_id: int) -> tuple[tuple[str, str], ...]:
    labels = {tax.id: tax.label or tax.id for tax in whole.ticket.taxes}
    memo = whole.payer_bill(payer_id).taxes
    return tuple((f"{labels[tax]} contained", whole.ticket.currency.text(amount)) for tax, amount in memo)
