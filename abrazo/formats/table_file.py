"""Tables from and for spreadsheets: CSV (RFC 4180) and Office Open XML (ISO/IEC 29500).

Rules here
- commas, semicolons or tabs; a mark of byte order or none; UTF-8, else Windows-1252, as spreadsheets write
- no cell that goes out begins a formula: it has an apostrophe before it, which is taken off again coming in
- a file that is none says so at once
"""

from __future__ import annotations

import csv
import io
import zipfile
from collections.abc import Iterator, Sequence

from abrazo.core.errors import Code, Refused
from abrazo.formats.plain_text import plain
from abrazo.formats.report_json import FORMULA, harmless

MOST_ROWS, LONGEST_CELL = 20_000, 2_000
MARKS = {b"PK\x03\x04": "xlsx", b"%PDF": "pdf", b"\x89PNG": "png", b"\xff\xd8\xff": "jpeg", b"GIF8": "gif"}


def written_csv(rows: Sequence[Sequence[str]]) -> str:
    """Rows as CSV, the first of them the names of the columns."""
    out = io.StringIO()
    csv.writer(out, lineterminator="\r\n").writerows([[harmless(cell) for cell in row] for row in rows])
    return out.getvalue()


def written_xlsx(rows: Sequence[Sequence[str]]) -> bytes:
    """Rows as a spreadsheet; texts are texts, never formulas."""
    from openpyxl import Workbook  # here, because it is slow to load and seldom needed

    book = Workbook(write_only=True)
    sheet = book.create_sheet()
    for row in rows:
        sheet.append([harmless(cell) for cell in row])
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def read_table(data: bytes) -> list[tuple[int, dict[str, str]]]:
    """The rows of a file, each with its number in it and its cells by column. Refused when it is no table."""
    kind = next((kind for mark, kind in MARKS.items() if data.startswith(mark)), "")
    if kind not in ("", "xlsx") or (b"\x00" in data[:4096] and not kind):
        raise Refused(Code.NOT_A_TABLE, "file")
    cells = sheet_rows(data) if kind else _text(data)
    header = next(cells, None)
    names = [plain(one).strip().lower() for one in header] if header else []
    if not any(names):
        raise Refused(Code.TABLE_EMPTY, "file")
    found = list[tuple[int, dict[str, str]]]()
    for number, row in enumerate(cells, start=2):
        if len(found) >= MOST_ROWS:
            raise Refused(Code.TABLE_TOO_LONG, "file", most=MOST_ROWS)
        if any(cell.strip() for cell in row):
            found.append(
                (
                    number,
                    {
                        name: unguarded(plain(cell).strip()[:LONGEST_CELL])
                        for name, cell in zip(names, row, strict=False)
                        if name
                    },
                )
            )
    return found


def unguarded(text: str) -> str:
    """A cell without the apostrophe that kept it from beginning a formula."""
    return text[1:] if text.startswith("'") and text[1:].startswith(FORMULA) else text


def _text(data: bytes) -> Iterator[list[str]]:
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        text = data.decode("cp1252", "replace")
    try:
        yield from csv.reader(io.StringIO(text, newline=""), delimiter=separator_of(text))
    except csv.Error:
        raise Refused(Code.NOT_A_TABLE, "file") from None


def separator_of(text: str) -> str:
    """What parts the cells of a table: that of which its first line has most."""
    first = text.partition("\n")[0]
    return max(",;\t", key=first.count)


def sheet_rows(data: bytes) -> Iterator[list[str]]:
    """The cells of the first sheet of a workbook as text, dates as ISO. Refused when it is none."""
    from openpyxl import load_workbook

    try:
        book = load_workbook(io.BytesIO(data), read_only=True, data_only=True)
        for row in book.worksheets[0].iter_rows(values_only=True):
            yield ["" if cell is None else str(cell).removesuffix(" 00:00:00") for cell in row]
    except (zipfile.BadZipFile, KeyError, ValueError, IndexError, OSError):
        raise Refused(Code.NOT_A_TABLE, "file") from None
