"""Picking items onto a ticket, and changing, giving and removing its lines."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace
from fractions import Fraction

from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Kind, Personal
from abrazo.core.ledger import Role
from abrazo.desk.act import Facts
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.permissions import Right, need
from abrazo.desk.tickets import hires, memberships, prep, series
from abrazo.desk.tickets.change import OnTicket, TicketChange, changing
from abrazo.desk.tickets.made_lines import check_removal
from abrazo.desk.tickets.price_lists import prices_now
from abrazo.desk.tickets.snapshot import TicketSnapshot
from abrazo.store import bookings, catalogue, jobs
from abrazo.store import guests as guests_kept
from abrazo.store import lines as lines_kept
from abrazo.store.catalogue import ChoiceGroup, GroupChoice
from abrazo.store.lines import LineRow

LONGEST_NOTE = 120
USUALLY_BELOW = 500_000  # minor units of an unlisted item, without a further word
LONGEST_LABEL = 60
UNLISTED = "unlisted"  # the item of lines that the catalogue does not know


@dataclass(frozen=True, slots=True)
class Picked:
    """An item as it was picked: choices by id, guests by letter (none: the table), who serves it if not oneself."""

    item: str
    quantity: str = "1"
    choices: tuple[str, ...] = ()
    guests: tuple[str, ...] = ()
    note: str = ""
    staff: str = ""


def add_line(house: House, actor: Actor, on: OnTicket, picked: Picked) -> None:
    """Put an item on the ticket. Refused, with the field to mend, when a required choice is missing."""
    with changing(house, actor, on, "line added") as edit:
        if edit.done is not None:
            return
        put_picked(edit, picked)


def put_picked(edit: TicketChange, picked: Picked) -> None:
    """An item comes onto the ticket of an edit under way, and goes to its place at once where the house wants it so."""
    line, whose = line_of(edit, picked), "+".join(picked.guests)
    if hires.kind_of(edit.house, picked.item) is not None:
        raise Refused(Code.HIRE_ASKS, "item", item=line.label)
    kind, membership = series.kind_of(edit.house, picked.item), memberships.sold_by(edit.house, picked.item)
    if kind is None and membership is None:
        put_on(edit, line, whose)
    for _ in range(int(line.quantity) if kind or membership else 0):  # one on each line
        if kind is not None:
            series.sell(edit, kind, put_on(edit, replace(line, quantity="1", role=Role.SERIES), whose))
        elif membership is not None:
            memberships.sell(edit, membership, put_on(edit, replace(line, quantity="1"), whose))
    prep.send_if_at_once(edit)


def add_again(house: House, actor: Actor, on: OnTicket, line_ids: Sequence[int]) -> None:
    """The same again: a round's lines once more, with the prices of now."""
    with changing(house, actor, on, "line added") as edit:
        if edit.done is not None:
            return
        prices = prices_now(house, edit.whole.head.price_list)
        for line_id in line_ids:
            line = edit.whole.line(line_id)
            item = house.item(line.item)
            if (
                item is None
                or line.item == UNLISTED
                or line.booking
                or line.job
                or not line.is_sale
                or is_alone(house, line)
            ):
                raise Refused(Code.NOT_AGAIN, "line", line=line.label)
            facts = {"unit_price": prices.of(item).price, "price_list": prices.named(item.id), "added_at": edit.at}
            put_on(edit, replace(line, id=0, staff=actor.staff.id, **facts))  # type: ignore[arg-type]  # facts by field name
        prep.send_if_at_once(edit)


def about(line: LineRow) -> Facts:
    """A line as the facts of a journal entry."""
    return {"line": line.id, "item": line.item, "quantity": line.quantity, "text": Personal(described(line))}


def described(line: LineRow) -> str:
    """A line in words: quantity, label and choices."""
    choices = ", ".join(label for label, _ in line.choices)
    many = f"{line.quantity} {line.unit} of" if line.unit else f"{line.quantity} ×"
    return f"{many} {line.label}" + (f" ({choices})" if choices else "")


def add_unlisted(house: House, actor: Actor, on: OnTicket, label: str, amount: int, kind: str) -> None:
    """Put something on the ticket that is not on the list; `kind` is the report group that fixes its tax."""
    label = " ".join(label.split())
    if not label:
        raise Refused(Code.NO_LABEL, "label")
    if len(label) > LONGEST_LABEL:
        raise Refused(Code.TOO_LONG, "label", most=LONGEST_LABEL, count=len(label))
    if amount <= 0:
        raise Refused(Code.NO_AMOUNT, "price")
    taxes = dict(catalogue.list_kinds(house.connection))
    if kind not in taxes:
        raise Refused(Code.NO_ITEM_KIND, "kind")
    with changing(house, actor, on, "line added") as edit:
        if edit.done is None:
            _large(house, actor, amount)
            line = LineRow(0, UNLISTED, label, amount, "1", taxes[kind], kind, actor.staff.id, "", edit.at, None, None)
            put_on(edit, line)


def _large(house: House, actor: Actor, amount: int) -> None:
    """An amount that hardly anything costs is a slip of the finger or worse: by right."""
    if amount > USUALLY_BELOW:
        try:
            need(actor, Right.SET_PRICE)
        except Refused as refusal:
            raise Refused(Code.UNLISTED_LARGE, refusal.where, amount=amount) from None


def put_on(edit: TicketChange, line: LineRow, whose: str = "") -> int:
    """A line comes onto the ticket of an edit under way; whoever had paid owes again for it. Gives its id."""
    if edit.whole.payers and all(payer.settled_at for payer in edit.whole.payers):
        for payer in edit.whole.payers:
            guests_kept.unsettle_payer(edit.house.connection, payer.id)
    made = lines_kept.add_line(edit.house.connection, edit.id, line)
    edit.wrote(Kind.LINE_ADDED, guests=whose or None, **about(replace(line, id=made)))
    return made


def line_of(edit: TicketChange, picked: Picked) -> LineRow:
    """The line that an item makes as it was picked, with its price of now. Refused beside the field to mend."""
    item = edit.house.item(picked.item)
    if item is None:
        raise NotFound(f"no item {picked.item}")
    note = " ".join(picked.note.split())
    if len(note) > LONGEST_NOTE:
        raise Refused(Code.NOTE_TOO_LONG, "note", most=LONGEST_NOTE, count=len(note))
    by_letter = {guest.letter: guest.id for guest in edit.whole.guests}
    if any(name not in by_letter for name in picked.guests):
        raise NotFound(f"no such guest among {picked.guests}")
    everyone = len(picked.guests) == len(by_letter)
    groups = catalogue.list_groups(edit.house.connection, item.id)
    prices = prices_now(edit.house, edit.whole.head.price_list)
    item = prices.of(item)
    return LineRow(
        id=0,
        item=item.id,
        label=item.name,
        unit_price=item.price,
        quantity=read_quantity(picked.quantity, item.unit),
        unit=item.unit,
        tax=item.tax,
        report_group=item.report_group,
        staff=edit.actor.staff.id,
        note=note,
        added_at=edit.at,
        removed_at=None,
        removed_by=None,
        price_list=prices.named(item.id),
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
            code = Code.CHOOSE_MORE if group.least > 1 else Code.CHOOSE_FIRST
            raise Refused(code, group.id, group=group.name.lower(), least=group.least)
        if len(taken) > group.most:
            raise Refused(Code.TOO_MANY_CHOICES, group.id, group=group.name, most=group.most, count=len(taken))
        found.extend(taken)
    return found


def read_quantity(text: str, unit: str = "") -> str:
    """A whole quantity from 1 to 99, or with a unit a measure of at most three decimals, as it is ticket_store."""
    text = text.strip()
    if unit:
        return read_measure(text, unit)
    if not re.fullmatch(r"[0-9]{1,2}", text) or int(text) == 0:
        raise Refused(Code.QUANTITY_WHOLE, "quantity")
    return str(int(text))


def read_measure(text: str, unit: str) -> str:
    """A weight or length above 0 and below 1000, as it is ticket_store."""
    plain = text.strip().replace(",", ".").removesuffix(unit).strip()
    if not re.fullmatch(r"[0-9]{1,3}(\.[0-9]{1,3})?", plain) or not plain.strip("0."):
        raise Refused(Code.QUANTITY_MEASURE, "quantity", unit=unit)
    return plain


def remove_line(house: House, actor: Actor, on: OnTicket, line_id: int, reason: str = "") -> None:
    """Strike a line through; it stays in the journal and on the ticket's list, with who and when.

    A booking's service or a job's task takes along what hangs on it; the booking or job is free for another ticket.
    Refused without right and reason when it was sent or billed.
    """
    with changing(house, actor, on) as edit:
        take_off_lines(edit, hanging_on(edit.whole, edit.whole.line(line_id), house), reason)


def take_off_lines(edit: TicketChange, lines: Sequence[LineRow], reason: str = "") -> None:
    """Strike lines through, tell their places, and let their bookings and jobs go."""
    connection = edit.house.connection
    why = check_removal(edit, [(line, Fraction(0)) for line in lines], reason)
    for line in lines:
        lines_kept.remove_line(connection, line.id, edit.at, edit.actor.staff.id)
        edit.wrote(Kind.LINE_REMOVED, **about(line), **why)
        prep.stop(edit, line, Fraction(line.quantity))
        if line.job is not None and line.role is not Role.DEPOSIT:
            jobs.set_settled_on(connection, line.job, None)
        if line.booking is not None and is_service(edit.house, line):
            bookings.take_off(connection, line.booking)


def is_service(house: House, line: LineRow) -> bool:
    """Whether a line is a booked service itself, and not something added to it."""
    item = house.item(line.item)
    return item is not None and item.minutes is not None


def hanging_on(whole: TicketSnapshot, line: LineRow, house: House) -> list[LineRow]:
    """A line with the lines that go when it goes."""
    if line.job is not None and line.role is not Role.DEPOSIT:
        return [one for one in whole.standing if one.job == line.job and one.role is not Role.DEPOSIT]
    if line.booking is not None and is_service(house, line):
        return [one for one in whole.standing if one.booking == line.booking]
    return [line]


def swap_line(house: House, actor: Actor, on: OnTicket, line_id: int, item_id: str, staff_id: str) -> None:
    """Another service, or somebody else who did it, in place: note and guests stay, choices only with the item."""
    with changing(house, actor, on) as edit:
        line, item = edit.whole.line(line_id), house.item(item_id)
        alone_on_its_line(house, line)
        _no_place(house, line, "item")
        people = house.staff()
        if item is None or staff_id not in people:
            raise NotFound(f"no item {item_id} or staff {staff_id}")
        another = item.id != line.item
        if another and any(group.least for group in catalogue.list_groups(house.connection, item.id)):
            raise Refused(Code.ITEM_NEEDS_CHOICE, "item", item=item.name)
        facts = {"item": item.id, "label": item.name, "unit_price": item.price, "tax": item.tax, "unit": item.unit}
        if another:
            line_now = replace(line, **facts, report_group=item.report_group, staff=staff_id)  # type: ignore[arg-type]  # facts by field name
        else:
            line_now = replace(line, staff=staff_id)
        if line_now == line:
            return
        lines_kept.swap_line(house.connection, line_now, drop_choices=another)
        after = Personal(described(line_now))
        edit.wrote(Kind.LINE_SWAPPED, **about(line), after=after, before=line.staff, now=staff_id)


def set_quantity(house: House, actor: Actor, on: OnTicket, line_id: int, quantity: str, reason: str = "") -> None:
    """Change how many of a line. Fewer of what was sent or billed: only by right, with a reason."""
    with changing(house, actor, on) as edit:
        line = edit.whole.line(line_id)
        alone_on_its_line(house, line)
        _no_place(house, line, "quantity")
        number = read_quantity(quantity, line.unit)
        fewer = Fraction(number) < Fraction(line.quantity)
        why = check_removal(edit, [(line, Fraction(number))], reason) if fewer else {}
        lines_kept.set_quantity(house.connection, line_id, number)
        prep.stop(edit, line, Fraction(line.quantity) - Fraction(number))
        after = Personal(described(replace(line, quantity=number)))
        edit.wrote(Kind.LINE_CHANGED, **about(line), after=after, **why)


def is_alone(house: House, line: LineRow) -> bool:
    """Whether a line is of what is sold one on a line, to somebody: a series, a membership, a hire."""
    return any(one(house, line.item) for one in (series.kind_of, memberships.sold_by, hires.kind_of))


def alone_on_its_line(house: House, line: LineRow) -> None:
    """Refused for what is sold one on a line."""
    if is_alone(house, line):
        raise Refused(Code.ONE_ON_A_LINE, "quantity", line=line.label)


def _no_place(house: House, line: LineRow, where: str) -> None:
    """Refused for a place of a course: its line is as its booking."""
    booking = bookings.read(house.connection, line.booking) if line.booking else None
    if booking is not None and booking.course is not None:
        raise Refused(Code.PLACE_OF_COURSE, where, name=booking.name)


def give_line(house: House, actor: Actor, on: OnTicket, line_id: int, guests: tuple[str, ...]) -> None:
    """Say whose a line is: some guests alike, or with none the whole table."""
    with changing(house, actor, on) as edit:
        line = edit.whole.line(line_id)
        ids = {guest.letter: guest.id for guest in edit.whole.guests}
        if any(name not in ids for name in guests):
            raise NotFound(f"no such guest among {guests}")
        everyone = len(set(guests)) == len(ids)
        shares = () if everyone else tuple((ids[name], 1) for name in dict.fromkeys(guests))
        lines_kept.set_shares(house.connection, line_id, shares)
        whose = None if everyone or not guests else "+".join(guests)
        edit.wrote(Kind.LINE_GIVEN, **about(line), guests=whose)


MOST_PARTS = 99


def give_parts(house: House, actor: Actor, on: OnTicket, line_id: int, typed: str) -> None:
    """Share a line in any proportion: letters with whole parts, such as `A 2, C 1`; who is not named has none of it."""
    with changing(house, actor, on) as edit:
        line = edit.whole.line(line_id)
        ids = {guest.letter: guest.id for guest in edit.whole.guests}
        found = re.findall(r"([A-Z]{1,2}) ?[×x:=]? ?([0-9]{1,3})", typed.upper())
        left_over = re.sub(r"[\s,;]", "", re.sub(r"[A-Z]{1,2} ?[×xX:=]? ?[0-9]{1,3}", "", typed.upper()))
        if not found or left_over:
            raise Refused(Code.NO_PARTS, "parts")
        parts = {name: int(number) for name, number in found}
        if unknown := [name for name in parts if name not in ids]:
            raise Refused(Code.NO_SUCH_GUEST, "parts", letter=unknown[0], letters=", ".join(ids))
        if not any(parts.values()) or max(parts.values()) > MOST_PARTS or len(parts) < len(found):
            raise Refused(Code.PARTS_RANGE, "parts", most=MOST_PARTS)
        lines_kept.set_shares(
            house.connection, line_id, tuple((ids[name], many) for name, many in parts.items() if many)
        )
        said = ", ".join(f"{name} {many}" for name, many in parts.items() if many)
        edit.wrote(Kind.LINE_SHARED, **about(line), parts=said)
