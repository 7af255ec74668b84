"""Signatures that a card machine wants, or the house for cash: given on paper, or drawn on the screen and kept."""

from __future__ import annotations

from abrazo.core.journal import Kind
from abrazo.core.states import Signature
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.tickets.change import OnTicket, TicketChange, changing
from abrazo.formats.signature import read_strokes, signature_svg
from abrazo.store import tenders
from abrazo.store.tenders import PaymentRow


def on_paper(house: House, actor: Actor, ticket_id: int, payment_id: int) -> None:
    """The guest signed the machine's slip, which is kept on paper."""
    with changing(house, actor, OnTicket(ticket_id, None)) as edit:
        payment = _payment(edit, payment_id)
        if payment.signature == Signature.WANTED:
            tenders.set_signature(house.connection, payment_id, Signature.PAPER)
            edit.wrote(Kind.SIGNED_PAPER, reference=payment.reference, amount=payment.given)


def on_screen(house: House, actor: Actor, ticket_id: int, payment_id: int, strokes: str) -> None:
    """The guest signed on the screen: the drawing is kept. A second one for the same payment changes nothing."""
    svg = signature_svg(read_strokes(strokes))
    with changing(house, actor, OnTicket(ticket_id, None)) as edit:
        payment = _payment(edit, payment_id)
        if payment.signature == Signature.WANTED:
            tenders.set_signature(house.connection, payment_id, Signature.SCREEN)
            tenders.add_signature(house.connection, payment_id, svg, edit.at, actor.staff.id)
            edit.wrote(Kind.SIGNED_SCREEN, reference=payment.reference, amount=payment.given)


def drawing_of(house: House, payment_id: int) -> str:
    """The kept drawing, as SVG."""
    svg = tenders.read_signature(house.connection, payment_id)
    if svg is None:
        raise NotFound(f"no signature for payment {payment_id}")
    return svg


def _payment(edit: TicketChange, payment_id: int) -> PaymentRow:
    payment = next((p for p in edit.whole.taken if p.id == payment_id), None)
    if payment is None:
        raise NotFound(f"no payment {payment_id} on this ticket")
    return payment
