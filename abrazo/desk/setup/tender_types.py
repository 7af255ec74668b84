"""The house's ways to pay: on or off, their order, and recorded ones of its own.

Rules here
- cash stays on; a way to pay keeps its name, since papers that went out say it
- a house's own ones are only recorded, and ask for something by which they can be matched
"""

from __future__ import annotations

from abrazo.core.errors import Code, Refused
from abrazo.core.ledger import slug
from abrazo.core.states import TenderKind
from abrazo.desk.act import Act, acting
from abrazo.desk.context import Actor, House, NotFound
from abrazo.desk.permissions import Right
from abrazo.desk.setup.fields import POSITION, Field, FieldKind
from abrazo.desk.setup.things import Thing, add_now, change_now, check_all_seen
from abrazo.store import tender_types
from abrazo.store.set_up import Values
from abrazo.store.tender_types import TenderType

LONGEST = 30
STEP = 10  # between the positions of two, so that a third goes between


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
        change_now(act, TENDERS, tender, {"offered": is_on})


def move(house: House, actor: Actor, tender: str, *, earlier: bool, seen: int | None = None) -> None:
    """A way to pay goes before the one before it, or after the one after it, as they stood at the change `seen`."""
    with acting(house, actor, "set-up", needs=Right.SET_UP) as act:
        check_all_seen(house, TENDERS, seen)
        everything = all_tenders(house)
        if tender not in [one.id for one in everything]:
            raise NotFound(f"no tender {tender!r}")
        wanted = [one.id for one in everything]
        place = wanted.index(tender)
        goes_to = place + (-1 if earlier else 1)
        if not 0 <= goes_to < len(wanted):
            return
        wanted.insert(goes_to, wanted.pop(place))
        for ref, position in positions(wanted, {one.id: one.position for one in everything}).items():
            change_now(act, TENDERS, ref, {POSITION.id: position})


def positions(wanted: list[str], now: dict[str, int]) -> dict[str, int]:
    """Where each has to stand that stands elsewhere: the one that moved alone, where there is room between two."""
    for place, ref in enumerate(wanted):
        before = now[wanted[place - 1]] if place else 0
        after = now[wanted[place + 1]] if place + 1 < len(wanted) else before + 2 * STEP
        others = [now[one] for one in wanted if one != ref]
        if others == sorted(set(others)) and after - before > 1:
            return {ref: (before + after) // 2}
    return {ref: number * STEP for number, ref in enumerate(wanted, start=1)}


def add(house: House, actor: Actor, name: str, reference: str, key: str) -> None:
    """A recorded way to pay of the house's own; `reference` is what is asked for each time."""
    name, reference = " ".join(name.split()), " ".join(reference.split())
    with acting(house, actor, "tender", key, needs=Right.SET_UP) as act:
        if act.done is not None:
            return
        values: Values = {"name": name, "reference": reference, "offered": True, POSITION.id: None}
        if any(one.id == _id_of(name) for one in all_tenders(house)):
            raise Refused(Code.TENDER_NAME_TAKEN, "name", name=name)
        add_now(act, TENDERS, values, _id_of(name))


def _id_of(name: str) -> str:
    return slug(name).replace("-", " ")


# ---- as set-up describes them


def _load(house: House) -> dict[str, Values]:
    return {
        one.id: {"name": one.name, "reference": one.reference, "offered": one.is_on, POSITION.id: one.position}
        for one in tender_types.list_tenders(house.connection)
    }


def _save(act: Act, ref: str, values: Values) -> None:
    everything = tender_types.list_tenders(act.connection)
    before = next((one for one in everything if one.id == ref), None)
    if before is None:
        values[POSITION.id] = values.get(POSITION.id) or max(one.position for one in everything) + STEP
        tender_types.add(act.connection, _tender(TenderType(ref, "", TenderKind.RECORDED, "", True, 0), values))
        return
    tender_types.put(act.connection, _tender(before, values))


def _tender(before: TenderType, values: Values) -> TenderType:
    return TenderType(
        before.id,
        str(values.get("name", before.name)),
        before.kind,
        str(values.get("reference", before.reference)),
        bool(values.get("offered", before.is_on)),
        int(str(values.get(POSITION.id, before.position))),
    )


def _check(house: House, ref: str, values: Values) -> None:
    everything, name = all_tenders(house), str(values["name"])
    before = next((one for one in everything if one.id == ref), None)
    if before is None or before.kind == TenderKind.RECORDED:
        if not name or len(name) > LONGEST:
            raise Refused(Code.TENDER_NAME, "name", most=LONGEST)
        if not values["reference"] or len(str(values["reference"])) > LONGEST:
            raise Refused(Code.NO_TENDER_REFERENCE, "reference")
    if before is None and any(
        name.casefold() in (one.name.casefold(), one.id) or slug(name) == slug(one.id) for one in everything
    ):
        raise Refused(Code.TENDER_NAME_TAKEN, "name", name=name)
    if before is not None and name != before.name:
        raise Refused(Code.TENDER_NAME_STAYS, "name", name=before.name)
    if before is not None and before.kind == TenderKind.CASH and not values["offered"]:
        raise Refused(Code.CASH_STAYS, "offered")


TENDERS = Thing(
    "tenders",
    (
        Field("name", longest=60),
        Field("reference", empty=True, longest=60),
        Field("offered", FieldKind.YES),
        POSITION,
    ),
    _load,
    _save,
    _check,
    defaults=lambda _: {"offered": True},
    retires=False,
    ref_of=lambda _, values: _id_of(str(values["name"])),
)
