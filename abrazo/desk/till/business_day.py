"""Closing the day: by right, when every drawer that moved is counted and nothing is in the way; then it is sealed."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from abrazo.core.errors import Code, Refused
from abrazo.core.figures import Booked
from abrazo.core.journal import Kind, Personal
from abrazo.core.ledger import banked_postings
from abrazo.core.series import expired
from abrazo.core.till import expected_cash, left_after
from abrazo.desk.act import Act, acting
from abrazo.desk.context import Actor, House
from abrazo.desk.permissions import Right
from abrazo.desk.tickets.series import free_of, worth_of
from abrazo.desk.till.counting import post_over
from abrazo.desk.till.owed_standing import keep_standing
from abrazo.desk.till.views.day_figures import figures_so_far
from abrazo.desk.till.views.till import counts_of, drawer_of, float_rows
from abrazo.formats.sealed_report import sealed_text
from abrazo.store import figures, journal, tenders, till
from abrazo.store import series as series_store
from abrazo.store import ticket as ticket_store
from abrazo.store.till import Banked


def in_the_way(house: House) -> list[Refused]:
    """Everything that keeps the day from being closed."""
    found = []
    open_tickets = house.heads(ticket_store.list_open(house.connection)).values()
    if open_tickets:
        numbers = ", ".join(str(head.number) for head in open_tickets if head)
        found.append(Refused(Code.TICKETS_OPEN, count=len(open_tickets), numbers=numbers))
    asks = [ask for ask in tenders.open_requests(house.connection) if ask.blocks]
    if asks:
        found.append(Refused(Code.CHARGES_OPEN, count=len(asks)))
    return found + uncounted(house)


def uncounted(house: House) -> list[Refused]:
    """The drawers that are still to be counted."""
    day, found = house.day(), []
    counts = counts_of(house, day.id)
    for one in house.tills().values():
        drawer, count = drawer_of(house, day.id, one.id), counts.get(one.id)
        if count is None and drawer.moved:
            found.append(Refused(Code.NOT_COUNTED, till=one.name))
        elif count is not None and count.expected != expected_cash(drawer):
            found.append(Refused(Code.MOVED_AFTER_COUNT, till=one.name))
    return found


def close_day(house: House, actor: Actor, key: str, banked: Mapping[str, int] | None = None) -> int:
    """Close the open day; over and short are posted. Gives the day's id. All that is in the way is said at once.

    `banked`: what of each counted drawer goes to the bank or the safe, minor units by till; the rest is the next float.
    """
    with acting(house, actor, "day closed", key, needs=Right.CLOSE_DAY) as act:
        if act.done is not None:
            return int(act.done)
        problems = in_the_way(house)
        if problems:
            raise Refused(Code.IN_THE_WAY, problems=tuple(problems))
        day = house.day()
        for till_id in house.tills():
            _leave(act, till_id, (banked or {}).get(till_id, 0))
        _expire_series(act, day.business_date)
        act.record(Kind.DAY_CLOSED, date=day.business_date, lender=act.by)
        till.close_day(act.connection, day.id, act.at, actor.staff.id)
        seal_day(house, day.id)
        act.answer = str(day.id)
    return day.id


def _leave(act: Act, till_id: str, banked: int) -> None:
    """A drawer at the end of the day: over or short, what goes to the bank, what stays."""
    house, day = act.house, act.house.day()
    count, began = counts_of(house, day.id).get(till_id), float_rows(house, day.id)[till_id]
    held = count.total if count else expected_cash(drawer_of(house, day.id, till_id))
    if banked < 0:
        raise Refused(Code.NEGATIVE_TOTAL, bank_field(till_id))
    if banked > held:
        raise Refused(Code.MORE_THAN_COUNTED, bank_field(till_id))
    if count:
        post_over(act, till_id, count.over)
    if banked:
        till.add_banked(act.connection, day.id, Banked(till_id, act.actor.staff.id, act.at, banked, True))
        act.record(Kind.BANKED, None, Booked(banked_postings(till_id, banked)), of_till=till_id, amount=banked)
    left = left_after(held, banked)
    if till_id in day.floats:
        till.set_left(act.connection, day.id, till_id, left)
    elif count or left != began.amount:  # it moved without having been opened
        till.add_float(act.connection, day.id, replace(began, left=left))


def _expire_series(act: Act, date: str) -> None:
    """What nobody had of the series whose last day is over is the house's."""
    for one in series_store.over_on(act.connection, date):
        left = free_of(one)
        for number in left:
            worth = worth_of(one, [number])
            series_store.add_use(act.connection, (one.id, number), act.at, worth=worth)
        if left:
            worth, name = worth_of(one, left), Personal(one.name)
            act.record(
                Kind.SERIES_EXPIRED,
                one.ticket,
                expired(worth, len(left)),
                series=one.id,
                customer=one.person,
                count=len(left),
                amount=worth,
                name=name,
            )


def bank_field(till_id: str) -> str:
    """The field in which stands what of a drawer goes to the bank."""
    return f"bank-{till_id}"


def seal_day(house: House, day_id: int) -> None:
    """Keep the figures of a day that was just closed; nothing changes them from here on."""
    house.forget()
    day = till.read_day(house.connection, day_id)
    assert day is not None
    keep_standing(house, day_id)
    entries, head = journal.head(house.connection)
    figures.seal(house.connection, day_id, sealed_text(figures_so_far(house, day)), entries, head)
