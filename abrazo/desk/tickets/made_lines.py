"""Lines that were sent to their place, or stand on a bill that was printed: they go only by right, with a reason.

Rules here
- a line is made as far as its place was told to make it; it is billed when a bill was printed after it came
- taking a made or billed line off, lowering it, or clearing it is a supervisor's right, own or lent, with a reason
- moving a line to another ticket takes nothing off what is owed
"""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction
from typing import TYPE_CHECKING

from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Personal
from abrazo.desk.act import Facts
from abrazo.desk.context import House
from abrazo.desk.permissions import Right, need, read_reason
from abrazo.desk.tickets.snapshot import LineRow, TicketSnapshot
from abrazo.store import prep

if TYPE_CHECKING:
    from abrazo.desk.tickets.change import TicketChange


def made_lines(house: House, whole: TicketSnapshot) -> dict[int, str]:
    """Which standing lines were sent or billed, and which of the two."""
    told = prep.told(house.connection, whole.head.id)
    found = {line.id: "billed" for line in whole.standing if _billed(whole, line)}
    return found | {line.id: "sent" for line in whole.standing if told.get(line.id, 0) > 0}


def _billed(whole: TicketSnapshot, line: LineRow) -> bool:
    return whole.head.billed_at is not None and line.added_at <= whole.head.billed_at


def check_removal(edit: TicketChange, lines: Sequence[tuple[LineRow, Fraction]], reason: str) -> Facts:
    """Whether lines may go down to what is left of them; gives reason and lender for the journal, empty if none.

    Refused where one was made or billed and the right or the reason is missing.
    """
    told = prep.told(edit.house.connection, edit.id)
    made = [
        line
        for line, left in lines
        if left < Fraction(line.quantity) and (told.get(line.id, Fraction(0)) > left or _billed(edit.whole, line))
    ]
    if not made:
        return {}
    names = ", ".join(line.label for line in made[:3]) + (f" and {len(made) - 3} more" if len(made) > 3 else "")
    if not reason.strip():
        raise Refused(Code.LINE_MADE, "reason", names=names)
    why = Personal(read_reason(reason))
    return {"reason": why, "lender": need(edit.actor, Right.TAKE_OFF_MADE)}
