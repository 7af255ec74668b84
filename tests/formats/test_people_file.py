"""People from files: vCard 3.0 and 4.0, CSV; what is wrong is named by line."""

from __future__ import annotations

import io
from datetime import date

import pytest
from openpyxl import Workbook

from abrazo.formats.people_file import read_people
from tests.refusals import refuses

CARDS = """BEGIN:VCARD
VERSION:3.0
FN:Ada Brekke
TEL;TYPE=CELL:020 910 0300
EMAIL:ada@brekke.example
BDAY:1987-04-30
NOTE:left\\, not right
LANG:es-ES
END:VCARD
BEGIN:VCARD
VERSION:4.0
KIND:org
FN:Saltpan Rowers
TEL;VALUE=uri:tel:+353-20-910-0110
LANG:xx
BDAY:19990102
END:VCARD
"""


def test_cards_of_both_versions() -> None:
    """RFC 2426 (3.0) and RFC 6350 (4.0), lines ended either way."""
    for text in (CARDS, CARDS.replace("\n", "\r\n")):
        first, second = read_people(text.encode(), "people.vcf")
        assert first.facts == {"name": "Ada Brekke", "phone": "020 910 0300", "email": "ada@brekke.example",
                               "birthday": "1987-04-30", "household": "", "company": "", "notes": "left, not right",
                               "language": "es"}  # fmt: skip
        assert (first.line, second.line) == (1, 10)
        assert (second.facts["phone"], second.facts["birthday"], second.facts["company"], second.facts["language"]) == (
            "+353-20-910-0110",
            "1999-01-02",
            "yes",
            "",
        )


def test_rows_with_any_order_of_columns() -> None:
    text = 'Phone,Name,Notes\n020 910 0300,"Brekke, Ada","two\nlines"\n\n,Bo,\n'
    found = read_people(("\ufeff" + text).encode(), "people.csv")
    assert [(entry.line, entry.facts["name"]) for entry in found] == [(3, "Brekke, Ada"), (5, "Bo")]


def test_a_table_is_read_as_any_spreadsheet_writes_it() -> None:
    """Other separators, Windows-1252, and a workbook whose birthdays are dates."""
    wanted = [("Ada Brekké", "1987-04-30", "left; not right"), ("Bo", "", "")]
    text = 'Name;Birthday;Notes\r\nAda Brekké;1987-04-30;"left; not right"\r\nBo;;\r\n'
    book = Workbook()
    assert book.active is not None
    for row in (
        ("Name", "Birthday", "Notes"),
        ("Ada Brekké", date(1987, 4, 30), "left; not right"),
        ("Bo", None, None),
    ):
        book.active.append(row)
    out = io.BytesIO()
    book.save(out)
    tabs = "Name\tBirthday\tNotes\nAda Brekké\t1987-04-30\tleft; not right\nBo\t\t\n"
    for data in (text.encode(), text.encode("cp1252"), tabs.encode("utf-8-sig"), out.getvalue()):
        found = read_people(data, "people")
        assert [tuple(entry.facts[name] for name in ("name", "birthday", "notes")) for entry in found] == wanted


@pytest.mark.parametrize(
    ("data", "says"),
    [(b"", "neither"), (b"phone\n12\n", "called name"), (b"name,age\nAda,7\n", "Unknown column age"), (b"\xff\xfe\x00", "neither text"), (b"PK\x03\x04 cut short", "no table"), (b"name\n\n", "nobody"),
     (b"BEGIN:VCARD\nnonsense\nEND:VCARD\n", "vCard")],
)  # fmt: skip
def test_what_is_neither_is_refused(data: bytes, says: str) -> None:
    with refuses(says):
        read_people(data, "people.txt")


def test_a_quotation_mark_that_is_never_closed_is_named() -> None:
    data = b'name,phone\nAda,020\n"' + b"x" * 200_000 + b",1\n"
    with refuses("quotation mark"):
        read_people(data, "people.csv")


def test_control_characters_are_left_out() -> None:
    assert read_people(b"name,phone\nA\x00d\x1ba,020\n", "people.csv")[0].facts["name"] == "Ada"
