"""Benefits of memberships: they apply by themselves, say why, and can be kept for another day.

Rules here
- whose a line is decides: for whom it was said to be, else the booking's or job's person, else the ticket's
- nothing changes by itself any more once something is paid, nor on a ticket that is opened again
- what a series covers needs no benefit
- what is given so many times a year counts on tickets that were not made void
"""

from __future__ import annotations

from collections.abc import Container, Iterable, Iterator, Sequence
from dataclasses import dataclass
from datetime import timedelta
from fractions import Fraction
from typing import TYPE_CHECKING

from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Kind, Personal
from abrazo.core.loyalty import Benefit, Reachable, best_benefits, saved_by
from abrazo.core.money import total
from abrazo.core.states import AdjustmentKind
from abrazo.core.ticket import adjustment_parts, price_of_one
from abrazo.desk.context import House, NotFound
from abrazo.desk.people.people import known
from abrazo.desk.tickets.snapshot import TicketSnapshot
from abrazo.store import adjustments, benefits, bookings, jobs
from abrazo.store import memberships as memberships_kept
from abrazo.store.adjustments import AppliedAdjustment
from abrazo.store.benefits import BenefitRow
from abrazo.store.catalogue import Item
from abrazo.store.lines import LineRow
from abrazo.store.memberships import Membership

if TYPE_CHECKING:
    from abrazo.desk.tickets.change import TicketChange

YEAR = timedelta(days=365)


def memberships(house: House, person: int, ticket: int = 0) -> list[Membership]:
    """The memberships that cover somebody today, with those that a ticket is selling; while one rests it does not."""
    return memberships_of(house, [person], ticket)[person]


def memberships_of(house: House, people: Iterable[int], ticket: int = 0) -> dict[int, list[Membership]]:
    """The same of several people, by person; one statement."""
    today = house.now().date().isoformat()
    found = house.each_once(
        f"memberships {ticket}",
        people,
        lambda missing: memberships_kept.holding(house.connection, missing, today, ticket),
    )
    return {id: all_ or [] for id, all_ in found.items()}


def _held(
    house: House, person: int, ticket: int, on: Container[str] | None = None
) -> list[tuple[BenefitRow, int | None]]:
    """What somebody's memberships give, each with how often it is left; None without a limit. `on` only these items."""
    since = house.stamp(YEAR)
    found = []
    for membership in memberships(house, person, ticket):
        kind = membership.kind
        for one in house.once(("gives", kind), lambda kind=kind: benefits.gives(house.connection, kind)):  # type: ignore[misc]  # a lambda with its kind bound
            if on is not None and one.item is not None and one.item not in on:
                continue
            times = one.times
            if times is not None:
                times -= benefits.times_used(house.connection, person, one.id, since, ticket)
            found.append((one, times))
    return found


def saved(house: House, person: int | None, items: Sequence[tuple[Item, int]]) -> list[int]:
    """What benefits will take off each of some items at these prices, in minor units."""
    if person is None or not memberships(house, person):
        return [0] * len(items)
    held = [
        Benefit(b.id, Fraction(b.percent), b.item, b.report_group, left)
        for b, left in _held(house, person, 0, {i.id for i, _ in items})
    ]
    lines = [Reachable(str(n), "p", i.id, i.report_group, price, price) for n, (i, price) in enumerate(items)]
    less = saved_by(lines, {"p": held})
    return [less.get(line.line, 0) for line in lines]


def holder_of(house: House, whole: TicketSnapshot, line: LineRow) -> int | None:
    """Whose a line is, as far as benefits go."""
    if line.member is not None:
        return line.member
    if line.booking is not None:
        booking = bookings.read(house.connection, line.booking)
        return booking.person if booking else None
    if line.job is not None:
        job = jobs.read(house.connection, line.job)
        return job.person if job else None
    return whole.head.person


def fit_benefits(edit: TicketChange) -> None:
    """Let benefits apply as the ticket now stands; called after every change."""
    head, house = edit.house.head(edit.id), edit.house
    before = any(line.booking or line.job or line.member for line in edit.whole.lines) or any(
        one.benefit for one in edit.whole.given
    )
    if head is None or head.reopened_at or (head.person is None and not before):
        return  # a ticket that is opened again keeps what was given when it was sold
    whole = edit.reread()
    standing = {one.line: one for one in whole.given if one.benefit}
    if whole.open_requests or any(payment.deposit is None for payment in whole.taken):
        return
    holders = {line.id: holder_of(house, whole, line) for line in whole.standing if line.is_sale}
    people = dict.fromkeys(person for person in holders.values() if person is not None)
    if not people and not standing:
        return
    kept = benefits.kept_on(house.connection, edit.id)
    wanted = _wanted(house, whole, holders, {p: _held(house, p, edit.id) for p in people}, kept)
    for line, given in standing.items():
        now = wanted.get(line or 0)
        if now is None or (now.benefit, now.percent, now.amount) != (given.benefit, given.percent, given.amount):
            adjustments.end(house.connection, given.id, edit.at, edit.actor.staff.id)
            edit.wrote(Kind.BENEFIT_ENDED, benefit=given.benefit, name=Personal(given.reason))
        else:
            wanted.pop(line or 0)
    for given in wanted.values():
        adjustments.add(house.connection, edit.id, given)
        on = Personal(whole.line(given.line or 0).label)
        edit.wrote(Kind.BENEFIT_APPLIED, benefit=given.benefit, name=Personal(given.reason), line=given.line, text=on)


def _wanted(
    house: House,
    whole: TicketSnapshot,
    holders: dict[int, int | None],
    held: dict[int, list[tuple[BenefitRow, int | None]]],
    kept: set[str],
) -> dict[int, AppliedAdjustment]:
    grosses = {bill.id: bill.gross for bill in whole.bill.lines}
    lines = []
    prepaid = {one.line for one in whole.given if one.series is not None}
    for line in whole.standing:
        if holders.get(line.id) is not None and line.id not in prepaid:
            one = price_of_one(line.unit_price, (price for _, price in line.choices))
            facts = (line.item, line.report_group, grosses[str(line.id)], one)
            lines.append(Reachable(str(line.id), str(holders[line.id]), *facts))
    by_holder = {
        str(person): [Benefit(b.id, Fraction(b.percent), b.item, b.report_group, left) for b, left in theirs
                      if b.id not in kept] for person, theirs in held.items()
    }  # fmt: skip
    named = {b.id: b for theirs in held.values() for b, _ in theirs}
    at = house.stamp()
    return {
        int(line): AppliedAdjustment(
            0,
            int(line),
            AdjustmentKind.BENEFIT,
            None if off is not None else named[id].percent,
            off,
            named[id].name,
            "",
            at,
            whole.head.staff,
            None,
            id,
            holders[int(line)],
        )
        for line, (id, off) in best_benefits(lines, by_holder).items()
    }


@dataclass(frozen=True, slots=True)
class Applying:
    """A benefit on a ticket: what it takes off (minor units), or that it is kept for another day."""

    id: str
    name: str
    whose: str
    off: int
    kept: bool


def applying(house: House, whole: TicketSnapshot) -> list[Applying]:
    """The benefits that apply to a ticket, and those that are kept for another day."""
    return list(_applying(house, whole))


def _applying(house: House, whole: TicketSnapshot) -> Iterator[Applying]:
    given = [one for one in whole.given if one.benefit]
    for id in dict.fromkeys(one.benefit for one in given if one.benefit):
        mine = [one for one in given if one.benefit == id]
        off = total(_takes(whole, one) for one in mine)
        people = dict.fromkeys(known(house, one.person).name for one in mine if one.person)
        yield Applying(id, mine[0].reason, " and ".join(people), off, kept=False)
    person, others = whole.head.person, any(line.booking or line.job or line.member for line in whole.lines)
    if not (given or others or (person is not None and memberships(house, person))):
        return  # nobody here has any to keep
    for id in sorted(benefits.kept_on(house.connection, whole.head.id)):
        one = benefits.read_benefit(house.connection, id)
        if one is not None:
            yield Applying(id, one.name, "", 0, kept=True)


def _takes(whole: TicketSnapshot, given: AppliedAdjustment) -> int:
    """What a benefit takes off its line, in minor units."""
    gross = next(bill.gross for bill in whole.bill.lines if bill.id == str(given.line))
    of_line = [one.id for one in whole.given if one.line == given.line]
    parts = adjustment_parts(gross, whole.core_line(given.line or 0).adjustments)
    return -parts[of_line.index(given.id)]


def keep_benefit(edit: TicketChange, benefit_id: str, *, another_day: bool) -> None:
    """Keep a benefit for another day on this visit, or use it after all; inside an edit under way."""
    house = edit.house
    one = benefits.read_benefit(house.connection, benefit_id)
    if one is None:
        raise NotFound(f"no benefit {benefit_id}")
    if any(payment.deposit is None for payment in edit.whole.taken):
        raise Refused(Code.BENEFIT_SETTLED)
    (benefits.keep if another_day else benefits.use)(house.connection, edit.id, benefit_id)
    kind = Kind.BENEFIT_SAVED if another_day else Kind.BENEFIT_USED
    edit.wrote(kind, benefit=benefit_id, name=Personal(one.name))
