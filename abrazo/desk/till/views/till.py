"""The till as it stands now."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from abrazo.core.money import total, totals
from abrazo.core.states import Direction, RequestState, Tender
from abrazo.core.till import Drawer, expected_cash, since
from abrazo.desk.context import House, Staff
from abrazo.desk.setup.tender_types import all_tenders
from abrazo.desk.tickets.snapshot import load_tickets
from abrazo.store import catalogue, corrections, drawer_sections, tenders
from abrazo.store import ticket as ticket_store
from abrazo.store import till as tills
from abrazo.store.corrections import Refund
from abrazo.store.db import Connection
from abrazo.store.drawer_sections import Section
from abrazo.store.tenders import PaymentRow
from abrazo.store.till import Banked, Count, Day, FloatRow, Petty, Till, TipPaid


@dataclass(frozen=True, slots=True)
class RouteSum:
    """What one route took, in minor units, and in how many payments."""

    route: str
    number: int
    amount: int


@dataclass(frozen=True, slots=True)
class TillPage:
    """A till's day so far. Minor units."""

    till: Till
    day: Day
    opened_by: str
    drawer: Drawer
    expected: int
    cash: RouteSum
    cards: list[RouteSum]
    recorded: list[RouteSum]
    tips: list[tuple[str, int]]
    taken_back: list[PaymentRow]
    last: list[PaymentRow]
    unknown: int
    open_tickets: int
    names: dict[str, str]
    numbers: dict[int, int]
    petty: list[Petty]
    count: Count | None
    categories: list[str]
    handed: Section | None = None  # the section before this one, when the drawer was handed over

    @property
    def gone_back(self) -> set[int]:
        """The rows of petty cash that were taken back, and those that did it."""
        return {id for one in self.petty if one.takes_back for id in (one.takes_back, one.id)}

    @property
    def taken(self) -> int:
        """What was taken at this till by all routes."""
        return total(one.amount for one in (self.cash, *self.cards, *self.recorded))

    @property
    def float_width(self) -> float:
        """The float's part of what the drawer should hold, as a width of 1000."""
        return min(1000.0, 1000 * self.drawer.float_ / (self.expected or 1))


def counts_of(house: House, day: int) -> dict[str, Count]:
    """The last count of each drawer on a day, by till; drawers that were not counted are left out."""
    return house.once(("counts", day), lambda: tills.counts_of(house.connection, day))


@dataclass(frozen=True, slots=True)
class Movements:
    """What moved on a day at all tills: payments, what went back, refunds, money paid out and in."""

    payments: list[PaymentRow]
    back: list[PaymentRow]
    refunds: list[Refund]
    petty: list[Petty]
    banked: list[Banked]
    tips: list[TipPaid]


def movements(house: House, day: int) -> Movements:
    """What moved on a day; six statements, however many tills there are."""
    return house.once(("movements", day), lambda: _movements(house.connection, day))


def _movements(connection: Connection, day: int) -> Movements:
    return Movements(
        payments=tenders.payments_on(connection, day),
        back=tenders.taken_back_on(connection, day),
        refunds=corrections.refunds_on(connection, day),
        petty=tills.petty_on(connection, day),
        banked=tills.banked_on(connection, day),
        tips=tills.tips_paid_on(connection, day),
    )


def float_rows(house: House, day: int) -> dict[str, FloatRow]:
    """With what every drawer began a day; one that nobody opened began with what it was left with."""
    return house.once(("floats", day), lambda: _float_rows(house, day))


def sections_of(house: House, day: int) -> list[Section]:
    """The drawers that were handed over on a day, in their order."""
    return house.once(("sections", day), lambda: drawer_sections.of_day(house.connection, day))


def _float_rows(house: House, day: int) -> dict[str, FloatRow]:
    counted, left = tills.floats_of(house.connection, day), tills.left_before(house.connection, day)
    unseen = {till: FloatRow(till, left.get(till, 0), "", left.get(till, 0), None) for till in house.tills()}
    return unseen | counted


def drawer_of(house: House, day: int, till_id: str) -> Drawer:
    """The cash movements of one till on a day, in minor units; since it was handed over, if it was."""
    moved, mine = movements(house, day), [one for one in sections_of(house, day) if one.till == till_id]
    if not mine:
        return drawer_in(moved, day, till_id, float_rows(house, day)[till_id].amount)
    return since(drawer_in(moved, day, till_id, mine[-1].total), mine[-1].moved)


def drawer_in(moved: Movements, day: int, till_id: str, began: int) -> Drawer:
    """What moved in one drawer all day, of what moved at all tills; `began` is its float, minor units."""
    here = (day, till_id)
    payments = [p for p in moved.payments if p.till == till_id and p.tender == Tender.CASH]
    cash = [p for p in payments if (p.back_day, p.back_till) != here]
    back = [p for p in moved.back if p.back_till == till_id and p.tender == Tender.CASH]
    of_others = [p for p in back if (p.day, p.till) != here]
    refunds = [r for r in moved.refunds if r.till == till_id and r.route == Tender.CASH]
    petty = [one for one in moved.petty if one.till == till_id]
    return Drawer(
        began,
        cash_in=total(payment.handed for payment in cash),
        change_and_refunds=total(
            [*(p.change for p in cash), *(p.given for p in of_others), *(refund.handed for refund in refunds)]
        ),
        paid_out=total(one.amount for one in petty if one.direction == Direction.OUT),
        paid_in=total(one.amount for one in petty if one.direction == Direction.IN),
        tips_paid_out=total(one.amount for one in moved.tips if one.till == till_id),
        banked=total(one.amount for one in moved.banked if one.till == till_id and not one.closing),
    )


def till_page(house: House, till: Till, of: Staff | None = None) -> TillPage:
    """What a till has taken since the day opened; tips of everybody, or only `of` somebody."""
    day, people = house.day(), house.staff()
    moved = movements(house, day.id)
    payments = [payment for payment in moved.payments if payment.till == till.id]
    standing = [payment for payment in payments if payment.taken_back_at is None]
    cash = [payment for payment in standing if payment.tender == Tender.CASH]
    drawer = drawer_of(house, day.id, till.id)
    handed = [one for one in sections_of(house, day.id) if one.till == till.id]
    first = handed[-1].petty if handed else 0
    machines = sorted({payment.machine for payment in standing if payment.machine})
    return TillPage(
        till=till,
        day=day,
        opened_by=people[day.opened_by].name,
        drawer=drawer,
        expected=expected_cash(drawer),
        cash=_sum("cash", cash),
        cards=[_sum(machine, [p for p in standing if p.machine == machine]) for machine in machines],
        recorded=[_sum(one, [p for p in standing if p.tender == one]) for one in _recorded(house, standing)],
        tips=[one for one in _tips(house, standing) if of is None or one[0] == of.name],
        taken_back=[payment for payment in payments if payment.taken_back_at],
        last=list(reversed(payments))[:12],
        unknown=sum(ask.state == RequestState.UNKNOWN for ask in tenders.open_requests(house.connection)),
        open_tickets=len(ticket_store.list_open(house.connection)),
        names={staff.id: staff.name for staff in people.values()},
        numbers=numbers_of(house, [p.ticket for p in payments]),
        petty=[one for one in moved.petty if one.till == till.id and one.id > first],
        handed=handed[-1] if handed else None,
        count=counts_of(house, day.id).get(till.id),
        categories=tills.petty_categories(house.connection),
    )


def _recorded(house: House, payments: list[PaymentRow]) -> list[str]:
    """The tenders that were recorded here, in the house's order."""
    used = {payment.tender for payment in payments if payment.recorded}
    return [tender.id for tender in all_tenders(house) if tender.id in used]


def number_of(house: House, ticket: int) -> int:
    """A ticket's number."""
    return numbers_of(house, [ticket])[ticket]


def numbers_of(house: House, tickets: Iterable[int]) -> dict[int, int]:
    """The numbers of tickets that are there, by id; one statement."""
    return {id: head.number for id, head in house.heads(tickets).items() if head is not None}


def _sum(route: str, payments: list[PaymentRow]) -> RouteSum:
    return RouteSum(route, len(payments), total(payment.given for payment in payments))


def _tips(house: House, payments: list[PaymentRow]) -> list[tuple[str, int]]:
    """Tips by staff on the tickets that took money here today."""
    people, tickets = house.staff(), load_tickets(house, [payment.ticket for payment in payments]).values()
    found = totals(tip for whole in tickets if whole.bill.due == 0 for tip in whole.bill.staff_tips)
    return [(people[staff].name if staff in people else staff, amount) for staff, amount in found.items()]


def denominations(house: House) -> list[tuple[int, bool]]:
    """The currency's pieces, ascending: (minor units, is a note)."""
    return catalogue.list_denominations(house.connection)


def is_open(house: House) -> bool:
    """Whether a day is open."""
    return tills.open_day(house.connection) is not None
