"""Next to settle: one queue over tables, tabs, bookings, jobs, walk-ins and orders, each with its reason and one act.

What a till is for comes first: the room's doors at a till of the room, the desk's at the desk. A card whose outcome is
unknown, and what is paid already, stand before everything.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from abrazo.core.money import total
from abrazo.core.states import Home, RackPlace, Source, TicketStanding
from abrazo.desk.context import Actor, House
from abrazo.desk.doors.views.bookings import Visit, along_with, left_unsettled, visits_on, walk_ins
from abrazo.desk.doors.views.hires import HireCard, late_hires
from abrazo.desk.doors.views.jobs import JobCard, Rack
from abrazo.desk.doors.views.tabs import tab_card
from abrazo.desk.overview.person import household_open
from abrazo.desk.payments import debits_back
from abrazo.desk.payments.accounts import Invoice, due_invoices, open_invoices
from abrazo.desk.payments.silent_machines import Freed, freed
from abrazo.desk.payments.views.past import HandedOn, handed_on
from abrazo.desk.people.people import known
from abrazo.desk.permissions import Right, has
from abrazo.desk.tickets.naming import place_of
from abrazo.desk.tickets.snapshot import TicketSnapshot
from abrazo.desk.tickets.views.ticket_status import minutes_since, state_of
from abrazo.desk.till.views.till import number_of
from abrazo.store.bookings import WalkIn
from abrazo.store.debits_back import DebitBack
from abrazo.store.people import Person
from abrazo.store.ticket import TicketRow
from abrazo.store.till import Till
from abrazo.words import phrases as w
from abrazo.words.speaking import Plural, sentence

FIRST = 6
ROOM = (Source.TABLE, Source.TAB, Source.PHONE, Source.COUNTER)
LATER = 10  # added to the rank of another till's doors


@dataclass(frozen=True, slots=True)
class Waiting:
    """A card of the queue: why it waits, and the one thing to do. Minor units."""

    name: str
    kind: str  # table, tab, booking, job, walk-in, counter, phone, invoice, card, correction, hire: its sign and words
    beside: str  # guests, service, thing
    amount: int
    reason: str
    act: str  # ask, free, share, pay, look, check out, settle, hand over, serve, invoice, correct, ask freed, give back
    ticket: int | None = None
    version: int = 0
    about: int = 0  # the booking, job, walk-in or person
    more: int | None = None  # a booking that could be checked out along with it
    both: int = 0
    paid: int = 0
    payer: str = ""
    urgent: bool = False
    invoices: tuple[int, ...] = ()
    short: str = ""  # the table's own name, or a charge's reference, for its buttons
    handed: int = 0  # a correction that was handed on, as it was filled in


@dataclass(frozen=True, slots=True)
class _Place:
    """A place in the queue; its card is written only when it is shown."""

    rank: tuple[int, str]
    card: Callable[[], Waiting]


def queue(
    house: House, actor: Actor, tickets: list[TicketSnapshot], on_rack: Rack, most: int | None = None
) -> tuple[list[Waiting], int]:
    """What waits, most urgent first, at most so many; and how many wait in all."""
    till = actor.till
    found = [place for whole in tickets if (place := _ticket(house, till, whole))]
    today = house.now().date()
    ended = (visit for visit in (*left_unsettled(house, today), *visits_on(house, today)) if visit.waits)
    found += [_visit(house, till, visit) for visit in ended]
    cards = [card for _, _, column in on_rack.columns for card in column]
    found += [
        _job(house, till, card)
        for card in cards
        if card.where in (RackPlace.READY, RackPlace.UNCOLLECTED) and not _begun(card, tickets)
    ]
    back = debits_back.waiting(house)
    found += [_debit_back(house, one) for one in back]
    again = {one.person for one in back}
    found += [_invoice(house, till, person, late) for person, late in due_invoices(house) if person.id not in again]
    found += [_hire(house, till, one) for one in late_hires(house)]
    found += [_walk_in(house, till, one) for one in walk_ins(house)]
    found += [_freed(house, one) for one in freed(house)]
    found += [_handed_on(house, one) for one in (handed_on(house) if has(actor.staff, Right.REOPEN) else [])]
    shown = sorted(found, key=lambda place: place.rank)[:most]
    return [place.card() for place in shown], len(found)


def _hire(house: House, till: Till, one: HireCard) -> _Place:
    def card() -> Waiting:
        beside = f"{one.kind} {one.hire.unit}"
        reason = house.say(w.HIRE_OVERDUE, due=one.hire.due_at)
        return Waiting(one.person.name, "hire", beside, 0, reason, "hire", about=one.hire.id, urgent=True)

    return _Place(_rank(till, "hire", 4, one.hire.due_at), card)


def _begun(card: JobCard, tickets: list[TicketSnapshot]) -> bool:
    """Whether a job is on an open ticket: that one waits in its place."""
    return any(whole.head.id == card.job.settled_on for whole in tickets)


def _rank(till: Till, kind: str, urgency: int, since: str) -> tuple[int, str]:
    own = (kind in ROOM) == (till.home == Home.ROOM)
    return (urgency + (0 if own or urgency < 2 else LATER), since)


Reason = tuple[int, str | Plural, str]  # how urgent, the phrase, the act
REASONS: dict[TicketStanding, Reason] = {
    TicketStanding.CARD_UNKNOWN: (0, w.CARD_SILENT, "ask"),
    TicketStanding.PAID: (1, w.EVERYTHING_PAID, "free"),
    TicketStanding.SETTLED: (1, w.SETTLED_ON_ACCOUNT, "free"),
    TicketStanding.PART_PAID: (2, w.REST_WAITS, "pay"),
    TicketStanding.BILL_ASKED: (3, w.BILL_ASKED, ""),
    TicketStanding.CARD_UNDER_WAY: (4, w.ON_MACHINE, "look"),
    TicketStanding.EATING: (5, w.SEATED, ""),
}


def _reason(house: House, whole: TicketSnapshot) -> Reason | None:
    """Why a ticket waits; None when it does not. Without an act it is to be shared or paid."""
    head, state = whole.head, state_of(house, whole)
    if head.set_aside is not None:
        return (6, w.SET_ASIDE_OVERDUE, "pay")
    if state != TicketStanding.OPEN:
        return REASONS.get(state)
    if not whole.standing:
        return None
    if head.source == Source.PHONE:
        return (6, w.PROMISED if head.promised_at else w.ORDERED, "pay")
    if head.source == Source.TAB:
        card = tab_card(house, whole)
        return (3, w.OVER_HELD, "pay") if card.over else (7, w.TAB_HELD, "pay") if card.held else (6, w.TAB_BARE, "pay")
    return (4, w.COUNTER_OPEN if head.source == Source.COUNTER else w.AT_DESK, "pay")


def _since(head: TicketRow) -> str:
    return head.bill_asked_at or head.held_at or head.opened_at


def _ticket(house: House, till: Till, whole: TicketSnapshot) -> _Place | None:
    reason = _reason(house, whole)
    if reason is None:
        return None
    head = whole.head
    rank = _rank(till, head.source, reason[0], _since(head))
    return _Place(rank, lambda: _ticket_card(house, whole, reason))


def _ticket_card(house: House, whole: TicketSnapshot, reason: Reason) -> Waiting:
    head, bill, (urgency, phrase, act) = whole.head, whole.bill, reason
    minutes = minutes_since(house, _since(head))
    facts: dict[str, object] = {"minutes": minutes, "paid": bill.paid, "at": head.promised_at}
    facts["amount"] = whole.on_account()
    if phrase in (w.OVER_HELD, w.TAB_HELD, w.TAB_BARE):
        card = tab_card(house, whole)
        facts = {"minutes": card.minutes, "over": card.over, "held": card.held, "card": card.card}
    spot = house.spot(head.spot) if head.spot else None
    guests, number = (w.GUESTS, {"guests": len(whole.guests)}), (w.TICKET_NUMBER, {"number": head.number})
    beside, known_by = guests if head.spot else number
    return Waiting(
        name=place_of(house, whole),
        kind=head.source,
        beside=house.say(beside, **known_by),
        amount=bill.due or bill.paid,
        reason=house.say(phrase, **facts),
        act=act or ("share" if len(whole.guests) > 1 and not whole.shared and head.spot else "pay"),
        ticket=head.id,
        version=head.version,
        short=spot.name if spot and whole.at_table else "",
        paid=bill.paid,
        payer=next((p.letter for p in whole.payers if whole.payer_bill(p.id).account.due), ""),
        urgent=urgency < 4,
    )


def _visit(house: House, till: Till, visit: Visit) -> _Place:
    return _Place(_rank(till, "booking", 3, visit.booking.ends_at), lambda: _visit_card(house, visit))


def _visit_card(house: House, visit: Visit) -> Waiting:
    booking = visit.booking
    others, job_cards = household_open(house, booking.person, without=booking.id)
    along = along_with(house, visit, others)
    also = [
        house.say(w.ITS_SERVICE, name=other.booking.name.split()[0], service=other.service.name)
        for other in others
        if other.waits
    ]
    also += [house.say(w.ITS_JOB, name=c.person.first_name, thing=c.job.thing, job=c.job.name) for c in job_cards]
    today = house.now().date().isoformat()
    ended = house.say(w.ENDED, minutes=visit.minutes)
    reasons = [ended if booking.ends_at >= today else house.say(w.ENDED_ON, day=booking.ends_at[:10])]
    reasons += [house.say(w.HOUSEHOLD, names=", ".join(also))] if also else []
    reasons += [] if visit.price is not None else [house.say(w.NO_PRICE)]
    return Waiting(
        name=booking.name,
        kind="booking",
        beside=visit.service.name,
        amount=visit.owed,
        reason="; ".join(reasons),
        act="check out",
        about=booking.id,
        more=along[0].booking.id if along else None,
        both=along[1] if along else 0,
        urgent=True,
    )


def _job(house: House, till: Till, card: JobCard) -> _Place:
    urgency = 8 if card.where == RackPlace.UNCOLLECTED else 6
    rank = _rank(till, "job", urgency, card.job.ready_at or card.job.dropped_at)
    return _Place(rank, lambda: _job_card(house, card))


def _job_card(house: House, card: JobCard) -> Waiting:
    ready = card.job.ready_at or card.job.dropped_at
    never = card.where == RackPlace.UNCOLLECTED
    reasons = [house.say(w.READY_SINCE, at=ready)]
    reasons += [house.say(w.NEVER_COLLECTED)] if never else []
    reasons += [] if card.owed else [house.say(w.PAID)]
    return Waiting(
        name=card.person.name,
        kind="job",
        beside=f"{card.job.name}, {card.job.thing}",
        amount=card.owed,
        reason=", ".join(reasons),
        act="settle" if card.owed else "hand over",
        about=card.job.id,
    )


def _invoice(house: House, till: Till, person: Person, late: list[Invoice]) -> _Place:
    return _Place(_rank(till, "invoice", 9, late[0].due), lambda: _invoice_card(house, person, late))


def _invoice_card(house: House, person: Person, late: list[Invoice]) -> Waiting:
    first = late[0]
    about = {"day": first.at, "number": first.number, "more": len(late) - 1}
    return Waiting(
        name=person.name,
        kind="invoice",
        beside=house.say(w.INVOICES_OF if len(late) > 1 else w.INVOICE_OF, **about),
        amount=total(one.left for one in late),
        reason=house.say(w.DUE_SINCE, day=first.due),
        act="invoice",
        about=person.id,
        invoices=tuple(one.payment for one in late),
    )


def _debit_back(house: House, one: DebitBack) -> _Place:
    def card() -> Waiting:
        person = known(house, one.person)
        left = [made for made in open_invoices(house, person) if not made.pending]
        facts = {"amount": one.amount, "day": one.at, "reason": one.reason}
        return Waiting(person.name, "invoice", house.say(w.TICKET_NUMBER, number=number_of(house, one.ticket)),
                       total(made.left for made in left), house.say(w.DEBIT_CAME_BACK, **facts), "invoice",
                       about=person.id, invoices=tuple(made.payment for made in left), urgent=True)  # fmt: skip

    return _Place((1, one.at), card)


def _handed_on(house: House, one: HandedOn) -> _Place:
    return _Place((2, one.at), lambda: _handed_on_card(house, one))


def _handed_on_card(house: House, one: HandedOn) -> Waiting:
    return Waiting(
        name=sentence(house.say(w.TICKET_NUMBER, number=one.number)),
        kind="correction",
        beside=one.by,
        amount=0,
        reason=one.words,
        act="correct",
        about=one.ticket,
        handed=one.id,
        urgent=True,
    )


def _freed(house: House, one: Freed) -> _Place:
    return _Place((0 if one.late else 9, one.ask.asked_at), lambda: _freed_card(house, one))


def _freed_card(house: House, one: Freed) -> Waiting:
    machine = sentence(one.ask.machine)
    reason = w.CHARGED_AFTER_ALL if one.late else w.STILL_GIVING_BACK if one.ask.charge else w.STILL_SILENT
    return Waiting(
        name=sentence(house.say(w.TICKET_NUMBER, number=one.number)),
        kind="card",
        beside=one.ask.machine,
        amount=one.amount,
        reason=house.say(reason, machine=machine),
        act="give back" if one.late else "ask freed",
        ticket=one.ask.ticket,
        short=one.ask.reference,
        urgent=one.late,
    )


def _walk_in(house: House, till: Till, one: WalkIn) -> _Place:
    return _Place(_rank(till, "walk-in", 4, one.at), lambda: _walk_in_card(house, one))


def _walk_in_card(house: House, one: WalkIn) -> Waiting:
    minutes = minutes_since(house, one.at)
    return Waiting(
        name=one.name,
        kind="walk-in",
        beside=one.wants,
        amount=0,
        reason=house.say(w.WAITS, minutes=minutes),
        act="serve",
        about=one.id,
    )
