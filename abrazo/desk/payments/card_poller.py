"""Following the card machines: one thread takes every open ask on, and records how it ended.

"No answer" is a state of its own, never read as declined. An ask that a dead process left is asked for, never sent.
"""

from __future__ import annotations

from contextlib import AbstractContextManager

from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Kind, Personal
from abrazo.core.states import HoldState, RequestKind, RequestState, Tender
from abrazo.core.tenders import approved_parts
from abrazo.desk.act import acting, fresh, write_entry
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.payments import holds, refunds, reopening, silent_machines, tenders
from abrazo.desk.payments.cards import tender_of
from abrazo.desk.tickets.change import OnTicket, TicketChange, changing, correcting
from abrazo.desk.tickets.snapshot import load_ticket
from abrazo.devices.ports import (
    SENT_TO_MACHINE,
    SENT_TO_SERVICE,
    CardAnswer,
    CardMachine,
    DeviceFault,
    Duplicate,
    NoAnswer,
    NotKnown,
    Unreachable,
)
from abrazo.store import cards
from abrazo.store import holds as hold_store
from abrazo.store import tenders as tenders_store
from abrazo.store.tenders import CardRequest
from abrazo.words import phrases as w
from abrazo.words.speaking import sentence


def follow(house: House, *, after_start: bool = False) -> bool:
    """Take every open ask one step on; True while one is under way. Called again and again by one thread.

    `after_start`: the asks found now were left by a process that ended. They are only asked for, never sent.
    """
    for ask in tenders_store.open_requests(house.connection):
        if ask.state != RequestState.UNKNOWN:
            _step(house, ask, send=ask.state == RequestState.ASKED and not after_start)
    return any(ask.state != RequestState.UNKNOWN for ask in tenders_store.open_requests(house.connection))


def _step(house: House, ask: CardRequest, *, send: bool) -> None:
    machine: CardMachine = house.devices.taker(ask.machine)
    try:
        if send:
            _note(house, ask, RequestState.SENT, _sent_to(house, ask))
            machine.start(ask.reference, ask.amount, kind=ask.kind, ask_tip=ask.ask_tip, of=_of(house, ask))
        else:
            _heard(house, ask, machine.look(ask.reference))
    except Duplicate:
        _used_before(house, ask, machine)
    except Unreachable:
        _end(house, ask, RequestState.NOT_SENT, house.say(w.NEVER_SENT))
    except NotKnown:
        _close(house, ask, machine)
    except NoAnswer:
        if _silent_for(house, ask) > house.settings.patience:
            said = house.say(w.NO_ANSWER)
            _note(house, ask, RequestState.UNKNOWN, ask.step, said, silent=True)


def _close(house: House, ask: CardRequest, machine: CardMachine) -> None:
    """The machine does not know our reference: it is asked for once more, which closes it there, should it be late."""
    try:
        _heard(house, ask, machine.inquire(ask.reference))
    except NotKnown:
        _end(house, ask, RequestState.NOT_SENT, house.say(w.NEVER_SENT))
    except DeviceFault:
        return  # silent now: the next look decides


def _sent_to(house: House, ask: CardRequest) -> str:
    """The first step of a request, as the devices name theirs."""
    service: str = house.devices.service.name
    return SENT_TO_SERVICE if ask.machine == service else SENT_TO_MACHINE


def _used_before(house: House, ask: CardRequest, machine: CardMachine) -> None:
    """The machine says that it knows our reference: what stands under it is ours only when it is the same sum."""
    try:
        answer = machine.inquire(ask.reference)
    except NotKnown:
        _end(house, ask, RequestState.NOT_SENT, house.say(w.USED_BEFORE))
        return
    except DeviceFault:
        return  # silent now: the next look decides
    if answer.outcome == RequestState.APPROVED and answer.amount != ask.amount:
        _end(house, ask, RequestState.NOT_SENT, house.say(w.HOLDS_ANOTHER))
        return
    _heard(house, ask, answer)


def _of(house: House, ask: CardRequest) -> str:
    """What the ask is about, as the device knows it: a hold's reference, a card's token, the charge that goes back."""
    if ask.hold:
        hold = hold_store.read(house.connection, ask.hold)
        return hold.reference if hold else ""
    if ask.card:
        card = cards.read(house.connection, ask.card)
        return card.token if card else ""
    payment = tenders_store.read_payment(house.connection, ask.payment) if ask.payment else None
    return (payment.reference if payment else ask.charge) or ""


def _silent_for(house: House, ask: CardRequest) -> float:
    return abs(house.since(ask.asked_at))  # a clock that was moved makes nobody wait for a day


def _actor(house: House, ask: CardRequest) -> Actor:
    """Who asked: the answer is recorded in their name, at their till."""
    return Actor(house.staff()[ask.staff], house.tills()[ask.till], by_itself=True)


def _note(
    house: House, ask: CardRequest, state: RequestState, step: str, said: str = "", *, silent: bool = False
) -> None:
    """Keep how far an ask has come, unless it has ended meanwhile."""
    if (ask.state, ask.step) == (state, step):
        return
    with fresh(house):
        if not tenders.read_request(house, ask.reference).open:
            return
        connection = house.connection
        tenders_store.set_request(connection, ask.reference, state, step, said, None)
        if silent:
            write_entry(house, _actor(house, ask), house.stamp(), Kind.CARD_SILENT, ask.ticket, machine=ask.machine,
                        reference=ask.reference)  # fmt: skip


def _recording(house: House, ask: CardRequest) -> AbstractContextManager[TicketChange]:
    """The change of the ticket that records an answer; a refund's ticket is closed and stays so."""
    if ask.refund is not None:
        return correcting(house, _actor(house, ask), OnTicket(ask.ticket, None, f"answer to {ask.reference}"), "refund")
    return changing(house, _actor(house, ask), OnTicket(ask.ticket, None))


def _end(house: House, ask: CardRequest, state: RequestState, said: str) -> CardRequest:
    if ask.freed_at or ask.charge:
        silent_machines.came_to_nothing(house, _actor(house, ask), ask, state, said)
        return tenders.read_request(house, ask.reference)
    with _recording(house, ask) as edit:
        if tenders.read_request(house, ask.reference).open:
            tenders_store.set_request(house.connection, ask.reference, state, ask.step, said, edit.at)
            edit.wrote(Kind.CARD_ENDED, machine=ask.machine, reference=ask.reference, state=state, said=Personal(said))
            refunds.answered(edit, ask, approved=False)
    return tenders.read_request(house, ask.reference)


def _heard(house: House, ask: CardRequest, answer: CardAnswer) -> CardRequest:
    """Record what the machine said; an approval becomes a payment, or the end of one, in the same transaction."""
    if answer.outcome is None:
        _note(house, ask, RequestState.SENT, answer.step)
        return tenders.read_request(house, ask.reference)
    if answer.outcome != RequestState.APPROVED:
        reason = house.say(w.NOTHING_CHARGED, reason=sentence(answer.reason))
        return _end(house, ask, answer.outcome, reason)
    parts = approved_parts(ask.parts, answer.amount, answer.tip)
    if ask.charge:
        silent_machines.went_back(house, _actor(house, ask), ask)
        return tenders.read_request(house, ask.reference)
    if silent_machines.comes_too_late(load_ticket(house, ask.ticket), ask, parts):
        silent_machines.charged_after_all(house, _actor(house, ask), ask, parts.given)
        return tenders.read_request(house, ask.reference)
    with _recording(house, ask) as edit:
        if not tenders.read_request(house, ask.reference).open:
            return tenders.read_request(house, ask.reference)
        tenders_store.set_request(
            house.connection, ask.reference, RequestState.APPROVED, answer.step, house.say(w.APPROVED), edit.at
        )
        _approved(edit, ask, answer)
        voiding = edit.whole.head.voiding_at is not None
    if voiding:
        reopening.go_on_voiding(house, _actor(house, ask), ask.ticket)
    return tenders.read_request(house, ask.reference)


def _approved(edit: TicketChange, ask: CardRequest, answer: CardAnswer) -> None:
    """What an approval does, in the transaction that records it."""
    if ask.refund is not None:
        refunds.answered(edit, ask, approved=True)
    elif ask.kind == RequestKind.REFUND:
        tenders.give_back(edit, next(p for p in edit.whole.payments if p.id == ask.payment))
    elif ask.kind == RequestKind.HOLD:
        holds.held(edit, ask, answer)
    elif ask.kind == RequestKind.RELEASE:
        holds.hold_ended(edit, ask, HoldState.RELEASED, Kind.HOLD_RELEASED)
    else:
        if ask.kind == RequestKind.CAPTURE:
            holds.hold_ended(edit, ask, HoldState.USED, Kind.HOLD_USED)
        parts = approved_parts(ask.parts, answer.amount, answer.tip)
        tender, route = _tender(edit.house, ask), _route(edit.house, ask)
        tenders.keep(edit, ask.payer, parts, tenders.PaidBy(tender, route, ask=ask, answer=answer))


def _tender(house: House, ask: CardRequest) -> str:
    card = cards.read(house.connection, ask.card) if ask.card else None
    return Tender.CARD if card is None else tender_of(card)


def _route(house: House, ask: CardRequest) -> str:
    """The route of a charge in words, for good."""
    if ask.kind == RequestKind.CAPTURE:
        return house.say(w.HELD_CARD, machine=ask.machine)
    if ask.kind == RequestKind.TIP:
        return house.say(w.TIP_ADDED, machine=ask.machine)
    return ask.machine if ask.card is None else f"{ask.machine}, {_tender(house, ask)}"


def stop_card(house: House, actor: Actor, ticket_id: int, reference: str) -> CardRequest:
    """Ask the machine to stop what is under way; how it ended is still the machine's to say."""
    ask = _asked_on(house, actor, ticket_id, reference, Kind.CARD_STOP_ASKED)
    try:
        house.devices.taker(ask.machine).stop(ask.reference)
    except DeviceFault:
        return ask
    return ask


def _asked_on(house: House, actor: Actor, ticket_id: int, reference: str, kind: Kind) -> CardRequest:
    """A charge of this ticket; who asked about it is recorded while it is open."""
    ask = tenders.read_request(house, reference)
    if ask.ticket != ticket_id:
        raise NotFound(f"no charge {reference} on ticket {ticket_id}")
    if ask.open:
        with acting(house, actor, kind) as act:
            act.record(kind, ticket_id, machine=ask.machine, reference=reference)
    return ask


def ask_again(house: House, actor: Actor, ticket_id: int, reference: str) -> CardRequest:
    """Ask the machine how a charge ended, under our own reference. Refused when it still does not answer."""
    ask = _asked_on(house, actor, ticket_id, reference, Kind.CARD_ASKED_AGAIN)
    if not ask.open:
        return ask
    try:
        answer = house.devices.taker(ask.machine).inquire(reference)
    except NotKnown:
        return _end(house, ask, RequestState.NOT_SENT, house.say(w.NEVER_SENT))
    except DeviceFault:
        name = sentence(ask.machine)
        raise Refused(Code.MACHINE_SILENT, name=name) from None
    return _heard(house, ask, answer)
