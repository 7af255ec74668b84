"""The kinds of things that a house is set up with, each described once: items, choices, taxes, people, tills.

Rules here
- a number and a barcode belong to one item that is sold; a category does not lie in itself
- a tax that stands on a line is not reckoned otherwise afterwards: another rate is another tax
- of a discount, comp or surcharge exactly one of percent and amount is said
- somebody new has a PIN at once; the last supervisor stays one
- a change never alters what stands on open tickets
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from fractions import Fraction

from abrazo.core.codes import GS1_LENGTHS, is_gs1
from abrazo.core.errors import Code, Refused
from abrazo.core.states import AdjustmentKind, Home, Scope, Source, StaffRole, TaxCategory
from abrazo.core.tax import parts_fit, percent_of_rate, rate_of_percent
from abrazo.desk.act import Act
from abrazo.desk.context import MACHINES, House
from abrazo.desk.permissions import LENDERS_DIGITS
from abrazo.desk.setup.fields import Field, FieldKind, Option
from abrazo.desk.setup.things import Thing
from abrazo.desk.sign_in import check_new_pin, hash_pin
from abrazo.store import set_up
from abrazo.store.set_up import Value, Values
from abrazo.store.staff import Staff

ICONS = (
    *("package", "soup", "bread", "salad", "beer", "glass-full", "cup", "cookie", "leaf", "hanger", "kayak", "tool"),
    *("calendar", "ruler-measure", "armchair", "shopping-bag", "walk"),
)
FIRST_FOR = (Source.TAB, Source.JOB, Source.BOOKING, Source.WALK_IN)


def _named(values: Iterable[str]) -> list[Option]:
    return [Option(str(one), str(one)) for one in values]


def _of_table(house: House, table: str, name: str = "name") -> list[Option]:
    def read() -> list[Option]:
        found = set_up.rows(house.connection, table)
        return [Option(ref, str(row[name]), row.get("ended_at") is not None) for ref, row in found.items()]

    return house.once(("options", table), read)


def categories_of(house: House) -> list[Option]:
    """The categories."""
    return _of_table(house, "category")


def taxes_of(house: House) -> list[Option]:
    """The taxes."""
    return _of_table(house, "tax", "label")


def groups_of(house: House) -> list[Option]:
    """The choice groups."""
    return _of_table(house, "choice_group")


def _rows(house: House, table: str, *truths: str) -> dict[str, Values]:
    found = set_up.rows(house.connection, table)
    for row in found.values():
        row.update({name: bool(row[name]) for name in truths})
    return found


def _places(house: House) -> list[Option]:
    def used() -> list[str]:
        rows = set_up.rows(house.connection, "item").values()
        return list(dict.fromkeys((*house.settings.prepared_at, *(str(row["place"]) for row in rows if row["place"]))))

    return _named(house.once("places", used))


# ---- items


def _items(house: House) -> dict[str, Values]:
    groups = set_up.item_groups(house.connection)
    found = _rows(house, "item", "variable")
    for ref, row in found.items():
        row["groups"] = list(groups.get(ref, ()))
    return found


def _save_item(act: Act, ref: str, values: Values) -> None:
    plain = {id: value for id, value in values.items() if id != "groups"}
    if plain.get("number", 1) is None:  # left empty for what is new: the next one
        plain["number"] = values["number"] = set_up.next_item_number(act.connection)
    set_up.put(act.connection, "item", ref, plain)
    if "groups" in values:
        set_up.put_item_groups(act.connection, ref, _texts(values["groups"]))


def _texts(value: Value) -> list[str]:
    return [str(one) for one in value] if isinstance(value, list) else []


def _pairs(value: Value) -> list[tuple[str, str]]:
    return [(row[0], row[1]) for row in value if isinstance(row, list)] if isinstance(value, list) else []


def _check_item(_: House, __: str, values: Values) -> None:
    code = str(values.get("code") or "")
    if code.isdigit() and len(code) in GS1_LENGTHS and not is_gs1(code):
        raise Refused(Code.CODE_DIGIT, "code")


def like_others(house: House, category: str) -> Values:
    """What a new item of a category takes over from the last one there: tax, report group, who prepares it."""
    rows = [one for one in set_up.rows(house.connection, "item").values() if one["ended_at"] is None]
    last = next((one for one in reversed(rows) if one["category"] == category), None)
    if last is None:
        return {"tax": _first_tax(house)["tax"], "report_group": category, "place": ""}
    return {id: last[id] for id in ("tax", "report_group", "place")}


def _first_tax(house: House) -> Values:
    taxes, categories = taxes_of(house), [one for one in categories_of(house) if not one.retired]
    return {"tax": taxes[0].id if taxes else None, "category": categories[0].id if categories else None}


ITEMS = Thing(
    "items",
    (
        Field("name"),
        Field("price", FieldKind.MONEY),
        Field("category", FieldKind.CHOICE, options=categories_of),
        Field("tax", FieldKind.CHOICE, empty=True, nothing=None, options=taxes_of),
        Field("report_group", longest=40),
        Field("number", FieldKind.WHOLE, empty=True, nothing=None, least=1, most=99_999_999, stays=True),
        Field("code", empty=True, nothing=None, longest=40),
        Field("place", FieldKind.CHOICE, empty=True, options=_places),
        Field("groups", FieldKind.CHOICES, empty=True, options=groups_of),
        Field("unit", empty=True, longest=8),
        Field("minutes", FieldKind.WHOLE, empty=True, nothing=None, least=5, most=24 * 60),
        Field("job_days", FieldKind.WHOLE, empty=True, nothing=None, most=365),
        Field("variable", FieldKind.YES),
        Field("shelf", empty=True, longest=40),
    ),
    _items,
    _save_item,
    _check_item,
    {"number": Code.NUMBER_TAKEN, "code": Code.CODE_TAKEN},
    defaults=_first_tax,
)

# ---- categories


def _check_category(house: House, ref: str, values: Values) -> None:
    rows, above, seen = set_up.rows(house.connection, "category"), values.get("parent"), {ref}
    while above:
        if above in seen:
            raise Refused(Code.LIES_IN_ITSELF, "parent")
        seen.add(str(above))
        above = rows.get(str(above), {}).get("parent")


CATEGORIES = Thing(
    "categories",
    (
        Field("name", longest=40),
        Field("parent", FieldKind.CHOICE, empty=True, nothing=None, options=categories_of),
        Field("icon", FieldKind.CHOICE, options=lambda _: _named(ICONS)),
        Field("first_for", FieldKind.CHOICE, empty=True, options=lambda _: _named(FIRST_FOR)),
        Field("tasks", FieldKind.YES),
    ),
    lambda house: _rows(house, "category", "tasks"),
    lambda act, ref, values: set_up.put(act.connection, "category", ref, values),
    _check_category,
    defaults=lambda _: {"icon": "package"},
)

# ---- choice groups


def _groups(house: House) -> dict[str, Values]:
    choices = set_up.choices(house.connection)
    found = _rows(house, "choice_group")
    for ref, row in found.items():
        row["choices"] = [[label, str(price)] for label, price in choices.get(ref, ())]
    return found


def _save_group(act: Act, ref: str, values: Values) -> None:
    set_up.put(act.connection, "choice_group", ref, {id: one for id, one in values.items() if id != "choices"})
    if "choices" in values:
        given = [(label, int(price or 0)) for label, price in _pairs(values["choices"])]
        set_up.put_choices(act.connection, ref, given)


def _check_group(_: House, __: str, values: Values) -> None:
    choices = values.get("choices") or []
    labels = [row[0].casefold() for row in choices if isinstance(row, list)] if isinstance(choices, list) else []
    if not labels:
        raise Refused(Code.NO_CHOICES, "choices")
    if len(set(labels)) < len(labels):
        raise Refused(Code.CHOICE_TWICE, "choices")
    least, most = int(str(values.get("least") or 0)), int(str(values.get("most") or 0))
    if not least <= most <= len(labels) or most < 1:
        raise Refused(Code.CHOICE_NUMBERS, "most", number=len(labels))


GROUPS = Thing(
    "choices",
    (
        Field("name", longest=40),
        Field("least", FieldKind.WHOLE, most=20),
        Field("most", FieldKind.WHOLE, least=1, most=20),
        Field(
            "choices",
            FieldKind.ROWS,
            columns=(Field("label", longest=40), Field("price", FieldKind.MONEY, True, 0, least=-1_000_000)),
        ),
    ),
    _groups,
    _save_group,
    _check_group,
    defaults=lambda _: {"least": 0, "most": 1},
)

# ---- taxes


def _taxes(house: House) -> dict[str, Values]:
    parts, found = set_up.tax_parts(house.connection), _rows(house, "tax")
    for ref, row in found.items():
        row["rate"] = _shortest(str(row["rate"]))
        row["parts"] = [[label, _shortest(rate)] for label, rate in parts.get(ref, ())]
    return found


def _shortest(rate: str) -> str:
    return rate_of_percent(percent_of_rate(rate))


def _save_tax(act: Act, ref: str, values: Values) -> None:
    before = _taxes(act.house).get(ref)
    otherwise = before and any(values.get(id, before[id]) != before[id] for id in ("rate", "parts"))
    if otherwise and set_up.tax_is_used(act.connection, ref):
        raise Refused(Code.TAX_IN_USE, "rate")
    set_up.put(act.connection, "tax", ref, {id: one for id, one in values.items() if id != "parts"})
    if "parts" in values:
        set_up.put_tax_parts(act.connection, ref, _pairs(values["parts"]))


def _check_tax(_: House, __: str, values: Values) -> None:
    parts = [Fraction(rate) for _, rate in _pairs(values.get("parts"))]
    if parts and not parts_fit(Fraction(str(values["rate"])), parts):
        raise Refused(Code.TAX_PARTS, "parts")


TAXES = Thing(
    "taxes",
    (
        Field("label", longest=40),
        Field("rate", FieldKind.RATE, most=100),
        Field("parts", FieldKind.ROWS, columns=(Field("label", longest=40), Field("rate", FieldKind.RATE, most=100))),
        Field("category", FieldKind.CHOICE, empty=True, nothing=None, options=lambda _: _named(TaxCategory)),
        Field("exemption", empty=True, longest=120),
    ),
    _taxes,
    _save_tax,
    _check_tax,
    called="label",
    retires=False,
)

# ---- discounts, comps, surcharges


def _check_preset(_: House, __: str, values: Values) -> None:
    if (values.get("percent") is None) == (values.get("amount") is None):
        raise Refused(Code.PERCENT_OR_AMOUNT, "percent")


PRESETS = Thing(
    "presets",
    (
        Field("name", longest=40),
        Field("kind", FieldKind.CHOICE, options=lambda _: _named(AdjustmentKind)),
        Field("percent", FieldKind.PERCENT, empty=True, nothing=None, most=100),
        Field("amount", FieldKind.MONEY, empty=True, nothing=None),
        Field("scope", FieldKind.CHOICE, options=lambda _: _named(Scope)),
        Field("code", empty=True, nothing=None, longest=20),
    ),
    lambda house: _rows(house, "preset"),
    lambda act, ref, values: set_up.put(act.connection, "preset", ref, values),
    _check_preset,
    {"code": Code.PRESET_CODE_TAKEN},
    defaults=lambda _: {"kind": AdjustmentKind.DISCOUNT, "scope": Scope.BOTH},
)

# ---- who works here


def _staff(house: House) -> dict[str, Values]:
    found = _rows(house, "staff", "takes_bookings", "takes_jobs", "counter_only")
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
    if not any(one["role"] == StaffRole.SUPERVISOR and one.get("ended_at") is None for one in found.values()):
        raise Refused(Code.LAST_SUPERVISOR, "role")


STAFF = Thing(
    "staff",
    (
        Field("name", longest=60),
        Field("role", FieldKind.CHOICE, options=lambda _: _named(StaffRole)),
        Field("title", empty=True, longest=40),
        Field("pin", empty=True, longest=12, stays=True),
        Field("takes_bookings", FieldKind.YES),
        Field("takes_jobs", FieldKind.YES),
        Field("counter_only", FieldKind.YES),
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
        Field("home", FieldKind.CHOICE, options=lambda _: _named(Home)),
        Field("machine", FieldKind.CHOICE, options=lambda _: _named(MACHINES)),
    ),
    lambda house: _rows(house, "till"),
    lambda act, ref, values: set_up.put_till(act.connection, ref, values),
    _check_till,
    defaults=lambda _: {"home": Home.ROOM, "machine": MACHINES[0]},
)

KINDS: Mapping[str, Thing] = {one.id: one for one in (ITEMS, CATEGORIES, GROUPS, TAXES, PRESETS, STAFF, TILLS)}
