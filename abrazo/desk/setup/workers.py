"""Who works here and where, and what is asked of people and jobs, as set-up describes it.

Rules here
- somebody new has a PIN at once; the last supervisor stays one, and works in earnest
- the last till stays; one that is in a day that is open does too
- what is not asked for any more keeps what was said of it
"""

from __future__ import annotations

import json

from abrazo.core.errors import Code, Refused
from abrazo.core.states import Begins, Does, Home, OwnAbout, StaffRole
from abrazo.desk.act import Act
from abrazo.desk.context import MACHINES, House
from abrazo.desk.permissions import LENDERS_DIGITS
from abrazo.desk.setup.fields import POSITION, Field, FieldKind, Option
from abrazo.desk.setup.options import named, rows_of, texts_of
from abrazo.desk.setup.things import Thing
from abrazo.desk.sign_in import check_new_pin, hash_pin
from abrazo.store import set_up
from abrazo.store.set_up import Values
from abrazo.store.staff import Staff

MOST_FIELDS = 12  # that are asked of one


def _staff(house: House) -> dict[str, Values]:
    found = rows_of(house, "staff", "takes_bookings", "takes_jobs", "counter_only", "in_training")
    for row in found.values():
        row["pin"] = ""  # of which nothing is kept that could be shown
    return found


def _save_staff(act: Act, ref: str, values: Values) -> None:
    before = set_up.row(act.connection, "staff", ref)
    plain, pin = {id: one for id, one in values.items() if id != "pin"}, str(values.get("pin") or "")
    role = StaffRole(str(plain.get("role") or (before or {}).get("role")))
    person = Staff(ref, str(plain.get("name", "")), role, "")
    promoted = role == StaffRole.SUPERVISOR != (before or {}).get("role")
    if before is None or pin:
        check_new_pin(person, pin)
    elif promoted and act.house.staff()[ref].pin_digits < LENDERS_DIGITS:
        raise Refused(Code.PIN_FOR_LENDERS, "pin", least=LENDERS_DIGITS)
    if before is None:
        plain |= {"title": plain.get("title") or ""}
        set_up.add_staff(act.connection, ref, plain, hash_pin(pin), len(pin))
        values["pin"] = ""  # it is written down that there is one, and not which
        return
    set_up.put(act.connection, "staff", ref, plain)
    if pin:
        set_up.put_pin(act.connection, ref, hash_pin(pin), len(pin))
        values["pin"] = ""


def _check_staff(house: House, ref: str, values: Values) -> None:
    found = set_up.rows(house.connection, "staff") | {ref: values}
    at_work = [one for one in found.values() if one["role"] == StaffRole.SUPERVISOR and one.get("ended_at") is None]
    if not at_work:
        raise Refused(Code.LAST_SUPERVISOR, "role")
    if all(one.get("in_training") for one in at_work):
        raise Refused(Code.SUPERVISORS_IN_TRAINING, "in_training")


STAFF = Thing(
    "staff",
    (
        Field("name", longest=60),
        Field("role", FieldKind.CHOICE, options=lambda _: named(StaffRole)),
        Field("title", empty=True, longest=40),
        Field("pin", empty=True, longest=12, stays=True),
        Field("takes_bookings", FieldKind.YES, needs=Does.BOOKINGS),
        Field("takes_jobs", FieldKind.YES, needs=Does.JOBS),
        Field("counter_only", FieldKind.YES),
        Field("in_training", FieldKind.YES),
    ),
    _staff,
    _save_staff,
    _check_staff,
    defaults=lambda _: {"role": StaffRole.SERVER},
)

# ---- tills


def _check_till(house: House, ref: str, values: Values) -> None:
    found = set_up.rows(house.connection, "till") | {ref: values}
    if all(one.get("ended_at") for one in found.values()):
        raise Refused(Code.LAST_TILL, "name")
    day = house.open_day()
    if values.get("ended_at") and day is not None and ref in day.floats:
        raise Refused(Code.TILL_IN_DAY, "name")


TILLS = Thing(
    "tills",
    (
        Field("name", longest=40),
        Field("home", FieldKind.CHOICE, options=lambda _: named(Home)),
        Field("begins", FieldKind.CHOICE, empty=True, nothing=Begins.TODAY, options=lambda _: named(Begins)),
        Field("machine", FieldKind.CHOICE, options=lambda _: named(MACHINES)),
    ),
    lambda house: rows_of(house, "till"),
    lambda act, ref, values: set_up.put_till(act.connection, ref, values),
    _check_till,
    defaults=lambda _: {"home": Home.ROOM, "begins": Begins.TODAY, "machine": MACHINES[0]},
)

# ---- what is asked of people and jobs


def _own_fields(house: House) -> dict[str, Values]:
    found = rows_of(house, "own_field", "prints")
    for row in found.values():
        row["choices"] = [*json.loads(str(row["choices"]))]
    return found


def _save_own_field(act: Act, ref: str, values: Values) -> None:
    plain = dict(values)
    if "choices" in plain:
        plain["choices"] = json.dumps(texts_of(plain["choices"]))
    set_up.put(act.connection, "own_field", ref, plain)


def _check_own_field(house: House, ref: str, values: Values) -> None:
    others = [one for id, one in set_up.rows(house.connection, "own_field").items() if id != ref]
    mine = [one for one in others if one["about"] == values["about"]]
    if any(str(one["name"]).casefold() == str(values["name"]).casefold() for one in mine):
        raise Refused(Code.CHOICE_TWICE, "name")
    if not values.get("ended_at") and sum(one["ended_at"] is None for one in mine) >= MOST_FIELDS:
        raise Refused(Code.OWN_FIELDS_MANY, "name", most=MOST_FIELDS)


def _about(house: House) -> list[Option]:
    with_jobs = Does.JOBS in house.settings.does.split()
    return named(one for one in OwnAbout if with_jobs or one is not OwnAbout.JOB)


OWN_FIELDS = Thing(
    "own-fields",
    (
        Field("name", longest=30),
        Field("about", FieldKind.CHOICE, options=_about),
        Field("choices", FieldKind.NAMES, empty=True, nothing=[], longest=30, most=20),
        Field("prints", FieldKind.YES, needs=Does.JOBS),
        POSITION,
    ),
    _own_fields,
    _save_own_field,
    _check_own_field,
    defaults=lambda house: {"about": _about(house)[-1].id, "prints": True},
    ref_of=lambda house, _: str(len(set_up.rows(house.connection, "own_field")) + 1),
)
