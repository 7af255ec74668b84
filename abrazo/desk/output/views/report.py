"""A day's report, of any day: what was sold, how it was paid, what the drawers held, who did it."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable

from abrazo.core.ledger import Role, given_away
from abrazo.core.money import total, totals
from abrazo.core.states import CorrectionKind, Direction, Tender
from abrazo.core.till import expected_cash, worth_of
from abrazo.desk.context import House, NotFound
from abrazo.desk.output.views.receipt import paper_date
from abrazo.desk.tickets.naming import route_words
from abrazo.desk.tickets.snapshot import TicketSnapshot, load_ticket, load_tickets
from abrazo.desk.till.drawer import as_read
from abrazo.desk.till.views.till import counts_of, drawer_of, movements, number_of
from abrazo.formats.day_report import DayReport
from abrazo.store import corrections, till
from abrazo.store import ticket as ticket_store
from abrazo.store.corrections import Correction
from abrazo.store.till import AnyDay, Count
from abrazo.words import phrases as w

STORED_USED: dict[str, str] = {
    Tender.DEPOSIT: w.DEPOSITS_USED, Tender.ACCOUNT: w.LEFT_ON_ACCOUNTS, Tender.GIFT_CARD: w.GIFT_CARDS_SPENT,
    Tender.VOUCHER: w.VOUCHERS_USED, Tender.STORE_CREDIT: w.CREDIT_SPENT, Tender.POINTS: w.POINTS_SPENT,
}  # fmt: skip
Pairs = tuple[tuple[str, str], ...]


def latest_day(house: House) -> int | None:
    """The open day, or else the one closed last."""
    day = house.open_day()
    return day.id if day else till.last_closed(house.connection)


def day_report(house: House, day_id: int) -> DayReport:
    """The report of a day, open or closed."""
    day = till.read_day(house.connection, day_id) if 0 < day_id < 2**63 else None
    if day is None:
        raise NotFound(f"no day {day_id}")
    people = house.staff()
    tickets = list(load_tickets(house, ticket_store.closed_on(house.connection, day_id)).values())
    heading = [house.say(w.OPENED_BY, at=day.opened_at, name=people[day.opened_by].name)]
    if day.closed_at and day.closed_by:
        heading.append(house.say(w.CLOSED_BY, at=day.closed_at, name=people[day.closed_by].name))
    else:
        heading.append(house.say(w.STILL_OPEN))
    if tickets:
        closed = sorted(whole.head.closed_at or "" for whole in tickets)
        heading.append(house.say(w.FIRST_AND_LAST, first=closed[0], last=closed[-1]))
    sections = [
        (house.say(w.SOLD), _sold(house, tickets)),
        (house.say(w.DEPOSITS_AND_ACCOUNTS), _stored(house, tickets)),
        (house.say(w.TAX_BY_RATE), _taxes(house, tickets)),
    ]
    apart = _anonymous(house, tickets)
    sections += [(house.say(w.COUNTER_APART), apart)] if len(apart) > 1 else []
    given = _given(house, tickets)
    sections += [(house.say(w.GIVEN_BY_REASON), given)] if given else []
    sections += [
        (house.say(w.TAKEN_BY_ROUTE), _routes(house, tickets)),
        (house.say(w.TIPS_BY_PERSON), _tips(house, tickets)),
    ]
    corrected = _corrections(house, day_id)
    sections += [(house.say(w.CORRECTIONS), corrected)] if corrected else []
    sections += [(house.say(w.TILL_NAME, name=one.name), _drawer(house, day, one.id)) for one in house.tills().values()]
    return DayReport(house.settings.name, paper_date(house, day.business_date), tuple(heading), tuple(sections),
                     house.settings.language)  # fmt: skip


ROLES = {
    Role.DEPOSIT: w.DEPOSITS_TAKEN,
    Role.ACCOUNT_PAYMENT: w.RECEIVED_ON_ACCOUNTS,
    Role.GIFT_CARD: w.GIFT_CARDS_SOLD,
    Role.VOUCHER: w.VOUCHERS_SOLD,
    Role.STORE_CREDIT: w.CREDITS_SOLD,
}


def _added(house: House, found: Iterable[tuple[str, int]]) -> Pairs:
    """Sums by words, in the order in which the words first came, each with how many there were."""
    pairs, text = list(found), house.settings.currency.text
    numbers = Counter(words for words, _ in pairs)
    return tuple((f"{numbers[words]} x {words}", text(sum_)) for words, sum_ in totals(pairs).items())


def _sold(house: House, tickets: list[TicketSnapshot]) -> Pairs:
    groups: list[tuple[str, int]] = []
    for whole in tickets:
        nets = {bill.id: bill.net for bill in whole.bill.lines}
        groups += [(line.report_group, nets[str(line.id)]) for line in whole.standing if line.is_sale]
        charges = dict(whole.bill.charges)
        groups += [(charge.label, charges[str(charge.id)]) for charge in whole.charges]
    sold = total(amount for _, amount in groups)
    return (*_added(house, groups), (house.say(w.TICKETS, number=len(tickets)), house.settings.currency.text(sold)))


def _anonymous(house: House, tickets: list[TicketSnapshot]) -> Pairs:
    """What was sold without a customer, by what it was sold from."""
    nobodys = [whole for whole in tickets if whole.head.anonymous_account and whole.head.person is None]
    return _added(house, [(whole.head.anonymous_account, whole.bill.total) for whole in nobodys])


def _given(house: House, tickets: list[TicketSnapshot]) -> Pairs:
    """What was given away and put on top, by reason, as the books have it."""
    found = [
        (account.removeprefix("income:").replace(":", ", ").replace("-", " "), amount)
        for whole in tickets
        for account, amount in given_away(whole.ticket, whole.bill)
    ]
    return _added(house, found)


def _stored(house: House, tickets: list[TicketSnapshot]) -> Pairs:
    """Deposits taken and used, money received and left on accounts."""
    found: list[tuple[str, int]] = []
    for whole in tickets:
        found += [(house.say(ROLES[ln.role]), ln.unit_price) for ln in whole.standing if not ln.is_sale]
        found += [(house.say(STORED_USED[p.tender]), p.given) for p in whole.taken if p.tender in STORED_USED]
        found += [(house.say(w.NOW_CREDIT), p.credit) for p in whole.taken if p.credit]
    return _added(house, found)


def _taxes(house: House, tickets: list[TicketSnapshot]) -> Pairs:
    found: list[tuple[str, int]] = []
    for whole in tickets:
        labels = {tax.id: tax.label or tax.id for tax in whole.ticket.taxes}
        found += [(labels[tax.id], tax.tax) for tax in whole.bill.taxes if tax.base]
    return tuple((label, house.settings.currency.text(amount)) for label, amount in totals(found).items())


def _routes(house: House, tickets: list[TicketSnapshot]) -> Pairs:
    day = next((whole.head.day for whole in tickets), 0)
    of_day = [p for whole in tickets for p in whole.payments if p.day == day and p.tender not in STORED_USED]
    taken = [
        (house.say(w.RECORDED, tender=p.tender) if p.recorded else p.route, p.given)
        for p in of_day
        if p.back_day != day
    ]
    back = [(house.say(w.TAKEN_BACK), p.given) for p in of_day if p.back_day == day]
    return _added(house, [*taken, *back])


def _corrections(house: House, day: int) -> Pairs:
    """Refunds of the day; tickets opened again or made void, in the report of their day and of the day of it."""
    text, connection, found = house.settings.currency.text, house.connection, list[tuple[str, str]]()
    refunds, made = movements(house, day).refunds, corrections.in_day(connection, day)
    house.heads(
        [*(one.ticket for one in refunds), *(one.ticket for one in made)]
    )  # read at once, then taken one by one
    for refund in refunds:
        facts = {"number": number_of(house, refund.ticket), "route": refund.route, "reason": refund.reason}
        words = house.say(w.REFUNDED_ON, **facts)
        found.append((words, text(-refund.amount)))
    for one in made:
        sold, corrected = (till.business_date(connection, day) for day in (one.of_day, one.day))
        facts = {"number": number_of(house, one.ticket), "reason": one.reason}
        said = house.say(_corrected(one), sold=sold, corrected=corrected, **facts)
        found.append((said, ""))
        if one.day != one.of_day:
            found += _moved(house, one)
    return tuple(found)


def _corrected(one: Correction) -> str:
    """The phrase of a correction: what it was, and when it was made on a later day."""
    if one.day == one.of_day:
        return w.MADE_VOID if one.kind == CorrectionKind.VOID else w.OPENED_AGAIN
    return w.MADE_VOID_LATER if one.kind == CorrectionKind.VOID else w.OPENED_AGAIN_LATER


def _moved(house: House, one: Correction) -> list[tuple[str, str]]:
    """What a correction on a later day took back and took anew."""
    text, payments = house.settings.currency.text, load_ticket(house, one.ticket).payments
    back = [
        (f"  {house.say(w.BACK, route=route_words(house, p))}", text(-p.given))
        for p in payments
        if p.back_day == one.day
    ]
    anew = [
        (f"  {house.say(w.TAKEN, route=route_words(house, p))}", text(p.given))
        for p in payments
        if p.day == one.day and not p.taken_back_at
    ]
    return [*back, *anew]


def _tips(house: House, tickets: list[TicketSnapshot]) -> Pairs:
    people = house.staff()
    found = [(staff, amount) for whole in tickets for staff, amount in whole.bill.staff_tips]
    return _added(house, [(people[staff].name if staff in people else staff, amount) for staff, amount in found])


def _drawer(house: House, day: AnyDay, till_id: str) -> Pairs:
    text = house.settings.currency.text
    drawer = drawer_of(house, day.id, till_id, day.floats.get(till_id, 0))
    pairs = [(house.say(w.FLOAT), text(drawer.float_)), (house.say(w.CASH_HANDED), text(drawer.cash_in))]
    pairs.append((house.say(w.CHANGE_GIVEN), text(-drawer.change_and_refunds)))
    for one in (each for each in movements(house, day.id).petty if each.till == till_id):
        said = house.say(w.PAID_IN if one.direction == Direction.IN else w.PAID_OUT, category=one.category)
        signed = one.amount if one.direction == Direction.IN else -one.amount
        pairs.append((", ".join([said, one.note] if one.note else [said]), text(signed)))
    pairs.append((house.say(w.EXPECTED), text(expected_cash(drawer))))
    count = counts_of(house, day.id).get(till_id)
    return (*pairs, *_counted(house, count)) if count else (*pairs, (house.say(w.DRAWER_NOT_COUNTED), ""))


def _counted(house: House, count: Count) -> list[tuple[str, str]]:
    text = house.settings.currency.text
    pieces = [
        (f"{number} x {text(value)}", text(worth_of({value: number})))
        for value, number in as_read(count.pieces).items()
    ]
    word = house.say(w.AGREES if not count.over else w.OVER if count.over > 0 else w.SHORT)
    return [
        *pieces,
        (house.say(w.COUNTED_BY, name=house.staff()[count.staff].name), text(count.total)),
        (word, text(abs(count.over))),
    ]
