"""Next to settle: one queue over tables, tabs, bookings, jobs, walk-ins and orders, each with its reason and one act.

What a till is for comes first: the room's doors at a till of the room, the desk's at the desk. A card whose outcome is
unknown, and what is paid already, stand before everything.
"""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.core.money import total
from abrazo.core.states import Home, RackPlace, Source, TicketStanding
from abrazo.desk.context import House
from abrazo.desk.doors.views.bookings import Visit, along_with, visits_on, walk_ins
from abrazo.desk.doors.views.jobs import JobCard, Rack
from abrazo.desk.doors.views.tabs import tab_card
from abrazo.desk.overview.person import household_open
from abrazo.desk.payments.accounts import Invoice, due_invoices
from abrazo.desk.tickets.naming import place_of
from abrazo.desk.tickets.snapshot import TicketSnapshot
from abrazo.desk.tickets.views.ticket_status import minutes_since, state_of
from abrazo.store.bookings import WalkIn
from abrazo.store.people import Person
from abrazo.store.till import Till
from abrazo.words import phrases as w

FIRST = 6
ROOM = (Source.TABLE, Source.TAB, Source.PHONE, Source.COUNTER)
LATER = 10  # added to the rank of another till's doors


@dataclass(frozen=True, slots=True)
class Waiting:
    """A card of the queue: why it waits, and the one thing to do. Minor units."""

    name: str
    kind: str  # table, tab, booking, job, walk-in, counter, phone, invoice: its sign and words
    beside: str  # guests, service, thing
    amount: int
    reason: str
    act: str  # ask, free, share, pay, look, check out, settle, hand over, serve, invoice
    rank: tuple[int, str]
    ticket: int | None = None
    version: int = 0
    about: int = 0  # the booking, job, walk-in or person
    more: int | None = None  # a booking that could be checked out along with it
    both: int = 0
    paid: int = 0
    payer: str = ""
    urgent: bool = False
    invoices: tuple[int, ...] = ()
    short: str = ""  # the table's own name, for its buttons


def queue(house: House, till: Till, tickets: list[TicketSnapshot], on_rack: Rack) -> list[Waiting]:
    """All that waits, most urgent first."""
    found = [card for whole in tickets if (card := _ticket(house, till, whole))]
    today = house.now().date()
    found += [_visit(house, till, visit) for visit in visits_on(house, today) if visit.waits]
    cards = [card for _, _, column in on_rack.columns for card in column]
    found += [
        _job(house, till, card)
        for card in cards
        if card.where in (RackPlace.READY, RackPlace.UNCOLLECTED) and not _begun(card, tickets)
    ]
    found += [_invoice(house, till, person, late) for person, late in due_invoices(house)]
    found += [_walk_in(house, till, one) for one in walk_ins(house)]
    return sorted(found, key=lambda card: card.rank)


def _begun(card: JobCard, tickets: list[TicketSnapshot]) -> bool:
    """Whether a job is on an open ticket: that one waits in its place."""
    return any(whole.head.id == card.job.settled_on for whole in tickets)


def _rank(till: Till, kind: str, urgency: int, since: str) -> tuple[int, str]:
    own = (kind in ROOM) == (till.home == Home.ROOM)
    return (urgency + (0 if own or urgency < 2 else LATER), since)


def _ticket(house: House, till: Till, whole: TicketSnapshot) -> Waiting | None:
    head, bill, state = whole.head, whole.bill, state_of(house, whole)
    ready = "share" if len(whole.guests) > 1 and not whole.shared and head.spot else "pay"
    since = head.bill_asked_at or head.held_at or head.opened_at
    minutes = minutes_since(house, since)
    reasons = {
        TicketStanding.CARD_UNKNOWN: (0, w.CARD_SILENT, "ask"),
        TicketStanding.PAID: (1, w.EVERYTHING_PAID, "free"),
        TicketStanding.PART_PAID: (2, w.REST_WAITS, "pay"),
        TicketStanding.BILL_ASKED: (3, w.BILL_ASKED, ready),
        TicketStanding.CARD_UNDER_WAY: (4, w.ON_MACHINE, "look"),
        TicketStanding.EATING: (5, w.SEATED, ready),
        TicketStanding.OPEN: (4, w.AT_DESK, "pay"),
    }
    facts: dict[str, object] = {"minutes": minutes, "paid": bill.paid, "at": head.promised_at}
    if state == TicketStanding.OPEN and head.source == Source.PHONE:
        reasons[state] = (6, w.PROMISED if head.promised_at else w.ORDERED, "pay")
    elif state == TicketStanding.OPEN and head.source == Source.COUNTER:
        reasons[state] = (4, w.COUNTER_OPEN, "pay")
    if state not in reasons or (state == TicketStanding.OPEN and not whole.standing):
        return None
    urgency, reason, act = reasons[state]
    if state == TicketStanding.OPEN and head.source == Source.TAB:
        urgency, reason, facts = _tab_reason(house, whole)
    spot = house.spot(head.spot) if head.spot else None
    payer = next((p.letter for p in whole.payers if whole.payer_bill(p.id).account.due), "")
    return Waiting(
        name=place_of(house, whole),
        kind=head.source,
        beside=house.say(w.GUESTS, guests=len(whole.guests))
        if head.spot
        else house.say(w.TICKET_NUMBER, number=head.number),
        amount=bill.due or bill.paid,
        reason=house.say(reason, **facts),
        act=act,
        rank=_rank(till, head.source, urgency, since),
        ticket=head.id,
        version=head.version,
        short=spot.name if spot and whole.at_table else "",
        paid=bill.paid,
        payer=payer,
        urgent=urgency < 4,
    )


def _tab_reason(house: House, whole: TicketSnapshot) -> tuple[int, str, dict[str, object]]:
    card = tab_card(house, whole)
    facts: dict[str, object] = {"minutes": card.minutes, "over": card.over, "held": card.held, "card": card.card}
    return (3, w.OVER_HELD, facts) if card.over else (7, w.TAB_HELD, facts) if card.held else (6, w.TAB_BARE, facts)


def _visit(house: House, till: Till, visit: Visit) -> Waiting:
    booking = visit.booking
    others, job_cards = household_open(house, booking.person, without=booking.id)
    along = along_with(visit, others)
    also = [
        house.say(w.ITS_SERVICE, name=other.booking.name.split()[0], service=other.service.name)
        for other in others
        if other.waits
    ]
    also += [house.say(w.ITS_JOB, name=c.person.first_name, thing=c.job.thing, job=c.job.name) for c in job_cards]
    reasons = [house.say(w.ENDED, minutes=visit.minutes)]
    reasons += [house.say(w.HOUSEHOLD, names=", ".join(also))] if also else []
    reasons += [] if visit.price is not None else [house.say(w.NO_PRICE)]
    return Waiting(
        name=booking.name,
        kind="booking",
        beside=visit.service.name,
        amount=visit.price or 0,
        reason="; ".join(reasons),
        act="check out",
        rank=_rank(till, "booking", 3, booking.ends_at),
        about=booking.id,
        more=along[0].booking.id if along else None,
        both=along[1] if along else 0,
        urgent=True,
    )


def _job(house: House, till: Till, card: JobCard) -> Waiting:
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
        rank=_rank(till, "job", 8 if never else 6, ready),
        about=card.job.id,
    )


def _invoice(house: House, till: Till, person: Person, late: list[Invoice]) -> Waiting:
    first = late[0]
    about = {"day": first.at, "number": first.number, "more": len(late) - 1}
    return Waiting(
        name=person.name,
        kind="invoice",
        beside=house.say(w.INVOICES_OF if len(late) > 1 else w.INVOICE_OF, **about),
        amount=total(one.left for one in late),
        reason=house.say(w.DUE_SINCE, day=first.due),
        act="invoice",
        rank=_rank(till, "invoice", 9, first.due),
        about=person.id,
        invoices=tuple(one.payment for one in late),
    )


def _walk_in(house: House, till: Till, one: WalkIn) -> Waiting:
    minutes = minutes_since(house, one.at)
    return Waiting(
        name=one.name,
        kind="walk-in",
        beside=one.wants,
        amount=0,
        reason=house.say(w.WAITS, minutes=minutes),
        act="serve",
        rank=_rank(till, "walk-in", 4, one.at),
        about=one.id,
    )
