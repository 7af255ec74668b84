"""Tabs: a ticket in a name, with a card held on the machine or without; settling on the held card, letting it go."""

from __future__ import annotations

from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Kind, Personal
from abrazo.core.states import HoldState, RequestKind, Source
from abrazo.core.tenders import Parts
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.payments import tenders
from abrazo.desk.payments.tenders import Asked
from abrazo.desk.people.people import recognised
from abrazo.desk.tickets.change import OnTicket, TicketChange, changing
from abrazo.desk.tickets.starting import Beginning, TicketOrigin, open_ticket, read_name
from abrazo.store import holds
from abrazo.store.holds import Hold


def open_tab(house: House, actor: Actor, name: str, person: int | None, key: str) -> int:
    """Open a tab in a name; gives its ticket. A card is held in an act of its own."""
    plain = read_name(name)
    if person is None and (known := recognised(house, plain)) is not None:
        person, plain = known.id, known.name
    begun = Beginning(Kind.TAB_OPENED, name=Personal(plain))
    return open_ticket(house, actor, TicketOrigin(Source.TAB, person, plain, (plain,)), begun, key)


def hold_card(house: House, actor: Actor, on: OnTicket, machine: str, amount: int) -> str:
    """Ask a machine to reserve a sum on a card for this ticket; gives our reference. Nothing is paid by it."""
    with changing(house, actor, on, "hold") as edit:
        if edit.done is not None:
            return edit.done
        if amount <= 0:
            raise Refused(Code.NO_HOLD_AMOUNT, "hold")
        tenders.may_ask(edit, edit.whole.payers[0].id, machine)
        reference = f"{edit.whole.head.number}-hold-{len(edit.whole.asks) + 1}-{on.key[:8]}"
        payer = edit.whole.payers[0].id
        tenders.add_request(edit, payer, machine, Parts(amount, 0), Asked(reference, RequestKind.HOLD))
        edit.answer = reference
    return reference


def charge_held(house: House, actor: Actor, on: OnTicket, payer_id: int, hold_id: int, amount: int) -> str:
    """Take a payer's sum from the held card, also when it is more than is held; gives our reference."""
    with changing(house, actor, on, "capture") as edit:
        if edit.done is not None:
            return edit.done
        hold = _standing(edit, hold_id)
        tenders.may_pay(edit.whole, payer_id)
        parts = tenders.cut(edit.whole, payer_id, amount)
        tenders.may_ask(edit, payer_id, hold.machine)
        reference = f"{hold.reference}-take-{len(edit.whole.asks) + 1}"
        asked = Asked(reference, RequestKind.CAPTURE, hold=hold.id)
        tenders.add_request(edit, payer_id, hold.machine, parts, asked)
        edit.answer = reference
    return reference


def let_go(house: House, actor: Actor, on: OnTicket, hold_id: int) -> str:
    """Ask the machine to let a held sum go; gives our reference."""
    with changing(house, actor, on, "release") as edit:
        if edit.done is not None:
            return edit.done
        hold, payer = _standing(edit, hold_id), edit.whole.payers[0].id
        tenders.may_ask(edit, payer, hold.machine)
        reference = f"{hold.reference}-go-{len(edit.whole.asks) + 1}"
        asked = Asked(reference, RequestKind.RELEASE, hold=hold.id)
        tenders.add_request(edit, payer, hold.machine, Parts(hold.amount, 0), asked)
        edit.answer = reference
    return reference


def _standing(edit: TicketChange, hold_id: int) -> Hold:
    hold = holds.read(edit.house.connection, hold_id)
    if hold is None or hold.ticket != edit.id:
        raise NotFound(f"no hold {hold_id} on this ticket")
    if hold.state != HoldState.HELD:
        raise Refused(Code.HOLD_ENDED, last_four=hold.last_four)
    return hold
