"""docs/set-up.md: every field of set-up with what it does, from the descriptions."""

from __future__ import annotations

from collections.abc import Iterator

from abrazo.desk.setup.fields import Field, FieldKind
from abrazo.desk.setup.house_settings import SETTINGS
from abrazo.desk.setup.kinds import KINDS
from abrazo.words import set_up as words

HEAD = """# Set-up, field by field

Made from the descriptions by `make schemas`. The short name is that of files and profiles. How it works: [decision 0025](decisions/0025-set-up-described-once.md); a first house: [own-house.md](own-house.md).
"""
KIND_WORDS = {
    FieldKind.TEXT: "text", FieldKind.LINES: "lines", FieldKind.YES: "yes or no", FieldKind.WHOLE: "whole number",
    FieldKind.MONEY: "amount", FieldKind.PERCENT: "percent", FieldKind.RATE: "percent", FieldKind.CHOICE: "one of a list",
    FieldKind.CHOICES: "several of a list", FieldKind.ROWS: "rows", FieldKind.NAMES: "names", FieldKind.NUMBERS: "numbers",
    FieldKind.DATE: "date", FieldKind.CLOCK: "time of day", FieldKind.SPAN: "length of time",
    FieldKind.WEEK_CLOCK: "moment of the week",
}  # fmt: skip


def page() -> str:
    """The page."""
    return "\n".join([HEAD, *_settings(), *_things()])


def _settings() -> Iterator[str]:
    for section, name in words.SECTIONS.items():
        yield f"## House settings: {name}\n"
        yield from _table("settings", [one for one in SETTINGS.fields if one.section == section])


def _things() -> Iterator[str]:
    for thing in KINDS.values():
        plural, _, about = words.THINGS[thing.id]
        yield f"## {plural}\n\n{about}\n"
        yield from _table(thing.id, list(thing.fields))


def _table(thing: str, fields: list[Field]) -> Iterator[str]:
    yield "| name | short name | kind | what it does |\n|---|---|---|---|"
    for one in fields:
        name, help = words.FIELDS[thing][one.id]
        empty = "" if not one.empty else ", may be empty"
        yield f"| {name} | `{one.id}` | {KIND_WORDS[one.kind]}{empty} | {help} |"
    yield ""
