"""Seating, picking and removing lines, and freeing the table."""

from __future__ import annotations

import re
from dataclasses import dataclass, replace

from abrazo.core.errors import Refused
from abrazo.core.ledger import close_postings
from abrazo.desk.edit import Edit, editing
from abrazo.desk.house import Actor, House, NotFound
from abrazo.store import catalogue, journal, room
from abrazo.store import ticket as kept
from abrazo.store.catalogue import ChoiceGroup, GroupChoice
from abrazo.store.db import Conflict, atomic
from abrazo.store.ticket import KeptCharge, KeptLine

MOST_GUESTS = 20
LONGEST_NOTE = 120
LONGEST_NAME = 40


def letter(index: int) -> str:
    """A, B, ... Z, AA, AB: what a guest or payer is known by on one ticket."""
    high, low = divmod(index, 26)
    return ("" if high == 0 else chr(64 + high)) + chr(65 + low)


def seat(house: House, actor: Actor, spot_id: str, guests: int, key: str) -> int:
    """Seat guests at an empty table; gives the new ticket's id. Parties of the house's size bear a service charge."""
    if not 1 <= guests <= MOST_GUESTS:
        raise Refused("guests", f"A table takes 1 to {MOST_GUESTS} guests.", "guests")
    with atomic(house.connection) as connection:
        done = journal.read_act(connection, key)
        if done is not None:
            return int(done)
        spot = room.read_spot(connection, spot_id)
        if spot is None:
            raise NotFound(f"no table {spot_id}")
        day, at = house.day().id, house.stamp()
        try:
            ticket = kept.add(connection, spot_id, actor.staff.id, actor.till.id, day, at)
        except Conflict:
            raise Refused("busy", f"{spot.name} was seated meanwhile. It is on Today as a busy table.") from None
        payer = kept.add_payer(connection, ticket, "A" if guests == 1 else "∗", 0)
        for index in range(guests):
            kept.add_guest(connection, ticket, letter(index), payer)
        settings = house.settings
        if guests >= settings.service_from:
            label = f"Service charge {settings.service_percent} %"
            kept.add_charge(connection, ticket, KeptCharge(0, label, settings.service_percent, "std", "proportional"))
        what = f"Seated {guests} at {spot.name}"
        entry = journal.Entry(0, at, day, actor.till.id, actor.staff.id, ticket, None, "seated", what)
        journal.add(connection, entry)
        journal.add_act(connection, key, "seated", at, str(ticket))
    return ticket


@dataclass(frozen=True, slots=True)
class Picked:
    """An item as it was picked: choices by id, guests by letter (none: the whole table)."""

    item: str
    quantity: str = "1"
    choices: tuple[str, ...] = ()
    guests: tuple[str, ...] = ()
    note: str = ""


def add_line(house: House, actor: Actor, ticket_id: int, version: int | None, picked: Picked, key: str) -> None:
    """Put an item on the ticket. Refused, with the field to mend, when a required choice is missing."""
    with editing(house, actor, ticket_id, version, key=key, kind="line added") as edit:
        if edit.done is not None:
            return
        line = _line_of(edit, picked)
        if all(payer.settled_at for payer in edit.whole.payers):
            for payer in edit.whole.payers:  # everybody had paid: they owe again for what comes now
                kept.unsettle_payer(house.connection, payer.id)
        kept.add_line(house.connection, ticket_id, line)
        edit.wrote("line added", f"Added {described(line)} for {'+'.join(picked.guests) or 'the table'}")


def described(line: KeptLine) -> str:
    """A line in words: quantity, label and choices."""
    choices = ", ".join(label for label, _ in line.choices)
    return f"{line.quantity} × {line.label}" + (f" ({choices})" if choices else "")


def _line_of(edit: Edit, picked: Picked) -> KeptLine:
    item = catalogue.read_item(edit.house.connection, picked.item)
    if item is None:
        raise NotFound(f"no item {picked.item}")
    note = " ".join(picked.note.split())
    if len(note) > LONGEST_NOTE:
        raise Refused("note", f"A note has at most {LONGEST_NOTE} characters; this one has {len(note)}.", "note")
    by_letter = {guest.letter: guest.id for guest in edit.whole.guests}
    if any(name not in by_letter for name in picked.guests):
        raise NotFound(f"no such guest among {picked.guests}")
    everyone = len(picked.guests) == len(by_letter)
    groups = catalogue.list_groups(edit.house.connection, item.id)
    return KeptLine(
        id=0,
        item=item.id,
        label=item.name,
        unit_price=item.price,
        quantity=read_quantity(picked.quantity),
        tax=item.tax,
        report_group=item.report_group,
        staff=edit.actor.staff.id,
        note=note,
        added_at=edit.at,
        removed_at=None,
        removed_by=None,
        choices=tuple((choice.label, choice.price) for choice in _choices_of(groups, picked.choices)),
        shares=() if everyone else tuple((by_letter[name], 1) for name in dict.fromkeys(picked.guests)),
    )


def _choices_of(groups: list[ChoiceGroup], picked: tuple[str, ...]) -> list[GroupChoice]:
    found: list[GroupChoice] = []
    known = {choice.id for group in groups for choice in group.choices}
    if not set(picked) <= known:
        raise NotFound(f"no such choice among {picked}")
    for group in groups:
        taken = [choice for choice in group.choices if choice.id in picked]
        if len(taken) < group.least:
            what = f"Choose {group.name.lower()} first" + (f": at least {group.least}." if group.least > 1 else ".")
            raise Refused("choice", what, group.id)
        if len(taken) > group.most:
            raise Refused("choice", f"{group.name}: at most {group.most}, and {len(taken)} are chosen.", group.id)
        found += taken
    return found


def read_quantity(text: str) -> str:
    """A whole quantity from 1 to 99 as it is kept."""
    text = text.strip()
    if not re.fullmatch(r"[0-9]{1,2}", text) or int(text) == 0:
        raise Refused("quantity", "How many? A whole number from 1 to 99.", "quantity")
    return str(int(text))


def remove_line(house: House, actor: Actor, ticket_id: int, version: int, line_id: int) -> None:
    """Strike a line through; it stays in the journal and on the ticket's list, with who and when."""
    with editing(house, actor, ticket_id, version) as edit:
        line = edit.whole.line(line_id)
        kept.remove_line(house.connection, line_id, edit.at, actor.staff.id)
        edit.wrote("line removed", f"Removed {described(line)}")


def set_quantity(house: House, actor: Actor, ticket_id: int, version: int, line_id: int, quantity: str) -> None:
    """Change how many of a line."""
    with editing(house, actor, ticket_id, version) as edit:
        line = edit.whole.line(line_id)
        number = read_quantity(quantity)
        kept.set_quantity(house.connection, line_id, number)
        edit.wrote("line changed", f"Changed {described(line)} to {described(replace(line, quantity=number))}")


def give_line(house: House, actor: Actor, ticket_id: int, version: int, line_id: int, guests: tuple[str, ...]) -> None:
    """Say whose a line is: some guests alike, or with none the whole table."""
    with editing(house, actor, ticket_id, version) as edit:
        line = edit.whole.line(line_id)
        ids = {guest.letter: guest.id for guest in edit.whole.guests}
        if any(name not in ids for name in guests):
            raise NotFound(f"no such guest among {guests}")
        everyone = len(set(guests)) == len(ids)
        shares = () if everyone else tuple((ids[name], 1) for name in dict.fromkeys(guests))
        kept.set_shares(house.connection, line_id, shares)
        whose = "the table" if everyone or not guests else "+".join(guests)
        edit.wrote("line given", f"{described(line)} is now for {whose}")


def name_guest(house: House, actor: Actor, ticket_id: int, version: int, guest_letter: str, name: str) -> None:
    """Give a guest a name, or with an empty one take it away; the letter stays."""
    plain = " ".join(name.split())
    if len(plain) > LONGEST_NAME:
        raise Refused("name", f"A name has at most {LONGEST_NAME} characters; this one has {len(plain)}.", "name")
    with editing(house, actor, ticket_id, version) as edit:
        guest = next((g for g in edit.whole.guests if g.letter == guest_letter), None)
        if guest is None:
            raise NotFound(f"no guest {guest_letter}")
        kept.name_guest(house.connection, guest.id, plain or None)
        edit.wrote("guest named", f"{guest_letter} is {plain}" if plain else f"{guest_letter} has no name")


def ask_bill(house: House, actor: Actor, ticket_id: int, version: int, asked: bool) -> None:
    """Note that the guests asked for the bill, or that they did not."""
    with editing(house, actor, ticket_id, version) as edit:
        kept.set_bill_asked(house.connection, ticket_id, edit.at if asked else None)
        edit.wrote("bill asked", "Bill asked for" if asked else "Bill not asked for after all")


def free_table(house: House, actor: Actor, ticket_id: int, version: int | None, key: str) -> None:
    """Close a ticket on which nothing is left to pay, and free its table."""
    with editing(house, actor, ticket_id, version, key=key, kind="closed") as edit:
        if edit.done is not None:
            return
        whole = edit.whole
        if whole.open_asks:
            raise Refused("under_way", "A card machine has not answered yet; the table stays until it has.")
        if whole.bill.due:
            due = house.settings.currency.text(whole.bill.due)
            raise Refused("due", f"{due} is still to pay on this ticket.", due=whole.bill.due)
        if whole.standing or whole.taken:
            groups = {str(line.id): line.report_group for line in whole.standing}
            postings = close_postings(whole.ticket, whole.bill, groups)
            edit.wrote("closed", "Settled; table freed", postings)
            kept.set_state(house.connection, ticket_id, "closed", edit.at)
        else:
            edit.wrote("left", "Left without ordering; table freed")
            kept.set_state(house.connection, ticket_id, "left", edit.at)
