"""Moving between tickets: lines, a guest, or all of a ticket; to another table, tab or ticket."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Kind, Personal
from abrazo.core.states import Source, Split
from abrazo.desk.act import Facts
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.tickets.change import OnTicket, TicketChange, changing, changing_both, check_and_settle
from abrazo.desk.tickets.counter_lock import check_free
from abrazo.desk.tickets.deposits import fit_deposits
from abrazo.desk.tickets.guests import next_letter, payer_for
from abrazo.desk.tickets.naming import place_of
from abrazo.desk.tickets.price_lists import check_said
from abrazo.desk.tickets.sharing import WHOLE_TABLE, gives_alone
from abrazo.desk.tickets.snapshot import LineRow, TicketSnapshot, load_ticket
from abrazo.desk.tickets.starting import end_empty
from abrazo.desk.tickets.ticket_lines import about
from abrazo.store import bookings, holds, jobs, journal, room
from abrazo.store import charges as charges_kept
from abrazo.store import guests as guests_kept
from abrazo.store import lines as lines_kept
from abrazo.store import ticket as ticket_store
from abrazo.store.guests import GuestRow
from abrazo.store.ticket import NewTicket


def to_table(house: House, actor: Actor, on: OnTicket, spot_id: str) -> int:
    """All of a ticket goes to a table: a free one becomes its own, a busy one takes it in. Gives the ticket."""
    check_free(house, actor)
    spot = house.spot(spot_id)
    if spot is None:
        raise NotFound(f"no table {spot_id}")
    there = room.seated(house.connection).get(spot_id)
    if there is not None:
        return merge(house, actor, on, there)
    with changing(house, actor, on, "moved") as edit:
        if edit.done is None:
            check_said(edit)
            head, before = edit.whole.head, Personal(place_of(house, edit.whole))
            was: Facts = {"spot": head.spot, "source": head.source, "held": head.held_at}
            ticket_store.set_spot(house.connection, on.id, spot_id, Source.TABLE)
            ticket_store.set_held(house.connection, on.id, None)
            edit.wrote(Kind.MOVED_TO_TABLE, before=before, table=spot.name, **was)
    return on.id


def off_table(house: House, actor: Actor, on: OnTicket) -> None:
    """Turn `to_table` round: where the ticket was, and whether it was on hold, stands in the journal.

    Refused when something else was done since, or somebody sits by now where it was.
    """
    with changing(house, actor, on, "moved back") as edit:
        if edit.done is None:
            last = journal.of_ticket(house.connection, on.id)[-1]
            if last.kind != Kind.MOVED_TO_TABLE or "source" not in last.facts:
                raise Refused(Code.UNDO_TOO_LATE, "to")
            spot = house.spot(str(last.facts.get("spot", "")))
            if spot is not None and spot.id in room.seated(house.connection):
                raise Refused(Code.TABLE_BUSY_NOW, "to", table=spot.name)
            left, held = place_of(house, edit.whole), last.facts.get("held")
            ticket_store.set_spot(house.connection, on.id, spot.id if spot else None, Source(str(last.facts["source"])))
            ticket_store.set_held(house.connection, on.id, edit.at if held else None)
            edit.wrote(Kind.MOVED_BACK, before=Personal(left), table=spot.name if spot else None)


def hand_to(house: House, actor: Actor, on: OnTicket, staff: str) -> None:
    """Somebody else serves the ticket from now on; what was served stays with who served it."""
    people = house.staff()
    if staff not in people:
        raise NotFound(f"no staff {staff}")
    with changing(house, actor, on) as edit:
        if staff != edit.whole.head.staff:
            before = edit.whole.head.staff
            ticket_store.set_staff(house.connection, on.id, staff)
            edit.wrote(Kind.HANDED_TO, before=before, now=staff)


def merge(house: House, actor: Actor, on: OnTicket, into: int) -> int:
    """All of a ticket goes into another one, which is given; this one ends."""
    with changing_both(house, actor, on, into, "merged") as (edit, other):
        if edit.done is not None:
            return into
        _may_go(edit)
        check_said(edit)
        _welcome(other)
        if any(one.line is None for one in edit.whole.given):
            number = edit.whole.head.number
            raise Refused(Code.OTHER_DISCOUNTED, "to", number=number)
        coming = [guest for guest in edit.whole.guests if guest.name or edit.whole.head.spot]
        _move_lines(edit, other, edit.whole.standing, {guest.id for guest in coming}, coming)
        _move_guests(edit, other, coming)
        connection = house.connection
        charges_kept.move_charges(connection, edit.id, other.id)
        for booking in bookings.on_ticket(connection, edit.id):
            bookings.set_ticket(connection, booking.id, other.id)
        jobs.move(connection, edit.id, other.id)
        fit_deposits(edit)  # what was applied here is free for the other ticket
        holds.move(connection, edit.id, other.id)
        if other.whole.head.person is None and edit.whole.head.person is not None:
            ticket_store.set_who(
                connection, other.id, edit.whole.head.person, other.whole.head.name or edit.whole.head.name
            )
        here, there = edit.whole.head.number, other.whole.head.number
        edit.wrote(Kind.MERGED_INTO, other=there, place=Personal(place_of(house, other.whole)))
        other.wrote(Kind.TOOK_IN, other=here, place=Personal(place_of(house, edit.whole)))
        end_empty(house, edit.id, edit.at)
    return into


def move_lines(house: House, actor: Actor, on: OnTicket, line_ids: Sequence[int], into: int) -> None:
    """Some lines go to another ticket, where they are everybody's."""
    with changing_both(house, actor, on, into, "moved") as (edit, other):
        if edit.done is not None:
            return
        _lines_go(edit, other, line_ids)


def _lines_go(edit: TicketChange, other: TicketChange, line_ids: Sequence[int]) -> None:
    lines = [edit.whole.line(line_id) for line_id in line_ids]
    if not lines:
        raise Refused(Code.NO_LINES, "lines")
    if any(line.job or line.booking for line in lines):
        raise Refused(Code.LINES_STAY_TOGETHER, "lines")
    check_said(edit)
    lines_change_ticket(edit, other, lines)


def lines_change_ticket(edit: TicketChange, other: TicketChange, lines: Sequence[LineRow]) -> None:
    """Lines go to another ticket of the same act, where they are everybody's."""
    _welcome(other)
    _move_lines(edit, other, lines, set(), [])


@dataclass(frozen=True, slots=True)
class Parting:
    """Who or what goes by itself: guests by letter, or lines.

    Guests take along what is theirs alone. Of what they share with others who stay (`stays_behind`) those have their
    part too, unless it all goes `along`.
    """

    letters: tuple[str, ...] = ()
    lines: tuple[int, ...] = ()
    along: bool = False


def move_guests(house: House, actor: Actor, on: OnTicket, parting: Parting, into: int) -> None:
    """Guests go to another ticket with what is theirs; what they had a part of and left stands in the journal."""
    with changing_both(house, actor, on, into, "moved") as (edit, other):
        if edit.done is None:
            _guests_go(edit, other, parting)


def split_off(house: House, actor: Actor, on: OnTicket, parting: Parting, spot_id: str) -> int:
    """A party parts: some guests, or some lines, go to a free table and have a ticket of their own there. Gives it."""
    check_free(house, actor)
    with changing(house, actor, on, "split off") as edit:
        if edit.done is not None:
            return int(edit.done)
        spot = house.spot(spot_id)
        if spot is None:
            raise NotFound(f"no table {spot_id}")
        if spot_id in room.seated(house.connection):
            raise Refused(Code.TABLE_BUSY_NOW, "to", table=spot.name)
        other = _seat_beside(edit, spot_id, empty=bool(parting.letters))
        if parting.letters:
            _guests_go(edit, other, parting)
        else:
            _lines_go(edit, other, parting.lines)
        payer, guests = other.whole.payers[0].id, guests_kept.list_guests(house.connection, other.id)
        for guest in guests:
            guests_kept.set_guest_payer(house.connection, guest.id, payer)
        guests_kept.set_payer(house.connection, payer, WHOLE_TABLE if len(guests) > 1 else guests[0].letter, 0)
        other.wrote(Kind.SPLIT_OFF, other=edit.whole.head.number, place=Personal(place_of(house, edit.whole)))
        check_and_settle(other)
        edit.answer = str(other.id)
        return other.id


def _seat_beside(edit: TicketChange, spot_id: str, *, empty: bool) -> TicketChange:
    """A new ticket at a free table, served by the same person; with one guest, unless guests come."""
    house, head = edit.house, edit.whole.head
    made = ticket_store.add(house.connection, NewTicket(head.staff, edit.actor.till.id, edit.day, edit.at, spot_id))
    ticket_store.set_price_list(house.connection, made, head.price_list)
    payer = guests_kept.add_payer(house.connection, made, WHOLE_TABLE, 0)
    if not empty:
        guests_kept.add_guest(house.connection, made, "A", payer)
    return TicketChange(house, edit.actor, load_ticket(house, made))


def _guests_go(edit: TicketChange, other: TicketChange, parting: Parting) -> None:
    letters = parting.letters
    going = [guest for guest in edit.whole.guests if guest.letter in letters]
    if unknown := set(letters) - {guest.letter for guest in going}:
        raise NotFound(f"no guest {unknown}")
    if len(going) == len(edit.whole.guests):
        raise Refused(Code.ONLY_GUEST_GOES if len(going) == 1 else Code.NOBODY_LEFT, "guest")
    busy = [p.payer for p in edit.whole.taken] + [a.payer for a in edit.whole.open_requests]
    for guest in going:
        if guest.payer in busy:
            raise Refused(Code.GUEST_PAID, "guest", payer=guest.letter)
    check_said(edit)
    _welcome(other)
    ids = {guest.id for guest in going}
    own = [line for line in edit.whole.standing if _goes_along(line, ids, shared=parting.along)]
    rest = len(edit.whole.guests) - len(going)
    for line in edit.whole.standing:
        if line not in own and any(guest in ids for guest, _ in line.shares):
            left = tuple((guest, weight) for guest, weight in line.shares if guest not in ids and weight)
            lines_kept.set_shares(edit.house.connection, line.id, () if len(left) == rest else left)
    staying = [] if parting.along else stays_behind(edit.whole, letters)
    _move_lines(edit, other, own, ids, going)
    _move_guests(edit, other, going)
    _end_payer_without_guests(edit)
    names = " and ".join(guest.name or guest.letter for guest in going)
    rest_stays = Personal(", ".join(staying)) if staying else None
    edit.wrote(Kind.MOVED, names=Personal(names), place=Personal(place_of(edit.house, other.whole)), staying=rest_stays)


def _goes_along(line: LineRow, going: set[int], *, shared: bool) -> bool:
    """Whether a line goes with guests: it is theirs alone, or with `shared` in part."""
    having = {guest for guest, weight in line.shares if weight}
    return (not having or bool(having & going)) if shared else bool(having) and having <= going


def stays_behind(whole: TicketSnapshot, letters: Sequence[str]) -> list[str]:
    """Lines that guests share with others who stay: the others have their part too when they go."""
    going = {guest.id for guest in whole.guests if guest.letter in letters}
    found = []
    for line in whole.standing:
        having = {guest for guest, weight in line.shares if weight} or {guest.id for guest in whole.guests}
        if having & going and not having <= going:
            found.append(line.label)
    return found


def _not_set_aside(edit: TicketChange) -> None:
    """Refused for goods that are set aside: they keep their price and their payments."""
    if edit.whole.head.set_aside is not None:
        raise Refused(Code.SET_ASIDE_STAYS, "to", number=edit.whole.head.number)


def _may_go(edit: TicketChange) -> None:
    _not_set_aside(edit)
    if edit.whole.open_requests:
        raise Refused(Code.TICKET_WAITS_FOR_MACHINE, "to")
    if any(payment.deposit is None for payment in edit.whole.taken):
        raise Refused(Code.MOVE_PAID, "to")


def _welcome(other: TicketChange) -> None:
    """The ticket that takes something in: whoever had paid owes again for what comes."""
    _not_set_aside(other)
    if other.whole.head.split == Split.EQUAL:
        raise Refused(Code.OTHER_SHARED_EQUALLY, "to")
    if all(payer.settled_at for payer in other.whole.payers):
        for payer in other.whole.payers:
            guests_kept.unsettle_payer(other.house.connection, payer.id)


def _move_lines(
    edit: TicketChange, other: TicketChange, lines: Sequence[LineRow], theirs: set[int], coming: Sequence[GuestRow]
) -> None:
    """Lines change their ticket. They stay with the guests who come along; the others' become everybody's there."""
    connection = edit.house.connection
    for line in lines:
        mine = tuple((guest, weight) for guest, weight in line.shares if guest in theirs)
        lines_kept.set_shares(connection, line.id, mine or tuple((guest.id, 1) for guest in coming))
        lines_kept.move_line(connection, line.id, other.id)
        edit.wrote(Kind.LINE_MOVED, **about(line), place=Personal(place_of(edit.house, other.whole)))
        other.wrote(Kind.LINE_ARRIVED, **about(line), place=Personal(place_of(edit.house, edit.whole)))


def _move_guests(edit: TicketChange, other: TicketChange, coming: Sequence[GuestRow]) -> None:
    connection = edit.house.connection
    if coming:  # what was everybody's there stays with those who were there
        there = tuple((guest.id, 1) for guest in other.whole.guests)
        moved = {line.id for line in edit.whole.standing}
        for line in other.whole.standing:
            if not line.shares and line.id not in moved:
                lines_kept.set_shares(connection, line.id, there)
    for guest in coming:
        as_letter = next_letter(guests_kept.list_guests(connection, other.id))
        payer = payer_for(other, as_letter, 1000 + guest.id)
        guests_kept.move_guest(connection, guest.id, other.id, as_letter, payer)


def _end_payer_without_guests(edit: TicketChange) -> None:
    guests = guests_kept.list_guests(edit.house.connection, edit.id)
    for payer in edit.whole.payers:
        if gives_alone(payer):
            continue
        if all(guest.payer != payer.id for guest in guests) and len(edit.whole.payers) > 1:
            guests_kept.end_payer(edit.house.connection, payer.id, edit.at)
        elif len(guests) == 1:
            guests_kept.set_payer(edit.house.connection, payer.id, guests[0].letter, payer.position)
