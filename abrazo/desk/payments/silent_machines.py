"""A card machine that stays silent: its payer is let pay otherwise, and the charge stays asked for.

Rules here
- only a charge whose outcome is unknown, and only by right: it may have gone through
- a late approval pays the bill when all of it is still due on the open ticket; else it pays for nothing, stands in
  Next to settle, and is given back through the machine; no books move, for no sale was paid by it
"""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Kind, Personal
from abrazo.core.states import RequestKind, RequestState, TicketState
from abrazo.core.tenders import Parts
from abrazo.desk.act import acting
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.history import reader
from abrazo.desk.permissions import Right, need
from abrazo.desk.tickets.change import OnTicket, changing
from abrazo.desk.tickets.snapshot import TicketSnapshot, load_ticket
from abrazo.store import tenders
from abrazo.store.tenders import CardRequest
from abrazo.words import phrases as w
from abrazo.words.speaking import sentence
from abrazo.words.states import state_word


@dataclass(frozen=True, slots=True)
class Freed:
    """A charge whose payer was let pay otherwise. `late`: it was charged after all, and is to be given back."""

    ask: CardRequest
    number: int

    @property
    def late(self) -> bool:
        """Whether it was charged after all."""
        return not self.ask.open


def let_pay_otherwise(house: House, actor: Actor, on: OnTicket, reference: str) -> CardRequest:
    """Let the payer of a silent charge pay otherwise; by right. Refused when the machine is still at work on it."""
    with changing(house, actor, on, "payer freed") as edit:
        ask = _charge(house, reference, on.id)
        if edit.done is not None:
            return ask
        by = need(actor, Right.FREE_PAYERS)
        if ask.state != RequestState.UNKNOWN or ask.kind != RequestKind.CHARGE or ask.freed_at:
            raise Refused(Code.CHARGE_NOT_SILENT, machine=sentence(ask.machine))
        tenders.free(house.connection, reference, edit.at)
        letter = edit.whole.payer(ask.payer).letter
        edit.wrote(
            Kind.PAYER_FREED, machine=ask.machine, reference=reference, amount=ask.amount, payer=letter, lender=by
        )
        edit.answer = reference
    return ask


def _charge(house: House, reference: str, ticket: int) -> CardRequest:
    ask = tenders.read_request(house.connection, reference)
    if ask is None or ask.ticket != ticket:
        raise NotFound(f"no charge {reference} on ticket {ticket}")
    return ask


def freed(house: House) -> list[Freed]:
    """Every such charge that still wants something, oldest first."""
    found = tenders.freed_charges(house.connection)
    heads = house.heads([ask.ticket for ask in found])
    return [Freed(ask, head.number) for ask in found if (head := heads[ask.ticket])]


def comes_too_late(whole: TicketSnapshot, ask: CardRequest, parts: Parts) -> bool:
    """Whether an approval pays for nothing: its payer was freed, and not all of it is still due from them."""
    if ask.freed_at is None:
        return False
    gone = all(payer.id != ask.payer for payer in whole.payers)
    if gone or whole.head.state != TicketState.OPEN or whole.head.voiding_at is not None:
        return True
    return parts.amount > whole.payer_bill(ask.payer).account.due


def end_apart(house: House, actor: Actor, ask: CardRequest, state: RequestState, said: str = "") -> None:
    """Record how a freed charge, or the giving back of one, ended, without changing its ticket."""
    with acting(house, actor, "card ended") as act:
        now = tenders.read_request(house.connection, ask.reference)
        if now is None or not now.open:
            return
        if state == RequestState.APPROVED:
            said = house.say(w.LATE_CHARGE_BACK if ask.charge else w.CHARGED_LATE)
        tenders.set_request(house.connection, ask.reference, state, ask.step, said, act.at)
        machine, reference, amount = ask.machine, ask.reference, ask.amount
        if state != RequestState.APPROVED:
            act.record(Kind.CARD_ENDED, ask.ticket, machine=machine, reference=reference, state=state,
                       said=Personal(said))  # fmt: skip
        elif ask.charge:
            act.record(Kind.LATE_CHARGE_BACK, ask.ticket, machine=machine, reference=reference, amount=amount)
        else:
            act.record(Kind.CHARGED_LATE, ask.ticket, machine=machine, reference=reference, amount=amount)


def give_back(house: House, actor: Actor, ticket: int, reference: str, key: str) -> CardRequest:
    """Ask the machine to give back a charge that came too late; gives what is asked of it."""
    with acting(house, actor, "late refund", key, reference) as act:
        late = _charge(house, reference, ticket)
        asks = load_ticket(house, ticket).asks
        tries = [ask for ask in asks if ask.charge == reference]
        back = f"{reference}-back{len(tries) or ''}"
        if act.done is not None:
            return _charge(house, act.done, ticket)
        if all(one.reference != reference for one in tenders.freed_charges(house.connection)) or late.open:
            raise Refused(Code.NOTHING_TO_GIVE_BACK_LATE)
        for ask in tenders.open_requests(house.connection):
            if ask.machine == late.machine and ask.state != RequestState.UNKNOWN:
                raise Refused(Code.MACHINE_BUSY, "machine", machine=sentence(ask.machine))
            if ask.payer == late.payer and ask.blocks:
                raise Refused(Code.LAST_CHARGE_OPEN)
        tenders.add_request(house.connection, _asked(late, back, actor, act.at))
        act.record(Kind.CARD_ASKED, ticket, machine=late.machine, asked=RequestKind.REFUND, amount=late.amount,
                   payer=_letter(house, late), reference=back)  # fmt: skip
        act.answer = back
    return _charge(house, back, ticket)


def _letter(house: House, ask: CardRequest) -> str:
    return next((p.letter for p in load_ticket(house, ask.ticket).payers if p.id == ask.payer), "")


def _asked(late: CardRequest, reference: str, actor: Actor, at: str) -> CardRequest:
    return CardRequest(
        reference=reference,
        kind=RequestKind.REFUND,
        ticket=late.ticket,
        payer=late.payer,
        payment=None,
        machine=late.machine,
        amount=late.amount,
        tip=0,
        ask_tip=False,
        till=actor.till.id,
        staff=actor.staff.id,
        asked_at=at,
        state=RequestState.ASKED,
        step="Asking the machine",
        said="",
        charge=late.reference,
    )


def in_words(house: House, ask: CardRequest) -> str:
    """What is said once the machine was asked about such a charge."""
    return house.say(
        w.IT_SAID, machine=sentence(ask.machine), state=state_word(reader(house).texts, ask.state), said=ask.said
    )
