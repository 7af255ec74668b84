"""People from a file: vCard (RFC 6350, and 3.0), read by the vobject library, or CSV with a header row."""

from __future__ import annotations

import csv
import io
from collections.abc import Sequence
from dataclasses import dataclass

import vobject

from abrazo.core.errors import Code, Refused
from abrazo.formats.plain_text import plain
from abrazo.formats.table_file import unguarded
from abrazo.words.catalogue import paper_languages

COLUMNS = ("name", "phone", "email", "birthday", "household", "company", "notes", "language")
MOST = 100_000


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
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise Refused(Code.NOT_UTF8_FILE, "file") from None
    entries = _cards(text) if text.lstrip().upper().startswith("BEGIN:VCARD") else _rows(text, name, own)
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


def _rows(text: str, name: str, own: Sequence[str]) -> list[Entry]:
    reader = csv.DictReader(io.StringIO(text, newline=""))
    try:
        return _read_rows(reader, name, own)
    except csv.Error:
        raise Refused(Code.PEOPLE_FILE_FIELD, "file", line=reader.line_num + 1) from None


def _read_rows(reader: csv.DictReader[str], name: str, own: Sequence[str]) -> list[Entry]:
    theirs = {one.lower(): one for one in own if one.lower() not in COLUMNS}
    heads = [theirs.get(head.strip().lower(), head.strip().lower()) for head in reader.fieldnames or []]
    if "name" not in heads:
        raise Refused(Code.PEOPLE_FILE_KIND, "file", name=name)
    known = (*COLUMNS, *theirs.values())
    strange = [head for head in heads if head not in known]
    if strange:
        raise Refused(Code.PEOPLE_FILE_COLUMNS, "file", strange=", ".join(strange), columns=", ".join(known))
    reader.fieldnames = heads
    found = []
    for row in reader:
        facts = {key: unguarded((value or "").strip()) for key, value in row.items() if isinstance(key, str)}
        if any(facts.values()):
            found.append(Entry(reader.line_num, facts))
    return found
