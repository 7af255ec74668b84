"""People from a file: vCard (RFC 6350, and 3.0), read by the vobject library, or a table with a header row.

A table is CSV as any spreadsheet writes it, or a workbook (Office Open XML).
"""

from __future__ import annotations

import csv
import io
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import vobject

from abrazo.core.errors import Code, Refused
from abrazo.formats.plain_text import plain
from abrazo.formats.table_file import separator_of, sheet_rows, unguarded
from abrazo.words.catalogue import paper_languages

COLUMNS = ("name", "phone", "email", "birthday", "household", "company", "notes", "language")
MOST, WORKBOOK = 100_000, b"PK\x03\x04"


@dataclass(frozen=True, slots=True)
class Entry:
    """One person of a file as text by fact; `line` is where they stand in it."""

    line: int
    facts: dict[str, str]


def count_people(data: bytes) -> None:
    """Refused before anything is read when a file holds too many people: by its cards, or lines without a quote."""
    cards = data.upper().count(b"BEGIN:VCARD")
    count = cards or (0 if b'"' in data else data.count(b"\n") - 1)
    if count > MOST:
        raise Refused(Code.PEOPLE_FILE_TOO_LONG, "file", most=MOST, count=count)


def read_people(data: bytes, name: str, own: Sequence[str] = ()) -> list[Entry]:
    """The people of a file; what it is shows from its first words. Refused when it is neither.

    `own` are the names of the house's own fields, which a table may have as columns.
    """
    if data.startswith(WORKBOOK):
        entries = _rows(iter(enumerate(sheet_rows(data), start=1)), name, own)
    else:
        text = _text(data)
        entries = _cards(text) if text.lstrip().upper().startswith("BEGIN:VCARD") else _rows(_lines(text), name, own)
    entries = [Entry(one.line, {key: plain(value) for key, value in one.facts.items()}) for one in entries]
    if not entries:
        raise Refused(Code.PEOPLE_FILE_EMPTY, "file")
    if len(entries) > MOST:
        raise Refused(Code.PEOPLE_FILE_TOO_LONG, "file", most=MOST, count=len(entries))
    return entries


def _cards(text: str) -> list[Entry]:
    lines = [n for n, line in enumerate(text.splitlines(), 1) if line.strip().upper() == "BEGIN:VCARD"]
    try:
        cards = list(vobject.readComponents(text, validate=False))
    except Exception as error:  # the library raises plain exceptions for lines it can't read
        raise Refused(Code.NOT_VCARD, "file", fault=str(error)[:120]) from None
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
        "language": _language(first("lang")),
    }


def _language(tag: str) -> str:
    """The language of a tag (BCP 47, as en-IE), empty for one that papers are not written in."""
    language = tag.partition("-")[0].lower()
    return language if language in paper_languages() else ""


def _text(data: bytes) -> str:
    """A text file as spreadsheets write it: UTF-8, else Windows-1252."""
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError:
        if b"\x00" in data:
            raise Refused(Code.NOT_UTF8_FILE, "file") from None
        return data.decode("cp1252", "replace")


def _lines(text: str) -> Iterator[tuple[int, list[str]]]:
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=separator_of(text))
    try:
        for row in reader:
            yield reader.line_num, row
    except csv.Error:
        raise Refused(Code.PEOPLE_FILE_FIELD, "file", line=reader.line_num + 1) from None


def _rows(lines: Iterator[tuple[int, list[str]]], name: str, own: Sequence[str]) -> list[Entry]:
    theirs = {one.lower(): one for one in own if one.lower() not in COLUMNS}
    _, first = next(lines, (0, []))
    heads = [theirs.get(head.strip().lower(), head.strip().lower()) for head in first]
    if "name" not in heads:
        raise Refused(Code.PEOPLE_FILE_KIND, "file", name=name)
    known = (*COLUMNS, *theirs.values())
    strange = [head for head in heads if head and head not in known]
    if strange:
        raise Refused(Code.PEOPLE_FILE_COLUMNS, "file", strange=", ".join(strange), columns=", ".join(known))
    found = []
    for line, row in lines:
        facts = {head: unguarded(cell.strip()) for head, cell in zip(heads, row, strict=False) if head}
        if any(facts.values()):
            found.append(Entry(line, {head: facts.get(head, "") for head in heads if head}))
        if len(found) > MOST:  # which is refused: no more of it is read
            break
    return found
