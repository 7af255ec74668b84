"""The house's ways to pay: on or off, their order, and recorded ones of its own."""

from __future__ import annotations

from abrazo.core.errors import Code, Refused
from abrazo.core.journal import Kind, Personal
from abrazo.core.ledger import slug
from abrazo.core.states import TenderKind
from abrazo.desk.act import acting
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.permissions import Right
from abrazo.store import tender_types
from abrazo.store.tender_types import TenderType

LONGEST = 30


def tenders_on(house: House) -> list[TenderType]:
    """The ways to pay that are offered, in the house's order."""
    return [tender for tender in all_tenders(house) if tender.is_on]


def all_tenders(house: House) -> list[TenderType]:
    """Every way to pay, also those that are off."""
    return house.once("tenders", lambda: tender_types.list_tenders(house.connection))


def offered(house: House, tender: str, kind: TenderKind | None = None) -> TenderType:
    """A way to pay that is on; refused when it is not offered here."""
    found = next((one for one in tenders_on(house) if one.id == tender and kind in (None, one.kind)), None)
    if found is None:
        raise Refused(Code.TENDER_OFF)
    return found


def switch(house: House, actor: Actor, tender: str, is_on: bool) -> None:
    """Offer a way to pay, or do not."""
    with acting(house, actor, "set-up", needs=Right.SET_UP) as act:
        found = _find(house, tender)
        if found.kind == TenderKind.CASH and not is_on:
            raise Refused(Code.CASH_STAYS)
        tender_types.put(act.connection, tender, is_on, found.position)
        act.record(Kind.TENDER_ON if is_on else Kind.TENDER_OFF, tender=tender, name=Personal(found.name))


def move(house: House, actor: Actor, tender: str, earlier: bool) -> None:
    """A way to pay changes places with the one before or after it."""
    with acting(house, actor, "set-up", needs=Right.SET_UP) as act:
        found, everything = _find(house, tender), all_tenders(house)
        place = everything.index(found) + (-1 if earlier else 1)
        if not 0 <= place < len(everything):
            return
        other = everything[place]
        tender_types.put(act.connection, found.id, found.is_on, other.position)
        tender_types.put(act.connection, other.id, other.is_on, found.position)
        names = (found, other) if earlier else (other, found)
        first, second = (Personal(one.name) for one in names)
        act.record(Kind.TENDER_MOVED, tender=tender, first=first, second=second)


def add(house: House, actor: Actor, name: str, reference: str, key: str) -> None:
    """A recorded way to pay of the house's own; `reference` is what is asked for each time."""
    name, reference = " ".join(name.split()), " ".join(reference.split())
    with acting(house, actor, "tender", key, needs=Right.SET_UP) as act:
        if act.done is not None:
            return
        if not name or len(name) > LONGEST:
            raise Refused(Code.TENDER_NAME, "name", most=LONGEST)
        if not reference or len(reference) > LONGEST:
            raise Refused(Code.NO_TENDER_REFERENCE, "reference")
        everything = all_tenders(house)
        if any(name.casefold() in (one.name.casefold(), one.id) or slug(name) == slug(one.id) for one in everything):
            raise Refused(Code.TENDER_NAME_TAKEN, "name", name=name)
        last = max(one.position for one in everything)
        tender_types.add(
            act.connection,
            TenderType(slug(name).replace("-", " "), name, TenderKind.RECORDED, reference, True, last + 10),
        )
        act.record(Kind.TENDER_ADDED, name=Personal(name))


def _find(house: House, tender: str) -> TenderType:
    found = next((one for one in all_tenders(house) if one.id == tender), None)
    if found is None:
        raise NotFound(f"no tender {tender!r}")
    return found
