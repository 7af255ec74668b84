"""Hire: what is free when, a unit onto a ticket, and back again with what that costs.

Rules here
- a hire asks for what is missing and nothing else: for whom, with an e-mail address; for how long; which unit (a free
  one is proposed); which stored card secures it
- times of one unit never overlap; what is out stays out until it comes back, also beyond its due time
- a card secures until the return date and the owner's margin after it; nothing is charged to it
- what a return costs is shown before, then charged to the card that secures it; declined, it is on their account
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import UTC, date, datetime, timedelta
from math import ceil

from abrazo.core import hire as core
from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Kind, Personal
from abrazo.core.moments import read_wall, wall_of, wall_text
from abrazo.core.money import rest_of, total
from abrazo.core.states import HireEvent, RowKind, Source
from abrazo.core.tax import with_added_tax
from abrazo.desk.act import acting
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.payments import tenders
from abrazo.desk.payments.refunds import given_back
from abrazo.desk.people.people import keep_email, known
from abrazo.desk.tickets import hires as on_tickets
from abrazo.desk.tickets.change import OnTicket, TicketChange, changing
from abrazo.desk.tickets.snapshot import load_ticket
from abrazo.desk.tickets.starting import Beginning, TicketOrigin, opening_at
from abrazo.desk.tickets.ticket_lines import UNLISTED, put_on
from abrazo.formats.email_address import read_email
from abrazo.store import cards as cards_kept
from abrazo.store import hires
from abrazo.store.cards import Card
from abrazo.store.hires import Hire, HireKind, TariffRow, Unit
from abrazo.store.lines import LineRow
from abrazo.store.numbers import Series, next_number
from abrazo.words import phrases as w

LONGEST_NOTE = 200


@dataclass(frozen=True, slots=True)
class Offer:
    """What can be hired from a moment on: its tariffs with their due times, and the units that are free for each."""

    kind: HireKind
    name: str
    tariffs: list[tuple[TariffRow, str, list[Unit]]]


def tariff_of(row: TariffRow) -> core.Tariff:
    """A tariff as the core reckons with it."""
    window = None
    if row.minutes is None:
        window = core.Window(row.from_day or 0, row.from_time or "", row.to_day or 0, row.to_time or "")
    return core.Tariff(row.id, row.price, row.minutes, window)


def offers(house: House, start: datetime, item: str = "") -> list[Offer]:
    """What can be hired from a moment on, in the house's order; tariffs that do not hold then are left out."""
    taken, found = _taken(house), list[Offer]()
    units, tariffs = hires.list_units(house.connection), hires.list_tariffs(house.connection)
    for kind in on_tickets.kinds(house):
        thing = house.item(kind.item)
        if thing is None or kind.ended or item not in ("", kind.item):
            continue
        rows = list[tuple[TariffRow, str, list[Unit]]]()
        for row in tariffs:
            due = core.due_at(tariff_of(row), start) if row.item == kind.item else None
            if due is not None:
                times = (wall_text(start), wall_text(due))
                free = [one for one in units if one.item == kind.item and not _busy(house, taken, one.id, times)]
                rows.append((row, times[1], free))
        found.append(Offer(kind, thing.name, rows))
    return found


def _taken(house: House) -> list[Hire]:
    return hires.out(house.connection)


def _busy(house: House, taken: Sequence[Hire], unit: str, times: core.Times) -> bool:
    """Whether a unit is with somebody in a time; what is late stays away until now at least."""
    now = house.wall_now()
    return any(
        core.overlap(times, (one.starts_at, max(one.due_at, now) if one.starts_at <= now else one.due_at))
        for one in taken
        if one.unit == unit
    )


@dataclass(frozen=True, slots=True)
class WantedHire:
    """What is to be hired, as typed: from a date and time, or at once with both empty."""

    tariff: str
    units: Mapping[str, str] = field(default_factory=dict)  # which, by item; one that is free where none is named
    card: int = 0
    email: str = ""
    date: str = ""
    time: str = ""


def start_of(house: House, date_typed: str, time_typed: str) -> datetime:
    """From when: now, or a moment to come. Refused beside its field when that is over."""
    if not date_typed.strip() and not time_typed.strip():
        return house.now().replace(second=0, microsecond=0, tzinfo=house.zone)
    moment = read_wall(date_typed, time_typed, "from")
    if moment < house.now() - timedelta(minutes=30):
        raise Refused(Code.IN_THE_PAST, "from", moment=wall_text(moment))
    return moment.replace(tzinfo=house.zone)


def add_hire(house: House, actor: Actor, on: OnTicket, wanted: WantedHire) -> int:
    """Hire a unit out to the ticket's person; gives the hire. Refused beside what is missing or wrong."""
    with changing(house, actor, on, "hired") as edit:
        if edit.done is not None:
            return int(edit.done)
        row = next((one for one in hires.list_tariffs(house.connection) if one.id == wanted.tariff), None)
        kind = on_tickets.kind_of(house, row.item) if row else None
        if row is None or kind is None:
            raise NotFound(f"no tariff {wanted.tariff}")
        if edit.whole.head.person is None:
            raise Refused(Code.HIRE_FOR_WHOM, "person")
        start = start_of(house, wanted.date, wanted.time)
        due = core.due_at(tariff_of(row), start)
        if due is None:
            raise Refused(Code.TARIFF_NOT_THEN, "from", tariff=row.name)
        unit = _unit(house, kind, wanted.units.get(kind.item, ""), (wall_text(start), wall_text(due)))
        card = _secured(house, kind, edit.whole.head.person, wanted.card, due.date())
        _reach(edit, edit.whole.head.person, wanted.email)
        edit.answer = str(_put(edit, row, unit, (wall_text(start), wall_text(due)), card))
        return int(edit.answer)


def _put(edit: TicketChange, row: TariffRow, unit: Unit, times: core.Times, card: Card) -> int:
    house, item = edit.house, edit.house.item(row.item)
    assert item is not None
    assert edit.whole.head.person is not None
    label = house.say(w.HIRE_LINE, kind=item.name, unit=unit.id, tariff=row.name)
    facts = (item.id, label, row.price, "1", item.tax, item.report_group, edit.actor.staff.id, "", edit.at, None, None)
    line = put_on(edit, LineRow(0, *facts))
    who = edit.whole.head.person
    number = next_number(house.connection, Series.HIRE, edit.actor.till.id)
    hire = Hire(0, number, unit.id, who, line, row.id, *times, card.id, None, None, "", 0, 0, None, None, item.id,
                edit.id, closed=False, prefix=house.settings.hire_prefix)  # fmt: skip
    made = hires.add(house.connection, hire)
    hire = read_hire(house, made)
    edit.wrote(
        Kind.HIRED,
        hire=made,
        name=hire.name,
        unit=unit.id,
        customer=who,
        text=Personal(label),
        starts=times[0],
        due=times[1],
        last_four=card.last_four,
    )
    return made


def read_hire(house: House, hire: int) -> Hire:
    """A hire by id."""
    found = hires.read(house.connection, hire) if 0 < hire < 2**63 else None
    if found is None:
        raise NotFound(f"no hire {hire}")
    return found


def _unit(house: House, kind: HireKind, wanted: str, times: core.Times) -> Unit:
    taken = _taken(house)
    units = [one for one in hires.list_units(house.connection) if one.item == kind.item]
    free = [one for one in units if not _busy(house, taken, one.id, times)]
    if not wanted:
        if not free:
            raise Refused(Code.NO_UNIT_FREE, "unit")
        return free[0]
    one = next((unit for unit in units if unit.id == wanted), None)
    if one is None:
        raise NotFound(f"no unit {wanted}")
    if one not in free:
        until = max(hire.due_at for hire in taken if hire.unit == one.id)
        raise Refused(Code.UNIT_OUT, "unit", unit=one.id, until=until)
    return one


def good_cards(house: House, kind: HireKind, person: int, due: date) -> list[tuple[Card, bool]]:
    """The stored cards of somebody, and whether each secures a hire that is due on a day."""
    return [
        (card, core.secures(*_expiry(card), due, kind.margin))
        for card in cards_kept.of_person(house.connection, person)
        if not card.is_bank
    ]


def _expiry(card: Card) -> tuple[int, int]:
    month, _, year = card.expiry.partition("/")
    return 2000 + int(year), int(month)


def _secured(house: House, kind: HireKind, person: int, wanted: int, due: date) -> Card:
    """The card that secures a hire: the one that was chosen, else the first that is good for long enough."""
    found = good_cards(house, kind, person, due)
    if wanted:
        found = [(card, good) for card, good in found if card.id == wanted]
    if not found:
        raise Refused(Code.HIRE_NEEDS_CARD, "card")
    card = next((card for card, good in found if good), None)
    if card is None:
        last = core.last_valid_day(*_expiry(found[0][0])) - timedelta(days=kind.margin)
        raise Refused(Code.CARD_TOO_SHORT, "card", last_four=found[0][0].last_four, until=last.isoformat())
    return card


def _reach(edit: TicketChange, person_id: int, typed: str) -> None:
    """Somebody who hires has an e-mail address: the one that is known, or the one that is typed, which is kept."""
    person = known(edit.house, person_id)
    if not typed.strip():
        if not person.email:
            raise Refused(Code.HIRE_NEEDS_EMAIL, "email", name=person.first_name)
        return
    email = read_email(typed)
    if email != person.email:
        keep_email(edit.house, person, email)
        edit.wrote(Kind.PERSON_CHANGED, customer=person_id, name=Personal(person.name))


# ---- back


@dataclass(frozen=True, slots=True)
class Returned:
    """What a return is: the condition in words, what damage costs (minor units), or that the thing is lost."""

    note: str = ""
    damage: int = 0
    lost: bool = False


@dataclass(frozen=True, slots=True)
class Cost:
    """What a return costs now: minutes late, and late charge and damage, together at most the value; minor units.

    `comes_to` is what the card is charged: both with the tax that is `added`.
    """

    minutes: int
    late: int
    damage: int
    comes_to: int
    added: int


def cost_now(house: House, hire: Hire, returned: Returned) -> Cost:
    """What it costs to take a hire back at this moment."""
    kind = on_tickets.kind_of(house, hire.item)
    assert kind is not None
    due = wall_of(hire.due_at, house.zone).replace(tzinfo=house.zone)
    late = (house.moment() - due.astimezone(UTC)).total_seconds() / 60
    minutes = max(0, ceil(late))
    terms = core.LateTerms(kind.grace, kind.late_step, kind.late_price)
    damage = kind.value if returned.lost else returned.damage
    costs, item = core.capped(core.late_charge(terms, minutes), damage, kind.value), house.item(hire.item)
    tax = item.tax if item else None
    comes_to = with_added_tax(((tax, one) for one in costs), house.taxes(), house.settings.tax_mode)
    return Cost(minutes, *costs, comes_to, rest_of(comes_to, total(costs)))


def early_back(house: House, hire: Hire) -> int:
    """What could be given back of a hire that came back early, in minor units with added tax; 0 where nothing is.

    By the tariffs that hold now, if the house lets them decide, less what was given back of the line before.
    """
    if not house.settings.early_hires_back or hire.returned_at is None or not hire.closed:
        return 0
    start, back = (wall_of(text, house.zone).replace(tzinfo=house.zone) for text in (hire.starts_at, hire.returned_at))
    if wall_text(back) >= hire.due_at:
        return 0
    rows = hires.list_tariffs(house.connection, also=hire.tariff)
    tariffs = [tariff_of(row) for row in rows if row.item == hire.item]
    found = core.cheapest(tariffs, start, back)
    paid = {bill.id: bill.net for bill in load_ticket(house, hire.ticket).bill.lines}[str(hire.line)]
    gone = given_back(house, hire.ticket).amounts.get((RowKind.LINE, str(hire.line)), 0)
    left, item = core.left_early(paid, None if found is None else total((found[0], gone))), house.item(hire.item)
    return with_added_tax([(item.tax if item else None, left)], house.taxes(), house.settings.tax_mode)


def take_back(house: House, actor: Actor, hire_id: int, returned: Returned, key: str) -> int | None:
    """A unit comes back, or is lost. Gives the ticket on which what that costs stands, charged to the card; or None.

    Refused when it is back already, or is not out yet.
    """
    note = " ".join(returned.note.split())
    if len(note) > LONGEST_NOTE:
        raise Refused(Code.TOO_LONG, "note", most=LONGEST_NOTE, count=len(note))
    if returned.damage < 0:
        raise Refused(Code.NO_AMOUNT, "damage")
    hire = read_hire(house, hire_id)
    cost = cost_now(house, hire, returned)
    if cost.late or cost.damage:
        return _back_with_cost(house, actor, hire, replace(returned, note=note), key)
    with acting(house, actor, "hire back", key, f"hire {hire_id}") as act:
        if act.done is None:
            hire = _may_come_back(house, hire_id)
            _came_back(house, actor, hire, replace(hire, returned_at=act.at, note=note), returned)
            act.record(Kind.HIRE_BACK, hire.ticket, hire=hire.id, name=hire.name, unit=hire.unit)
    return None


def _may_come_back(house: House, hire_id: int) -> Hire:
    hire = read_hire(house, hire_id)
    if hire.returned_at is not None:
        raise Refused(Code.HIRE_RETURNED, hire=hire.name)
    if hire.starts_at > house.wall_now():
        raise Refused(Code.HIRE_NOT_OUT, hire=hire.name)
    return hire


def _came_back(house: House, actor: Actor, before: Hire, now: Hire, returned: Returned) -> None:
    hires.set_returned(house.connection, replace(now, returned_by=actor.staff.id))
    if returned.note or returned.lost:
        hires.set_unit_note(house.connection, before.unit, now.note)
    if returned.lost:
        hires.end_unit(house.connection, before.unit, now.returned_at or "")
    kind = on_tickets.kind_of(house, before.item)
    if kind is not None and kind.owner:
        amounts = {"late": now.late, "damage": now.damage}
        on_tickets.tell_owner(house, now, HireEvent.RETURNED, now.returned_at or "", amounts)


def _back_with_cost(house: House, actor: Actor, hire: Hire, returned: Returned, key: str) -> int:
    """Taken back with what that costs on a ticket of its own, charged to the card that secures it."""
    person, item = known(house, hire.person), house.item(hire.item)
    assert item is not None
    door = TicketOrigin(Source.COUNTER, person.id, person.name, (person.name,))
    begun = Beginning(Kind.SALE_FOR, name=Personal(person.name))
    with opening_at(house, actor, door, begun, key, "hire back") as edit:
        if edit.done is not None:
            return int(edit.done)
        hire = _may_come_back(house, hire.id)
        cost = cost_now(house, hire, returned)
        for amount, phrase in (
            (cost.late, w.HIRE_LATE),
            (cost.damage, w.HIRE_LOST if returned.lost else w.HIRE_DAMAGE),
        ):
            if amount:
                label = house.say(phrase, hire=hire.name, unit=hire.unit)
                facts = (
                    UNLISTED,
                    label,
                    amount,
                    "1",
                    item.tax,
                    item.report_group,
                    actor.staff.id,
                    "",
                    edit.at,
                    None,
                    None,
                )
                put_on(edit, LineRow(0, *facts))
        now = replace(
            hire, returned_at=edit.at, note=returned.note, late=cost.late, damage=cost.damage, charged_on=edit.id
        )
        _came_back(house, actor, hire, now, returned)
        edit.wrote(
            Kind.HIRE_BACK_COSTS, hire=hire.id, name=hire.name, unit=hire.unit, late=cost.late, damage=cost.damage
        )
        whole = edit.reread()
        payer = whole.payers[0].id
        sum_ = tenders.Sum(whole.payer_bill(payer).account.due)
        tenders.add_charge(edit, payer, house.devices.service.name, sum_, key, card=hire.card)
        return edit.id
