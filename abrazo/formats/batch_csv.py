"""The batch file of a card machine or payment service: CSV, described in docs/formats/payment-devices.md."""

from __future__ import annotations

import csv
import io
import re

from abrazo.core.errors import Code, Refused
from abrazo.core.matching import Moved

NEEDED = ("reference", "kind", "amount", "tip")


def read_batch(text: str) -> list[Moved]:
    """The movements of a batch file; refused with the line that is not understood."""
    try:
        return _read_rows(csv.DictReader(io.StringIO(text)))
    except csv.Error:
        raise Refused(Code.BATCH_FIELD, "file") from None


def _read_rows(rows: csv.DictReader[str]) -> list[Moved]:
    missing = [name for name in NEEDED if name not in (rows.fieldnames or ())]
    if missing:
        raise Refused(Code.BATCH_COLUMNS, "file", columns=", ".join(missing))
    found = []
    for number, row in enumerate(rows, start=2):
        figures = [row["amount"] or "", row["tip"] or ""]
        if not row["reference"] or not all(re.fullmatch(r"-?[0-9]{1,12}", figure) for figure in figures):
            raise Refused(Code.BATCH_LINE, "file", number=number)
        found.append(Moved(row["reference"], sum(int(figure) for figure in figures)))
    return found
