"""What is paid ahead and lent out, as set-up describes it: series, memberships, hire and its units.

Rules here
- what sells a series or a membership, or is hired, is an item with more to it: both are kept together
- the items of a series bear its tax, for it is taxed when it is sold
- a tariff is for a length of time or for a window of the week; what keeps its name is the same one
- what was sold or hired by it stays as it was; which items a series covers, and what a membership gives, counts for
  those that were sold too
"""

from __future__ import annotations

from abrazo.core.errors import Code, Refused
from abrazo.desk.act import Act
from abrazo.desk.context import House
from abrazo.desk.setup.fields import POSITION, Field, FieldKind, Option
from abrazo.desk.setup.goods import ITEMS, check_face
from abrazo.desk.setup.options import cells_of, items_of, of_table, rows_of
from abrazo.desk.setup.things import Thing
from abrazo.store import set_up, set_up_parts
from abrazo.store.set_up import Value, Values

OF_ITEM = ("name", "price", "category", "tax", "report_group", "number", "code")
BLANK: Values = {"place": "", "unit": "", "shelf": "", "variable": False}
MOST_MINUTES = 60 * 24 * 60  # of a tariff: sixty days


def _item_fields(*ids: str) -> tuple[Field, ...]:
    return tuple(ITEMS.field(id) for id in ids or OF_ITEM)


def _with_items(house: House, table: str, *truths: str) -> dict[str, Values]:
    """The rows of a table that says more about items, each with its item's fields, in the items' order."""
    more, items = rows_of(house, table, *truths), ITEMS.load(house)
    return {ref: items[ref] | more[ref] for ref in items if ref in more}


def _save_with_item(act: Act, table: str, ref: str, values: Values) -> Values:
    """Keep an item with what else is said about it; gives what is neither."""
    of_item = {id: one for id, one in values.items() if id in OF_ITEM or id == "ended_at"}
    columns = {id: one for id, one in values.items() if id in set_up.COLUMNS[table]}
    new = set_up.row(act.connection, "item", ref) is None
    ITEMS.save(act, ref, {**BLANK, **of_item} if new else of_item)
    if "number" in of_item:  # left empty it is the next one
        values["number"] = of_item["number"]
    set_up.put(act.connection, table, ref, columns)
    return {id: one for id, one in values.items() if id not in of_item and id not in columns}


# ---- series


def _series(house: House) -> dict[str, Values]:
    covered, found = set_up_parts.series_items(house.connection), _with_items(house, "series_kind")
    for ref, row in found.items():
        row["items"] = [[item] for item in covered.get(ref, ())]
    return found


def _save_series(act: Act, ref: str, values: Values) -> None:
    more = _save_with_item(act, "series_kind", ref, values)
    if "items" in more:
        set_up_parts.put_series_items(act.connection, ref, _firsts(more["items"]))


def _firsts(value: Value) -> list[str]:
    return [row[0] for row in cells_of(value)]


def _check_series(house: House, ref: str, values: Values) -> None:
    check_face(house, ref, values)
    items, covered = set_up.rows(house.connection, "item"), _firsts(values.get("items"))
    if not covered or ref in covered:
        raise Refused(Code.SERIES_ITEMS, "items")
    other = next((items[one] for one in covered if items[one]["tax"] != values.get("tax")), None)
    if other is not None:
        raise Refused(Code.SERIES_TAX, "items", item=str(other["name"]))


SERIES = Thing(
    "series",
    (
        *_item_fields(),
        Field("uses", FieldKind.WHOLE, least=1, most=999),
        Field("days", FieldKind.WHOLE, least=1, most=9999),
        Field("items", FieldKind.ROWS, columns=(Field("item", FieldKind.CHOICE, options=items_of),)),
    ),
    _series,
    _save_series,
    _check_series,
    ITEMS.unique,
    defaults=lambda house: ITEMS.defaults(house) | {"uses": 10, "days": 365},
    kin=ITEMS.load,
    same=(ITEMS.id,),
    waits=True,
)

# ---- memberships


def _memberships(house: House) -> dict[str, Values]:
    given, found = set_up_parts.benefits(house.connection), rows_of(house, "membership_kind", "household")
    for ref, row in found.items():
        cells = [[one[id] for id in BENEFIT] for one in given.get(ref, ())]
        row["gives"] = [["" if cell is None else str(cell) for cell in row] for row in cells]
    return found


BENEFIT = ("name", "percent", "item", "report_group", "times")


def _save_membership(act: Act, ref: str, values: Values) -> None:
    set_up.put(act.connection, "membership_kind", ref, {id: one for id, one in values.items() if id != "gives"})
    if "gives" in values:
        rows = [dict(zip(BENEFIT, row, strict=True)) for row in cells_of(values["gives"])]
        given = [{**row, "item": row["item"] or None, "report_group": row["report_group"] or None,
                  "times": int(row["times"]) if row["times"] else None} for row in rows]  # fmt: skip
        set_up_parts.put_benefits(act.connection, ref, given, act.at)


def _check_membership(_: House, __: str, values: Values) -> None:
    rows = cells_of(values.get("gives"))
    _named_once([row[0] for row in rows], "gives")
    for place, (_name, _percent, item, group, _times) in enumerate(rows, start=1):
        if bool(item) == bool(group):
            raise Refused(Code.FIELD_ROW, "gives", number=place, why=Refused(Code.BENEFIT_ON))


def _named_once(names: list[str], where: str) -> None:
    if len({name.casefold() for name in names}) < len(names):
        raise Refused(Code.CHOICE_TWICE, where)


MEMBERSHIPS = Thing(
    "memberships",
    (
        Field("name", longest=60),
        Field("household", FieldKind.YES),
        Field(
            "gives",
            FieldKind.ROWS,
            columns=(
                Field("name", longest=60),
                Field("percent", FieldKind.PERCENT, most=100),
                Field("item", FieldKind.CHOICE, empty=True, options=items_of),
                Field("report_group", empty=True, longest=40),
                Field("times", FieldKind.WHOLE, empty=True, nothing=None, least=1, most=366),
            ),
        ),
        POSITION,
    ),
    _memberships,
    _save_membership,
    _check_membership,
    {"name": Code.CHOICE_TWICE},
    waits=True,
)


def _kinds_of_membership(house: House) -> list[Option]:
    return of_table(house, "membership_kind")


def _save_membership_item(act: Act, ref: str, values: Values) -> None:
    _save_with_item(act, "membership_item", ref, values)


MEMBERSHIP_ITEMS = Thing(
    "membership-items",
    (
        *_item_fields(),
        Field("kind", FieldKind.CHOICE, options=_kinds_of_membership, of="memberships"),
        Field("months", FieldKind.WHOLE, least=1, most=120),
    ),
    lambda house: _with_items(house, "membership_item"),
    _save_membership_item,
    ITEMS.check,
    ITEMS.unique,
    defaults=lambda house: ITEMS.defaults(house) | {"months": 12},
    kin=ITEMS.load,
    same=(ITEMS.id,),
    waits=True,
)

# ---- hire

WINDOW = ("from_day", "from_time", "to_day", "to_time")


def _hire(house: House) -> dict[str, Values]:
    tariffs, found = set_up_parts.tariffs(house.connection), _with_items(house, "hire_kind", "early")
    for ref, row in found.items():
        row["tariffs"] = [_tariff_cells(one) for one in tariffs.get(ref, ())]
    return found


def _tariff_cells(row: set_up_parts.Row) -> list[str]:
    begins, ends = (
        f"{int(str(row[day])) + 1} {row[clock]}" if row[day] is not None else ""
        for day, clock in (("from_day", "from_time"), ("to_day", "to_time"))
    )
    minutes = "" if row["minutes"] is None else str(row["minutes"])
    return [str(row["name"]), str(row["price"]), minutes, begins, ends]


def _tariff_row(cells: list[str]) -> set_up_parts.Row:
    name, price, minutes, *moments = cells
    window: dict[str, object] = dict.fromkeys(WINDOW)
    if not minutes:
        days = [(int(day) - 1, clock) for day, _, clock in (one.partition(" ") for one in moments)]
        window = dict(zip(WINDOW, (*days[0], *days[1]), strict=True))
    return {"name": name, "price": int(price), "minutes": int(minutes) if minutes else None, **window}


def _save_hire(act: Act, ref: str, values: Values) -> None:
    more = _save_with_item(act, "hire_kind", ref, values)
    if "tariffs" in more:
        rows = [_tariff_row(one) for one in cells_of(more["tariffs"])]
        set_up_parts.put_tariffs(act.connection, ref, rows, act.at)


def _check_hire(house: House, ref: str, values: Values) -> None:
    ITEMS.check(house, ref, values)
    rows = cells_of(values.get("tariffs"))
    if not rows:
        raise Refused(Code.NO_TARIFFS, "tariffs")
    _named_once([row[0] for row in rows], "tariffs")
    for place, (_, _, minutes, begins, ends) in enumerate(rows, start=1):
        if bool(minutes) == bool(begins and ends) or bool(begins) != bool(ends):
            raise Refused(Code.FIELD_ROW, "tariffs", number=place, why=Refused(Code.TARIFF_LENGTH))


TERMS: Values = {"share": "0", "value": 0, "grace": 15, "late_step": 60, "late_price": 0, "margin": 25}
HIRE = Thing(
    "hire",
    (
        *_item_fields(),
        Field("value", FieldKind.MONEY),
        Field(
            "tariffs",
            FieldKind.ROWS,
            columns=(
                Field("name", longest=40),
                Field("price", FieldKind.MONEY),
                Field("minutes", FieldKind.SPAN, empty=True, nothing=None, most=MOST_MINUTES),
                Field("from", FieldKind.WEEK_CLOCK, empty=True),
                Field("to", FieldKind.WEEK_CLOCK, empty=True),
            ),
        ),
        Field("grace", FieldKind.WHOLE, most=999),
        Field("late_step", FieldKind.WHOLE, least=1, most=9999),
        Field("late_price", FieldKind.MONEY),
        Field("margin", FieldKind.WHOLE, most=366),
        Field("early", FieldKind.YES),
        Field("owner", empty=True, longest=60),
        Field("share", FieldKind.PERCENT, most=100),
    ),
    _hire,
    _save_hire,
    _check_hire,
    ITEMS.unique,
    defaults=lambda house: ITEMS.defaults(house) | TERMS,
    kin=ITEMS.load,
    same=(ITEMS.id,),
    waits=True,
)


def _hired(house: House) -> list[Option]:
    kinds = set_up.rows(house.connection, "hire_kind")
    return [one for one in items_of(house) if one.id in kinds]


def _units(house: House) -> dict[str, Values]:
    return {ref: row | {"name": ref} for ref, row in rows_of(house, "hire_unit").items()}


def _save_unit(act: Act, ref: str, values: Values) -> None:
    set_up.put(act.connection, "hire_unit", ref, {id: one for id, one in values.items() if id != "name"})


def _check_unit(house: House, ref: str, values: Values) -> None:
    if values["name"] != ref:
        raise Refused(Code.NAME_STAYS, "name", name=ref)
    if values.get("ended_at") and set_up_parts.is_out(house.connection, ref):
        raise Refused(Code.UNIT_STILL_OUT, "name", unit=ref)


def _unit_ref(_: House, values: Values) -> str:
    return str(values.get("name") or "")


UNITS = Thing(
    "units",
    (
        Field("name", longest=20),
        Field("item", FieldKind.CHOICE, options=_hired, of="hire"),
        Field("code", empty=True, nothing=None, longest=40),
        Field("note", empty=True, longest=200),
    ),
    _units,
    _save_unit,
    _check_unit,
    {"code": Code.CODE_TAKEN},
    ref_of=_unit_ref,
)
