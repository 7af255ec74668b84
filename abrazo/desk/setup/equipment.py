"""Printers that are reached over the network, as set-up describes them.

Rules here
- a printer prints for tills (receipts, papers) and for places that prepare (slips); of two for one the first does
- what none is for prints on the paper of the stand-in
"""

from __future__ import annotations

import re

from abrazo.core.errors import Code, Refused
from abrazo.desk.context import House
from abrazo.desk.setup.fields import POSITION, Field, FieldKind, Option
from abrazo.desk.setup.options import put_row, rows_of
from abrazo.desk.setup.things import Thing
from abrazo.store.set_up import Values
from abrazo.words import phrases as w

ADDRESS = re.compile(r"[A-Za-z0-9.-]{1,200}(:[0-9]{1,5})?")
TILL, PLACE, LISTS = "till", "place", ("prints",)


def at_till(till: str) -> str:
    """How an outgoing sheet names a till's printer."""
    return f"{TILL} {till}"


def at_place(place: str) -> str:
    """How an outgoing sheet names the printer of a place that prepares."""
    return f"{PLACE} {place}"


def is_address(typed: str) -> bool:
    """Whether something is a host, or host:port."""
    return ADDRESS.fullmatch(typed) is not None and int(typed.partition(":")[2] or 1) in range(1, 65536)


def _for_whom(house: House) -> list[Option]:
    tills = [
        Option(at_till(one.id), house.say(w.RECEIPTS_OF, till=one.name), one.ended_at is not None)
        for one in house.tills().values()
    ]
    return [*tills, *(Option(at_place(one), house.say(w.SLIPS_OF, place=one)) for one in house.settings.prepared_at)]


def _check(_: House, __: str, values: Values) -> None:
    if not is_address(str(values["address"])):
        raise Refused(Code.NOT_ADDRESS, "address")


PRINTERS = Thing(
    "printers",
    (
        Field("name", longest=40),
        Field("address", longest=200),
        Field("prints", FieldKind.CHOICES, options=_for_whom),
        Field("drawers", FieldKind.YES),
        POSITION,
    ),
    lambda house: rows_of(house, "printer", "drawers", lists=LISTS),
    lambda act, ref, values: put_row(act, "printer", ref, values, LISTS),
    _check,
    {"name": Code.CHOICE_TWICE},
)
