"""Whose a ticket is: a known person comes onto it, or is taken off again."""

from __future__ import annotations

from collections.abc import Mapping

from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Kind, Personal
from abrazo.core.states import Source, Tender
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.people.people import check_phone, keep_person, known, read_person, recognised, themselves
from abrazo.desk.tickets.change import OnTicket, TicketChange, changing
from abrazo.desk.tickets.starting import Beginning, TicketOrigin, open_ticket
from abrazo.desk.tickets.ticket_lines import about
from abrazo.store import lines, people
from abrazo.store import ticket as ticket_store
from abrazo.store.people import Person

OF_A_PERSON = (
    Tender.ACCOUNT,
    Tender.STORE_CREDIT,
    Tender.POINTS,
    Tender.STORED_CARD,
    Tender.BANK_ACCOUNT,
)  # only who is known has


def set_person(house: House, actor: Actor, on: OnTicket, person_id: int) -> None:
    """The ticket is somebody's: their account, credit, points and benefits count. 0 takes them off again."""
    with changing(house, actor, on) as edit:
        _set(house, edit.whole.head.person, [p.tender for p in edit.whole.taken], person_id)
        who = themselves(house, person_id) if person_id else None
        ticket_store.set_who(house.connection, on.id, who.id if who else None, edit.whole.head.name)
        lines.drop_strangers(house.connection, on.id, [one.id for one in everybody_of(house, who)])
        if who:
            edit.wrote(Kind.CUSTOMER_SET, customer=who.id, name=Personal(who.name))
        else:
            edit.wrote(Kind.CUSTOMER_REMOVED)


def _set(house: House, before: int | None, tenders: list[str], person_id: int) -> None:
    used = [tender for tender in tenders if tender in OF_A_PERSON]
    if before is not None and before != person_id and used:
        raise Refused(Code.CUSTOMER_PAID, "q", name=known(house, before).name, tender=used[0])


def set_new_person(house: House, actor: Actor, on: OnTicket, typed: dict[str, str]) -> None:
    """Somebody who is not known yet is written down and has the ticket, in one act."""
    with changing(house, actor, on, "person") as edit:
        if edit.done is None:
            person, household = read_person(house, typed)
            check_phone(house, person, typed)
            made = keep_person(house, person, household)
            _set(house, edit.whole.head.person, [p.tender for p in edit.whole.taken], made)
            ticket_store.set_who(house.connection, on.id, made, edit.whole.head.name)
            lines.drop_strangers(house.connection, on.id, [one.id for one in everybody_of(house, known(house, made))])
            edit.wrote(Kind.CUSTOMER_ADDED, customer=made, name=Personal(person.name))


def becomes_theirs(edit: TicketChange, typed: Mapping[str, str]) -> Person:
    """Whose a ticket is, who was not asked yet: its own person, whom name and phone mean, else one written down anew.

    Refused beside name or phone where nobody can be written down so.
    """
    house, head = edit.house, edit.whole.head
    if head.person is not None:
        return known(house, head.person)
    plain, household = read_person(house, typed)
    person = recognised(house, plain.name, plain.phone or "")
    if person is None:
        check_phone(house, plain, typed)
        kind, person = Kind.CUSTOMER_ADDED, known(house, keep_person(house, plain, household))
    else:
        kind = Kind.CUSTOMER_SET
    ticket_store.set_who(house.connection, edit.id, person.id, head.name)
    edit.wrote(kind, customer=person.id, name=Personal(person.name))
    return person


def everybody_of(house: House, person: Person | None) -> list[Person]:
    """Somebody first, then the others of their household; nobody of nobody."""
    if person is None:
        return []
    if person.household is None:
        return [person]
    everybody = people.household_of(house.connection, person.household)
    return sorted(everybody, key=lambda one: (one.id != person.id, one.name))


def members(house: House, person: int | None) -> list[Person]:
    """Among whom a line of somebody's ticket can be said to be for one; empty for who has no household."""
    found = everybody_of(house, known(house, person)) if person is not None else []
    return found if len(found) > 1 else []


def give_to_member(house: House, actor: Actor, on: OnTicket, line_id: int, person: int) -> None:
    """Say for which of the household a line is; 0 takes it back. Benefits follow whose it is."""
    with changing(house, actor, on) as edit:
        line, among = edit.whole.line(line_id), {one.id: one for one in members(house, edit.whole.head.person)}
        if person and person not in among:
            raise NotFound(f"no person {person} in the household")
        if line.booking is not None or line.job is not None:
            raise Refused(Code.LINE_BOOKED, "member", line=line.label)
        lines.set_member(house.connection, line_id, person or None)
        name = Personal(among[person].name) if person else None
        edit.wrote(Kind.LINE_FOR_MEMBER, **about(line), name=name, customer=person or None)


def open_sale(house: House, actor: Actor, person_id: int, key: str) -> int:
    """A sale for somebody who is known, from their sheet; gives the ticket."""
    person = known(house, person_id)
    door = TicketOrigin(Source.COUNTER, person.id, person.name, (person.name,))
    return open_ticket(house, actor, door, Beginning(Kind.SALE_FOR, name=Personal(person.name)), key)
