"""What the house decides once: what happens to a paid table, and what its receipts show.

Rules here
- a table is freed by hand, or by itself so many minutes after the last payment; until then it can be taken back
- removed lines stand on receipts, or they don't
- which language the house reads, of those that there is a catalogue of
"""

from __future__ import annotations

from dataclasses import dataclass

from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Kind
from abrazo.desk.act import acting
from abrazo.desk.context import Actor, House
from abrazo.desk.permissions import Right, need
from abrazo.store import settings
from abrazo.words.catalogue import languages

MOST_MINUTES = 120


@dataclass(frozen=True, slots=True)
class Habits:
    """`free_after`: minutes until a paid table is freed by itself, None by hand. `show_removed`: on receipts."""

    free_after: int | None = None
    show_removed: bool = False


def habits(house: House) -> Habits:
    """What the house has decided."""
    return Habits(house.settings.free_after, house.settings.show_removed)


def decide(house: House, actor: Actor, what: str, value: str) -> None:
    """Decide one of them anew. A supervisor's right."""
    need(actor, Right.SET_UP)
    if what == "free_after":
        value = value.strip()
        if value and not (value.isascii() and value.isdigit() and 1 <= int(value) <= MOST_MINUTES):
            raise Refused(Code.FREE_AFTER, "free_after", most=MOST_MINUTES)
    elif what == "show_removed":
        value = "yes" if value == "yes" else "no"
    elif what == "language" and value in languages():
        pass
    else:
        raise Refused(Code.NO_SUCH_SETTING)
    with acting(house, actor, "set-up") as act:
        if what == "free_after":
            settings.put(act.connection, free_after=int(value) if value else None)
            act.record(Kind.FREEING_SET, minutes=int(value) if value else None)
        elif what == "language":
            settings.put(act.connection, language=value)
            act.record(Kind.LANGUAGE_SET, language=value)
        else:
            settings.put(act.connection, show_removed=value == "yes")
            act.record(Kind.REMOVED_SHOWN if value == "yes" else Kind.REMOVED_LEFT_OUT)
