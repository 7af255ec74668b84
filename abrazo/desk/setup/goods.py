"""What is sold, as set-up describes it: items, categories, choices, taxes, discounts, families, price lists, words.

Rules here
- a number and a barcode belong to one item that is sold; a category does not lie in itself
- a tax that stands on a line is not reckoned otherwise afterwards: another rate is another tax
- of a discount, comp or surcharge exactly one of percent and amount is said
- items that differ in size and colour only are named with the same family; the first of them makes it
- a price list has dates, days and hours; of several that hold the first counts
- a change never alters what stands on open tickets
"""

from __future__ import annotations

from fractions import Fraction

from abrazo.core.codes import GS1_LENGTHS, is_gs1
from abrazo.core.errors import Code, Refused
from abrazo.core.states import AdjustmentKind, Does, PresetAbout, Scope, Source, StaffRole, TaxCategory
from abrazo.core.tax import parts_fit, percent_of_rate, rate_of_percent
from abrazo.desk.act import Act
from abrazo.desk.context import House
from abrazo.desk.setup.fields import POSITION, Field, FieldKind, Option
from abrazo.desk.setup.options import (
    categories_of,
    cells_of,
    groups_of,
    items_of,
    named,
    of_table,
    pairs_of,
    put_row,
    rows_of,
    taxes_of,
    texts_of,
    weekdays_of,
)
from abrazo.desk.setup.things import Thing, free_ref
from abrazo.store import set_up, set_up_parts, set_up_plans
from abrazo.store.set_up import Values

VARIANT = ("family", "size", "colour")  # what tells items of one family apart
ICONS = (
    *("package", "soup", "bread", "salad", "beer", "glass-full", "cup", "cookie", "leaf", "hanger", "kayak", "tool"),
    *("calendar", "ruler-measure", "armchair", "shopping-bag", "walk"),
)
FIRST_FOR = {
    Source.TAB: Does.TABS, Source.JOB: Does.JOBS, Source.BOOKING: Does.BOOKINGS, Source.WALK_IN: Does.BOOKINGS,
}  # fmt: skip


def _first_for(house: House) -> list[Option]:
    """Tickets that the house has; of what it does not do is known, and not offered."""
    does = house.settings.does.split()
    return [Option(source, source, needs not in does) for source, needs in FIRST_FOR.items()]


def _places(house: House) -> list[Option]:
    def used() -> list[str]:
        rows = set_up.rows(house.connection, "item").values()
        return list(dict.fromkeys((*house.settings.prepared_at, *(str(row["place"]) for row in rows if row["place"]))))

    return named(house.once("places", used))


# ---- items


def _items(house: House) -> dict[str, Values]:
    groups, variants = set_up_parts.item_groups(house.connection), set_up.rows(house.connection, "variant")
    found, families = rows_of(house, "item", "variable"), set_up.rows(house.connection, "family")
    for ref, row in found.items():
        row["groups"] = list(groups.get(ref, ()))
        one = variants.get(ref)
        row |= {id: one[id] if one else "" for id in ("size", "colour")}
        row["family"] = families[str(one["family"])]["name"] if one else ""
    return found


def _save_item(act: Act, ref: str, values: Values) -> None:
    plain = {id: value for id, value in values.items() if id not in ("groups", *VARIANT)}
    if plain.get("number", 1) is None:  # left empty for what is new: the next one
        plain["number"] = values["number"] = set_up.next_item_number(act.connection)
    set_up.put(act.connection, "item", ref, plain)
    if "groups" in values:
        set_up_parts.put_item_groups(act.connection, ref, texts_of(values["groups"]))
    if any(id in values for id in VARIANT):
        _save_variant(act, ref, values)


def _save_variant(act: Act, ref: str, values: Values) -> None:
    before = set_up.row(act.connection, "variant", ref) or {}
    known = set_up.rows(act.connection, "family")
    name = (
        str(values["family"]) if "family" in values else str(known.get(str(before.get("family")), {}).get("name", ""))
    )
    if not name:
        values |= {id: "" for id in VARIANT if before}
        set_up.take_out(act.connection, "variant", ref)
        return
    family = next((id for id, one in known.items() if str(one["name"]).casefold() == name.casefold()), None)
    if family is None:
        family = free_ref(name, known)
        set_up.put(act.connection, "family", family, {"name": name})
    sizes: Values = {id: values.get(id, before.get(id, "")) for id in ("size", "colour")}
    set_up.put(act.connection, "variant", ref, {"family": family, **sizes})


def check_face(_: House, __: str, values: Values) -> None:
    """What an item says of itself goes together: its barcode, its family with size or colour."""
    code = str(values.get("code") or "")
    if code.isdigit() and len(code) in GS1_LENGTHS and not is_gs1(code):
        raise Refused(Code.CODE_DIGIT, "code")
    if values.get("family") and not (values.get("size") or values.get("colour")):
        raise Refused(Code.VARIANT_OF, "size")


def _check_item(house: House, ref: str, values: Values) -> None:
    """Beside what stands on its face: a series and what it covers bear one tax, for it is taxed when it is sold."""
    for name, tax in house.once("series taxes", lambda: set_up_parts.taxes_beside(house.connection)).get(ref, ()):
        if tax != values.get("tax"):
            raise Refused(Code.SERIES_TAX_OF, "tax", item=name)
    check_face(house, ref, values)


def like_others(house: House, category: str) -> Values:
    """What a new item of a category takes over from the last one there: tax, report group, who prepares it."""
    rows = [one for one in set_up.rows(house.connection, "item").values() if one["ended_at"] is None]
    last = next((one for one in reversed(rows) if one["category"] == category), None)
    if last is None:
        return {"tax": _first_tax(house)["tax"], "report_group": category, "place": ""}
    return {id: last[id] for id in ("tax", "report_group", "place")}


def _first_tax(house: House) -> Values:
    taxes, categories = ([one for one in known(house) if not one.retired] for known in (taxes_of, categories_of))
    return {"tax": taxes[0].id if taxes else None, "category": categories[0].id if categories else None}


ITEMS = Thing(
    "items",
    (
        Field("name"),
        Field("price", FieldKind.MONEY),
        Field("category", FieldKind.CHOICE, options=categories_of, of="categories"),
        Field("tax", FieldKind.CHOICE, empty=True, nothing=None, options=taxes_of),
        Field("report_group", longest=40),
        Field("number", FieldKind.WHOLE, empty=True, nothing=None, least=1, most=99_999_999, stays=True),
        Field("code", empty=True, nothing=None, longest=40),
        Field("place", FieldKind.CHOICE, empty=True, options=_places, needs=Does.KITCHEN),
        Field("groups", FieldKind.CHOICES, empty=True, options=groups_of),
        Field("unit", empty=True, longest=8),
        Field("minutes", FieldKind.WHOLE, True, None, least=5, most=24 * 60, needs=Does.BOOKINGS),
        Field("job_days", FieldKind.WHOLE, empty=True, nothing=None, most=365, needs=Does.JOBS),
        Field("variable", FieldKind.YES),
        Field("shelf", empty=True, longest=40),
        Field("family", empty=True, longest=60),
        Field("size", empty=True, longest=20),
        Field("colour", empty=True, longest=20),
        POSITION,
    ),
    _items,
    _save_item,
    _check_item,
    {"number": Code.NUMBER_TAKEN, "code": Code.CODE_TAKEN},
    defaults=_first_tax,
    waits=True,
    same=("series", "membership-items", "hire"),
)

# ---- categories


FOR_WHOM = ("tills", "roles")  # a category is offered there, and to them


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
        Field("icon", FieldKind.CHOICE, options=lambda _: named(ICONS)),
        Field("first_for", FieldKind.CHOICE, empty=True, options=_first_for),
        Field("tasks", FieldKind.YES, needs=Does.JOBS),
        Field("tills", FieldKind.CHOICES, empty=True, nothing=[], options=lambda house: of_table(house, "till")),
        Field("roles", FieldKind.CHOICES, empty=True, nothing=[], options=lambda _: named(StaffRole)),
        POSITION,
    ),
    lambda house: rows_of(house, "category", "tasks", lists=FOR_WHOM),
    lambda act, ref, values: put_row(act, "category", ref, values, FOR_WHOM),
    _check_category,
    defaults=lambda _: {"icon": "package"},
    above="parent",
)

# ---- choice groups


def _groups(house: House) -> dict[str, Values]:
    choices = set_up_parts.choices(house.connection)
    found = rows_of(house, "choice_group")
    for ref, row in found.items():
        row["choices"] = [[label, str(price)] for label, price in choices.get(ref, ())]
    return found


def _save_group(act: Act, ref: str, values: Values) -> None:
    set_up.put(act.connection, "choice_group", ref, {id: one for id, one in values.items() if id != "choices"})
    if "choices" in values:
        given = [(label, int(price or 0)) for label, price in pairs_of(values["choices"])]
        set_up_parts.put_choices(act.connection, ref, given)


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
    waits=True,
)

# ---- taxes


def _taxes(house: House) -> dict[str, Values]:
    parts, found = set_up_parts.tax_parts(house.connection), rows_of(house, "tax")
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
        set_up_parts.put_tax_parts(act.connection, ref, pairs_of(values["parts"]))


def _follow_tax(act: Act, ref: str, values: Values) -> tuple[str, Values] | None:
    """Another rate is another tax, in the place of the one before; None when the rate stays."""
    if not {"rate", "parts"} & set(values):
        return None
    before = _taxes(act.house)
    new = {id: one for id, one in {**before[ref], **values}.items() if id not in ("id", "position", "ended_at")}
    now = free_ref(str(new["label"]), before)
    _save_tax(act, now, new)
    set_up_plans.follow(act.connection, ref, now, act.at)
    return now, new


def _check_tax(house: House, ref: str, values: Values) -> None:
    if values.get("ended_at"):
        items = set_up.rows(house.connection, "item").values()
        bearing = next((one for one in items if one["tax"] == ref and one["ended_at"] is None), None)
        if bearing is not None:
            raise Refused(Code.TAX_ON_ITEMS, "label", item=str(bearing["name"]))
        if ref in set_up_plans.taxes_of_settings(house.connection):
            raise Refused(Code.TAX_IN_SETTINGS, "label")
    parts = [Fraction(rate) for _, rate in pairs_of(values.get("parts"))]
    if parts and not parts_fit(Fraction(str(values["rate"])), parts):
        raise Refused(Code.TAX_PARTS, "parts")


TAXES = Thing(
    "taxes",
    (
        Field("label", longest=40),
        Field("rate", FieldKind.RATE, most=100),
        Field("parts", FieldKind.ROWS, columns=(Field("label", longest=40), Field("rate", FieldKind.RATE, most=100))),
        Field("category", FieldKind.CHOICE, empty=True, nothing=None, options=lambda _: named(TaxCategory)),
        Field("exemption", empty=True, longest=120),
        POSITION,
    ),
    _taxes,
    _save_tax,
    _check_tax,
    called="label",
    waits=True,
    follow=_follow_tax,
)

# ---- discounts, comps, surcharges


FOR_GROUPS = ("groups",)  # for items of some report groups only


def _check_preset(_: House, __: str, values: Values) -> None:
    if (values.get("percent") is None) == (values.get("amount") is None):
        raise Refused(Code.PERCENT_OR_AMOUNT, "percent")


PRESETS = Thing(
    "presets",
    (
        Field("name", longest=40),
        Field("kind", FieldKind.CHOICE, options=lambda _: named(AdjustmentKind)),
        Field("percent", FieldKind.PERCENT, empty=True, nothing=None, most=100),
        Field("amount", FieldKind.MONEY, empty=True, nothing=None),
        Field("scope", FieldKind.CHOICE, options=lambda _: named(Scope)),
        Field("code", empty=True, nothing=None, longest=20),
        Field("groups", FieldKind.NAMES, empty=True, nothing=[], longest=40, most=20),
        POSITION,
    ),
    lambda house: rows_of(house, "preset", lists=FOR_GROUPS),
    lambda act, ref, values: put_row(act, "preset", ref, values, FOR_GROUPS),
    _check_preset,
    {"code": Code.PRESET_CODE_TAKEN},
    defaults=lambda _: {"kind": AdjustmentKind.DISCOUNT, "scope": Scope.BOTH},
    waits=True,
)

# ---- families of goods

FAMILIES = Thing(
    "families",
    (Field("name", longest=60), Field("code", empty=True, nothing=None, longest=40)),
    lambda house: rows_of(house, "family"),
    lambda act, ref, values: set_up.put(act.connection, "family", ref, values),
    unique={"name": Code.CHOICE_TWICE, "code": Code.CODE_TAKEN},
    retires=False,
)

# ---- price lists


def _lists(house: House) -> dict[str, Values]:
    prices, found = set_up_parts.list_prices(house.connection), rows_of(house, "price_list")
    for ref, row in found.items():
        row["days"] = [str(int(day) + 1) for day in str(row["days"])]
        row["prices"] = [[item, str(price)] for item, price in prices.get(ref, ())]
    return found


def _save_list(act: Act, ref: str, values: Values) -> None:
    plain = {id: one for id, one in values.items() if id != "prices"}
    if "days" in plain:
        plain["days"] = "".join(str(int(day) - 1) for day in sorted(texts_of(plain["days"])))
    set_up.put(act.connection, "price_list", ref, plain)
    if "prices" in values:
        given = [(item, int(price)) for item, price in pairs_of(values["prices"])]
        set_up_parts.put_list_prices(act.connection, ref, given)


def _check_list(_: House, __: str, values: Values) -> None:
    if not values.get("days"):
        raise Refused(Code.LIST_DAYS, "days")
    first, last = values.get("first_on"), values.get("last_on")
    if first and last and str(last) < str(first):
        raise Refused(Code.LIST_DATES, "last_on")
    items = [row[0] for row in cells_of(values.get("prices"))]
    if any(not item for item in items) or len(set(items)) < len(items):
        raise Refused(Code.LIST_ITEMS, "prices")


PRICE_LISTS = Thing(
    "price-lists",
    (
        Field("name", longest=40),
        Field("days", FieldKind.CHOICES, options=weekdays_of),
        Field("begins", FieldKind.CLOCK),
        Field("ends", FieldKind.CLOCK),
        Field("first_on", FieldKind.DATE, empty=True, nothing=None),
        Field("last_on", FieldKind.DATE, empty=True, nothing=None),
        Field(
            "prices",
            FieldKind.ROWS,
            columns=(Field("item", FieldKind.CHOICE, options=items_of), Field("price", FieldKind.MONEY)),
            rows=5_000,
        ),
        POSITION,
    ),
    _lists,
    _save_list,
    _check_list,
    defaults=lambda _: {"days": ["1", "2", "3", "4", "5"], "begins": "17:00", "ends": "19:00"},
    waits=True,
)

# ---- what is written again and again


def _about(house: House) -> list[Option]:
    with_jobs = Does.JOBS in house.settings.does.split()
    return named(one for one in PresetAbout if with_jobs or one is PresetAbout.ITEM)


WORDS = Thing(
    "words",
    (
        Field("words", longest=60),
        Field("about", FieldKind.CHOICE, options=_about),
        Field("groups", FieldKind.NAMES, empty=True, nothing=[], longest=40, most=20),
        POSITION,
    ),
    lambda house: rows_of(house, "preset_words", lists=FOR_GROUPS),
    lambda act, ref, values: put_row(act, "preset_words", ref, values, FOR_GROUPS),
    called="words",
    defaults=lambda _: {"about": PresetAbout.ITEM},
)
