"""What happens when a sale has ended, as set-up describes it.

Rules here
- a receipt, the drawer, a message to whose sale it was, jobs handed over; for tickets of some doors, or of all
- a message goes out at once or so many days later; the rest happens at once
- a message may name whom it is for, and the house; nothing else stands in [ ]
"""

from __future__ import annotations

import re

from abrazo.core.errors import Code, Refused
from abrazo.core.states import AfterSale, Does, Source
from abrazo.desk.context import House
from abrazo.desk.setup.fields import POSITION, Field, FieldKind, Option
from abrazo.desk.setup.options import named, put_row, rows_of
from abrazo.desk.setup.things import Thing
from abrazo.store.set_up import Values

LONGEST_MESSAGE, MOST_DAYS = 400, 365
LISTS = ("sources",)
WHO, HOUSE = "[name]", "[house]"
BRACKETS = re.compile(r"\[[^\]]*\]?")
OF_DOORS = {
    Source.TABLE: Does.TABLES, Source.TAB: Does.TABS, Source.BOOKING: Does.BOOKINGS, Source.WALK_IN: Does.BOOKINGS,
    Source.JOB: Does.JOBS, Source.PHONE: Does.PHONE,
}  # fmt: skip


def _sources(house: House) -> list[Option]:
    does = house.settings.does.split()
    return named(one for one in Source if one not in OF_DOORS or OF_DOORS[one] in does)


def _kinds(house: House) -> list[Option]:
    return named(one for one in AfterSale if one is not AfterSale.HAND_OVER or Does.JOBS in house.settings.does.split())


def _check(_: House, __: str, values: Values) -> None:
    said = str(values.get("words") or "")
    if values["does"] == AfterSale.MESSAGE:
        if not said:
            raise Refused(Code.FIELD_MISSING, "words")
        if strange := [one for one in BRACKETS.findall(said) if one not in (WHO, HOUSE)]:
            raise Refused(Code.STRANGE_BRACKETS, "words", typed=strange[0], who=WHO, house=HOUSE)
        return
    for later in ("days", "clock", "words"):
        if values.get(later):
            raise Refused(Code.ONLY_MESSAGES_LATER, later)


AFTER_SALE = Thing(
    "after-sale",
    (
        Field("name", longest=40),
        Field("does", FieldKind.CHOICE, options=_kinds),
        Field("sources", FieldKind.CHOICES, empty=True, nothing=[], options=_sources),
        Field("days", FieldKind.WHOLE, empty=True, nothing=0, most=MOST_DAYS),
        Field("clock", FieldKind.CLOCK, empty=True),
        Field("words", FieldKind.LINES, empty=True, longest=LONGEST_MESSAGE),
        POSITION,
    ),
    lambda house: rows_of(house, "after_sale", lists=LISTS),
    lambda act, ref, values: put_row(act, "after_sale", ref, values, LISTS),
    _check,
    {"name": Code.CHOICE_TWICE},
    defaults=lambda _: {"does": AfterSale.RECEIPT, "days": 0},
)
