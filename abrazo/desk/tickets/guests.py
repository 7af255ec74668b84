"""Guests who join a ticket: a household's second member, somebody from another table."""

from __future__ import annotations

from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Kind
from abrazo.core.states import Split
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.tickets.change import OnTicket, TicketChange, changing
from abrazo.desk.tickets.sharing import WHOLE_TABLE, tidy
from abrazo.desk.tickets.starting import MOST_GUESTS, letter, service_charge
from abrazo.store import charges as charges_kept
from abrazo.store import guests as guests_kept
from abrazo.store import lines as lines_kept
from abrazo.store.guests import GuestRow


def next_letter(guests: list[GuestRow]) -> str:
    """The first letter that nobody on the ticket has."""
    taken = {guest.letter for guest in guests}
    return next(name for name in map(letter, range(len(taken) + 1)) if name not in taken)


def keep_whose(edit: TicketChange) -> None:
    """Lines that were everybody's stay with those who were there, before somebody joins."""
    there = tuple((guest.id, 1) for guest in edit.whole.guests)
    for line in edit.whole.standing:
        if not line.shares:
            lines_kept.set_shares(edit.house.connection, line.id, there)


def payer_for(edit: TicketChange, name: str, place: int) -> int:
    """Who pays for somebody who joins: the one payer of a ticket that is not shared out, else they themselves."""
    whole, connection = edit.whole, edit.house.connection
    if whole.head.split == Split.EQUAL:
        raise Refused(Code.SHARED_EQUALLY, "to")
    if whole.shared:
        return guests_kept.add_payer(connection, edit.id, name, place)
    one = whole.payers[0]
    if one.settled_at:
        guests_kept.unsettle_payer(connection, one.id)
    guests_kept.set_payer(connection, one.id, WHOLE_TABLE, one.position)
    return one.id


def add_guest(house: House, actor: Actor, on: OnTicket) -> None:
    """Somebody sits down with those who are there; what is the table's is theirs too."""
    with changing(house, actor, on) as edit:
        if len(edit.whole.guests) >= MOST_GUESTS:
            raise Refused(Code.TABLE_FULL, "guests", most=MOST_GUESTS)
        whole, as_letter = edit.whole, next_letter(edit.whole.guests)
        whole_table = not whole.shared or (len(whole.payers) > 1 and all(p.stated for p in whole.payers[1:]))
        if whole.head.split == Split.EQUAL:
            payer = None
        elif whole_table and not whole.payers[0].settled_at:
            payer = whole.payers[0].id
            guests_kept.set_payer(house.connection, payer, WHOLE_TABLE, whole.payers[0].position)
        else:
            payer = payer_for(edit, as_letter, len(whole.guests))
        guests_kept.add_guest(house.connection, on.id, as_letter, payer)
        many = len(whole.guests) + 1
        edit.wrote(Kind.GUEST_ADDED, guest=as_letter, guests=many)
        if many == house.settings.service_from and not whole.charges:
            charges_kept.add_charge(house.connection, on.id, service_charge(house))


def guest_leaves(house: House, actor: Actor, on: OnTicket, letter: str) -> None:
    """Somebody who had nothing of their own was not there after all, or left."""
    with changing(house, actor, on) as edit:
        guest = next((one for one in edit.whole.guests if one.letter == letter), None)
        if guest is None:
            raise NotFound(f"no guest {letter}")
        busy = [p.payer for p in edit.whole.taken] + [a.payer for a in edit.whole.open_requests]
        if len(edit.whole.guests) == 1 or (guest.payer in busy and len(edit.whole.guests_of(guest.payer or 0)) == 1):
            raise Refused(Code.ONLY_GUEST, "guests", letter=letter)
        if not guests_kept.end_guest(house.connection, guest.id):
            raise Refused(Code.GUEST_HAS_LINES, 'guests', letter=letter)  # fmt: skip
        if edit.whole.head.split == Split.SHARES:
            tidy(edit)
        edit.wrote(Kind.GUEST_LEFT, guest=letter, guests=len(edit.whole.guests) - 1)


def join(edit: TicketChange, name: str) -> int:
    """A named guest joins the ticket; gives the guest's id. Somebody of that name who is there already is meant."""
    same = next((guest for guest in edit.whole.guests if guest.name == name), None)
    if same is not None:
        return same.id
    if not edit.whole.standing and len(edit.whole.guests) == 1 and edit.whole.guests[0].name is None:
        guests_kept.name_guest(edit.house.connection, edit.whole.guests[0].id, name)
        return edit.reread().guests[0].id
    keep_whose(edit)
    as_letter = next_letter(edit.whole.guests)
    payer = payer_for(edit, as_letter, 1000 + len(edit.whole.guests))
    guest = guests_kept.add_guest(edit.house.connection, edit.id, as_letter, payer, name)
    edit.reread()
    return guest
