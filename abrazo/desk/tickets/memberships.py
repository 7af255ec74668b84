"""Memberships: sold as a line, or given; renewed, resting for a while, ended.

Rules here
- one is sold to whoever the line is for, from the day of the sale; who is a member of that kind already goes on from
  the old end; it holds as soon as it stands on the ticket, and for good when that is closed
- giving, resting and ending one needs a right; selling one does not
- what is left of one that was sold is given back by refunding its line
"""

from __future__ import annotations

from collections.abc import Mapping
from datetime import date
from typing import TYPE_CHECKING

from abrazo.core import memberships as core
from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Kind, Personal
from abrazo.core.moments import read_day
from abrazo.core.sale_books import Ref
from abrazo.core.states import RowKind
from abrazo.desk.act import Facts, acting
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.people.people import known
from abrazo.desk.permissions import Right
from abrazo.desk.tickets.benefits import holder_of
from abrazo.store import memberships as memberships_kept
from abrazo.store.memberships import Membership, MembershipItem

if TYPE_CHECKING:
    from abrazo.desk.tickets.change import TicketChange

LONGEST_YEARS = 5  # of a membership that is given, and of its rest


def kinds(house: House) -> list[tuple[str, str]]:
    """The kinds of membership that the house has: id and name."""
    return [(one.id, one.name) for one in memberships_kept.list_kinds(house.connection)]


def sold_by(house: House, item: str) -> MembershipItem | None:
    """What membership an item sells; None when it is another item."""
    return next((one for one in items(house) if one.item == item), None)


def items(house: House) -> list[MembershipItem]:
    """The items that sell memberships."""
    return house.once("membership items", lambda: memberships_kept.list_items(house.connection))


def of_person(house: House, person: int) -> list[Membership]:
    """Somebody's own memberships that hold or will, the one that ends first comes first."""
    today = house.now().date().isoformat()
    return [one for one in memberships_kept.of_person(house.connection, person) if one.until >= today]


def rests(house: House, one: Membership) -> list[tuple[str, str]]:
    """When a membership rests now or later: first and last days, ISO."""
    today = house.now().date().isoformat()
    return [days for days in memberships_kept.pauses(house.connection, one.id) if days[1] >= today]


def renewing(house: House, one: Membership) -> str:
    """The item that sells a membership of the same kind; empty when there is none."""
    return next((sells.item for sells in items(house) if sells.kind == one.kind and not sells.ended), "")


def next_term(house: House, person: int, sells: MembershipItem) -> core.Term:
    """From when to when somebody is a member who buys an item now."""
    today = house.now().date()
    held = [one for one in of_person(house, person) if one.kind == sells.kind]
    return core.renewed(_term(held[-1]), sells.months) if held else core.term(today, sells.months)


def _term(one: Membership) -> core.Term:
    first = date.fromisoformat(one.since)
    return core.Term(first, date.fromisoformat(one.until), date.fromisoformat(one.anchor) if one.anchor else first)


# ---- given


def give_membership(house: House, actor: Actor, person: int, kind: str, until: str, key: str) -> None:
    """Write down that somebody is a member from today to a day."""
    with acting(house, actor, "membership", key, f"person {person}", Right.GIVE_MEMBERSHIPS) as act:
        if act.done is not None:
            return
        who, names, today = known(house, person), dict(kinds(house)), house.now().date()
        if kind not in names:
            raise Refused(Code.NO_MEMBERSHIP, "until")
        last = read_day(until, "until", f"{today.year + 1}-04-30")
        if last < today:
            raise Refused(Code.MEMBERSHIP_OVER, "until")
        if last.year - today.year > LONGEST_YEARS:
            raise Refused(Code.MEMBERSHIP_LONG, "until", years=LONGEST_YEARS)
        made = Membership(0, person, kind, names[kind], today.isoformat(), last.isoformat())
        memberships_kept.add(act.connection, made, actor.staff.id)
        membership, name = Personal(names[kind]), Personal(who.name)
        facts: Facts = {"customer": person, "membership": kind, "until": last.isoformat()}
        act.record(Kind.MEMBERSHIP_GIVEN, **facts, name=name, called=membership, lender=act.by)
        act.answer = str(person)


def end_membership(house: House, actor: Actor, person: int, membership: int) -> None:
    """Somebody's membership ends now; what it gave stays given."""
    with acting(house, actor, "set-up", needs=Right.GIVE_MEMBERSHIPS) as act:
        who = known(house, person)
        _own(house, person, membership)
        memberships_kept.end(act.connection, membership, act.at)
        act.record(
            Kind.MEMBERSHIP_ENDED, customer=person, membership=membership, name=Personal(who.name), lender=act.by
        )


def _own(house: House, person: int, membership: int) -> Membership:
    found = memberships_kept.read(house.connection, membership)
    if found is None or found.person != person:
        raise NotFound(f"no membership {membership} of person {person}")
    return found


def pause_membership(house: House, actor: Actor, person: int, membership: int, days: tuple[str, str], key: str) -> None:
    """A membership rests from a day to a day, as typed; its end moves by as many days."""
    with acting(house, actor, "membership", key, f"rest {membership}", Right.GIVE_MEMBERSHIPS) as act:
        if act.done is not None:
            return
        one, today = _own(house, person, membership), house.now().date()
        first, last = read_day(days[0], "rest-from"), read_day(days[1], "rest-to")
        if first < today or first > date.fromisoformat(one.until):
            raise Refused(Code.REST_OUTSIDE, "rest-from", until=one.until)
        if last < first or last.year - today.year > LONGEST_YEARS:
            raise Refused(Code.REST_BACKWARDS, "rest-to", years=LONGEST_YEARS)
        rests = memberships_kept.pauses(act.connection, membership)
        if any(began <= last.isoformat() and ended >= first.isoformat() for began, ended in rests):
            raise Refused(Code.REST_TWICE, "rest-from")
        until = core.paused(date.fromisoformat(one.until), first, last).isoformat()
        memberships_kept.set_days(act.connection, membership, one.since, until, one.anchor)
        memberships_kept.add_pause(
            act.connection, membership, (first.isoformat(), last.isoformat()), act.at, actor.staff.id
        )
        name, called = Personal(known(house, person).name), Personal(one.name)
        act.record(
            Kind.MEMBERSHIP_RESTS,
            customer=person,
            membership=membership,
            name=name,
            called=called,
            first=first.isoformat(),
            last=last.isoformat(),
            until=until,
            lender=act.by,
        )


# ---- sold


def sell(edit: TicketChange, sells: MembershipItem, line: int) -> None:
    """A line that was just put on sells a membership. Refused when nobody is known to whom."""
    row = next(one for one in edit.reread().standing if one.id == line)
    holder = holder_of(edit.house, edit.whole, row)
    if holder is None:
        raise Refused(Code.SOLD_TO_SOMEBODY, "item", item=row.label)
    days = _days(edit, holder, sells)
    made = Membership(0, holder, sells.kind, row.label, *days[:2], line=line, anchor=days[2])
    memberships_kept.add(edit.house.connection, made, edit.actor.staff.id)


def _days(edit: TicketChange, holder: int, sells: MembershipItem, without: int = 0) -> tuple[str, str, str]:
    """First day, last day and anchor of one that is being sold: after those that somebody has, or buys with it."""
    here = memberships_kept.on_ticket(edit.house.connection, edit.id)
    mine = [one for one in here if one.person == holder and one.kind == sells.kind and one.id != without]
    term = core.renewed(_term(mine[-1]), sells.months) if mine else next_term(edit.house, holder, sells)
    return term.first.isoformat(), term.last.isoformat(), term.anchor.isoformat()


def fit_memberships(edit: TicketChange) -> None:
    """A membership that is being sold is for whom its line is; called after every change."""
    connection = edit.house.connection
    for one in memberships_kept.on_ticket(connection, edit.id):
        line = edit.reread().line(one.line or 0)
        holder, sells = holder_of(edit.house, edit.whole, line), sold_by(edit.house, line.item)
        if holder is None:
            raise Refused(Code.SOLD_TO_SOMEBODY, "q", item=line.label)
        if holder != one.person and sells is not None:
            memberships_kept.set_person(connection, one.id, holder)
            memberships_kept.set_days(connection, one.id, *_days(edit, holder, sells, one.id))


def close_memberships(edit: TicketChange, nets: Mapping[Ref, int]) -> None:
    """A closing ticket has sold its memberships; `nets` are its rows without tax, in minor units."""
    for one in memberships_kept.on_ticket(edit.house.connection, edit.id):
        memberships_kept.set_net(edit.house.connection, one.id, nets[RowKind.LINE, str(one.line)])
        edit.wrote(
            Kind.MEMBERSHIP_SOLD,
            membership=one.id,
            customer=one.person,
            name=Personal(one.whose),
            called=Personal(one.name),
            first=one.since,
            until=one.until,
        )


def reopen_memberships(edit: TicketChange) -> None:
    """A ticket that is opened again has sold nothing yet."""
    for one in memberships_kept.on_ticket(edit.house.connection, edit.id):
        memberships_kept.set_net(edit.house.connection, one.id, None)


def left_worth(house: House, one: Membership) -> int:
    """What the days of a membership after today are worth without tax, in minor units."""
    first, last = date.fromisoformat(one.since), date.fromisoformat(one.until)
    return core.worth_left(one.net or 0, first, last, house.now().date())


def end_early(edit: TicketChange, one: Membership) -> None:
    """What was left of a membership is given back: today is its last day, or it never began."""
    today = edit.house.now().date().isoformat()
    if one.since > today:
        memberships_kept.end(edit.house.connection, one.id, edit.at)
    else:
        memberships_kept.set_days(edit.house.connection, one.id, one.since, today, one.anchor)
    edit.wrote(Kind.MEMBERSHIP_ENDED, customer=one.person, membership=one.id, name=Personal(one.whose))
