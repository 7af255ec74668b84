"""Guests who join a ticket: a household's second member, somebody from another table."""

from __future__ import annotations

from abrazo.core.errors import Refused
from abrazo.desk.edit import Edit
from abrazo.desk.sharing import WHOLE_TABLE
from abrazo.desk.ticket import letter
from abrazo.store import ticket as kept
from abrazo.store.ticket import KeptGuest


def next_letter(guests: list[KeptGuest]) -> str:
    """The first letter that nobody on the ticket has."""
    taken = {guest.letter for guest in guests}
    return next(name for name in map(letter, range(len(taken) + 1)) if name not in taken)


def keep_whose(edit: Edit) -> None:
    """Lines that were everybody's stay with those who were there, before somebody joins."""
    there = tuple((guest.id, 1) for guest in edit.whole.guests)
    for line in edit.whole.standing:
        if not line.shares:
            kept.set_shares(edit.house.connection, line.id, there)


def payer_for(edit: Edit, name: str, place: int) -> int:
    """Who pays for somebody who joins: the one payer of a ticket that is not shared out, else they themselves."""
    whole, connection = edit.whole, edit.house.connection
    if whole.head.split == "equal":
        raise Refused("equal", "The ticket is shared in equal parts. Undo the sharing first.", "to")
    if whole.shared:
        return kept.add_payer(connection, edit.id, name, place)
    one = whole.payers[0]
    if one.settled_at:
        kept.unsettle_payer(connection, one.id)
    kept.set_payer(connection, one.id, WHOLE_TABLE, one.position)
    return one.id


def join(edit: Edit, name: str) -> int:
    """A named guest joins the ticket; gives the guest's id. Somebody of that name who is there already is meant."""
    same = next((guest for guest in edit.whole.guests if guest.name == name), None)
    if same is not None:
        return same.id
    if not edit.whole.standing and len(edit.whole.guests) == 1 and edit.whole.guests[0].name is None:
        kept.name_guest(edit.house.connection, edit.whole.guests[0].id, name)
        return edit.reread().guests[0].id
    keep_whose(edit)
    as_letter = next_letter(edit.whole.guests)
    payer = payer_for(edit, as_letter, 1000 + len(edit.whole.guests))
    guest = kept.add_guest(edit.house.connection, edit.id, as_letter, payer, name)
    edit.reread()
    return guest
