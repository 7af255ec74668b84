"""What the pages of set-up show: fields with their values, lists with what is looked for, who changed what."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from abrazo.core.states import PlanOutcome
from abrazo.desk.context import House
from abrazo.desk.setup.fields import Field, FieldKind, asked, in_words, shown
from abrazo.desk.setup.house_settings import ONE, SETTINGS, THINGS
from abrazo.desk.setup.planned import PlannedChange
from abrazo.desk.setup.thing_files import Reading
from abrazo.desk.setup.things import SetUpChange, Thing, Value, Values, everything, latest_changes, told
from abrazo.web.set_up_frame import fits, frame
from abrazo.words import set_up as words
from abrazo.words.amounts import money_words
from abrazo.words.refusals import refusal_text
from abrazo.words.speaking import weekday_words

EMPTY_ROWS = 2  # that stand ready below those that there are
DRAWN_AS = {
    FieldKind.MONEY: "decimal", FieldKind.PERCENT: "decimal", FieldKind.RATE: "decimal", FieldKind.WHOLE: "numeric",
    FieldKind.CLOCK: "text", FieldKind.DATE: "text", FieldKind.SPAN: "text", FieldKind.WEEK_CLOCK: "text",
}  # fmt: skip

MOST_TOLD = 6  # changes beside what they changed


@dataclass(frozen=True, slots=True)
class FieldShown:
    """A field on a page: its words, what stands in it, what can be chosen; `rows` its rows, of each column a text."""

    field: Field
    label: str
    help: str
    value: str
    chosen: tuple[str, ...] = ()
    options: tuple[tuple[str, str], ...] = ()
    rows: tuple[tuple[str, ...], ...] = ()
    columns: tuple[str, ...] = ()
    decimal: str = ""
    offered: tuple[tuple[str, ...], ...] = ()  # what the cells of each column are chosen from


@dataclass(frozen=True, slots=True)
class Told:
    """A change in words: which thing, which one, what of it, by whom and when; `undoes` is what turns it round."""

    change: SetUpChange
    thing: str
    name: str
    what: str
    parts: tuple[tuple[str, str, str], ...]
    by: str


def label_of(house: House, thing: Thing, id: str) -> str:
    """What a field is called."""
    return (
        house.say(words.FIELDS[thing.id][id][0]) if id in words.FIELDS[thing.id] else house.say(words.WHATS["retired"])
    )


def field_shown(house: House, thing: Thing, field: Field, values: Values, typed: Mapping[str, str]) -> FieldShown:
    """A field with what stands in it: what was typed, else as it is kept."""
    label, help = words.FIELDS[thing.id][field.id]
    currency, value = house.settings.currency, values.get(field.id)
    text = typed.get(field.id, shown(currency, field, value))
    if field.kind is FieldKind.YES:  # what is not ticked sends no, what is ticked no and yes
        text = text.rpartition("; ")[2]
    several = [str(one) for one in value] if isinstance(value, list) else []
    chosen = typed[field.id].split("; ") if field.id in typed else several
    known = field.options(house) if field.options else []
    offered = [one for one in known if not one.retired or one.id in (value, *several)]  # what stands there stays
    options = tuple((one.id, said_option(house, field, one.words)) for one in offered)
    return FieldShown(field, house.say(label), house.say(help) if help else "", text, tuple(chosen), options,
                      _rows(house, field, value, typed), tuple(label_of(house, thing, one.id) for one in field.columns),
                      DRAWN_AS.get(field.kind, ""), tuple(_offered(house, one) for one in field.columns))  # fmt: skip


# Fields whose options are words of the catalogue.
SAID = ("role", "kind", "scope", "home", "begins", "first_for", "place", "icon", "sources", "roles")


def said_option(house: House, field: Field, name: str) -> str:
    """An option as people say it."""
    if field.id in ("open_days", "days"):
        return weekday_words(house.reader, int(name))
    if field.id == "does":
        return house.say(words.DOES.get(name) or words.AFTER_SALE[name])
    if field.id == "about":
        return house.say(words.ABOUT[name])
    return house.say(name) if name and field.id in SAID else name


def _rows(house: House, field: Field, value: object, typed: Mapping[str, str]) -> tuple[tuple[str, ...], ...]:
    if field.kind is not FieldKind.ROWS:
        return ()
    columns = [typed.get(f"{field.id}-{one.id}") for one in field.columns]
    if any(one is not None for one in columns):
        parts = [(one or "").split("; ") for one in columns]
        found = [tuple(cells) for cells in zip(*parts, strict=False) if any(cells)]
    else:
        kept = value if isinstance(value, list) else []
        cells = (zip(field.columns, row, strict=True) for row in kept)
        found = [tuple(_cell(house, one, cell) for one, cell in row) for row in cells]
    return (*found, *[tuple("" for _ in field.columns)] * EMPTY_ROWS)


def _offered(house: House, column: Field) -> tuple[str, ...]:
    known = column.options(house) if column.options else []
    return tuple(one.words for one in known if not one.retired)


def _cell(house: House, column: Field, cell: str) -> str:
    """A cell as it can be typed; of what is chosen its name, where that says which."""
    if column.options is None:
        return shown(house.settings.currency, column, cell)
    known = column.options(house)
    name = next((one.words for one in known if one.id == cell), cell)
    return name if sum(one.words.casefold() == name.casefold() for one in known) == 1 else cell


def changes_told(house: House, changes: list[SetUpChange]) -> list[Told]:
    """Changes in words."""
    known = [(one, thing) for one in changes if (thing := THINGS.get(one.thing))]
    return [_told(house, one, thing) for one, thing in known]


def _told(house: House, one: SetUpChange, thing: Thing) -> Told:
    parts = tuple((label_of(house, thing, id), before, after) for id, before, after in told(house, thing, one))
    called, what = house.say(words.THINGS[thing.id][1]), house.say(words.WHATS[one.what])
    return Told(one, called, one.name if one.ref != ONE else "", what, parts, house.staff()[one.staff].name)


@dataclass(frozen=True, slots=True)
class PlanTold:
    """A change from a day to come in words: of what, from when, which fields, by whom; whether it could not be made."""

    id: int
    thing: str
    name: str
    first_on: str
    parts: tuple[tuple[str, str], ...]
    by: str
    at: str
    refused: bool


def plans_told(house: House, plans: list[PlannedChange]) -> list[PlanTold]:
    """Planned changes in words."""
    return [_plan_told(house, one) for one in plans]


def _plan_told(house: House, one: PlannedChange) -> PlanTold:
    thing = THINGS[one.thing]
    parts = tuple(
        (label_of(house, thing, id), in_words(house, thing.field(id), value)) for id, value in one.fields.items()
    )
    called, by = house.say(words.THINGS[thing.id][1]), house.staff()[one.staff].name
    return PlanTold(one.id, called, one.name, one.first_on, parts, by, one.at, one.outcome is PlanOutcome.REFUSED)


@dataclass(frozen=True, slots=True)
class Row:
    """One of a list: its id, what it is called, what stands beside that, whether it is retired."""

    ref: str
    name: str
    beside: str
    amount: str
    retired: bool


BESIDE = {
    "items": ("category", "report_group", "number"), "categories": ("parent",), "choices": ("choices",),
    "taxes": ("parts",), "presets": ("kind", "scope", "code"), "staff": ("role", "title"),
    "tills": ("home", "machine"), "families": ("code",), "price-lists": ("days", "begins", "ends"),
    "words": ("about", "groups"), "series": ("uses", "items"), "memberships": ("gives",),
    "membership-items": ("kind", "months"), "hire": ("tariffs",), "units": ("item", "note"),
    "own-fields": ("about", "choices"), "printers": ("address", "prints"),
    "after-sale": ("does", "sources"), "tables": ("area", "shape", "seats"), "tenders": ("reference",),
    "rights": (), "hours": (), "booking-terms": (),
}  # fmt: skip
AMOUNT = {
    **dict.fromkeys(("items", "series", "membership-items", "hire"), "price"), "presets": "percent", "taxes": "rate",
    "booking-terms": "deposit",
}  # fmt: skip


def rows_of(house: House, thing: Thing, find: str, retired: bool) -> list[Row]:
    """What there is of a kind, by parts of its words; what is retired stands apart."""
    found = [_row(house, thing, ref, values) for ref, values in everything(house, thing).items()]
    parts = find.casefold().split()
    return [
        row for row in found
        if row.retired == retired and all(part in f"{row.name} {row.beside} {row.ref}".casefold() for part in parts)
    ]  # fmt: skip


def _row(house: House, thing: Thing, ref: str, values: Values) -> Row:
    fields = asked(house, map(thing.field, BESIDE[thing.id]))
    beside = [_beside(house, field, values.get(field.id)) for field in fields]
    amount = _amount(house, thing.field(AMOUNT[thing.id]), values) if thing.id in AMOUNT else ""
    words_of = ", ".join(one for one in beside if one)
    return Row(ref, thing.name(values), words_of, amount, values.get("ended_at") is not None)


def _beside(house: House, field: Field, value: Value) -> str:
    if len(field.columns) > 2 and isinstance(value, list):  # of rows with much in them what they are called
        return ", ".join(row[0] for row in value)
    several = value if isinstance(value, list) and field.kind is not FieldKind.ROWS else [value]
    return ", ".join(said_option(house, field, in_words(house, field, one)) for one in several if one is not None)


def _amount(house: House, field: Field, values: Values) -> str:
    text = in_words(house, field, values.get(field.id))
    if field.kind is FieldKind.MONEY and text:
        return money_words(int(str(values[field.id])), house.settings.currency, house.settings.language)
    return f"{text} %" if text else text


def settings_found(
    house: House, find: str, section: str, typed: Mapping[str, str]
) -> Iterator[tuple[str, list[FieldShown]]]:
    """The settings of a section, or those that have what is looked for in their words, by section."""
    values = everything(house, SETTINGS)[ONE]
    fields = asked(house, SETTINGS.fields)
    for one in dict.fromkeys(field.section for field in fields):
        if not find and one != section:
            continue
        shown_ = [field_shown(house, SETTINGS, field, values, typed) for field in fields if field.section == one]
        fitting = [field for field in shown_ if fits(find, field.label, field.help, house.say(words.SECTIONS[one]))]
        if fitting:
            yield one, fitting


@dataclass(frozen=True, slots=True)
class ReadingTold:
    """What a file would do, in words: what is new, what changes with each field, what is wrong and where."""

    new: list[str]
    changed: list[tuple[str, list[tuple[str, str, str]]]]
    unchanged: int
    faults: list[tuple[int, str, str]]
    more_faults: int
    unknown: tuple[str, ...]


def reading_told(house: House, thing: Thing, reading: Reading, most: int = 50) -> ReadingTold:
    """The same in words; of many the first."""
    there = everything(house, thing)
    changed = [
        (thing.name(there[ref]), [(label_of(house, thing, id), in_words(house, thing.field(id), there[ref].get(id)),
                                   in_words(house, thing.field(id), value)) for id, value in values.items()])
        for ref, values in reading.changed[:most]
    ]  # fmt: skip
    faults = [(one.number, one.column, refusal_text(house.reader, one.why)) for one in reading.faults]
    new = [thing.name(values) for _, values in reading.new]
    return ReadingTold(new, changed, reading.unchanged, faults, reading.more_faults, reading.unknown)


def last_change(house: House, thing: Thing, ref: str) -> int:
    """The last change of one, that its page shows; 0 before the first."""
    return next((one.id for one in latest_changes(house, thing, ref)), 0)


def page_besides(house: House, here: str, *things: Thing) -> dict[str, Any]:
    """What a page of its own has besides: who changed what of these kinds, its last change, their lists; the frame."""
    changes = [one for thing in things for one in latest_changes(house, thing, most=MOST_TOLD)]
    latest = sorted(changes, key=lambda one: one.id, reverse=True)[:MOST_TOLD]
    return {
        "told": changes_told(house, latest),
        "last_shown": max((one.id for one in latest), default=0),
        "lists": [one.id for one in things],
        **frame(here=here),
    }
