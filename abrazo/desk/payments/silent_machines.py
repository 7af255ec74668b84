"""A card machine that stays silent: its payer is let pay otherwise, and the charge stays asked for.

Rules here
- only a charge whose outcome is unknown, and only by right: it may have gone through
- a late approval pays the bill when all of it is still due on the open ticket; else it pays for nothing, stands in
  Next to settle, and is given back through the machine; no books move, for no sale was paid by it
"""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass

from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Kind, Personal
from abrazo.core.states import RequestKind, RequestState, TicketState
from abrazo.core.tenders import Parts
from abrazo.desk.act import Act, acting
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
    """A charge whose payer was let pay otherwise, or the giving back of one; what it comes to in minor units."""

    ask: CardRequest
    number: int

    @property
    def late(self) -> bool:
        """Whether it was charged after all, and is to be given back."""
        return self.ask.charged is not None

    @property
    def amount(self) -> int:
        """What was charged, else what was asked for."""
        return self.ask.charged or self.ask.amount


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


def charged_after_all(house: House, actor: Actor, ask: CardRequest, amount: int) -> None:
    """Record that a freed charge went through when nobody owed it: so much, in minor units, pays for nothing."""
    with _ending(house, actor, ask, RequestState.APPROVED, house.say(w.CHARGED_LATE)) as act:
        if act:
            tenders.charged_late(house.connection, ask.reference, amount)
            act.record(Kind.CHARGED_LATE, ask.ticket, machine=ask.machine, reference=ask.reference, amount=amount)


def went_back(house: House, actor: Actor, ask: CardRequest) -> None:
    """Record that such a charge was given back."""
    with _ending(house, actor, ask, RequestState.APPROVED, house.say(w.LATE_CHARGE_BACK)) as act:
        if act:
            act.record(
                Kind.LATE_CHARGE_BACK, ask.ticket, machine=ask.machine, reference=ask.reference, amount=ask.amount
            )


def came_to_nothing(house: House, actor: Actor, ask: CardRequest, state: RequestState, said: str) -> None:
    """Record that a freed charge, or the giving back of one, did not happen."""
    with _ending(house, actor, ask, state, said) as act:
        if act:
            act.record(Kind.CARD_ENDED, ask.ticket, machine=ask.machine, reference=ask.reference, state=state,
                       said=Personal(said))  # fmt: skip


@contextmanager
def _ending(house: House, actor: Actor, ask: CardRequest, state: RequestState, said: str) -> Iterator[Act | None]:
    """How it ended, apart from its ticket, which it does not change; None when that was recorded before."""
    with acting(house, actor, "card ended") as act:
        now = tenders.read_request(house.connection, ask.reference)
        if now is None or not now.open:
            yield None
            return
        tenders.set_request(house.connection, ask.reference, state, ask.step, said, act.at)
        yield act


def give_back(house: House, actor: Actor, ticket: int, reference: str, key: str) -> CardRequest:
    """Ask the machine to give back a charge that came too late; gives what is asked of it."""
    with acting(house, actor, "late refund", key, reference) as act:
        if act.done is not None:
            return _charge(house, act.done, ticket)
        late = _charge(house, reference, ticket)
        if late.charged is None or all(one.reference != reference for one in tenders.freed_charges(house.connection)):
            raise Refused(Code.NOTHING_TO_GIVE_BACK_LATE)
        for ask in tenders.open_requests(house.connection):
            if ask.machine == late.machine and ask.state != RequestState.UNKNOWN:
                raise Refused(Code.MACHINE_BUSY, "machine", machine=sentence(ask.machine))
        whole = load_ticket(house, ticket)
        tries = sum(ask.charge == reference for ask in whole.asks)
        back = f"{reference}-back{tries or ''}"
        tenders.add_request(house.connection, _asked(late, back, actor, act.at))
        letter = next((payer.letter for payer in whole.payers if payer.id == late.payer), "")
        act.record(Kind.CARD_ASKED, ticket, machine=late.machine, asked=RequestKind.REFUND, amount=late.charged,
                   payer=letter, reference=back)  # fmt: skip
        act.answer = back
    return _charge(house, back, ticket)


def _asked(late: CardRequest, reference: str, actor: Actor, at: str) -> CardRequest:
    return CardRequest(
        reference=reference,
        kind=RequestKind.REFUND,
        ticket=late.ticket,
        payer=late.payer,
        payment=None,
        machine=late.machine,
        amount=late.charged or late.amount,
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
