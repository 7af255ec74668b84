"""People from a file: vCard (RFC 6350, and 3.0), read by the vobject library, or CSV with a header row."""

from __future__ import annotations

import csv
import io
from dataclasses import dataclass

import vobject

from abrazo.core.errors import Refused
from abrazo.formats.plain_text import plain

COLUMNS = ("name", "phone", "email", "birthday", "household", "company", "notes")
MOST = 20_000


@dataclass(frozen=True, slots=True)
class Entry:
    """One person of a file as text by fact; `line` is where they stand in it."""

    line: int
    facts: dict[str, str]


def read_people(data: bytes, name: str) -> list[Entry]:
    """The people of a file; what it is shows from its first words. Refused when it is neither."""
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise Refused("file", "The file is not UTF-8 text. Save it as UTF-8.", "file") from None
    entries = _cards(text) if text.lstrip().upper().startswith("BEGIN:VCARD") else _rows(text, name)
    entries = [Entry(one.line, {key: plain(value) for key, value in one.facts.items()}) for one in entries]
    if not entries:
        raise Refused("file", "There is nobody in this file.", "file")
    if len(entries) > MOST:
        raise Refused("file", f"At most {MOST} people at once; this file has {len(entries)}.", "file")
    return entries


def _cards(text: str) -> list[Entry]:
    lines = [n for n, line in enumerate(text.splitlines(), 1) if line.strip().upper() == "BEGIN:VCARD"]
    try:
        cards = list(vobject.readComponents(text, validate=False))
    except Exception as error:  # the library raises plain exceptions for lines it can't read
        raise Refused("file", f"This vCard file cannot be read: {str(error)[:120]}.", "file") from None
    return [Entry(line, _facts(card)) for line, card in zip(lines, cards, strict=False)]


def _facts(card: object) -> dict[str, str]:
    def first(name: str) -> str:
        found = getattr(card, f"{name}_list", [])
        return str(found[0].value).strip() if found else ""

    birthday = first("bday").split("T")[0]
    if len(birthday) == 8 and birthday.isdigit():
        birthday = f"{birthday[:4]}-{birthday[4:6]}-{birthday[6:]}"
    return {
        "name": first("fn"),
        "phone": first("tel").removeprefix("tel:"),
        "email": first("email"),
        "birthday": birthday,
        "household": first("x_household"),
        "company": "yes" if first("kind").lower() == "org" else "",
        "notes": first("note"),
    }


def _rows(text: str, name: str) -> list[Entry]:
    reader = csv.DictReader(io.StringIO(text, newline=""))
    try:
        return _read_rows(reader, name)
    except csv.Error:
        what = f"Line {reader.line_num + 1} has a field that is too long. Is a quotation mark missing there?"
        raise Refused("file", what, "file") from None


def _read_rows(reader: csv.DictReader[str], name: str) -> list[Entry]:
    heads = [head.strip().lower() for head in reader.fieldnames or []]
    if "name" not in heads:
        what = f"“{name}” is neither a vCard file nor CSV with a column called name."
        raise Refused("file", what, "file")
    strange = [head for head in heads if head not in COLUMNS]
    if strange:
        listed = ", ".join(COLUMNS)
        raise Refused("file", f"Unknown column {', '.join(strange)}. The columns are: {listed}.", "file")
    reader.fieldnames = heads
    found = []
    for row in reader:
        facts = {key: (value or "").strip() for key, value in row.items() if isinstance(key, str)}
        if any(facts.values()):
            found.append(Entry(reader.line_num, facts))
    return found
