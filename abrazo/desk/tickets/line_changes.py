"""Lines changed in place, and a whole ticket cleared.

Rules here
- what was set by hand stays: its price and price list, its adjustments, its parts
- what its place was told is stopped, and goes there anew when it is sent again
"""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction

from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Kind, Personal
from abrazo.core.ticket import price_of_one
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.tickets import prep
from abrazo.desk.tickets.change import OnTicket, changing
from abrazo.desk.tickets.made_lines import check_removal
from abrazo.desk.tickets.ticket_lines import Picked, about, alone_on_its_line, described, line_of, take_off_lines
from abrazo.store import catalogue
from abrazo.store import lines as lines_kept
from abrazo.store.lines import LineRow

ALL = Fraction(10**9)  # of a line of which nothing goes


def chosen_of(house: House, line: LineRow) -> tuple[str, ...]:
    """The ids of the choices that a line has, as far as its item still has them."""
    known = [c for group in catalogue.list_groups(house.connection, line.item) for c in group.choices]
    labels = [label for label, _ in line.choices]
    return tuple(choice.id for choice in known if choice.label in labels)


def change_line(house: House, actor: Actor, on: OnTicket, line_id: int, picked: Picked, reason: str = "") -> None:
    """Change a line's choices, note, quantity, guests and who served it, in place; what was set by hand stays.

    Fewer of what was sent or billed, or choices that cost less: only by right, with a reason.
    """
    with changing(house, actor, on) as edit:
        line = edit.whole.line(line_id)
        if line.booking or line.job or not line.is_sale or picked.item != line.item:
            raise Refused(Code.LINE_BOOKED, "item", line=line.label)
        alone_on_its_line(house, line)
        read = line_of(edit, picked)
        whose = line.shares if _same_guests(line, read) else read.shares
        staff = picked.staff or line.staff
        if staff not in house.staff():
            raise NotFound(f"no staff {staff}")
        now = replace(line, quantity=read.quantity, choices=read.choices, note=read.note, shares=whose, staff=staff)
        if now == line:
            return
        why = check_removal(edit, [(line, _left_of(line, now))], reason)
        if (now.choices, now.note) != (line.choices, line.note):
            prep.stop(edit, line, Fraction(line.quantity))
        else:
            prep.stop(edit, line, Fraction(line.quantity) - Fraction(now.quantity))
        lines_kept.rewrite_line(house.connection, now)
        after, note = Personal(described(now)), Personal(now.note) if now.note else None
        served = staff if staff != line.staff else None
        edit.wrote(Kind.LINE_CHANGED, **about(line), after=after, note=note, served=served, **why)
        prep.send_if_at_once(edit)


def _left_of(line: LineRow, now: LineRow) -> Fraction:
    """How much of a line is left when it is changed: nothing of it where its choices cost less than before."""
    before, after = (price_of_one(one.unit_price, (price for _, price in one.choices)) for one in (line, now))
    fewer = Fraction(now.quantity) < Fraction(line.quantity)
    return Fraction(0) if after < before else Fraction(now.quantity) if fewer else ALL


def _same_guests(line: LineRow, read: LineRow) -> bool:
    """Whether the same guests have it; then parts that are not alike stay as they are."""
    return {guest for guest, weight in line.shares if weight} == {guest for guest, _ in read.shares}


def clear(house: House, actor: Actor, on: OnTicket, reason: str = "") -> None:
    """Take everything off a ticket on which nothing is paid; bookings and jobs are free for another one.

    Refused without right and reason when something of it was sent or billed.
    """
    with changing(house, actor, on) as edit:
        if edit.whole.taken or edit.whole.open_requests:
            raise Refused(Code.PAID_ON_TICKET, "clear")
        number = len(edit.whole.standing)
        if number:
            take_off_lines(edit, edit.whole.standing, reason)
            edit.wrote(Kind.CLEARED, lines=number)
