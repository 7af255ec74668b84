"""Past tickets: found by what is known of them, each as it was, with what can still be corrected."""

from __future__ import annotations

import json
import re
from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date, datetime, time, timedelta

from abrazo.core.errors import Code, Refused
from abrazo.core.moments import read_day, stamp_at
from abrazo.core.money import total
from abrazo.core.refunds import refundable
from abrazo.core.states import RowKind, TicketState
from abrazo.desk.context import House
from abrazo.desk.payments.ahead_back import left_to_give
from abrazo.desk.payments.goods_back import pieces_left
from abrazo.desk.payments.refunds import given_back, left_on, refunds_of, tips_left_on
from abrazo.desk.payments.views.pay_pad import read_money
from abrazo.desk.stock.stock import on_shelves
from abrazo.desk.tickets.naming import place_of, route_words
from abrazo.desk.tickets.snapshot import LineRow, TicketSnapshot, load_tickets
from abrazo.desk.till.views.till import number_of
from abrazo.store import corrections, till
from abrazo.store import ticket as ticket_store
from abrazo.store.corrections import Correction, Refund
from abrazo.store.tenders import PaymentRow
from abrazo.store.ticket import Wanted
from abrazo.words import phrases as w
from abrazo.words.speaking import date_words

PAGE = 12
SPANS = {"today": 0, "yesterday": 1, "7 days": 6, "all": -1}
FIELDS = ("q", "span", "date", "since", "until", "amount", "tender", "staff", "till")


@dataclass(frozen=True, slots=True)
class PastTicket:
    """A row of the list. Minor units."""

    id: int
    number: int
    place: str
    closed_at: str
    server: str
    till: str
    total: int
    tips: int
    routes: tuple[str, ...]
    void: bool


@dataclass(frozen=True, slots=True)
class PastPage:
    """One page of the list, counted from 1; `more` says whether another follows. `fault` is what was not understood."""

    tickets: list[PastTicket]
    page: int
    more: bool
    words: str
    fault: Refused | None = None


def past_page(house: House, typed: Mapping[str, str], page: int) -> PastPage:
    """A page of the closed tickets that fit what was typed; without anything, today's."""
    page = min(max(page, 1), 10_000)
    try:
        wanted, words = _wanted(house, typed)
    except Refused as refusal:
        return PastPage([], 1, False, house.say(w.NOTHING_LOOKED_FOR), refusal)
    ids = ticket_store.find_closed(house.connection, wanted, PAGE + 1, (page - 1) * PAGE)
    rows = [_row(house, whole) for whole in load_tickets(house, ids[:PAGE]).values()]
    return PastPage(rows, page, len(ids) > PAGE, words)


def _wanted(house: House, typed: Mapping[str, str]) -> tuple[Wanted, str]:
    """What is looked for, and in words. A number is looked for on every day."""
    question = " ".join(typed.get("q", "").split())
    number = re.fullmatch(r"T?([0-9]{1,9})", question.upper())
    since, until, words = _span(house, typed) if not number else ("", "", house.say(w.TICKET_NAME, number=question))
    amount = read_money(house, typed["amount"], "amount") if typed.get("amount", "").strip() else None
    return Wanted(
        int(number[1]) if number else None,
        since,
        until,
        typed.get("staff", ""),
        typed.get("till", ""),
        "" if number else question[:60],
        typed.get("tender", ""),
        amount,
    ), words


def _span(house: House, typed: Mapping[str, str]) -> tuple[str, str, str]:
    """From when to when, and in words."""
    span, now = typed.get("span") or "today", house.now()
    clock = [_clock(typed.get(name, ""), name) for name in ("since", "until")]
    if typed.get("date"):
        day = read_day(typed["date"], "date")
        words = date_words(house.reader, day)
    elif SPANS.get(span, 0) < 0:
        return "", "", house.say(w.EVERY_DAY)
    elif span == "7 days":
        first = datetime.combine(now.date() - timedelta(days=6), time())
        return stamp_at(first, house.zone), "", house.say(w.LAST_7_DAYS)
    else:
        day = _business_today(house) - timedelta(days=SPANS.get(span, 0))
        words = house.say(w.YESTERDAY if SPANS.get(span, 0) else w.TODAY)
    if not any(clock) and (opened := _business_day(house, day)):
        return *opened, words
    begin, end = clock[0] or "00:00", clock[1] or "23:59"
    if any(clock):
        words = house.say(w.FROM_TO, what=words, begin=begin, end=end)
    since, until = (datetime.combine(day, time.fromisoformat(at)) for at in (begin, f"{end}:59"))
    return stamp_at(since, house.zone), stamp_at(until, house.zone), words


def _business_today(house: House) -> date:
    """The business date of the open day, at any hour; the calendar's without one."""
    day = house.open_day()
    return date.fromisoformat(day.business_date) if day else house.now().date()


def _business_day(house: House, of: date) -> tuple[str, str] | None:
    """From when to when the days of a business date were open, also past midnight; None when there was none."""
    iso = of.isoformat()
    days = till.read_days(house.connection, till.days_between(house.connection, iso, iso)).values()
    if not days:
        return None
    ends = [day.closed_at or "" for day in days]
    return min(day.opened_at for day in days), "" if "" in ends else max(ends)


def _clock(text: str, where: str) -> str:
    if text.strip() and not re.fullmatch(r"([01]?[0-9]|2[0-3]):[0-5][0-9]", text.strip()):
        raise Refused(Code.NOT_TIME, where, text=text.strip())
    return text.strip().rjust(5, "0") if text.strip() else ""


def _row(house: House, whole: TicketSnapshot) -> PastTicket:
    return PastTicket(
        id=whole.head.id,
        number=whole.head.number,
        place=place_of(house, whole),
        closed_at=whole.head.closed_at or "",
        server=house.staff()[whole.head.staff].name,
        till=house.tills()[whole.head.till].name,
        total=whole.bill.total,
        tips=whole.bill.tips,
        routes=tuple(dict.fromkeys(route_words(house, payment) for payment in whole.taken)),
        void=whole.head.voided_at is not None,
    )


@dataclass(frozen=True, slots=True)
class Correctable:
    """What of a past ticket can be corrected. `left` is what can still be refunded, in minor units by payment.

    `tips_left` the same of tips; beside each line stands what of it can still go back, with its added tax;
    `pieces_left` how many pieces, of lines of more than one. `goods`: something of it is counted on shelves.
    """

    closed: bool
    day_open: bool
    payments: list[PaymentRow]
    left: dict[int, int]
    lines: list[tuple[LineRow, int]]
    tips_left: dict[int, int]
    refunds: list[Refund]
    pieces_left: dict[int, str]
    goods: bool
    made: list[Correction] = field(default_factory=list)

    @property
    def left_in_all(self) -> int:
        """What can still be refunded of all payments."""
        return total(self.left.values())


def correctable(house: House, whole: TicketSnapshot) -> Correctable:
    """What was and can be corrected on a past ticket."""
    day, connection = till.read_day(house.connection, whole.head.day), house.connection
    given = given_back(house, whole.head.id)
    worth = refundable(whole.ticket, whole.bill, given) | left_to_give(house, whole, given)
    return Correctable(
        closed=whole.head.state == TicketState.CLOSED,
        day_open=day is not None and day.closed_at is None,
        payments=whole.payments,
        left=left_on(house, whole),
        tips_left=tips_left_on(house, whole),
        lines=[(line, worth[RowKind.LINE, str(line.id)]) for line in whole.standing],
        refunds=refunds_of(house, whole.head.id),
        pieces_left=pieces_left(house, whole.standing, whole.head.id),
        goods=on_shelves(house, (line.item for line in whole.standing)),
        made=corrections.of_ticket(connection, whole.head.id),
    )


@dataclass(frozen=True, slots=True)
class HandedOn:
    """A correction that waits for a supervisor."""

    ticket: int
    number: int
    reason: str
    by: str
    at: str
    id: int
    typed: dict[str, str]
    words: str


HANDED_ON = {"refund": w.REFUND_HANDED_ON, "void": w.VOID_HANDED_ON}


def handed_on(house: House) -> list[HandedOn]:
    """What was handed on to a supervisor and is not done."""
    people, found = house.staff(), []
    for one in corrections.waiting(house.connection):
        typed = json.loads(one.typed or "{}")
        said = HANDED_ON.get(typed.get("about", ""))
        words = house.say(said, reason=one.reason) if said else one.reason
        who = (people[one.staff].name, one.at, one.id)
        found.append(HandedOn(one.ticket, number_of(house, one.ticket), one.reason, *who, typed, words))
    return found
