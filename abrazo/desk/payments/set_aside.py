"""Goods set aside until they are paid: the first payment, for how long, and cancelling with its fee.

Rules here
- goods are set aside for somebody, once at least the house's percent of them is paid
- who cancels gets back what was paid less the fee, by the ways it came, the latest first
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import timedelta
from fractions import Fraction

from abrazo.core import layaway as core
from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Kind, Personal
from abrazo.core.moments import read_day
from abrazo.core.money import rest_of
from abrazo.desk.context import Actor, House
from abrazo.desk.payments import closing, refunds
from abrazo.desk.payments.refunds import RefundWanted
from abrazo.desk.people.people import known
from abrazo.desk.permissions import Right, need
from abrazo.desk.tickets.change import OnTicket, changing
from abrazo.desk.tickets.layaways import end_layaway, fit_layaway, kept_on
from abrazo.desk.tickets.snapshot import TicketSnapshot, load_ticket
from abrazo.desk.tickets.ticket_lines import UNLISTED, put_on
from abrazo.store import layaways
from abrazo.store import lines as lines_kept
from abrazo.store.layaways import Layaway
from abrazo.store.lines import LineRow
from abrazo.store.numbers import Series, next_number
from abrazo.store.people import Person
from abrazo.words import phrases as w

LONGEST_YEARS = 2


@dataclass(frozen=True, slots=True)
class SetAside:
    """What setting a ticket's goods aside takes: until when usually (ISO date), and the least first payment."""

    until: str
    first: int


def terms_for(house: House, whole: TicketSnapshot) -> SetAside:
    """The house's terms for a ticket."""
    settings = house.settings
    first = core.first_payment(whole.bill.total, Fraction(settings.layaway_percent), whole.ticket.cash_rounding)
    return SetAside((house.now().date() + timedelta(days=settings.layaway_days)).isoformat(), first)


def set_aside(house: House, actor: Actor, on: OnTicket, until: str) -> None:
    """Set a ticket's goods aside until a day. Refused for nobody, before the first payment, for what is no goods."""
    with changing(house, actor, on, "set aside") as edit:
        if edit.done is not None:
            return
        whole = edit.whole
        if whole.head.person is None:
            raise Refused(Code.SET_ASIDE_FOR_WHOM, "until")
        if layaways.of_ticket(house.connection, edit.id) is not None:
            raise Refused(Code.SET_ASIDE_ALREADY, "until")
        if not whole.standing or any(line.booking or line.job or not line.is_sale for line in whole.standing):
            raise Refused(Code.NOT_TO_SET_ASIDE, "until")
        last, today = read_day(until, "until"), house.now().date()
        if last < today or last.year - today.year > LONGEST_YEARS:
            raise Refused(Code.SET_ASIDE_UNTIL, "until", years=LONGEST_YEARS)
        first = terms_for(house, whole).first
        if whole.bill.paid < first:
            raise Refused(Code.SET_ASIDE_FIRST, "until", first=first, paid=whole.bill.paid)
        number = next_number(house.connection, Series.LAYAWAY, actor.till.id)
        settings, who = house.settings, Personal(known(house, whole.head.person).name)
        facts = (edit.id, number, last.isoformat(), 0, edit.at, actor.staff.id)
        kept = Layaway(*facts, prefix=settings.aside_prefix, taxed=settings.tax_on_advances)
        layaways.add(house.connection, kept)
        edit.wrote(Kind.SET_ASIDE, name=kept.name, customer=whole.head.person, text=who, until=last.isoformat())
        house.forget()
        fit_layaway(edit)


@dataclass(frozen=True, slots=True)
class SetAsideCard:
    """Goods set aside as they are listed; minor units."""

    layaway: Layaway
    person: Person
    goods: str
    total: int
    due: int
    late: bool


def cards(house: House) -> list[SetAsideCard]:
    """What is set aside now."""
    today, found = house.now().date().isoformat(), list[SetAsideCard]()
    for one in layaways.kept(house.connection):
        whole = load_ticket(house, one.ticket)
        goods = ", ".join(dict.fromkeys(line.label for line in whole.standing))
        who = known(house, whole.head.person or 0)
        found.append(SetAsideCard(one, who, goods, whole.bill.total, whole.bill.due, one.until < today))
    return found


def fee_of(house: House, whole: TicketSnapshot) -> int:
    """What is kept of what was paid when it is cancelled now, in minor units."""
    return core.fee_kept(whole.bill.paid, None, Fraction(house.settings.layaway_fee))


def cancel(house: House, actor: Actor, on: OnTicket) -> int:
    """Cancel it: the goods are free again, the fee is kept, the rest goes back. Gives what goes back, in minor units.

    Needs the right to refund. The ticket is closed with what was paid, and the rest of that refunded by its routes.
    """
    need(actor, Right.REFUND)
    with changing(house, actor, on, "not taken") as edit:
        if edit.done is not None:
            return int(edit.done)
        if kept_on(house, edit.id) is None:
            raise Refused(Code.NOT_SET_ASIDE)
        if edit.whole.open_requests:
            raise Refused(Code.TABLE_WAITS_FOR_MACHINE)
        paid, back = edit.whole.bill.paid, rest_of(edit.whole.bill.paid, fee_of(house, edit.whole))
        end_layaway(edit, cancelled=True)
        for line in edit.whole.standing:
            lines_kept.remove_line(house.connection, line.id, edit.at, actor.staff.id)
        label = house.say(w.SET_ASIDE_FEE)
        what = (UNLISTED, label, paid, "1", house.settings.layaway_tax, house.say(w.SET_ASIDE_FEES))
        put_on(edit, LineRow(0, *what, actor.staff.id, "", edit.at, None, None))
        edit.answer = str(back)
    closing.free_table(house, actor, OnTicket(on.id, None, f"{on.key}-closed"))
    _give_back(house, actor, on, back)
    return back


def _give_back(house: House, actor: Actor, on: OnTicket, back: int) -> None:
    """What goes back, by the ways it came, the latest first."""
    for payment in reversed(load_ticket(house, on.id).taken):
        left = refunds.left_on(house, load_ticket(house, on.id)).get(payment.id, 0)
        part = min(back, left)
        if part > 0:
            wanted = RefundWanted(payment.id, part)
            key = OnTicket(on.id, None, f"{on.key}-{payment.id}")
            refunds.refund(house, actor, key, wanted, house.say(w.SET_ASIDE_BACK))
            back = rest_of(back, part)
