"""Sending lines to the places that prepare them: once each, in courses when told, and 'stop' for what is taken off.

Rules here
- what is to be made of a line is its quantity; what was told to its place is never told again
- what was not told goes out with the payment after which nothing is left to pay, and with closing at the latest
- a line removed, or fewer of it, after it was sent makes a stop slip at once
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction

from abrazo.core.errors import Code, Refused, chosen
from abrazo.core.journal import Kind, Personal
from abrazo.core.states import OrderWay, Sending, SlipKind, Source
from abrazo.desk.act import acting
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.permissions import Right
from abrazo.desk.setup.equipment import at_place
from abrazo.desk.setup.house_settings import ONE, SETTINGS
from abrazo.desk.setup.things import change_now
from abrazo.desk.tickets.change import OnTicket, TicketChange, changing
from abrazo.desk.tickets.naming import guest_name, place_of
from abrazo.desk.tickets.snapshot import LineRow, TicketSnapshot
from abrazo.formats.prep_text import slip_words
from abrazo.store import outbox, phone_orders, prep
from abrazo.store.phone_orders import PhoneOrder
from abrazo.store.prep import Slip, SlipLine
from abrazo.words import phrases as w
from abrazo.words.speaking import sentence


@dataclass(frozen=True, slots=True)
class Unsent:
    """A line of which its place does not know yet; `quantity` is how many more, as text."""

    line: LineRow
    place: str
    quantity: str


def unsent(house: House, whole: TicketSnapshot) -> list[Unsent]:
    """What its places do not know yet, in the order in which it came; what was paid and closed once was had."""
    places, told = prep.places(house.connection, whole.head.id), prep.told(house.connection, whole.head.id)
    prepared_at, found = house.settings.prepared_at, []
    for line in whole.standing:
        more = Fraction(line.quantity) - told.get(line.id, Fraction(0))
        had = whole.head.closed_at is not None and line.added_at <= whole.head.closed_at
        if places.get(line.id) in prepared_at and more > 0 and not had:
            found.append(Unsent(line, places[line.id], _text(more)))
    return found


def sent_to(house: House, ticket: int) -> tuple[str, ...]:
    """The places that were told of lines of a ticket."""
    places = prep.places(house.connection, ticket)
    told = prep.told(house.connection, ticket)
    return tuple(dict.fromkeys(places[line] for line, many in told.items() if line in places and many > 0))


@dataclass(frozen=True, slots=True)
class ToSend:
    """What goes out with a payment: how many portions, to which places."""

    portions: int
    places: tuple[str, ...]


def to_send(waiting: Sequence[Unsent]) -> ToSend | None:
    """What its places do not know yet, counted: pieces as they are, what is weighed once; None for nothing."""
    if not waiting:
        return None
    counts = [Fraction(one.quantity) for one in waiting]
    return ToSend(
        sum(int(count) if count.denominator == 1 else 1 for count in counts),
        tuple(dict.fromkeys(one.place for one in waiting)),
    )


def _text(quantity: Fraction) -> str:
    return str(quantity.numerator) if quantity.denominator == 1 else f"{float(quantity):.3f}".rstrip("0")


def send(house: House, actor: Actor, on: OnTicket, lines: Sequence[int]) -> int:
    """Send lines that were not sent yet to their places, all of them when none are named; gives how many slips."""
    with changing(house, actor, on, "sent to prepare") as edit:
        if edit.done is not None:
            return int(edit.done)
        new = [one for one in unsent(house, edit.whole) if not lines or one.line.id in lines]
        if not new:
            raise Refused(Code.SENT_ALREADY, "send")
        edit.answer = str(_send(edit, new))
        return int(edit.answer)


def _send(edit: TicketChange, new: Sequence[Unsent]) -> int:
    by_place: dict[str, list[SlipLine]] = {}
    for one in new:
        by_place.setdefault(one.place, []).append(
            SlipLine(one.line.id, one.quantity, _words(edit.house, edit.whole, one.line))
        )
    for place, lines in by_place.items():
        _slip(edit, place, SlipKind.MAKE, lines)
    return len(by_place)


def send_if_at_once(edit: TicketChange) -> None:
    """After lines came onto a ticket: send what its place wants at once."""
    if not sends_at_once(edit.house):
        return
    new = unsent(edit.house, edit.reread())
    if new:
        _send(edit, new)


def send_when_settled(edit: TicketChange) -> None:
    """After a payment: what its places do not know yet goes out when nothing is left to pay."""
    if unsent(edit.house, edit.whole):
        whole = edit.reread()
        if not whole.bill.due:
            send_rest(edit)


def send_rest(edit: TicketChange) -> None:
    """Send all that its places do not know yet, if anything."""
    new = unsent(edit.house, edit.whole)
    if new:
        _send(edit, new)


def sends_at_once(house: House) -> bool:
    """Whether lines go to their places as they are picked, or when told."""
    return house.settings.send_at_once


def set_sending(house: House, actor: Actor, how: str) -> None:
    """Lines go at once, or when told: a setting of the house. A right of its own, which a kitchen can have."""
    with acting(house, actor, "set-up", needs=Right.CHANGE_SENDING) as act:
        at_once = chosen(Sending, how, Code.NO_SENDING, "sending") == Sending.AT_ONCE
        change_now(act, SETTINGS, ONE, {"send_at_once": at_once})


def stop(edit: TicketChange, line: LineRow, fewer: Fraction) -> None:
    """So many fewer of a line are wanted: its place is told to stop, as far as it knew of them."""
    told = prep.told(edit.house.connection, edit.id).get(line.id, Fraction(0))
    left = Fraction(line.quantity) - fewer
    if told <= left:
        return
    place = prep.places(edit.house.connection, edit.id)[line.id]
    _slip(edit, place, SlipKind.STOP, [SlipLine(line.id, _text(told - left), _words(edit.house, edit.whole, line))])


def _slip(edit: TicketChange, place: str, kind: SlipKind, lines: Sequence[SlipLine]) -> None:
    """Keep a slip and print it."""
    connection, who = edit.house.connection, edit.actor.staff
    prep.add(connection, Slip(0, edit.id, place, kind, edit.at, who.id, lines=tuple(lines)))
    orders, course = orders_of(edit.house, [edit.whole]), prep.courses(connection, edit.id, place)
    spot = ", ".join(goes_to(edit.house, edit.whole, orders))
    say, name = edit.house.say, sentence(place)
    stops = kind == SlipKind.STOP
    title = say(w.STOP_SLIP if stops else w.MAKE_SLIP, place=name, spot=spot)
    made = say(w.COURSE_HEAD, place=name, course=course) if course > 1 else name
    head = say(w.STOP_HEAD, place=place) if stops else made
    body = slip_words(head, spot, who.name, edit.house.hour(edit.at), [(one.quantity, one.words) for one in lines])
    about = f"slip {place} {edit.whole.head.number}"
    outbox.add(connection, outbox.NewSheet(edit.at, outbox.PRINTER, title, body, about, printer=at_place(place)))
    said = ", ".join(f"{one.quantity} × {one.words}" for one in lines)
    edit.wrote(Kind.SENT_TO_PREPARE if kind == SlipKind.MAKE else Kind.STOPPED, place=place, text=Personal(said))


Orders = Mapping[int, PhoneOrder]


def orders_of(house: House, tickets: Iterable[TicketSnapshot]) -> Orders:
    """How the orders among some tickets reach their people."""
    numbers = [whole.head.id for whole in tickets if whole.head.source == Source.PHONE]
    return phone_orders.read_many(house.connection, numbers) if numbers else {}


def goes_to(house: House, whole: TicketSnapshot, orders: Orders) -> list[str]:
    """Where what is made goes; of an order also when it was promised for, and where it is brought."""
    order, at = orders.get(whole.head.id), whole.head.promised_at
    parts = [place_of(house, whole)]
    parts += [house.say(w.PROMISED_AT, at=at)] if at else []
    if order:
        brought = order.way == OrderWay.DELIVERY
        how = w.BROUGHT_TO if order.address else w.BROUGHT
        parts.append(house.say(how, address=order.address) if brought else house.say(w.FETCHED))
    return parts


def _words(house: House, whole: TicketSnapshot, line: LineRow) -> str:
    """A line as its place needs it: what, choices, request, whose."""
    parts = [line.label, *(label for label, _ in line.choices)]
    letters = {guest.id: guest for guest in whole.guests}
    whose = [guest_name(house, whole, letters[guest]) for guest, weight in line.shares if weight and guest in letters]
    words = ", ".join(parts) + (f" “{line.note}”" if line.note else "")
    return house.say(w.MADE_FOR, what=words, names=", ".join(whose)) if whose else words


def done(house: House, actor: Actor, slip_id: int) -> Slip:
    """A place has done what a slip says; a second time changes nothing."""
    with acting(house, actor, "set-up") as act:
        slip = _read(house, slip_id)
        if slip.done_at is None:
            prep.set_done(act.connection, slip_id, act.at, actor.staff.id)
            act.record(Kind.SLIP_DONE, slip.ticket, slip=slip_id, place=slip.place, of_at=slip.at)
        return slip


def recall(house: House, actor: Actor, slip_id: int) -> Slip:
    """A slip that was done by mistake stands in its place of the queue again."""
    with acting(house, actor, "set-up") as act:
        slip = _read(house, slip_id)
        if slip.done_at is not None:
            prep.set_done(act.connection, slip_id, None, None)
            act.record(Kind.SLIP_RECALLED, slip.ticket, slip=slip_id, place=slip.place, of_at=slip.at)
        return slip


def _read(house: House, slip_id: int) -> Slip:
    slip = prep.read(house.connection, slip_id)
    if slip is None:
        raise NotFound(f"no slip {slip_id}")
    return slip
